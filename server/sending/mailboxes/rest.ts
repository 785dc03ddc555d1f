/** Lets mailboxes rest whose email comes back or is reported too often, and brings back those that have rested. */
import { DAY, instantOn, workingDayAfter } from "../../../core/calendar.ts";
import {
  NOTHING_SENT,
  needsRest,
  type RestRules,
  returnRamp,
  type SentCounts,
} from "../../../core/sending/rest.ts";
import type { Mailbox } from "../../db/mailboxes.ts";
import { type Db, sql } from "../../db/open.ts";
import { readSendingSettings } from "../rules.ts";

const WEEKDAYS = [1, 2, 3, 4, 5];

/** `mailboxes` may have been read a while ago: what somebody did to one since stays. */
export function restMailboxes(db: Db, mailboxes: readonly Mailbox[], now: number): void {
  const rules = readSendingSettings(db).rest;
  for (const mailbox of mailboxes)
    if (mailbox.state === "resting" && mailbox.restUntil !== null && mailbox.restUntil <= now)
      comeBack(db, mailbox, rules, now);
  const active = mailboxes.filter(({ state }) => state === "active");
  if (active.length === 0) return;
  const counts = sentCounts(db, now - rules.windowDays * DAY);
  for (const mailbox of active) {
    const reason = needsRest(counts.get(mailbox.id) ?? NOTHING_SENT, rules);
    if (!reason) continue;
    const day = workingDayAfter(now, rules.restDays, WEEKDAYS, mailbox.zone);
    sql(
      db,
      "UPDATE mailboxes SET state = 'resting', rest_reason = @reason, rest_until = @until WHERE id = @id AND state = 'active'",
    ).run({ id: mailbox.id, reason: JSON.stringify(reason), until: instantOn(day, "08:00", mailbox.zone) });
  }
}

/** On a lowered limit, which rises again with each day of sending. What had it rest is no longer counted against it. */
function comeBack(db: Db, { id, dailyLimit }: Mailbox, rules: RestRules, now: number): void {
  sql(
    db,
    `UPDATE mailboxes SET state = 'active', rest_reason = NULL, rest_until = NULL, counted_from = @now,
       ramp_start = @start, ramp_step = @step, ramp_since = @now WHERE id = @id AND state = 'resting'`,
  ).run({ id, now, ...returnRamp(dailyLimit, rules) });
}

/** By mailbox: emails sent since `from`, or since it came back from a rest, and what came of them. */
export function sentCounts(db: Db, from: number): Map<number, SentCounts> {
  const counts = new Map<number, SentCounts>();
  const rows = sql(
    db,
    `WITH m AS (SELECT id, max(coalesce(counted_from, 0), @from) AS since FROM mailboxes WHERE removed_at IS NULL),
       e AS (SELECT mailbox_id, kind, at, bounce FROM events
         WHERE kind IN ('bounced', 'complained', 'opted_out') AND at >= @from AND mailbox_id IS NOT NULL)
     SELECT m.id,
       (SELECT count(*) FROM touches t WHERE t.mailbox_id = m.id AND t.sent_at >= m.since) AS sent,
       (SELECT count(*) FROM e WHERE e.mailbox_id = m.id AND e.at >= m.since AND e.kind = 'bounced' AND e.bounce IN ('hard', 'policy')) AS bounced,
       (SELECT count(*) FROM e WHERE e.mailbox_id = m.id AND e.at >= m.since AND e.kind = 'complained') AS complained,
       (SELECT count(*) FROM e WHERE e.mailbox_id = m.id AND e.at >= m.since AND e.kind = 'opted_out') AS optedOut
     FROM m`,
  ).all<{ id: number } & SentCounts>({ from });
  for (const { id, ...each } of rows) counts.set(id, each);
  return counts;
}
