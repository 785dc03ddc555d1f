/** Times of which the database knows nothing: after a restore, a lost log, a clock that jumped (server/sending/recovery.ts). */
import { HOUR } from "../../core/calendar.ts";
import type { Mailbox } from "./mailboxes.ts";
import { type Db, sql } from "./open.ts";

export type RecoveryReason = "restored" | "lost" | "clock";

export interface Recovery {
  id: number;
  reason: RecoveryReason;
  /** Between these nobody knows what was done. */
  since: number;
  until: number;
  found: number;
  held: number;
  dropped: number;
  endedAt: number | null;
}

const COLUMNS = "id, reason, since, until, found, held, dropped, ended_at AS endedAt";

/** The one that is under way. */
export const openRecovery = (db: Db): Recovery | undefined =>
  sql(db, `SELECT ${COLUMNS} FROM recoveries WHERE ended_at IS NULL ORDER BY id DESC LIMIT 1`).get<Recovery>(
    [],
  );

/** The latest of which nobody has seen yet what came of it. */
export const unseenRecovery = (db: Db): Recovery | undefined =>
  sql(
    db,
    `SELECT ${COLUMNS} FROM recoveries WHERE closed_at IS NULL AND (ended_at IS NULL OR found + held + dropped > 0) ORDER BY id DESC LIMIT 1`,
  ).get<Recovery>([]);

/** Begins one; of several that are under way it is one over the whole of their time. */
export function beginRecovery(db: Db, reason: RecoveryReason, since: number, until: number): void {
  const open = openRecovery(db);
  if (open) {
    sql(
      db,
      "UPDATE recoveries SET since = min(since, @since), until = max(until, @until) WHERE id = @id",
    ).run({ id: open.id, since, until });
    sql(db, "DELETE FROM recovery_reads WHERE recovery_id = @id").run({ id: open.id });
    return;
  }
  sql(db, "INSERT INTO recoveries (reason, since, until) VALUES (@reason, @since, @until)").run({
    reason,
    since,
    until,
  });
}

export const isReadFor = (db: Db, recoveryId: number, mailboxId: number): boolean =>
  sql(db, "SELECT 1 FROM recovery_reads WHERE recovery_id = @recoveryId AND mailbox_id = @mailboxId").get({
    recoveryId,
    mailboxId,
  }) !== undefined;

/** Mailboxes that have not been read since the latest recovery began: nothing goes from them. */
export const unreadMailboxes = (db: Db): Set<number> =>
  new Set(
    sql(
      db,
      `SELECT m.id FROM mailboxes m JOIN recoveries r ON r.id = (SELECT max(id) FROM recoveries)
       WHERE m.removed_at IS NULL AND m.created_at < r.until
         AND NOT EXISTS (SELECT 1 FROM recovery_reads x WHERE x.recovery_id = r.id AND x.mailbox_id = m.id)`,
    )
      .all<{ id: number }>([])
      .map(({ id }) => id),
  );

/**
 * From when on the mail of a mailbox is read that the database has never read to its end: what came since a copy of it was
 * made. Null where nothing was lost: what lies there from before is none of ours.
 */
export const unreadSince = (db: Db, mailbox: Mailbox): number | null =>
  mailbox.readWall !== null
    ? null
    : (sql(
        db,
        `SELECT max(r.since, m.created_at) - ${HOUR} AS since FROM mailboxes m JOIN recoveries r ON r.id = (SELECT max(id) FROM recoveries)
         WHERE m.id = @id AND m.created_at < r.until`,
      ).get<{ since: number }>({ id: mailbox.id })?.since ?? null);

/** The newest instant of which the database knows that something happened; 0 if nothing did. */
export const newestInstant = (db: Db): number =>
  sql(
    db,
    `SELECT max(coalesce((SELECT max(at) FROM events), 0), coalesce((SELECT max(claimed_at) FROM touches), 0)) AS at`,
  ).get<{ at: number }>([])?.at ?? 0;

export const newestEvent = (db: Db): number =>
  sql(db, "SELECT coalesce(max(id), 0) AS id FROM events").get<{ id: number }>([])?.id ?? 0;
