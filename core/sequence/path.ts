/**
 * A sequence's path: what a rep composes, saved as numbered versions. An ordered tree of steps, forks and ends; a
 * branch that does not end goes on with what follows its fork. A step keeps its id through every version, so that a
 * prospect who got it never gets it again.
 */
import { z } from "zod";
import { conditionSchema } from "./condition.ts";
import { isNoWait, MAX_WAIT_DAYS, waitSchema } from "./wait.ts";

export const MAX_STEPS = 60;
/** Forks within forks; deeper ones nobody could follow. */
export const MAX_DEPTH = 6;
export const MAX_VARIANTS = 5;
export const MAX_SUBJECT = 200;
export const MAX_BODY = 20_000;

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
  note: z.string().max(2_000).default(""),
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
  /** Plain sends no HTML, so opens and clicks cannot be seen. */
  format: z.enum(["formatted", "plain"]).default("formatted"),
  /** The thread so far is quoted below. */
  quotes: z.boolean().default(false),
  /** Ids of files that are kept in the app. */
  attachments: z.array(z.number().int()).max(10).default([]),
});
export type EmailStep = z.infer<typeof emailStepSchema>;

export const REP_KINDS = ["profile_view", "invitation", "social_message", "call", "errand"] as const;
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
export const STEP_KINDS = ["email", "approved_email", ...REP_KINDS] as const;

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

export const pathSchema: z.ZodType<Path> = pathOfDepth(MAX_DEPTH).superRefine((path, context) => {
  const ids = everyNode(path).map((node) => node.id);
  if (ids.length > MAX_STEPS) context.addIssue({ code: "custom", message: `At most ${MAX_STEPS} steps.` });
  const twice = ids.find((each, index) => ids.indexOf(each) !== index);
  if (twice !== undefined)
    context.addIssue({ code: "custom", message: `Two steps have the id “${twice}”; each needs its own.` });
});

/** Every step, fork and end in the order of reading: a fork before its branches, yes before no. */
export function everyNode(path: Path): PathNode[] {
  return path.flatMap((node) =>
    node.kind === "fork" ? [node, ...everyNode(node.yes), ...everyNode(node.no)] : [node],
  );
}

export const isTouch = (node: PathNode): node is TouchStep => node.kind !== "fork" && node.kind !== "end";
export const isEmail = (node: PathNode): node is EmailStep =>
  node.kind === "email" || node.kind === "approved_email";

/** Every step that is a touch, in the order of reading. */
export const everyStep = (path: Path): TouchStep[] => everyNode(path).filter(isTouch);

export type Channel = "email" | "social" | "call" | "errand";
export const CHANNEL_OF: Record<StepKind, Channel> = {
  email: "email",
  approved_email: "email",
  profile_view: "social",
  invitation: "social",
  social_message: "social",
  call: "call",
  errand: "errand",
};

/** A node with its way: what follows it, and the email before it. */
export interface Spot {
  node: PathNode;
  /** The first node after it on the way; null where the path is over. A fork's follower is what its branches rejoin. */
  next: PathNode | null;
  /** The emails that lie before it on every way to it, the nearest last. */
  emailsBefore: EmailStep[];
  /** The forks it lies in, the outermost first. */
  within: { fork: Fork; branch: "yes" | "no" }[];
}

const kept = new WeakMap<Path, Map<string, Spot>>();

/** Every node by its id. Paths are never changed in place, so that each is looked through once. */
export function spotsOf(path: Path): Map<string, Spot> {
  const known = kept.get(path);
  if (known) return known;
  const spots = new Map<string, Spot>();
  const walk = (nodes: Path, after: PathNode | null, before: EmailStep[], within: Spot["within"]): void => {
    let emails = before;
    nodes.forEach((node, index) => {
      const next = node.kind === "end" ? null : (nodes[index + 1] ?? after);
      spots.set(node.id, { node, next, emailsBefore: emails, within });
      if (node.kind === "fork") {
        walk(node.yes, next, emails, [...within, { fork: node, branch: "yes" }]);
        walk(node.no, next, emails, [...within, { fork: node, branch: "no" }]);
      } else if (isEmail(node) && node.onlyIf === undefined) emails = [...emails, node];
    });
  };
  walk(path, null, [], []);
  kept.set(path, spots);
  return spots;
}

/** Where somebody goes on who took a branch of a fork: its first node, or what follows the fork. */
export function branchStart(fork: Fork, branch: "yes" | "no", path: Path): PathNode | null {
  return fork[branch][0] ?? spotsOf(path).get(fork.id)?.next ?? null;
}

/** Whether an email goes in the thread of the one before it. */
export const isSameThread = ({ subject }: Pick<Variant, "subject">): boolean => subject.trim() === "";

/** The subject template of a step's variant: its own, or that of the nearest email before which began a thread. */
export function threadSubject(path: Path, stepId: string, variant: Pick<Variant, "subject">): string {
  if (!isSameThread(variant)) return variant.subject.trim();
  const before = spotsOf(path).get(stepId)?.emailsBefore ?? [];
  return (
    before
      .findLast(({ variants }) => variants.some((each) => !isSameThread(each)))
      ?.variants.find((each) => !isSameThread(each))
      ?.subject.trim() ?? ""
  );
}

/** Whether nothing is waited for anywhere, so that everything would go out at once. */
export const waitsNowhere = (path: Path): boolean => everyStep(path).every(({ wait }) => isNoWait(wait));
