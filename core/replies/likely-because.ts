/** What the desk says of a likely answer, where it is not a colleague's. */
export const LIKELY_BECAUSE = {
  grave: "somebody died or is gravely ill",
  quoted: "it quotes an email of ours",
} as const;
