/** One email to one prospect, with a follow-up and a reminder by choice: a sequence of its own, by the same rules as all. */

import { z } from "zod";
import type { Condition } from "../../core/sequence/condition.ts";
import { MAX_BODY, MAX_SUBJECT } from "../../core/sequence/limits.ts";
import type { Path } from "../../core/sequence/path.ts";
import { timeSchema } from "../../core/sequence/path-schema.ts";
import { NO_WAIT, type Wait } from "../../core/sequence/wait.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { sql, transact } from "../db/open.ts";
import { fullName, prospectById } from "../db/prospects.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { checkSequence } from "./check-sequence.ts";
import { createSequence } from "./create-sequence.ts";
import { sequenceForm } from "./open-sequence.ts";
import { saveSequence } from "./save-sequence.ts";
import { startJourneys } from "./start-sequence.ts";

const form = z.object({
  prospectId: z.number().int(),
  subject: z.string().trim().min(1, "The email needs a subject.").max(MAX_SUBJECT),
  body: z.string().trim().min(1, "Write the text.").max(MAX_BODY),
  when: z.enum(["now", "best", "at"]),
  /** With "at": where the prospect is. */
  date: z.iso.date().optional(),
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
});
export type OneEmailForm = z.infer<typeof form>;

/** Writes to one prospect, who is on no other sequence. Returns the id of its sequence. */
export function writeOneEmail(app: App, user: User, input: unknown): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const email = read.data;
  const { db } = app;
  const no = mayNot(app, user.id, "prospect.change", email.prospectId);
  if (no) return no;
  const prospect = prospectById(db, email.prospectId);
  if (!prospect || prospect.erasedAt !== null) return refused({ form: "This person is no longer here." });
  if (prospect.email === "") return refused({ form: "No address is known. Type it under Edit first." });
  if (isBlocked(db, prospect.email))
    return refused({ form: "They are on the block list: nothing is ever sent there." });
  const busy = sql(
    db,
    `SELECT s.name FROM journeys j JOIN sequences s ON s.id = j.sequence_id WHERE j.prospect_id = @id AND j.state = 'active'`,
  ).get<{ name: string }>({ id: prospect.id });
  if (busy)
    return refused({
      form: `They are on “${busy.name}”. Stop that for them first, or wait until it is through.`,
    });
  const mailboxIds = allMailboxes(db)
    .filter(({ userId, state }) => userId === user.id && state === "active")
    .map(({ id }) => id);
  if (mailboxIds.length === 0) return refused({ form: "None of your mailboxes sends now. Look at Sending." });
  const path = pathOf(email);
  if (path === null) return refused({ date: "Choose the day and the time." });
  return transact(app, (app): Outcome<number> => {
    const { db } = app;
    const name = `To ${fullName(prospect)}`.slice(0, 80);
    const made = createSequence(app, user.id, { name }, path);
    if (!made.ok) return made;
    const draft = sequenceById(db, made.value) as Sequence;
    const saved = saveSequence(
      app,
      {
        ...sequenceForm(draft),
        zone: prospect.timeZone ?? user.zone,
        writesTo: "any",
        mailboxIds,
        settings: { ...draft.settings, holidays: true, tracksOpens: email.followUp?.unless === "opened" },
        path,
      },
      user.id,
    );
    const [problem] = saved.ok ? checkSequence(app, sequenceById(db, made.value) as Sequence).problems : [];
    if (!saved.ok || problem) {
      sql(db, "DELETE FROM sequences WHERE id = @id").run({ id: made.value });
      return saved.ok ? refused({ body: problem?.message ?? "" }) : saved;
    }
    sql(db, "UPDATE sequences SET kind = 'single', state = 'running' WHERE id = @id").run({
      id: made.value,
    });
    startJourneys(app, user.id, sequenceById(db, made.value) as Sequence, [prospect.id], { again: true });
    return done(made.value);
  });
}

function pathOf({ subject, body, when, date, time, followUp, remindAfter }: OneEmailForm): Path | null {
  const wait: Wait | null = when === "at" ? (date && time ? { date, time } : null) : NO_WAIT;
  if (wait === null) return null;
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

/** Takes the follow-up and the reminder off an email, as long as they have not come up. */
export function detachFollowUps(app: App, userId: number, sequenceId: number): Outcome<null> {
  const no = mayNot(app, userId, "sequence.change", sequenceId);
  if (no) return no;
  const sequence = sequenceById(app.db, sequenceId);
  if (sequence?.kind !== "single") return refused({ form: "This is no single email." });
  const saved = saveSequence(app, { ...sequenceForm(sequence), path: sequence.path.slice(0, 1) }, userId);
  return saved.ok ? done(null) : saved;
}
