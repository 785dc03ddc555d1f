/** How somebody of a list stands before a start: a closed list. */

/** In the order in which the first that is true is said. */
export const STANDINGS = [
  // Left out.
  "already",
  "elsewhere",
  "blocked",
  "bad",
  "written_lately",
  // Start and wait.
  "no_address",
  "unproven",
  "colleague",
  "lacks_field",
  // Go.
  "ready",
] as const;
export type Standing = (typeof STANDINGS)[number];
export const LEFT_OUT: readonly Standing[] = ["already", "elsewhere", "blocked", "bad", "written_lately"];
