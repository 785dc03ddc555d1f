/** The ledger of emails: queued, claimed, then sent or refused. */
import { type Db, sql } from "./open.ts";

export const TOUCH_STATES = [
  "draft",
  "approved",
  "open",
  "queued",
  "claimed",
  "sent",
  "done",
  "skipped",
  "refused",
] as const;
export type TouchState = (typeof TOUCH_STATES)[number];

/** An email in the ledger. */
export interface Touch {
  id: number;
  kind: "email" | "approved_email" | "answer" | "test";
  journeyId: number | null;
  stepId: string | null;
  version: number | null;
  prospectId: number;
  mailboxId: number;
  /** The address it goes to; "" once its owner was erased. */
  recipient: string;
  state: TouchState;
  variantId: string | null;
  messageId: string;
  inReplyTo: string | null;
  references: string;
  subject: string;
  body: string;
  /** The body as Markdown in which merged values are protected; null where the body itself is. */
  markup: string | null;
  /** Plain goes without HTML. */
  format: "formatted" | "plain";
  /** Addresses with commas between; "" for none. */
  cc: string;
  bcc: string;
  /** Ids of files, as a JSON array. */
  attachments: string;
  claimedAt: number | null;
  claimedWall: number | null;
  sentAt: number | null;
  /** Set while nobody can tell whether it left. */
  undecidedAt: number | null;
  /** What the server said when it took it, or who else told that it arrived. */
  serverAnswer: string | null;
  /** Who said yes to it, if it had to be asked for. */
  approvedBy: number | null;
  /** When it is to go at the earliest; null: at once. */
  dueAt: number | null;
  /** Goes only if nothing came back meanwhile. */
  unlessReply: 0 | 1;
}

const COLUMNS = `id, kind, journey_id AS journeyId, step_id AS stepId, version, variant_id AS variantId,
  prospect_id AS prospectId, mailbox_id AS mailboxId, recipient, state, message_id AS messageId,
  in_reply_to AS inReplyTo, thread_references AS "references", subject, body, markup, format, cc, bcc, attachments,
  claimed_at AS claimedAt, claimed_wall AS claimedWall, sent_at AS sentAt, undecided_at AS undecidedAt,
  server_answer AS serverAnswer, user_id AS approvedBy, due_at AS dueAt, unless_reply AS unlessReply`;

type WithDefaults = "variantId" | "format" | "cc" | "bcc" | "attachments" | "dueAt" | "unlessReply";
export type NewTouch = Omit<
  Touch,
  "id" | "sentAt" | "undecidedAt" | "serverAnswer" | "approvedBy" | WithDefaults
> &
  Partial<Pick<Touch, WithDefaults>>;
const DEFAULTS = {
  variantId: null,
  format: "formatted",
  cc: "",
  bcc: "",
  attachments: "[]",
  dueAt: null,
  unlessReply: 0,
} as const;

/** Writes a row into the ledger; null if this journey has this step already. */
export function enterTouch(db: Db, touch: NewTouch): number | null {
  const result = sql(
    db,
    `INSERT INTO touches (kind, journey_id, step_id, version, variant_id, at, due_at, prospect_id, mailbox_id, recipient, state,
       message_id, in_reply_to, thread_references, subject, body, markup, format, cc, bcc, attachments, claimed_at, claimed_wall, unless_reply)
     VALUES (@kind, @journeyId, @stepId, @version, @variantId, @claimedAt, coalesce(@dueAt, @claimedAt), @prospectId, @mailboxId, @recipient, @state,
       @messageId, @inReplyTo, @references, @subject, @body, @markup, @format, @cc, @bcc, @attachments, @claimedAt, @claimedWall, @unlessReply)
     ON CONFLICT (journey_id, step_id) DO NOTHING`,
  ).run({ ...DEFAULTS, ...touch });
  return result.changes === 1 ? Number(result.lastInsertRowid) : null;
}

/** In SQL, of rows of `touches`: on its way. Both states are spelt out so that the partial index of the few open ones serves. */
export const isClaimed = (touches = "touches"): string =>
  `${touches}.state IN ('queued', 'claimed') AND ${touches}.state = 'claimed'`;

/** What is on its way from a mailbox. */
export const claimedBy = (db: Db, mailboxId: number): Touch[] =>
  sql(
    db,
    `SELECT ${COLUMNS} FROM touches WHERE ${isClaimed()} AND mailbox_id = @mailboxId ORDER BY id`,
  ).all<Touch>({ mailboxId });

const QUEUED = "state IN ('queued', 'claimed') AND state = 'queued'";

/** The emails that wait in the ledger and may go by now. */
export const queuedBy = (db: Db, now: number): Touch[] =>
  sql(
    db,
    `SELECT ${COLUMNS} FROM touches WHERE ${QUEUED} AND (due_at IS NULL OR due_at <= @now) ORDER BY id`,
  ).all<Touch>({ now });

/** When the next of those that wait may go; null if none does. */
export const nextQueuedAt = (db: Db, now: number): number | null =>
  sql(db, `SELECT min(due_at) AS at FROM touches WHERE ${QUEUED} AND due_at > @now`).get<{
    at: number | null;
  }>({ now })?.at ?? null;

export function touchById(db: Db, id: number): Touch | undefined {
  return sql(db, `SELECT ${COLUMNS} FROM touches WHERE id = @id`).get<Touch>({ id });
}

/** The latest email that a prospect has, as far as that is known. */
export const emailTheyHave = (db: Db, prospectId: number): Touch | undefined =>
  sql(
    db,
    `SELECT ${COLUMNS} FROM touches WHERE prospect_id = @prospectId AND kind != 'test'
       AND (state = 'sent' OR state = 'claimed' AND server_answer IS NOT NULL) ORDER BY id DESC LIMIT 1`,
  ).get<Touch>({ prospectId });

/** They followed a link that only emails bring: where none is known to have reached them, the one that is open did. */
export function noteLinkFollowed(db: Db, prospectId: number): void {
  if (emailTheyHave(db, prospectId)) return;
  const open = sql(
    db,
    "SELECT max(id) AS id FROM touches WHERE prospect_id = @prospectId AND kind != 'test' AND state = 'claimed'",
  ).get<{ id: number | null }>({ prospectId });
  if (open?.id != null) noteArrival(db, open.id);
}

/** Whoever writes about an email, or follows its link, has it: what is open about its claim is answered (server/sending/settle.ts). */
export function noteArrival(db: Db, id: number): void {
  sql(
    db,
    `UPDATE touches SET server_answer = 'They have it.' WHERE id = @id AND state = 'claimed' AND server_answer IS NULL`,
  ).run({ id });
}

/** The emails of a journey that left or may have, oldest first. */
export function touchesOfJourney(db: Db, journeyId: number): Touch[] {
  return sql(
    db,
    `SELECT ${COLUMNS} FROM touches WHERE journey_id = @journeyId AND state IN ('claimed', 'sent') ORDER BY claimed_at, id`,
  ).all<Touch>({ journeyId });
}

/** The touch of a journey's step, of whatever kind. */
export function touchOfStep(db: Db, journeyId: number, stepId: string): Touch | undefined {
  return sql(
    db,
    `SELECT ${COLUMNS} FROM touches WHERE journey_id = @journeyId AND step_id = @stepId`,
  ).get<Touch>({ journeyId, stepId });
}

/** Claims a draft that somebody said yes to. */
export function claimApproved(
  db: Db,
  claim: Pick<
    NewTouch,
    | "mailboxId"
    | "recipient"
    | "messageId"
    | "claimedAt"
    | "claimedWall"
    | "inReplyTo"
    | "references"
    | "subject"
  > &
    Pick<Touch, "format" | "cc" | "bcc" | "attachments"> & { id: number },
): boolean {
  return (
    sql(
      db,
      `UPDATE touches SET state = 'claimed', mailbox_id = @mailboxId, recipient = @recipient, message_id = @messageId,
         claimed_at = @claimedAt, claimed_wall = @claimedWall, in_reply_to = @inReplyTo, thread_references = @references,
         subject = @subject, format = @format, cc = @cc, bcc = @bcc, attachments = @attachments
       WHERE id = @id AND state = 'approved'`,
    ).run(claim).changes === 1
  );
}

export function claimQueued(db: Db, id: number, now: number, wall: number): boolean {
  return (
    sql(
      db,
      `UPDATE touches SET state = 'claimed', claimed_at = @now, claimed_wall = @wall
       WHERE id = @id AND state = 'queued'`,
    ).run({ id, now, wall }).changes === 1
  );
}

/** A claim, by what no other claim of this row has: its number may be another row's by now, its step may have been claimed anew. */
type Claim = Pick<Touch, "id" | "messageId" | "claimedWall">;
const IS_THIS_CLAIM =
  "id = @id AND state = 'claimed' AND message_id = @messageId AND claimed_wall IS @claimedWall";
const claimOf = ({ id, messageId, claimedWall }: Claim) => ({ id, messageId, claimedWall });

/** Whether a claim stands as it was made: nobody has released, settled or doubted it since. */
export function isStillClaimed(db: Db, claim: Claim): boolean {
  return (
    sql(db, `SELECT 1 FROM touches WHERE ${IS_THIS_CLAIM} AND undecided_at IS NULL`).get<unknown>(
      claimOf(claim),
    ) !== undefined
  );
}

/** `answer`: what the server said to it, if that is known. A copy is due in the Sent folder from then on. */
export function settleSent(db: Db, claim: Claim, at: number, answer: string | null): boolean {
  return (
    sql(
      db,
      `UPDATE touches SET state = 'sent', sent_at = @at, ended_at = @at, server_answer = coalesce(@answer, server_answer), undecided_at = NULL, copy_due = 1
       WHERE ${IS_THIS_CLAIM}`,
    ).run({ ...claimOf(claim), at, answer }).changes === 1
  );
}

/** Emails of a mailbox that the Sent folder may not hold yet, the oldest first. */
export function copiesDue(db: Db, mailboxId: number, most: number): Touch[] {
  return sql(
    db,
    `SELECT ${COLUMNS} FROM touches WHERE copy_due = 1 AND mailbox_id = @mailboxId ORDER BY id LIMIT @most`,
  ).all<Touch>({ mailboxId, most });
}

export function copyIsKept(db: Db, ids: readonly number[]): void {
  sql(
    db,
    "UPDATE touches SET copy_due = 0 WHERE id IN (SELECT value FROM json_each(@ids)) AND copy_due = 1",
  ).run({ ids: JSON.stringify(ids) });
}

/** No copy of a mailbox's emails is due from us any more. */
export function serverKeepsCopies(db: Db, mailboxId: number): void {
  sql(db, "UPDATE touches SET copy_due = 0 WHERE copy_due = 1 AND mailbox_id = @mailboxId").run({
    mailboxId,
  });
}

/** Notes that nobody can tell whether a claimed email left. */
export function leaveUndecided(db: Db, id: number, at: number): void {
  sql(
    db,
    "UPDATE touches SET undecided_at = @at WHERE id = @id AND state = 'claimed' AND undecided_at IS NULL",
  ).run({ id, at });
}

/** Whether a mailbox has ever had an email accepted. */
export function hasEverSent(db: Db, mailboxId: number): boolean {
  return (
    sql(db, "SELECT 1 FROM touches WHERE mailbox_id = @mailboxId AND sent_at > 0 LIMIT 1").get<unknown>({
      mailboxId,
    }) !== undefined
  );
}

export function settleRefused(db: Db, claim: Claim, words: string): void {
  sql(
    db,
    `UPDATE touches SET state = 'refused', refused_words = @words, ended_at = claimed_at WHERE ${IS_THIS_CLAIM}`,
  ).run({ ...claimOf(claim), words });
}

/**
 * Takes back a claim that is not to be settled as sent: a step is planned again, an answer queued again, an approved one
 * stays approved. Its Message-ID stays with it: that of a step is made from the step (server/mail/message-id.ts). One that
 * arrived after all is not taken back, whatever the server said.
 */
export function releaseClaim(db: Db, touch: Touch): void {
  const back = touch.journeyId === null ? "queued" : touch.approvedBy !== null ? "approved" : null;
  if (back !== null)
    sql(
      db,
      `UPDATE touches SET state = @back, claimed_at = NULL, claimed_wall = NULL, undecided_at = NULL WHERE ${IS_THIS_CLAIM} AND server_answer IS NULL`,
    ).run({ ...claimOf(touch), back });
  else sql(db, `DELETE FROM touches WHERE ${IS_THIS_CLAIM} AND server_answer IS NULL`).run(claimOf(touch));
}
