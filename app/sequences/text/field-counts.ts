import { createContext } from "react";

/** Of a list's own fields, how many of it have one: said beside what the field says for somebody. */
export const FieldCounts = createContext<Readonly<Record<string, number>>>({});
