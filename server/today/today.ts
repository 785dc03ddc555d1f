import { DAY, startOfDay, startOfNextDay, weekdayOf } from "../../core/calendar.ts";
import type { WaitReason } from "../../core/sending/reasons.ts";
import { limitToday } from "../../core/sending/sender.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { allMailboxes, senderOf } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { countUnread } from "../replies/list-replies.ts";

export interface Today {
  now: number;
  unread: number;
  newest: { id: number; name: string; company: string; at: number }[];
  meetings: { token: string; prospectId: number | null; name: string; company: string; startsAt: number }[];
  holds: {
    reason: WaitReason;
    detail: string | null;
    count: number;
    sequenceId: number;
    sequenceName: string;
    listId: number | null;
    prospectId: number;
  }[];
  mailboxTrouble: {
    id: number;
    address: string;
    state: string;
    restReason: string | null;
    restUntil: number | null;
    trouble: string | null;
  }[];
  refused: number;
  mailboxes: { id: number; address: string; sent: number; limit: number; state: string }[];
  toGo: number;
  week: { sent: number; replied: number; booked: number; optedOut: number };
  setUp: { mailboxes: number; connected: number; prospects: number; sequences: number; running: number };
}

/** What waits for the rep, and how today and this week stand. */
export function today(app: App, user: Pick<User, "zone">): Today {
  const { db, clock } = app;
  const now = clock.now();
  const mailboxes = allMailboxes(db);
  const monday = startOfDay(now - (weekdayOf(now, user.zone) - 1) * DAY, user.zone);
  const dayEnd = startOfNextDay(now, user.zone);
  const count = (text: string, values: Record<string, unknown> = {}) =>
    sql<Record<string, unknown>, { count: number }>(db, text).get(values)?.count ?? 0;
  const events = (kind: string) =>
    count("SELECT count(DISTINCT prospect_id) AS count FROM events WHERE kind = @kind AND at >= @monday", {
      kind,
      monday,
    });
  return {
    now,
    unread: countUnread(app),
    newest: sql<[], Today["newest"][number]>(
      db,
      `SELECT r.id, coalesce(nullif(trim(p.first_name || ' ' || p.last_name), ''), p.email) AS name,
         coalesce(c.name, '') AS company, r.at
       FROM replies r JOIN prospects p ON p.id = r.prospect_id LEFT JOIN companies c ON c.id = p.company_id
       WHERE r.kind IN ('person', 'left') AND r.certainty != 'denied' AND r.read_at IS NULL ORDER BY r.at DESC LIMIT 3`,
    ).all([]),
    meetings: sql<Record<string, unknown>, Today["meetings"][number]>(
      db,
      `SELECT m.token, m.prospect_id AS prospectId, m.name, coalesce(c.name, '') AS company, m.starts_at AS startsAt
       FROM meetings m LEFT JOIN prospects p ON p.id = m.prospect_id LEFT JOIN companies c ON c.id = p.company_id
       WHERE m.ends_at > @now AND m.cancelled_at IS NULL ORDER BY m.starts_at LIMIT 6`,
    ).all({ now }),
    holds: sql<[], Today["holds"][number]>(
      db,
      `SELECT j.wait_reason AS reason, j.wait_detail AS detail, count(*) AS count, s.id AS sequenceId,
         s.name AS sequenceName, s.list_id AS listId, min(j.prospect_id) AS prospectId
       FROM journeys j JOIN sequences s ON s.id = j.sequence_id
       WHERE j.state = 'active' AND j.wait_reason IN ('merge_field_empty', 'text_broken', 'no_mailbox', 'undecided', 'likely_reply', 'mailbox_stopped', 'address_not_good', 'no_address')
       GROUP BY s.id, j.wait_reason, j.wait_detail ORDER BY count(*) DESC`,
    ).all([]),
    mailboxTrouble: mailboxes
      .filter(({ state, trouble, smtpTrouble }) => state === "resting" || trouble || smtpTrouble)
      .map(({ id, address, state, restReason, restUntil, trouble, smtpTrouble }) => ({
        id,
        address,
        state,
        restReason,
        restUntil,
        trouble: trouble ?? smtpTrouble,
      })),
    refused: count("SELECT count(*) AS count FROM events WHERE kind = 'email_refused' AND at >= @monday", {
      monday,
    }),
    mailboxes: mailboxes.map((mailbox) => {
      const sender = senderOf(db, mailbox, now);
      const { id, address, state } = mailbox;
      return { id, address, sent: sender.sentToday, limit: limitToday(sender), state };
    }),
    toGo: count("SELECT count(*) AS count FROM journeys WHERE state = 'active' AND next_at < @dayEnd", {
      dayEnd,
    }),
    week: {
      sent: count("SELECT count(*) AS count FROM events WHERE kind = 'email_sent' AND at >= @monday", {
        monday,
      }),
      replied: events("replied"),
      booked: events("booked"),
      optedOut: events("opted_out"),
    },
    setUp: {
      mailboxes: mailboxes.length,
      connected: mailboxes.filter(({ connectedWall }) => connectedWall !== null).length,
      prospects: count("SELECT count(*) AS count FROM prospects WHERE live = 1"),
      sequences: count("SELECT count(*) AS count FROM sequences"),
      running: count("SELECT count(*) AS count FROM sequences WHERE state = 'running'"),
    },
  };
}
