/** What has been spent of the budgets that several mailboxes share: a sequence's pace, a recipient domain's day. */
import { DAY, HOUR, MINUTE, startOfDay } from "../../core/calendar.ts";
import type { Pace } from "../../core/sending/pace.ts";
import { isClaimed } from "../db/ledger.ts";
import { type Db, sql } from "../db/open.ts";
import type { Sequence } from "../db/sequences.ts";

/** A sequence's own pace with what it has spent of it; null if it has none. */
export function paceOf(db: Db, { id, settings, zone }: Sequence, now: number): Pace | null {
  const { newADay, perHour, minutesBetween } = settings;
  if (newADay === null && perHour === null && minutesBetween === null) return null;
  const since = Math.min(startOfDay(now, zone), now - HOUR, now - (minutesBetween ?? 0) * MINUTE);
  const rows = sql(
    db,
    `SELECT coalesce(t.sent_at, t.claimed_at) AS at,
       NOT EXISTS (SELECT 1 FROM touches e WHERE e.journey_id = t.journey_id AND e.sent_at < coalesce(t.sent_at, t.claimed_at)) AS isFirst
     FROM touches t JOIN journeys j ON j.id = t.journey_id
     WHERE t.id IN (SELECT id FROM touches WHERE sent_at >= @since
         UNION SELECT id FROM touches WHERE ${isClaimed()})
       AND j.sequence_id = @id AND t.kind IN ('email', 'approved_email')`,
  ).all<{ at: number; isFirst: 0 | 1 }>({ id, since });
  return {
    newADay,
    begunToday: rows.filter(({ at, isFirst }) => isFirst === 1 && at >= startOfDay(now, zone)).length,
    perHour,
    minutesBetween,
    sentLately: rows.map(({ at }) => at),
    zone,
  };
}

/** When the emails of the last 24 hours went, by recipient domain; of all domains or of one. */
export function domainsLately(db: Db, now: number, domain: string | null = null): Map<string, number[]> {
  const rows = sql(
    db,
    `SELECT substr(recipient, instr(recipient, '@') + 1) AS domain, coalesce(sent_at, claimed_at) AS at
     FROM (SELECT * FROM touches WHERE sent_at >= @since
       UNION SELECT * FROM touches WHERE ${isClaimed()})
     WHERE journey_id IS NOT NULL AND (@domain IS NULL OR recipient LIKE '%@' || @domain)`,
  ).all<{ domain: string; at: number }>({ since: now - DAY, domain });
  const lately = new Map<string, number[]>();
  for (const { domain: to, at } of rows) lately.set(to, [...(lately.get(to) ?? []), at]);
  return lately;
}
