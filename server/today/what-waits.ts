/** What waits for somebody, read kind by kind; the order is made of it elsewhere. */
import { DAY, HOUR, startOfNextDay } from "../../core/calendar.ts";
import type { RepStep } from "../../core/sequence/path.ts";
import type { Place } from "../../core/today/order.ts";
import type { User } from "../accounts/session.ts";
import { whose } from "../accounts/whose.ts";
import type { App } from "../app.ts";
import { AFTER_THE_END } from "../db/journeys.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import type { ReminderKind } from "../db/reminders.ts";
import { stepsEver } from "../db/sequences.ts";
import { PERSON, type Person } from "./person.ts";
import type { TodoItem } from "./todo-item.ts";

/** Shown of one kind that could fill the day. */
const MOST_WARM = 6;
const MOST_FORGOTTEN = 8;
/** Within it somebody who looked at our emails is "just now". */
const JUST_NOW = DAY;

interface LightTouch {
  id: number;
  step: RepStep["kind"];
  prospectId: number;
  zone: string | null;
  dueAt: number;
}

/** A paused sequence asks for nothing. */
export const ownTouchesDue = (db: Db, user: User, now: number): LightTouch[] =>
  sql(
    db,
    `SELECT t.id, t.kind AS step, t.prospect_id AS prospectId, p.time_zone AS zone, t.due_at AS dueAt
     FROM touches t JOIN prospects p ON p.id = t.prospect_id JOIN journeys j ON j.id = t.journey_id JOIN sequences s ON s.id = j.sequence_id
     WHERE t.state IN ('draft', 'approved', 'open') AND t.state = 'open' AND t.account_id IS NULL AND t.due_at < @dayEnds
       AND (@everybody OR t.user_id = @userId) AND s.state = 'running' AND s.deleted_at IS NULL`,
  ).all<LightTouch>({ ...whose(user), dayEnds: startOfNextDay(now, user.zone) });

export function touchItem(
  app: App,
  id: number,
  kind: "call" | "social" | "errand",
  place: Place,
): TodoItem | null {
  const row = sql(
    app.db,
    `SELECT ${PERSON}, t.step_id AS stepId, s.id AS sequenceId, s.name AS sequenceName, t.body AS text, t.kind AS step, t.due_at AS dueAt
     FROM touches t JOIN prospects p ON p.id = t.prospect_id JOIN journeys j ON j.id = t.journey_id JOIN sequences s ON s.id = j.sequence_id
     WHERE t.id = @id`,
  ).get<
    Person & {
      stepId: string;
      sequenceId: number;
      sequenceName: string;
      text: string;
      step: RepStep["kind"];
      dueAt: number;
    }
  >({ id });
  if (!row) return null;
  const { stepId, sequenceId, sequenceName, text, step, dueAt, ...person } = row;
  const stepName =
    stepId === AFTER_THE_END
      ? "After their answer"
      : (stepsEver(app.db, sequenceId).get(stepId)?.name ?? "A step");
  return { key: `touch:${id}`, place, dueAt, kind, touchId: id, step, person, stepName, sequenceName, text };
}

export const remindersDue = (db: Db, user: User, now: number) =>
  sql(
    db,
    `SELECT id, kind, due_at AS dueAt FROM reminders WHERE ended_at IS NULL AND due_at < @dayEnds AND (@everybody OR user_id = @userId)`,
  ).all<{ id: number; kind: ReminderKind; dueAt: number }>({
    ...whose(user),
    dayEnds: startOfNextDay(now, user.zone),
  });

export function reminderItem(db: Db, id: number, place: Place): TodoItem | null {
  const row = sql(
    db,
    `SELECT ${PERSON}, r.kind, r.text, r.due_at AS dueAt, r.reply_id AS replyId FROM reminders r JOIN prospects p ON p.id = r.prospect_id WHERE r.id = @id`,
  ).get<Person & { kind: ReminderKind; text: string; dueAt: number; replyId: number | null }>({ id });
  if (!row) return null;
  const { kind, text, dueAt, replyId, ...person } = row;
  return { key: `reminder:${id}`, place, dueAt, kind, reminderId: id, person, text, replyId };
}

/** Drafts that wait for a yes, and the people whose emails wait behind them ("the first N by hand"). */
export const draftsWaiting = (db: Db, user: User): { count: number; dueAt: number | null; behind: number } =>
  sql(
    db,
    `SELECT count(*) AS count, min(t.due_at) AS dueAt,
       (SELECT count(*) FROM journeys b JOIN sequences x ON x.id = b.sequence_id
        WHERE b.state = 'active' AND b.wait_reason = 'first_ones' AND x.state = 'running' AND (@everybody OR x.user_id = @userId)) AS behind FROM touches t JOIN journeys j ON j.id = t.journey_id JOIN sequences s ON s.id = j.sequence_id
     WHERE t.state IN ('draft', 'approved', 'open') AND t.state = 'draft' AND (@everybody OR t.user_id = @userId OR s.user_id = @userId) AND s.state = 'running' AND s.deleted_at IS NULL`,
  ).get<{ count: number; dueAt: number | null; behind: number }>(whose(user)) ?? {
    count: 0,
    dueAt: null,
    behind: 0,
  };

/** Those of the next day, and those that are over without a word on whether they took place. */
export const meetingsToday = (db: Db, user: User, now: number) =>
  sql(
    db,
    `SELECT token, CASE WHEN ends_at > @now THEN 'meeting' ELSE 'meeting_over' END AS kind, prospect_id AS prospectId, name,
       starts_at AS startsAt, ends_at AS endsAt, phone, place, attendance
     FROM meetings WHERE cancelled_at IS NULL AND held_at IS NULL AND missed_at IS NULL AND (@everybody OR user_id = @userId)
       AND starts_at < @to AND ends_at > @from ORDER BY starts_at LIMIT 20`,
  ).all<{
    token: string;
    kind: "meeting" | "meeting_over";
    prospectId: number | null;
    name: string;
    startsAt: number;
    endsAt: number;
    phone: string;
    place: string;
    attendance: string;
  }>({
    ...whose(user),
    now,
    to: Math.max(startOfNextDay(now, user.zone), now + 12 * HOUR),
    from: now - 14 * DAY,
  });

interface Seen {
  prospectId: number;
  opens: number;
  clicks: number;
  /** Times at their page, and how much of its film they watched, in hundredths; null: nothing. */
  visits: number;
  files: number;
  watched: number | null;
  at: number;
}

/** What people did with our emails and on their pages within a day, by prospect. */
export function seenLately(db: Db, now: number): Map<number, Seen> {
  const rows = sql(
    db,
    `SELECT prospect_id AS prospectId, sum(kind = 'opened') AS opens, sum(kind = 'clicked') AS clicks, sum(kind = 'page_visited') AS visits, sum(kind = 'file_opened') AS files,
       max(CASE kind WHEN 'film_watched' THEN CAST(detail AS INTEGER) END) AS watched, max(at) AS at FROM events
     WHERE kind IN ('opened', 'clicked', 'page_visited', 'film_watched', 'file_opened') AND at >= @from AND prospect_id IS NOT NULL GROUP BY prospect_id`,
  ).all<Seen>({ from: now - JUST_NOW });
  return new Map(rows.map((row) => [row.prospectId, row]));
}

/** Who clicked, or opened several times, and has not answered: with nothing of the rep's own due for them anyway. */
export function warmPeople(db: Db, user: User, now: number, seen: ReadonlyMap<number, Seen>): Seen[] {
  const warm = [...seen.values()]
    .filter(
      ({ opens, clicks, visits, files, watched }) =>
        clicks > 0 || opens > 2 || visits + files > 0 || watched !== null,
    )
    .sort(
      (a, b) =>
        (b.watched ?? -1) - (a.watched ?? -1) ||
        b.visits + b.files - a.visits - a.files ||
        b.clicks - a.clicks ||
        b.opens - a.opens ||
        b.at - a.at,
    )
    .slice(0, 40);
  const quiet = new Set(
    sql(
      db,
      `SELECT p.id FROM prospects p JOIN json_each(@ids) i ON i.value = p.id
       WHERE p.live = 1 AND (@everybody OR p.owner_id IS NULL OR p.owner_id = @userId) AND p.stage IN ('new', 'contacted')
         AND NOT EXISTS (SELECT 1 FROM events e WHERE e.prospect_id = p.id AND (e.kind IN ('replied', 'booked', 'opted_out')
           OR (e.kind IN ('touch_done', 'touch_skipped') AND e.at >= @from)))
         AND NOT EXISTS (SELECT 1 FROM reminders r WHERE r.prospect_id = p.id AND r.ended_at IS NULL)
         AND NOT EXISTS (SELECT 1 FROM reminders r WHERE r.prospect_id = p.id AND r.ended_at >= @from)
         AND NOT EXISTS (SELECT 1 FROM touches t WHERE t.prospect_id = p.id AND t.state = 'open')`,
    )
      .all<{ id: number }>({
        ...whose(user),
        ids: JSON.stringify(warm.map(({ prospectId }) => prospectId)),
        from: now - JUST_NOW,
      })
      .map(({ id }) => id),
  );
  return warm.filter(({ prospectId }) => quiet.has(prospectId)).slice(0, MOST_WARM);
}

export const heldPeople = (db: Db, user: User) =>
  sql(
    db,
    `SELECT j.wait_reason AS reason, j.wait_detail AS detail, count(*) AS people, s.id AS sequenceId,
       s.name AS sequenceName, s.list_id AS listId, min(j.prospect_id) AS prospectId
     FROM journeys j JOIN sequences s ON s.id = j.sequence_id
     WHERE j.state = 'active' AND j.wait_reason IN ('merge_field_empty', 'line_unread', 'text_broken', 'no_mailbox', 'undecided', 'likely_reply',
       'mailbox_stopped', 'address_not_good', 'no_address', 'came_back_twice', 'refused_by_host', 'after_restore')
       AND (@everybody OR s.user_id = @userId)
     GROUP BY s.id, j.wait_reason, j.wait_detail ORDER BY count(*) DESC LIMIT 30`,
  ).all<{
    reason: string;
    detail: string | null;
    people: number;
    sequenceId: number;
    sequenceName: string;
    listId: number | null;
    prospectId: number;
  }>(whose(user));

export function mailboxTrouble(db: Db, user: User) {
  const { everybody, userId } = whose(user);
  return allMailboxes(db)
    .filter((mailbox) => everybody === 1 || mailbox.userId === userId)
    .filter(({ state, trouble, smtpTrouble }) => state === "resting" || trouble || smtpTrouble)
    .map(({ id, address, state, restReason, restUntil, trouble, smtpTrouble }) => ({
      mailboxId: id,
      address,
      state,
      restReason,
      restUntil,
      trouble: trouble ?? smtpTrouble,
      people:
        // As Sending counts them: whose next email waits for this mailbox, and for nothing else.
        sql(
          db,
          `SELECT count(*) AS count FROM journeys WHERE state = 'active' AND mailbox_id = @id
             AND wait_reason IN ('mailbox_resting', 'mailbox_paused', 'mailbox_unreachable', 'mailbox_stopped')`,
        ).get<{ count: number }>({ id })?.count ?? 0,
    }));
}

/** Rules, webhooks and the CRM that were stopped by themselves, and why. */
export function stoppedConnections(db: Db, user: User): { title: string; because: string; path: string }[] {
  return sql(
    db,
    `SELECT 'The rule “' || name || '” holds' AS title, held_because AS because, '/connections/rules/' || id AS path
     FROM rules WHERE state = 'held' AND (@everybody OR user_id = @userId)
     UNION ALL SELECT 'The webhook “' || name || '” was switched off', off_because, '/connections/webhooks/' || id
     FROM webhooks WHERE off_because IS NOT NULL AND (@everybody OR user_id = @userId)
     UNION ALL SELECT name || ' is not kept in step any more', held_because, '/connections/crm'
     FROM crms WHERE state = 'held' AND (@everybody OR user_id = @userId)`,
  ).all<{ title: string; because: string; path: string }>(whose(user));
}

/** People in conversation with whom nothing is planned: no sequence, answer, reminder, call or unread letter. */
export function nothingAhead(db: Db, user: User, now: number): { people: Person[]; total: number } {
  const rows = sql(
    db,
    `SELECT count(*) OVER () AS total, ${PERSON} FROM prospects p
     WHERE p.stage IN ('in_conversation', 'meeting_booked') AND p.live = 1 AND (@everybody OR p.owner_id IS NULL OR p.owner_id = @userId)
       AND NOT EXISTS (SELECT 1 FROM journeys j WHERE j.prospect_id = p.id AND j.state = 'active')
       AND NOT EXISTS (SELECT 1 FROM reminders r WHERE r.prospect_id = p.id AND r.ended_at IS NULL)
       AND NOT EXISTS (SELECT 1 FROM meetings m WHERE m.prospect_id = p.id AND m.cancelled_at IS NULL AND (m.ends_at > @now OR (m.held_at IS NULL AND m.missed_at IS NULL)))
       AND NOT EXISTS (SELECT 1 FROM touches t WHERE t.prospect_id = p.id AND t.state IN ('queued', 'open', 'draft', 'claimed'))
       AND NOT EXISTS (SELECT 1 FROM replies r WHERE r.prospect_id = p.id AND r.read_at IS NULL AND r.kind IN ('person', 'left'))
       AND NOT EXISTS (SELECT 1 FROM touches t WHERE t.prospect_id = p.id AND t.kind = 'answer' AND t.sent_at > @lately)
     ORDER BY p.id LIMIT ${MOST_FORGOTTEN}`,
  ).all<Person & { total: number }>({ ...whose(user), now, lately: now - 3 * DAY });
  return { people: rows.map(({ total: _, ...person }) => person), total: rows[0]?.total ?? 0 };
}
