/** Lets mailboxes rest whose email comes back too often, and wakes those that have rested. */
import { DAY, instantOn, workingDayAfter } from "../../../core/calendar.ts";
import { needsRest, REST_WINDOW_DAYS, REST_WORKING_DAYS } from "../../../core/sending/rest.ts";
import type { Mailbox } from "../../db/mailboxes.ts";
import { type Db, sql } from "../../db/open.ts";

const WEEKDAYS = [1, 2, 3, 4, 5];

export function restMailboxes(db: Db, mailboxes: readonly Mailbox[], now: number): void {
  for (const mailbox of mailboxes) {
    if (mailbox.state === "resting" && (mailbox.restUntil ?? 0) <= now)
      sql<{ id: number }>(
        db,
        "UPDATE mailboxes SET state = 'active', rest_reason = NULL, rest_until = NULL WHERE id = @id",
      ).run({ id: mailbox.id });
    if (mailbox.state !== "active") continue;
    const reason = needsRest(...bounceCounts(db, mailbox.id, now - REST_WINDOW_DAYS * DAY));
    if (!reason) continue;
    const day = workingDayAfter(now, REST_WORKING_DAYS, WEEKDAYS, mailbox.zone);
    sql<Record<string, unknown>>(
      db,
      "UPDATE mailboxes SET state = 'resting', rest_reason = @reason, rest_until = @until WHERE id = @id",
    ).run({ id: mailbox.id, reason: JSON.stringify(reason), until: instantOn(day, "08:00", mailbox.zone) });
  }
}

/** Emails sent and hard bounces since `from`. */
function bounceCounts(db: Db, mailboxId: number, from: number): [number, number] {
  const row = sql<Record<string, unknown>, { sent: number; bounced: number }>(
    db,
    `SELECT
       (SELECT count(*) FROM touches WHERE mailbox_id = @mailboxId AND sent_at >= @from) AS sent,
       (SELECT count(*) FROM events WHERE kind = 'bounced' AND at >= @from AND mailbox_id = @mailboxId
          AND detail LIKE 'hard:%') AS bounced`,
  ).get({ mailboxId, from });
  return [row?.sent ?? 0, row?.bounced ?? 0];
}
