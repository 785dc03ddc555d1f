/** How far somebody has come, in order. A closed list. */
export const STAGES = ["new", "contacted", "in_conversation", "meeting_booked", "won", "lost"] as const;
export type Stage = (typeof STAGES)[number];

export const STAGE_NAMES: Record<Stage, string> = {
  new: "New",
  contacted: "Contacted",
  in_conversation: "In conversation",
  meeting_booked: "Meeting booked",
  won: "Won",
  lost: "Lost",
};

/** To which a label can move somebody: nobody becomes new again. */
export const [, ...SETTABLE_STAGES] = STAGES;
/** At which a sequence can stop: who is merely contacted is in the middle of one. */
export const [, ...STOPPING_STAGES] = SETTABLE_STAGES;
