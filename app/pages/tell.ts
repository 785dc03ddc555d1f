import { tellServer } from "../components/ask-server";

/** Tells the server what happens on a page. */
export const tell = (base: string, what: { what: "watched"; share: number } | { what: "booking" }): void =>
  tellServer(`${base}/seen`, what);
