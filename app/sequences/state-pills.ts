/** The tone and the word of a sequence's state. */
export const STATE_PILLS = {
  draft: ["quiet", "Not started"],
  running: ["kelp", "Running"],
  paused: ["ochre", "Paused"],
} as const;
