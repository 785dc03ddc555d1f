/** What follows when a reply gets a label: set for each label, within what an opt-out demands. */
import { z } from "zod";
import { SETTABLE_STAGES } from "../prospects/stages.ts";
import { LABELS, type Label } from "./labels.ts";

const effects = z.object({
  /** The stage they move to; null: they stay. */
  stage: z.enum(SETTABLE_STAGES).nullable(),
  /** Everything planned for them ends, on every channel. */
  stops: z.boolean(),
  /** Their sequence, if this reply stopped it, goes on: at once, or after the day that the letter names. */
  resumes: z.boolean(),
  /** The other people of their company. */
  colleagues: z.enum(["hold", "release", "leave"]),
  /** Something for the rep to do; "" for nothing. */
  task: z.string().trim().max(300),
  listId: z.number().int().nullable(),
  /** Nothing is ever sent to them again. */
  blocks: z.boolean(),
});
export type LabelEffects = z.infer<typeof effects>;

/** What a new label does: it stops, and no more. */
export const NOTHING: LabelEffects = {
  stage: null,
  stops: true,
  resumes: false,
  colleagues: "leave",
  task: "",
  listId: null,
  blocks: false,
};

const USUAL: Record<Label, Partial<LabelEffects>> = {
  interested: { stage: "in_conversation", colleagues: "hold" },
  question: { stage: "in_conversation", colleagues: "hold" },
  not_now: { colleagues: "hold" },
  not_interested: { stage: "lost", colleagues: "release" },
  wrong_person: { stage: "lost", colleagues: "release" },
  away: { stage: "contacted", stops: false, resumes: true, colleagues: "release" },
  opt_out: { stage: "lost", colleagues: "release", blocks: true },
};

/** What a label does: as it was set, else as usual. An opt-out always stops and blocks. */
export function effectsOf(key: string | null, stored: unknown): LabelEffects {
  const usual = {
    ...NOTHING,
    ...((LABELS as readonly string[]).includes(key ?? "") ? USUAL[key as Label] : {}),
  };
  const read = effects.partial().safeParse(stored);
  const set = { ...usual, ...(read.success ? read.data : {}) } as LabelEffects;
  return key === "opt_out" ? { ...set, stops: true, blocks: true, resumes: false } : set;
}

export const labelForm = z.object({
  name: z.string().trim().min(1, "Give the label a name.").max(40, "At most 40 characters."),
  effects,
  /** Whoever it is said of wants to talk: they count so in results. */
  isPositive: z.boolean(),
});
