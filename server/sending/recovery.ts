/**
 * After a restore, a lost log or a clock that jumped the engine reads before it sends. What left meanwhile lies in the Sent
 * folders under Message-IDs that are made from journey and step (server/mail/message-id.ts), so it is known again and noted; what was
 * due meanwhile and is not there may have left all the same, and waits for a person.
 */
import { DAY, HOUR } from "../../core/calendar.ts";
import { everyStep, isEmail } from "../../core/sequence/path.ts";
import { variantOf } from "../../core/sequence/variant-of.ts";
import type { App, AppTx } from "../app.ts";
import { setHold } from "../db/holds.ts";
import { enterTouch, settleSent, type Touch, touchById, touchOfStep } from "../db/ledger.ts";
import { allMailboxes, type Mailbox } from "../db/mailboxes.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { prospectIdByEmail } from "../db/prospects.ts";
import { isReadFor, openRecovery, type Recovery, unreadMailboxes } from "../db/recoveries.ts";
import { pathOfVersion } from "../db/sequences.ts";
import { drawnAt } from "../db/wording-shares.ts";
import { log } from "../log.ts";
import { withDeadline } from "../mail/deadline.ts";
import type { MailDoors } from "../mail/doors.ts";
import type { SentHead } from "../mail/imap.ts";
import { localPart } from "../mail/message-id.ts";
import { considerDue } from "../sequences/consider.ts";
import { markSent } from "./settle.ts";

/** Clocks of servers differ, and a copy is put away a little later. */
const MARGIN = HOUR;
const LASTS = 120_000;

/** Reads a mailbox's Sent folder for the time of which nothing is known. Throws if it cannot be read. */
export async function readSentFor(app: App, doors: MailDoors, mailbox: Mailbox): Promise<void> {
  const { db } = app;
  const recovery =
    openRecovery(db) ??
    // One that could not be read in its time is read as soon as it can be.
    (unreadMailboxes(db).has(mailbox.id) ? latest(db) : undefined);
  if (!recovery || isReadFor(db, recovery.id, mailbox.id)) return;
  const { folders } = doors.of(mailbox);
  const heads = await withDeadline(LASTS, folders.sentSince(recovery.since - MARGIN), () => folders.kill());
  transact(app, (app) => {
    const { db } = app;
    let found = 0;
    for (const head of heads.toSorted((a, b) => a.at - b.at)) if (noteSent(app, mailbox, head)) found++;
    sql(db, "UPDATE recoveries SET found = found + @found WHERE id = @id").run({
      id: recovery.id,
      found,
    });
    sql(
      db,
      `INSERT INTO recovery_reads (recovery_id, mailbox_id, at) VALUES (@id, @mailboxId, @at) ON CONFLICT DO NOTHING`,
    ).run({ id: recovery.id, mailboxId: mailbox.id, at: app.clock.now() });
    log.info({ mailbox: mailbox.id, found }, "Sent folder read after a restore");
  });
}

const latest = (db: Db): Recovery | undefined =>
  sql(
    db,
    "SELECT id, reason, since, until, found, held, dropped, ended_at AS endedAt FROM recoveries ORDER BY id DESC LIMIT 1",
  ).get<Recovery>([]);

/** Notes one message of a Sent folder in the ledger. True if it was not there. */
function noteSent(app: AppTx, mailbox: Mailbox, head: SentHead): boolean {
  const { db, key } = app;
  const known = sql(db, "SELECT id, state FROM touches WHERE message_id = @messageId").get<{
    id: number;
    state: string;
  }>(head);
  if (known) {
    if (known.state === "sent") return false;
    claim(db, known.id, mailbox, head);
    return settle(app, known.id, head);
  }
  if (noteServiceMail(db, head)) return true;
  const to = head.to[0] ?? "";
  const prospectId = to === "" ? null : prospectIdByEmail(db, to);
  if (prospectId === null) return false;
  const step = stepOf(db, key, prospectId, head, to);
  const entry = { prospectId, mailboxId: mailbox.id, recipient: to, ...textOf(head) };
  if (!step) {
    // Of a sequence or an answer that the database has lost. Nobody is written to a second time for want of knowing it.
    const id = enterTouch(db, { ...entry, kind: "answer", journeyId: null, stepId: null, version: null });
    return id !== null && settle(app, id, head);
  }
  const draft = touchOfStep(db, step.journeyId, step.stepId);
  if (draft) {
    if (draft.state === "sent") return false;
    claim(db, draft.id, mailbox, head);
    return settle(app, draft.id, head);
  }
  const id = enterTouch(db, { ...entry, ...step });
  return id !== null && settle(app, id, head);
}

const textOf = ({ messageId, subject, at }: SentHead) => ({
  state: "claimed" as const,
  messageId,
  inReplyTo: null,
  references: "",
  subject,
  body: "This email left before a restore; its text is in the Sent folder.",
  markup: null,
  claimedAt: at,
  claimedWall: at,
});

/** Makes a row that was to go the claim of what left. */
function claim(db: Db, id: number, mailbox: Mailbox, { messageId, at, to }: SentHead): void {
  sql(
    db,
    `UPDATE touches SET state = 'claimed', message_id = @messageId, mailbox_id = @mailboxId, claimed_at = @at, claimed_wall = @at,
       recipient = coalesce(nullif(recipient, ''), @to) WHERE id = @id`,
  ).run({ id, messageId, mailboxId: mailbox.id, at, to: to[0] ?? "" });
}

function settle(app: AppTx, id: number, { at }: SentHead): boolean {
  const { db } = app;
  const touch = touchById(db, id) as Touch;
  if (touch.kind === "test") return settleSent(db, touch, at, null);
  markSent(app, touch, at, "Found in the Sent folder.");
  // It lies there already.
  sql(db, "UPDATE touches SET copy_due = 0 WHERE id = @id").run({ id });
  return true;
}

function noteServiceMail(db: Db, { messageId, at }: SentHead): boolean {
  return (
    sql(
      db,
      "UPDATE service_mails SET state = 'sent', sent_at = @at WHERE message_id = @messageId AND state IN ('queued', 'claimed')",
    ).run({ messageId, at }).changes === 1
  );
}

/** Which email of which journey a Message-ID is; undefined if it is none that the database knows of. */
function stepOf(db: Db, key: Buffer, prospectId: number, { messageId, at }: SentHead, recipient: string) {
  const local = messageId.slice(1, messageId.lastIndexOf("@"));
  const journeys = sql(
    db,
    "SELECT id, sequence_id AS sequenceId, version FROM journeys WHERE prospect_id = @prospectId ORDER BY id DESC",
  ).all<{ id: number; sequenceId: number; version: number }>({ prospectId });
  for (const { id: journeyId, sequenceId, version } of journeys)
    for (const step of everyStep(pathOfVersion(db, sequenceId, version)))
      if (isEmail(step) && localPart(key, { journeyId, stepId: step.id, recipient }) === local)
        return {
          kind: step.kind,
          journeyId,
          stepId: step.id,
          version,
          variantId: variantOf(step.id, drawnAt(db, sequenceId, step, at).variants, prospectId).id,
        };
  return undefined;
}

/**
 * Ends the recovery once every mailbox was read or cannot be: whoever was due in its time and is not found waits for a
 * person. Returns whether nothing may be sent yet.
 */
export function endRecovery(app: App): boolean {
  const { db, clock } = app;
  const recovery = openRecovery(db);
  if (!recovery) return false;
  const unread = unreadMailboxes(db);
  if (allMailboxes(db).some(({ id, trouble }) => unread.has(id) && trouble === null)) return true;
  // Those whose email was found go on to their next step first.
  considerDue(app, clock.now());
  db.transaction(() => {
    const held = recovery.reason === "clock" ? 0 : holdUncertain(app, recovery);
    const dropped = recovery.reason === "clock" ? 0 : dropUncertain(app, recovery);
    sql(db, "UPDATE recoveries SET held = @held, dropped = @dropped, ended_at = @now WHERE id = @id").run({
      id: recovery.id,
      held,
      dropped,
      now: clock.now(),
    });
    log.info({ found: recovery.found, held, dropped }, "what left before the restore is noted");
  }).immediate();
  return false;
}

/**
 * Holds whom the time may have written to: those who were due in it and planned for it; behind the plan's reach as many as
 * the mailboxes could have sent. What a rep does by hand stays open on Today: they know.
 */
function holdUncertain({ db }: App, { since, until }: Recovery): number {
  const days = Math.ceil((until - since) / DAY);
  const most = allMailboxes(db).reduce((sum, { dailyLimit }) => sum + dailyLimit, 0) * (days + 1);
  const people = sql(
    db,
    `SELECT j.id FROM journeys j JOIN sequences s ON s.id = j.sequence_id
     WHERE j.state = 'active' AND s.state = 'running' AND s.deleted_at IS NULL AND j.due_at <= @until
       AND NOT EXISTS (SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.step_id = j.place_id AND t.state = 'open')
       AND (j.next_at <= @until OR (j.next_at IS NULL AND (@days > 1 OR j.wait_reason IS NULL))
         OR EXISTS (SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.state = 'approved' AND t.due_at <= @until))
     ORDER BY j.next_at IS NULL, j.next_at, j.due_at LIMIT @most`,
  ).all<{ id: number }>({ until, days, most });
  for (const { id } of people)
    setHold(db, {
      ...{ scope: "journey", scopeId: id, reason: "after_restore", detail: null },
      ...{ since: until, until: null, causeProspectId: null },
    });
  return people.length;
}

/** Answers are asked about one by one (server/sending/undecided.ts); other mail is not sent again. */
function dropUncertain({ db, clock }: App, { until }: Recovery): number {
  sql(
    db,
    `UPDATE touches SET state = 'claimed', claimed_at = @now, claimed_wall = @wall, undecided_at = @now
     WHERE kind = 'answer' AND state = 'queued' AND (due_at IS NULL OR due_at <= @until)`,
  ).run({ now: clock.now(), wall: Date.now(), until });
  sql(
    db,
    "UPDATE touches SET state = 'skipped', ended_at = @now WHERE kind = 'test' AND state = 'queued'",
  ).run({ now: clock.now() });
  return sql(
    db,
    `UPDATE service_mails SET state = 'dropped', trouble = 'It may have left before a restore.'
     WHERE state = 'queued' AND due_at <= @until`,
  ).run({ until }).changes;
}
