/** Conditions that a fork asks, and those under which a step is made at all; whether they hold says holds.ts. */
import type { Condition } from "./path-schema.ts";

export type { Condition };

/** Whether it is answered by how somebody is, not by what may still happen. */
export const isStanding = ({ about }: Condition): boolean =>
  about === "address" || about === "profile" || about === "field";
