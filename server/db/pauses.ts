/** Who paused what, and when: a sequence, a mailbox, a social account, one person's journey. */
import type { Pause as Span } from "../../core/sequence/pauses.ts";
import { type Db, sql, type Tx } from "./open.ts";

export type Pausable = "sequence" | "mailbox" | "account" | "journey";

export interface Pause {
  /** Null: whoever it was is no longer known. */
  by: string | null;
  at: number;
}

/** Writes down that something was paused, or goes on; nothing where that was so already. */
export function notePause(
  db: Tx,
  of: Pausable,
  id: number,
  isPaused: boolean,
  userId: number | null,
  now: number,
): void {
  const values = { of, id, userId, now };
  sql(
    db,
    isPaused
      ? "INSERT INTO pauses (of, of_id, user_id, at) VALUES (@of, @id, @userId, @now) ON CONFLICT DO NOTHING"
      : "UPDATE pauses SET ended_at = @now, ended_by = @userId WHERE of = @of AND of_id = @id AND ended_at IS NULL",
  ).run(values);
}

/** The pause that is on, or null. */
export const pauseOf = (db: Db, of: Pausable, id: number): Pause | null =>
  sql(
    db,
    `SELECT u.name AS "by", p.at FROM pauses p LEFT JOIN users u ON u.id = p.user_id
     WHERE p.of = @of AND p.of_id = @id AND p.ended_at IS NULL`,
  ).get<Pause>({ of, id }) ?? null;

/** When somebody's journey stood still: it, its sequence, the mailbox of its thread or the social account of its sequence was paused. */
export const pausesOf = (
  db: Db,
  journey: { id: number; sequenceId: number; mailboxId: number | null },
  now: number,
): Span[] =>
  sql(
    db,
    `SELECT at AS "from", coalesce(ended_at, @now) AS "to" FROM pauses WHERE (of = 'journey' AND of_id = @id)
       OR (of = 'sequence' AND of_id = @sequenceId) OR (of = 'mailbox' AND of_id = @mailboxId)
       OR (of = 'account' AND of_id = (SELECT json_extract(settings, '$.accountId') FROM sequences WHERE id = @sequenceId))`,
  ).all<Span>({ id: journey.id, sequenceId: journey.sequenceId, mailboxId: journey.mailboxId, now });
