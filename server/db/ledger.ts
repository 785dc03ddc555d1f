/** The ledger of emails: queued, claimed, then sent or refused. */
import { type Db, sql } from "./open.ts";

export interface Touch {
  id: number;
  kind: "step" | "answer";
  journeyId: number | null;
  stepId: string | null;
  version: number | null;
  prospectId: number;
  mailboxId: number;
  /** The address it goes to; "" once its owner was erased. */
  recipient: string;
  state: "queued" | "claimed" | "sent" | "refused";
  messageId: string;
  inReplyTo: string | null;
  references: string;
  subject: string;
  body: string;
  claimedAt: number | null;
  claimedWall: number | null;
  sentAt: number | null;
}

const COLUMNS = `id, kind, journey_id AS journeyId, step_id AS stepId, version,
  prospect_id AS prospectId, mailbox_id AS mailboxId, recipient, state, message_id AS messageId,
  in_reply_to AS inReplyTo, thread_references AS "references", subject, body,
  claimed_at AS claimedAt, claimed_wall AS claimedWall, sent_at AS sentAt`;

export type NewTouch = Omit<Touch, "id" | "sentAt">;

/** Writes a row into the ledger; null if this journey has this step already. */
export function enterTouch(db: Db, touch: NewTouch): number | null {
  const result = sql<NewTouch>(
    db,
    `INSERT INTO touches (kind, journey_id, step_id, version, prospect_id, mailbox_id, recipient, state,
       message_id, in_reply_to, thread_references, subject, body, claimed_at, claimed_wall)
     VALUES (@kind, @journeyId, @stepId, @version, @prospectId, @mailboxId, @recipient, @state,
       @messageId, @inReplyTo, @references, @subject, @body, @claimedAt, @claimedWall)
     ON CONFLICT (journey_id, step_id) DO NOTHING`,
  ).run(touch);
  return result.changes === 1 ? Number(result.lastInsertRowid) : null;
}

export function touchesInState(db: Db, state: "queued" | "claimed"): Touch[] {
  return sql<{ state: string }, Touch>(
    db,
    // The state is spelt out so that the partial index serves the query.
    `SELECT ${COLUMNS} FROM touches WHERE state IN ('queued', 'claimed') AND state = @state ORDER BY id`,
  ).all({ state });
}

export function touchById(db: Db, id: number): Touch | undefined {
  return sql<{ id: number }, Touch>(db, `SELECT ${COLUMNS} FROM touches WHERE id = @id`).get({ id });
}

export function touchByMessageId(db: Db, messageId: string): Touch | undefined {
  return sql<{ messageId: string }, Touch>(
    db,
    `SELECT ${COLUMNS} FROM touches WHERE message_id = @messageId`,
  ).get({ messageId });
}

/** The latest email to a prospect, from this mailbox if it wrote any. */
export function latestTouchTo(db: Db, prospectId: number, mailboxId: number): Touch | undefined {
  return sql<{ prospectId: number; mailboxId: number }, Touch>(
    db,
    `SELECT ${COLUMNS} FROM touches WHERE prospect_id = @prospectId AND state IN ('claimed', 'sent')
     ORDER BY mailbox_id = @mailboxId DESC, id DESC LIMIT 1`,
  ).get({ prospectId, mailboxId });
}

/** The emails of a journey so far, oldest first. */
export function touchesOfJourney(db: Db, journeyId: number): Touch[] {
  return sql<{ journeyId: number }, Touch>(
    db,
    `SELECT ${COLUMNS} FROM touches WHERE journey_id = @journeyId ORDER BY id`,
  ).all({ journeyId });
}

export function claimQueued(db: Db, id: number, now: number, wall: number): boolean {
  return (
    sql<{ id: number; now: number; wall: number }>(
      db,
      `UPDATE touches SET state = 'claimed', claimed_at = @now, claimed_wall = @wall
       WHERE id = @id AND state = 'queued'`,
    ).run({ id, now, wall }).changes === 1
  );
}

export function settleSent(db: Db, id: number, at: number): boolean {
  return (
    sql<{ id: number; at: number }>(
      db,
      "UPDATE touches SET state = 'sent', sent_at = @at WHERE id = @id AND state = 'claimed'",
    ).run({ id, at }).changes === 1
  );
}

export function settleRefused(db: Db, id: number, words: string): void {
  sql<{ id: number; words: string }>(
    db,
    "UPDATE touches SET state = 'refused', refused_words = @words WHERE id = @id AND state = 'claimed'",
  ).run({ id, words });
}

/** Takes back a claim whose email was certainly never accepted: a step is planned again, an answer queued again. */
export function releaseClaim(db: Db, touch: Touch): void {
  if (touch.kind === "answer")
    sql<{ id: number }>(
      db,
      "UPDATE touches SET state = 'queued', claimed_at = NULL, claimed_wall = NULL WHERE id = @id",
    ).run({ id: touch.id });
  else
    sql<{ id: number }>(db, "DELETE FROM touches WHERE id = @id AND state = 'claimed'").run({ id: touch.id });
}
