/** A rule: when something happens to somebody whom a filter fits, then these acts follow, one after the other. */
import { z } from "zod";
import { DAY, dayNumberOf, HOUR, instantOnDay, MINUTE, minutesOf } from "../calendar.ts";
import { timeSchema } from "../day-and-time.ts";
import { parseFilter } from "../prospects/filter.ts";
import { STAGES } from "../prospects/stages.ts";

/** 0 stands for what is not chosen yet. */
const chosen = (what: string) => z.number().int().positive(`Choose ${what}.`);
const id = z.number().int().positive();
const field = z.string().min(1).max(80);
const text = (most: number) => z.string().trim().min(1, "Write what it says.").max(most);

/** What sets a rule off. */
export const whenSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("form"), listId: chosen("a list") }),
  z.object({ kind: z.literal("listed"), listId: chosen("a list") }),
  z.object({ kind: z.literal("stage"), to: z.enum(STAGES) }),
  /** `to` "": whatever it becomes. */
  z.object({ kind: z.literal("field"), field, to: z.string().max(200).default("") }),
  z.object({ kind: z.literal("owner") }),
  z.object({ kind: z.literal("label"), label: z.string().min(1).max(40) }),
  z.object({ kind: z.literal("answered") }),
  /** One email so many times, as far as a load can be trusted to be theirs. */
  z.object({ kind: z.literal("opened"), times: z.number().int().min(1).max(5) }),
  /** `contains` "": any link. */
  z.object({ kind: z.literal("clicked"), contains: z.string().max(200).default("") }),
  /** So much of the film on their page, in hundredths; 0: its beginning. */
  z.object({ kind: z.literal("watched"), share: z.literal([0, 25, 50, 75, 100]).default(50) }),
  z.object({ kind: z.literal("booked") }),
  z.object({ kind: z.literal("missed") }),
  /** A deal of theirs came to a stage in the CRM, by its name there; "": to any. */
  z.object({ kind: z.literal("deal"), to: z.string().trim().max(60).default("") }),
  /** No answer so many days after the last email that was sent. */
  z.object({ kind: z.literal("silent"), days: z.number().int().min(1).max(365) }),
  /** A field with a date (2026-06-30): so many days before it; less than 0: after. */
  z.object({ kind: z.literal("date"), field, days: z.number().int().min(-365).max(365) }),
  /** Another program calls it, by the API or at an address of its own; `mapping`: our fields by where they stand in its JSON. */
  z.object({
    kind: z.literal("called"),
    list: z.string().trim().max(80).default(""),
    mapping: z.record(z.string().max(80), z.string().max(200)).default({}),
  }),
]);
export type When = z.infer<typeof whenSchema>;
export type WhenKind = When["kind"];

const afterSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("now") }),
  z.object({
    kind: z.literal("wait"),
    amount: z.number().int().min(1).max(365),
    unit: z.enum(["minutes", "hours", "days"]),
  }),
  /** At a time of day where the person is. */
  z.object({ kind: z.literal("at"), time: timeSchema }),
]);
type After = z.infer<typeof afterSchema>;

const actSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("start"), sequenceId: chosen("a sequence") }),
  z.object({ kind: z.literal("stop") }),
  z.object({
    kind: z.literal("move"),
    sequenceId: chosen("a sequence"),
    stepId: z.string().min(1, "Choose a step.").max(60),
  }),
  z.object({ kind: z.literal("set"), field, value: z.string().max(200) }),
  z.object({ kind: z.literal("stage"), to: z.enum(STAGES) }),
  /** Several take turns. */
  z.object({ kind: z.literal("owner"), userIds: z.array(id).min(1, "Choose who takes turns.").max(50) }),
  z.object({ kind: z.literal("list"), listId: chosen("a list"), isOn: z.boolean() }),
  z.object({
    kind: z.literal("remind"),
    what: z.enum(["errand", "call"]),
    text: text(300),
    inDays: z.number().int().min(0).max(365),
  }),
  /** `userId` null: whoever the person belongs to. */
  z.object({ kind: z.literal("notify"), userId: id.nullable(), text: text(300) }),
  z.object({ kind: z.literal("mail"), userId: id.nullable(), subject: text(200), body: text(5_000) }),
  /** Made in the CRM, or moved to this stage (its name there) where there is one. */
  z.object({
    kind: z.literal("deal"),
    name: text(200),
    stage: z.string().trim().min(1, "Choose a stage.").max(60),
  }),
  /** `text`: what a chat channel reads; "" for the rule's name. */
  z.object({
    kind: z.literal("webhook"),
    webhookId: chosen("a webhook or a channel"),
    text: z.string().trim().max(500).default(""),
  }),
]);
export type Act = z.infer<typeof actSchema>;
export type ActKind = Act["kind"];

export const stepSchema = z.object({ after: afterSchema, act: actSchema });
export type RuleStep = z.infer<typeof stepSchema>;

const MOST_STEPS = 10;

export const ruleSchema = z.object({
  when: whenSchema,
  /** Whom it is about, as JSON (core/prospects/filter.ts); "" for everybody. */
  filter: z
    .string()
    .max(8_000)
    .refine((text) => text === "" || parseFilter(text) !== null, "This is no filter.")
    .default(""),
  steps: z.array(stepSchema).min(1, "Say what follows.").max(MOST_STEPS, `At most ${MOST_STEPS} acts.`),
  /** Once for each person, or each time. */
  isOnce: z.boolean(),
});
export type Rule = z.infer<typeof ruleSchema>;

const UNITS = { minutes: MINUTE, hours: HOUR, days: DAY } as const;

/** When an act is due that follows `from`; `zone`: the person's. */
export function dueAt(after: After, from: number, zone: string): number {
  switch (after.kind) {
    case "now":
      return from;
    case "wait":
      return from + after.amount * UNITS[after.unit];
    case "at": {
      const day = dayNumberOf(from, zone);
      const today = instantOnDay(day, minutesOf(after.time), zone);
      return today >= from ? today : instantOnDay(day + 1, minutesOf(after.time), zone);
    }
  }
}
