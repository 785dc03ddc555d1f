/**
 * What a path is, as it is saved and checked: an ordered tree of steps, forks and ends. Apart from what is worked out
 * from one (path.ts, condition.ts, wait.ts), so that a browser which draws paths needs no checks.
 */
import { z } from "zod";
import { daySchema, timeSchema } from "../day-and-time.ts";
import { TEXT_OPS } from "../prospects/filter-fields.ts";
import { LABELS } from "../replies/labels.ts";
import {
  MAX_BODY,
  MAX_DEPTH,
  MAX_NOTE,
  MAX_STEPS,
  MAX_SUBJECT,
  MAX_VARIANTS,
  MAX_WAIT_DAYS,
  MAX_WAIT_HOURS,
  REP_KINDS,
} from "./limits.ts";

export const waitSchema = z.union([
  z.strictObject({
    days: z.number().int().min(0).max(MAX_WAIT_DAYS, `A wait lasts at most ${MAX_WAIT_DAYS} days.`),
    /** Days on which the sequence sends and that are no holiday where the prospect is; else days of the calendar. */
    working: z.boolean(),
  }),
  z.strictObject({ hours: z.number().int().min(0).max(MAX_WAIT_HOURS) }),
  z.strictObject({ weekday: z.number().int().min(1).max(7), time: timeSchema }),
  z.strictObject({ date: daySchema, time: timeSchema }),
]);
export type Wait = z.infer<typeof waitSchema>;

const not = z.literal(true).optional();
export const conditionSchema = z.union([
  /** Has an address; has a social profile. */
  z.strictObject({ not, about: z.enum(["address", "profile"]) }),
  /** The invitation was accepted. */
  z.strictObject({ not, about: z.literal("accepted") }),
  z.strictObject({ not, about: z.enum(["opened", "clicked"]), stepId: z.string().max(40) }),
  /** They looked at the page that is theirs; they watched so much of the film there, in hundredths. */
  z.strictObject({ not, about: z.literal("visited") }),
  z.strictObject({ not, about: z.literal("watched"), share: z.literal([25, 50, 75, 100]) }),
  /** A merge field's value. */
  z.strictObject({
    not,
    about: z.literal("field"),
    field: z.string().trim().min(1, "Choose a field.").max(60),
    op: z.enum(TEXT_OPS),
    value: z.string().trim().max(200),
  }),
  /** What their reply means. */
  z.strictObject({ not, about: z.literal("label"), is: z.enum(LABELS) }),
]);
export type Condition = z.infer<typeof conditionSchema>;

const id = z.string().min(1).max(40);

export const variantSchema = z.strictObject({
  id,
  /** Its share against the other variants'; 0 takes nobody new. */
  weight: z.number().int().min(0).max(100),
  /** Empty: the email goes in the thread of the one before. */
  subject: z.string().max(MAX_SUBJECT, `A subject has at most ${MAX_SUBJECT} characters.`),
  body: z.string().max(MAX_BODY, `An email has at most ${MAX_BODY.toLocaleString("en")} characters.`),
});
export type Variant = z.infer<typeof variantSchema>;

const base = {
  id,
  name: z.string().trim().min(1, "Give the step a short name.").max(60),
  /** For the team; no prospect sees it. */
  note: z.string().max(MAX_NOTE).default(""),
  /** After the touch before; for the first step after the start, in a branch after the fork's decision. */
  wait: waitSchema,
  /** A wish: at the hour of the day at which they were reached before. */
  bestHour: z.literal(true).optional(),
  /** Goes at the time that the rep named, whatever the sequence's days and hours: the first email of one that is for one person. */
  anyHour: z.literal(true).optional(),
  onlyIf: conditionSchema.optional(),
};

export const emailStepSchema = z.strictObject({
  ...base,
  /** `approved_email` waits for the rep's yes, for each prospect. */
  kind: z.enum(["email", "approved_email"]),
  variants: z.array(variantSchema).min(1).max(MAX_VARIANTS, `At most ${MAX_VARIANTS} wordings.`),
  /** Day by day the wording that does better gets more of whoever comes; the weights hold until something is known. */
  favoursBetter: z.literal(true).optional(),
  /** Plain sends no HTML, so opens and clicks cannot be seen. */
  format: z.enum(["formatted", "plain"]).default("formatted"),
  /** The thread so far is quoted below. */
  quotes: z.boolean().default(false),
  /** Ids of files that are kept in the app. */
  attachments: z.array(z.number().int()).max(10).default([]),
  /** They go as links to a viewer, where it is seen who looked at which page, and not as attachments. */
  linksFiles: z.literal(true).optional(),
});
export type EmailStep = z.infer<typeof emailStepSchema>;

export const repStepSchema = z.strictObject({
  ...base,
  kind: z.enum(REP_KINDS),
  /** The message, the invitation's note, the call's talking points, or what is to be done. */
  text: z.string().max(5_000, "At most 5,000 characters."),
  /** Whether what follows counts from when it is done, or from the day it came up. */
  journey: z.enum(["waits", "goes_on"]).default("waits"),
  /** Left undone for so many working days, it is skipped; null: it waits for ever. */
  skipAfter: z.number().int().min(1).max(MAX_WAIT_DAYS).nullable().default(null),
  /** A social message to somebody who is no contact yet goes as the note of an invitation. */
  asNote: z.boolean().default(false),
});
export type RepStep = z.infer<typeof repStepSchema>;

export type TouchStep = EmailStep | RepStep;
export type StepKind = TouchStep["kind"];

export const endSchema = z.strictObject({ id, kind: z.literal("end") });
export type End = z.infer<typeof endSchema>;

export interface Fork {
  id: string;
  kind: "fork";
  name: string;
  ask: z.infer<typeof conditionSchema>;
  /** How long an answer is waited for; then it is no. */
  patience: z.infer<typeof waitSchema>;
  yes: Path;
  no: Path;
}
export type PathNode = TouchStep | Fork | End;
export type Path = PathNode[];

/** The schema of a path in which forks are nested at most `depth` deep. */
function pathOfDepth(depth: number): z.ZodType<Path> {
  const touches = [emailStepSchema, repStepSchema, endSchema] as const;
  if (depth === 0)
    return z.array(
      z.union(touches, { error: `Forks are nested at most ${MAX_DEPTH} deep.` }),
    ) as unknown as z.ZodType<Path>;
  const inner = pathOfDepth(depth - 1);
  const fork = z.strictObject({
    id,
    kind: z.literal("fork"),
    name: z.string().trim().max(60).default(""),
    ask: conditionSchema,
    patience: waitSchema,
    yes: inner,
    no: inner,
  });
  return z.array(z.discriminatedUnion("kind", [...touches, fork])) as unknown as z.ZodType<Path>;
}

const idsOf = (path: Path): string[] =>
  path.flatMap((node) =>
    node.kind === "fork" ? [node.id, ...idsOf(node.yes), ...idsOf(node.no)] : [node.id],
  );

export const pathSchema: z.ZodType<Path> = pathOfDepth(MAX_DEPTH).superRefine((path, context) => {
  const ids = idsOf(path);
  if (ids.length > MAX_STEPS) context.addIssue({ code: "custom", message: `At most ${MAX_STEPS} steps.` });
  const twice = ids.find((each, index) => ids.indexOf(each) !== index);
  if (twice !== undefined)
    context.addIssue({ code: "custom", message: `Two steps have the id “${twice}”; each needs its own.` });
});
