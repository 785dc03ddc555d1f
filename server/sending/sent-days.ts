/** What went out on the days before, and what a cell of the grid holds. */
import { DAY, dayNumberFrom, dayNumberOf, instantOnDay, textOfDay } from "../../core/calendar.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";

export interface SentDay {
  day: string;
  firsts: number;
  followUps: number;
}

/** Emails of sequences by day of `zone` in the last 30 days; days without any are left out. */
export function sentDays({ db, clock }: App, zone: string): SentDay[] {
  const rows = sql(
    db,
    `SELECT t.sent_at AS at, NOT EXISTS (
       SELECT 1 FROM touches e WHERE e.journey_id = t.journey_id AND e.sent_at < t.sent_at) AS isFirst
     FROM touches t WHERE t.sent_at >= @since AND t.journey_id IS NOT NULL`,
  ).all<{ at: number; isFirst: 0 | 1 }>({ since: clock.now() - 30 * DAY });
  const days = new Map<number, SentDay>();
  for (const { at, isFirst } of rows) {
    const number = dayNumberOf(at, zone);
    const day = days.get(number) ?? { day: textOfDay(number), firsts: 0, followUps: 0 };
    days.set(number, day);
    if (isFirst === 1) day.firsts++;
    else day.followUps++;
  }
  return [...days].sort(([a], [b]) => a - b).map(([, day]) => day);
}

export interface CellTouch {
  at: number;
  prospectId: number;
  name: string;
  sequenceName: string;
  state: "sent" | "planned";
}

const MOST = 200;
const PERSON = `${nameSql()} AS name`;

/** What a mailbox sent on a day of `zone`, and of today and the next working day what it is to send. */
export function cellTouches({ db }: App, mailboxId: number, day: string, zone: string): CellTouch[] {
  const number = dayNumberFrom(day);
  const between = { mailboxId, from: instantOnDay(number, 0, zone), to: instantOnDay(number + 1, 0, zone) };
  return sql(
    db,
    `SELECT t.sent_at AS at, p.id AS prospectId, ${PERSON}, coalesce(s.name, 'Your answer') AS sequenceName, 'sent' AS state
     FROM touches t JOIN prospects p ON p.id = t.prospect_id LEFT JOIN journeys j ON j.id = t.journey_id
       LEFT JOIN sequences s ON s.id = j.sequence_id
     WHERE t.mailbox_id = @mailboxId AND t.sent_at >= @from AND t.sent_at < @to
     UNION ALL
     SELECT j.next_at, p.id, ${PERSON}, s.name, 'planned'
     FROM journeys j JOIN prospects p ON p.id = j.prospect_id JOIN sequences s ON s.id = j.sequence_id
     WHERE j.state = 'active' AND j.next_mailbox_id = @mailboxId AND j.next_at >= @from AND j.next_at < @to
     ORDER BY 1 LIMIT ${MOST}`,
  ).all<CellTouch>(between);
}
