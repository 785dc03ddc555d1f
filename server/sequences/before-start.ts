/** What a rep does while looking through the messages before a start. */

import { randomUUID } from "node:crypto";
import { z } from "zod";
import { MAX_BODY, MAX_SUBJECT } from "../../core/sequence/limits.ts";
import { attachedTo, isEmail, spotsOf } from "../../core/sequence/path.ts";
import { mergeProblems } from "../../core/writing/merge.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { enterTouch } from "../db/ledger.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { prospectById } from "../db/prospects.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { checkSequence } from "./check-sequence.ts";
import { renderStep } from "./render-step.ts";
import { startPeople } from "./start-check.ts";

const ownText = z.object({
  stepId: z.string().max(40),
  prospectId: z.number().int(),
  subject: z.string().max(MAX_SUBJECT),
  body: z.string().trim().min(1, "Write the text, or leave it as it was.").max(MAX_BODY),
});

/** Writes one prospect's email of a step by hand; the sequence stays as it is. */
export function writeOwnText(app: App, userId: number, sequenceId: number, input: unknown): Outcome<null> {
  const read = ownText.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const sequence = sequenceById(app.db, sequenceId);
  if (!sequence) return refused({ form: "This sequence no longer exists." });
  const no =
    mayNot(app, userId, "sequence.change", sequenceId) ??
    mayNot(app, userId, "prospect.see", read.data.prospectId);
  if (no) return no;
  const { fields } = checkSequence(app, sequence);
  for (const field of ["subject", "body"] as const) {
    const [problem] = mergeProblems(read.data[field], fields);
    if (problem) return refused({ [field]: problem });
  }
  sql(
    app.db,
    `INSERT INTO own_texts (sequence_id, step_id, prospect_id, subject, body, user_id, at)
     VALUES (@sequenceId, @stepId, @prospectId, @subject, @body, @userId, @now)
     ON CONFLICT (sequence_id, step_id, prospect_id) DO UPDATE SET subject = excluded.subject, body = excluded.body,
       user_id = excluded.user_id, at = excluded.at`,
  ).run({ sequenceId, ...read.data, userId, now: app.clock.now() });
  return done(null);
}

export function dropOwnText(
  app: App,
  by: By,
  sequenceId: number,
  { stepId, prospectId }: { stepId: string; prospectId: number },
): Outcome<null> {
  const no = mayNot(app, by, "sequence.change", sequenceId);
  if (no) return no;
  sql(
    app.db,
    "DELETE FROM own_texts WHERE sequence_id = @sequenceId AND step_id = @stepId AND prospect_id = @prospectId",
  ).run({ sequenceId, stepId, prospectId });
  return done(null);
}

/** Says yes to the first email of some prospects, or of everybody who is ready. Returns to how many. */
export function approveBefore(
  app: App,
  userId: number,
  sequence: Sequence,
  ids: number[] | "all",
): Outcome<number> {
  const no = mayNot(app, userId, "sequence.change", sequence.id);
  if (no) return no;
  const first = sequence.path.find(isEmail);
  if (!first) return done(0);
  const chosen: number[] = [];
  if (ids === "all")
    for (let page = 0; ; page++) {
      const people = startPeople(app, sequence, "ready", page);
      chosen.push(...people.map(({ id }) => id));
      if (people.length === 0) break;
    }
  else chosen.push(...ids);
  const said = sql(
    app.db,
    `INSERT INTO approvals (sequence_id, step_id, prospect_id, user_id, at)
     SELECT @sequenceId, @stepId, id, @userId, @now FROM prospects WHERE id IN (SELECT value FROM json_each(@ids)) ON CONFLICT DO NOTHING`,
  ).run({
    sequenceId: sequence.id,
    stepId: first.id,
    userId,
    now: app.clock.now(),
    ids: JSON.stringify(chosen),
  }).changes;
  return done(said);
}

/** Sends one step, as one prospect would get it, to the user's own address; marked as a test, counted nowhere. */
export function sendTest(
  app: App,
  user: Pick<User, "id" | "email">,
  sequence: Sequence,
  stepId: string,
  prospectId: number,
): Outcome<string> {
  const { db } = app;
  const no = mayNot(app, user.id, "sequence.change", sequence.id);
  if (no) return no;
  const step = spotsOf(sequence.path).get(stepId)?.node;
  const prospect = prospectById(db, prospectId);
  if (!step || !isEmail(step) || !prospect) return refused({ form: "Choose an email and a prospect first." });
  const mailbox = allMailboxes(db).find(({ id }) => sequence.mailboxIds.includes(id));
  if (!mailbox) return refused({ form: "Choose a mailbox to send from first." });
  const rendered = renderStep(app, {
    ...{ path: sequence.path, step, prospect, mailbox, sequenceId: sequence.id },
    isTest: true,
  });
  if (!rendered.ok)
    return refused({
      form:
        rendered.emptyField === null
          ? rendered.error
          : `Their ${rendered.emptyField.replaceAll("_", " ")} is empty. Fill it in, then send the test.`,
    });
  enterTouch(db, {
    kind: "test",
    journeyId: null,
    stepId: null,
    version: sequence.version,
    variantId: rendered.variantId,
    prospectId,
    mailboxId: mailbox.id,
    recipient: user.email,
    state: "queued",
    messageId: `<test.${randomUUID()}@${mailbox.address.split("@")[1]}>`,
    inReplyTo: null,
    references: "",
    subject: `[Test] ${rendered.subject}`,
    body: rendered.body,
    markup: rendered.markup === rendered.body ? null : rendered.markup,
    format: step.format,
    attachments: JSON.stringify(attachedTo(step)),
    claimedAt: null,
    claimedWall: null,
  });
  return done(user.email);
}
