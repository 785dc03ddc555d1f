/** What a reply means: a closed list, to which a team can add labels of its own (server/replies/labels.ts). */
export const LABELS = [
  "interested",
  "question",
  "not_now",
  "not_interested",
  "wrong_person",
  "away",
  "opt_out",
] as const;
export type Label = (typeof LABELS)[number];
/** Whether a label's code is one of these, and not the team's own. */
export const isLabel = (code: string): code is Label => LABELS.some((each) => each === code);
