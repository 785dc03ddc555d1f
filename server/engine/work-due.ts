/** The mailboxes that have something to do besides reading: a claim to settle, a copy to keep, a mail of the app's own to send. */
import { isClaimed } from "../db/ledger.ts";
import { type Db, sql } from "../db/open.ts";

export const mailboxesWithWork = (db: Db, now: number): ReadonlySet<number> =>
  new Set(
    sql(
      db,
      `SELECT mailbox_id AS id FROM touches WHERE ${isClaimed("touches")}
       UNION SELECT mailbox_id FROM touches WHERE copy_due = 1
       UNION SELECT mailbox_id FROM service_mails WHERE state = 'queued' AND due_at <= @now
       UNION SELECT from_mailbox_id FROM exchange_mails WHERE sent_at IS NULL AND due_at <= @now`,
    )
      .all<{ id: number }>({ now })
      .map(({ id }) => id),
  );
