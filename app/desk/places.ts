/** The places in the order of the day, and the letter that goes there after G. */
export const PLACES = [
  { to: "/", name: "Today", letter: "t" },
  { to: "/prospects", name: "Prospects", letter: "p" },
  { to: "/sequences", name: "Sequences", letter: "s" },
  { to: "/sending", name: "Sending", letter: "d" },
  { to: "/replies", name: "Replies", letter: "r" },
  { to: "/results", name: "Results", letter: "e" },
] as const;
