/** One email to one prospect, with follow-ups and a reminder by choice, as the path that it is, and back. */
import { z } from "zod";
import { timeSchema } from "../day-and-time.ts";
import type { Condition } from "./condition.ts";
import { MAX_BODY, MAX_SUBJECT } from "./limits.ts";
import { type EmailStep, everyStep, isEmail, isTouch, type Path, type TouchStep } from "./path.ts";
import { NO_WAIT, usualDays, type Wait } from "./wait.ts";

const MOST_FOLLOW_UPS = 8;

const followUpSchema = z.object({
  /** Stays the same while it is changed: what has gone is known by it. */
  id: z
    .string()
    .regex(/^[a-z0-9]{1,20}$/)
    .refine((id) => id !== FIRST && id !== REMINDER),
  /** Working days after the email before it. */
  days: z.number().int().min(1).max(60),
  /** "" goes in the same thread. */
  subject: z.string().trim().max(MAX_SUBJECT).default(""),
  body: z.string().trim().min(1, "Write the follow-up, or take it off.").max(MAX_BODY),
  /** Sent if they did not answer, or only if they did not open the email before it either. */
  unless: z.enum(["answered", "opened"]),
});
export type FollowUp = z.infer<typeof followUpSchema>;

const FIRST = "one";
const REMINDER = "remind";

export const oneEmailSchema = z
  .object({
    prospectId: z.number().int(),
    subject: z.string().trim().min(1, "The email needs a subject.").max(MAX_SUBJECT),
    body: z.string().trim().min(1, "Write the text.").max(MAX_BODY),
    attachments: z.array(z.number().int()).max(10).default([]),
    /** They go as links to look at, and not inside the email. */
    linksFiles: z.boolean().default(false),
    /** The page for prospects that its texts lead to. */
    pageId: z.number().int().nullable().default(null),
    /** Null: any of one's own. */
    mailboxId: z.number().int().nullable().default(null),
    when: z.enum(["now", "best", "at"]),
    /** With "at": where the prospect is. */
    date: z.iso.date("Choose the day.").optional(),
    time: timeSchema.optional(),
    followUps: z.array(followUpSchema).max(MOST_FOLLOW_UPS).default([]),
    /** Working days after which the rep is reminded if nothing came back. */
    remindAfter: z.number().int().min(1).max(90).nullable(),
    /** What becomes of a sequence that they are on. */
    meanwhile: z.enum(["ask", "stop"]).default("ask"),
  })
  .refine(({ when, date, time }) => when !== "at" || (date !== undefined && time !== undefined), {
    path: ["date"],
    message: "Say when it leaves.",
  });
export type OneEmail = z.infer<typeof oneEmailSchema>;

/** Where it has gone already, when it leaves is no longer to be said. */
export function pathOfOneEmail(asked: OneEmail): Path {
  const { subject, body, when, date, time, followUps, remindAfter, attachments, linksFiles } = asked;
  const wait: Wait = when === "at" && date && time ? { date, time } : NO_WAIT;
  const email = (
    id: string,
    name: string,
    words: { subject: string; body: string },
    waits: Wait,
    onlyIf?: Condition,
  ): EmailStep => ({
    id,
    kind: "email",
    name,
    note: "",
    wait: waits,
    ...(when === "best" && id === FIRST ? { bestHour: true } : {}),
    // Only the first, and only where the rep named the time; what follows keeps days, hours and holidays where they are.
    ...(when !== "best" && id === FIRST ? { anyHour: true } : {}),
    ...(onlyIf ? { onlyIf } : {}),
    variants: [{ id: "a", weight: 1, ...words }],
    format: "formatted",
    quotes: false,
    attachments: id === FIRST ? attachments : [],
    ...(id === FIRST && linksFiles ? { linksFiles: true as const } : {}),
  });
  const path: Path = [
    email(FIRST, "Email", { subject, body }, when === "best" ? { days: 1, working: true } : wait),
  ];
  for (const [nth, { id, days, subject: own, body: text, unless }] of followUps.entries())
    path.push(
      email(
        id,
        followUps.length === 1 ? "Follow-up" : `Follow-up ${nth + 1}`,
        { subject: own, body: text },
        { days, working: true },
        unless === "opened"
          ? { about: "opened", stepId: followUps[nth - 1]?.id ?? FIRST, not: true }
          : undefined,
      ),
    );
  if (remindAfter)
    path.push({
      id: REMINDER,
      kind: "errand",
      name: "Nothing came back",
      note: "",
      wait: { days: remindAfter, working: true },
      text: 'You wanted to be reminded: {{ first_name | default: "they" }} of {{ company | default: "their company" }} has not answered.',
      journey: "waits",
      skipAfter: null,
      asNote: false,
    });
  return path;
}

/** What was asked for, read from its path. */
export function oneEmailOf(
  path: Path,
  { prospectId, mailboxId, pageId }: Pick<OneEmail, "prospectId" | "mailboxId" | "pageId">,
): OneEmail {
  const [first, ...others] = path.filter(isTouch);
  const letter = first && isEmail(first) ? first : null;
  const reminder = others.find(({ id }) => id === REMINDER);
  return {
    ...{ prospectId, mailboxId, pageId },
    subject: letter?.variants[0]?.subject ?? "",
    body: letter?.variants[0]?.body ?? "",
    attachments: letter?.attachments ?? [],
    linksFiles: letter?.linksFiles ?? false,
    ...(letter && "date" in letter.wait
      ? { when: "at" as const, date: letter.wait.date, time: letter.wait.time }
      : { when: letter?.bestHour ? ("best" as const) : ("now" as const) }),
    followUps: others.filter(isEmail).map(followUpOf),
    remindAfter: reminder ? daysOf(reminder) : null,
    meanwhile: "ask",
  };
}

/** The emails behind the first of any sequence, as follow-ups to attach. */
export const followUpsOf = (path: Path): FollowUp[] =>
  everyStep(path)
    .filter(isEmail)
    .slice(1, 1 + MOST_FOLLOW_UPS)
    .map(followUpOf);

const daysOf = ({ wait }: TouchStep) => Math.max(1, Math.min(60, usualDays(wait)));

const followUpOf = (step: EmailStep): FollowUp => ({
  id: step.id,
  days: daysOf(step),
  subject: step.variants[0]?.subject ?? "",
  body: step.variants[0]?.body ?? "",
  unless: step.onlyIf?.about === "opened" && step.onlyIf.not === true ? "opened" : "answered",
});
