/** One email to one prospect, with a follow-up and a reminder by choice, as the path that it is. */
import { z } from "zod";
import { timeSchema } from "../day-and-time.ts";
import type { Condition } from "./condition.ts";
import { MAX_BODY, MAX_SUBJECT } from "./limits.ts";
import type { Path } from "./path.ts";
import { NO_WAIT, type Wait } from "./wait.ts";

export const oneEmailSchema = z
  .object({
    prospectId: z.number().int(),
    subject: z.string().trim().min(1, "The email needs a subject.").max(MAX_SUBJECT),
    body: z.string().trim().min(1, "Write the text.").max(MAX_BODY),
    when: z.enum(["now", "best", "at"]),
    /** With "at": where the prospect is. */
    date: z.iso.date("Choose the day.").optional(),
    time: timeSchema.optional(),
    followUp: z
      .object({
        days: z.number().int().min(1).max(60),
        body: z.string().trim().min(1, "Write the follow-up, or take it off.").max(MAX_BODY),
        /** Sent if they did not answer, or only if they did not open it either. */
        unless: z.enum(["answered", "opened"]),
      })
      .nullable(),
    /** Working days after which the rep is reminded if nothing came back. */
    remindAfter: z.number().int().min(1).max(90).nullable(),
  })
  .refine(({ when, date, time }) => when !== "at" || (date !== undefined && time !== undefined), {
    path: ["date"],
    message: "Choose the day and the time.",
  });
export type OneEmail = z.infer<typeof oneEmailSchema>;

export function pathOfOneEmail(asked: OneEmail): Path {
  const { subject, body, when, date, time, followUp, remindAfter } = asked;
  const wait: Wait = when === "at" && date && time ? { date, time } : NO_WAIT;
  const email = (
    id: string,
    name: string,
    words: { subject: string; body: string },
    waits: Wait,
    onlyIf?: Condition,
  ) => ({
    id,
    kind: "email" as const,
    name,
    note: "",
    wait: waits,
    ...(when === "best" && id === "one" ? { bestHour: true as const } : {}),
    // Only the first, and only where the rep named the time; what follows keeps days, hours and holidays where they are.
    ...(when !== "best" && id === "one" ? { anyHour: true as const } : {}),
    ...(onlyIf ? { onlyIf } : {}),
    variants: [{ id: "a", weight: 1, ...words }],
    format: "formatted" as const,
    quotes: false,
    attachments: [],
  });
  const path: Path = [
    email("one", "Email", { subject, body }, when === "best" ? { days: 1, working: true } : wait),
  ];
  if (followUp)
    path.push(
      email(
        "two",
        "Follow-up",
        { subject: "", body: followUp.body },
        { days: followUp.days, working: true },
        followUp.unless === "opened" ? { about: "opened", stepId: "one", not: true } : undefined,
      ),
    );
  if (remindAfter)
    path.push({
      id: "remind",
      kind: "errand",
      name: "Nothing came back",
      note: "",
      wait: { days: remindAfter, working: true },
      text: 'You wanted to be reminded: {{ first_name | default: "they" }} of {{ company | default: "their house" }} has not answered.',
      journey: "waits",
      skipAfter: null,
      asNote: false,
    });
  return path;
}
