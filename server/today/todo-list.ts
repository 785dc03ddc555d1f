/** Everything that needs a person today, in one order, each with the reason for its place. */
import { DAY, HOUR, startOfNextDay } from "../../core/calendar.ts";
import type { RepStep } from "../../core/sequence/path.ts";
import { orderTodos, type Place, type Todo, type TodoKind } from "../../core/today/order.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { AFTER_THE_END } from "../db/journeys.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import type { ReminderKind } from "../db/reminders.ts";
import { stepsEver } from "../db/sequences.ts";
import { unreadByReading } from "../replies/list-replies.ts";
import { bestHourOf } from "../sequences/best-hour.ts";
import { type HeldCompany, heldCompanies } from "./own-touches.ts";

interface Person {
  id: number;
  name: string;
  company: string;
  title: string;
  phone: string;
  profile: string;
  zone: string | null;
}

/** What there is to do, by its kind; `key` says which one it is through every change of the list. */
export type TodoItem = { key: string; place: Place; dueAt: number } & (
  | { kind: "replies"; count: number; readings: { label: string; count: number }[] }
  | {
      kind: "call" | "social" | "errand";
      touchId: number;
      step: RepStep["kind"];
      person: Person;
      stepName: string;
      sequenceName: string;
      text: string;
    }
  | {
      kind: "reminder" | "come_back" | "errand" | "thanks" | "next_step";
      reminderId: number;
      person: Person;
      text: string;
      replyId: number | null;
    }
  | { kind: "drafts"; count: number }
  | {
      kind: "meeting" | "meeting_over";
      token: string;
      person: Person | null;
      name: string;
      startsAt: number;
      phone: string;
      where: string;
      attendance: string;
    }
  | { kind: "warm"; person: Person; opens: number; clicks: number }
  | { kind: "field"; field: string; sequenceName: string; people: number; first: Person }
  | {
      kind: "hold";
      reason: string;
      detail: string | null;
      people: number;
      sequenceId: number;
      sequenceName: string;
      listId: number | null;
    }
  | { kind: "company"; company: HeldCompany }
  | {
      kind: "mailbox";
      mailboxId: number;
      address: string;
      state: string;
      restReason: string | null;
      restUntil: number | null;
      trouble: string | null;
      people: number;
    }
  | { kind: "next_step"; reminderId: null; people: Person[]; total: number }
);

export interface TodoList {
  items: TodoItem[];
  /** Own touches and reminders beyond those in the list. */
  more: number;
}

const MOST_SHOWN = 60;
/** Shown of one kind that could fill the day. */
const MOST_WARM = 6;
const MOST_FORGOTTEN = 8;
/** Within it somebody who looked at our emails is "just now". */
const JUST_NOW = DAY;

const PERSON = `p.id, coalesce(nullif(trim(p.first_name || ' ' || p.last_name), ''), p.email, 'Somebody without a name') AS name,
  p.company, p.title, p.phone, p.profile, p.time_zone AS zone`;

const whose = (user: Pick<User, "id" | "role">) => ({
  userId: user.id,
  isManager: user.role === "manager" ? 1 : 0,
});

export function todoList(app: App, user: User): TodoList {
  const { db, clock } = app;
  const now = clock.now();
  const touches = ownTouchesDue(db, user, now);
  const reminders = remindersDue(db, user, now);
  const seen = seenLately(db, now);
  const entries: (Todo & { make: (place: Place) => TodoItem | null; key: string })[] = [];
  const add = (key: string, todo: Todo, make: (place: Place) => TodoItem | null) =>
    entries.push({ ...todo, key, make });

  const readings = unreadByReading(app);
  const unread = readings.reduce((sum, { count }) => sum + count, 0);
  if (unread > 0) {
    const of = (label: string) => readings.find((each) => each.label === label)?.count ?? 0;
    const dueAt = oldestUnread(db) ?? now;
    add(
      "replies",
      { kind: "replies", dueAt, people: unread, interested: of("interested"), questions: of("question") },
      (place) => ({
        key: "replies",
        place,
        dueAt,
        kind: "replies",
        count: unread,
        readings,
      }),
    );
  }
  for (const touch of touches) {
    const kind: TodoKind = touch.step === "call" ? "call" : touch.step === "errand" ? "errand" : "social";
    const done = seen.get(touch.prospectId);
    add(
      `touch:${touch.id}`,
      {
        kind,
        dueAt: touch.dueAt,
        people: 1,
        ...(kind === "call" ? { hourThere: hourIn(now, touch.zone) } : {}),
        ...(done ? { opens: done.opens, clicks: done.clicks } : {}),
      },
      (place) => touchItem(app, touch.id, kind as "call" | "social" | "errand", place),
    );
  }
  for (const reminder of reminders)
    add(
      `reminder:${reminder.id}`,
      { kind: reminder.kind === "reminder" ? "reminder" : reminder.kind, dueAt: reminder.dueAt, people: 1 },
      (place) => reminderItem(db, reminder.id, place),
    );
  const drafts = draftsWaiting(db, user);
  if (drafts.count > 0)
    add("drafts", { kind: "drafts", dueAt: drafts.dueAt ?? now, people: drafts.count }, (place) => ({
      key: "drafts",
      place,
      dueAt: drafts.dueAt ?? now,
      kind: "drafts",
      count: drafts.count,
    }));
  for (const meeting of meetingsToday(db, user, now))
    add(
      `meeting:${meeting.token}`,
      {
        kind: meeting.kind,
        dueAt: meeting.kind === "meeting" ? now : meeting.endsAt,
        people: 1,
        startsAt: meeting.startsAt,
      },
      (place) => ({
        key: `meeting:${meeting.token}`,
        place,
        dueAt: meeting.startsAt,
        kind: meeting.kind,
        token: meeting.token,
        person: meeting.prospectId === null ? null : personById(db, meeting.prospectId),
        name: meeting.name,
        startsAt: meeting.startsAt,
        phone: meeting.phone,
        where: meeting.place,
        attendance: meeting.attendance,
      }),
    );
  for (const { prospectId, opens, clicks, at } of warmPeople(db, user, now, seen))
    add(`warm:${prospectId}`, { kind: "warm", dueAt: at, people: 1, opens, clicks }, (place) => {
      const person = personById(db, prospectId);
      return person && { key: `warm:${prospectId}`, place, dueAt: at, kind: "warm", person, opens, clicks };
    });
  for (const hold of heldPeople(db))
    add(
      `hold:${hold.sequenceId}:${hold.reason}:${hold.detail}`,
      { kind: hold.reason === "merge_field_empty" ? "field" : "hold", dueAt: now, people: hold.people },
      (place) => {
        const key = `hold:${hold.sequenceId}:${hold.reason}:${hold.detail}`;
        const first = hold.reason === "merge_field_empty" ? personById(db, hold.prospectId) : null;
        return first && hold.detail
          ? {
              key,
              place,
              dueAt: now,
              kind: "field",
              field: hold.detail,
              sequenceName: hold.sequenceName,
              people: hold.people,
              first,
            }
          : { key, place, dueAt: now, ...hold, kind: "hold" };
      },
    );
  for (const company of heldCompanies(app))
    add(
      `company:${company.companyId}`,
      { kind: "company", dueAt: now, people: company.waiting },
      (place) => ({
        key: `company:${company.companyId}`,
        place,
        dueAt: now,
        kind: "company",
        company,
      }),
    );
  for (const mailbox of mailboxTrouble(db))
    add(`mailbox:${mailbox.mailboxId}`, { kind: "mailbox", dueAt: now, people: mailbox.people }, (place) => ({
      key: `mailbox:${mailbox.mailboxId}`,
      place,
      dueAt: now,
      kind: "mailbox",
      ...mailbox,
    }));
  const forgotten = nothingAhead(db, user, now);
  if (forgotten.total > 0)
    add("next-step", { kind: "next_step", dueAt: now, people: forgotten.total }, (place) => ({
      key: "next-step",
      place,
      dueAt: now,
      kind: "next_step",
      reminderId: null,
      ...forgotten,
    }));

  const ordered = orderTodos(entries, now);
  return {
    items: ordered.slice(0, MOST_SHOWN).flatMap(({ make, place }) => make(place) ?? []),
    more: Math.max(0, ordered.length - MOST_SHOWN),
  };
}

interface LightTouch {
  id: number;
  step: RepStep["kind"];
  prospectId: number;
  zone: string | null;
  dueAt: number;
}

/** A manager sees everybody's. A paused sequence asks for nothing. */
const ownTouchesDue = (db: Db, user: User, now: number): LightTouch[] =>
  sql<Record<string, unknown>, LightTouch>(
    db,
    `SELECT t.id, t.kind AS step, t.prospect_id AS prospectId, p.time_zone AS zone, t.due_at AS dueAt
     FROM touches t JOIN prospects p ON p.id = t.prospect_id JOIN journeys j ON j.id = t.journey_id JOIN sequences s ON s.id = j.sequence_id
     WHERE t.state IN ('draft', 'approved', 'open') AND t.state = 'open' AND t.account_id IS NULL AND t.due_at < @dayEnds
       AND (@isManager OR t.user_id = @userId) AND s.state = 'running' AND s.deleted_at IS NULL`,
  ).all({ ...whose(user), dayEnds: startOfNextDay(now, user.zone) });

function touchItem(app: App, id: number, kind: "call" | "social" | "errand", place: Place): TodoItem | null {
  const row = sql<
    { id: number },
    Person & {
      stepId: string;
      sequenceId: number;
      sequenceName: string;
      text: string;
      step: RepStep["kind"];
      dueAt: number;
    }
  >(
    app.db,
    `SELECT ${PERSON}, t.step_id AS stepId, s.id AS sequenceId, s.name AS sequenceName, t.body AS text, t.kind AS step, t.due_at AS dueAt
     FROM touches t JOIN prospects p ON p.id = t.prospect_id JOIN journeys j ON j.id = t.journey_id JOIN sequences s ON s.id = j.sequence_id
     WHERE t.id = @id`,
  ).get({ id });
  if (!row) return null;
  const { stepId, sequenceId, sequenceName, text, step, dueAt, ...person } = row;
  const stepName =
    stepId === AFTER_THE_END
      ? "After their answer"
      : (stepsEver(app.db, sequenceId).get(stepId)?.name ?? "A step");
  return { key: `touch:${id}`, place, dueAt, kind, touchId: id, step, person, stepName, sequenceName, text };
}

const remindersDue = (db: Db, user: User, now: number) =>
  sql<Record<string, unknown>, { id: number; kind: ReminderKind; dueAt: number }>(
    db,
    `SELECT id, kind, due_at AS dueAt FROM reminders WHERE ended_at IS NULL AND due_at < @dayEnds AND (@isManager OR user_id = @userId)`,
  ).all({ ...whose(user), dayEnds: startOfNextDay(now, user.zone) });

function reminderItem(db: Db, id: number, place: Place): TodoItem | null {
  const row = sql<
    { id: number },
    Person & { kind: ReminderKind; text: string; dueAt: number; replyId: number | null }
  >(
    db,
    `SELECT ${PERSON}, r.kind, r.text, r.due_at AS dueAt, r.reply_id AS replyId FROM reminders r JOIN prospects p ON p.id = r.prospect_id WHERE r.id = @id`,
  ).get({ id });
  if (!row) return null;
  const { kind, text, dueAt, replyId, ...person } = row;
  return { key: `reminder:${id}`, place, dueAt, kind, reminderId: id, person, text, replyId };
}

const draftsWaiting = (db: Db, user: User): { count: number; dueAt: number | null } =>
  sql<Record<string, unknown>, { count: number; dueAt: number | null }>(
    db,
    `SELECT count(*) AS count, min(t.due_at) AS dueAt FROM touches t JOIN journeys j ON j.id = t.journey_id JOIN sequences s ON s.id = j.sequence_id
     WHERE t.state IN ('draft', 'approved', 'open') AND t.state = 'draft' AND (@isManager OR t.user_id = @userId OR s.user_id = @userId) AND s.state = 'running' AND s.deleted_at IS NULL`,
  ).get(whose(user)) ?? { count: 0, dueAt: null };

const oldestUnread = (db: Db): number | null =>
  sql<[], { at: number | null }>(
    db,
    "SELECT min(at) AS at FROM replies WHERE read_at IS NULL AND kind IN ('person', 'left', 'challenge') AND certainty != 'denied' AND prospect_id IS NOT NULL",
  ).get([])?.at ?? null;

/** Those of the next day, and those that are over without a word on whether they took place. */
const meetingsToday = (db: Db, user: User, now: number) =>
  sql<
    Record<string, unknown>,
    {
      token: string;
      kind: "meeting" | "meeting_over";
      prospectId: number | null;
      name: string;
      startsAt: number;
      endsAt: number;
      phone: string;
      place: string;
      attendance: string;
    }
  >(
    db,
    `SELECT token, CASE WHEN ends_at > @now THEN 'meeting' ELSE 'meeting_over' END AS kind, prospect_id AS prospectId, name,
       starts_at AS startsAt, ends_at AS endsAt, phone, place, attendance
     FROM meetings WHERE cancelled_at IS NULL AND held_at IS NULL AND missed_at IS NULL AND (@isManager OR user_id = @userId)
       AND starts_at < @to AND ends_at > @from ORDER BY starts_at LIMIT 20`,
  ).all({
    ...whose(user),
    now,
    to: Math.max(startOfNextDay(now, user.zone), now + 12 * HOUR),
    from: now - 14 * DAY,
  });

interface Seen {
  prospectId: number;
  opens: number;
  clicks: number;
  at: number;
}

/** What people did with our emails within a day, by prospect. */
function seenLately(db: Db, now: number): Map<number, Seen> {
  const rows = sql<Record<string, unknown>, Seen>(
    db,
    `SELECT prospect_id AS prospectId, sum(kind = 'opened') AS opens, sum(kind = 'clicked') AS clicks, max(at) AS at FROM events
     WHERE kind IN ('opened', 'clicked') AND at >= @from AND prospect_id IS NOT NULL GROUP BY prospect_id`,
  ).all({ from: now - JUST_NOW });
  return new Map(rows.map((row) => [row.prospectId, row]));
}

/** Who clicked, or opened several times, and has not answered: with nothing of the rep's own due for them anyway. */
function warmPeople(db: Db, user: User, now: number, seen: ReadonlyMap<number, Seen>): Seen[] {
  const warm = [...seen.values()]
    .filter(({ opens, clicks }) => clicks > 0 || opens > 2)
    .sort((a, b) => b.clicks - a.clicks || b.opens - a.opens || b.at - a.at)
    .slice(0, 40);
  const quiet = new Set(
    sql<Record<string, unknown>, { id: number }>(
      db,
      `SELECT p.id FROM prospects p JOIN json_each(@ids) i ON i.value = p.id
       WHERE p.live = 1 AND (@isManager OR p.owner_id IS NULL OR p.owner_id = @userId) AND p.stage IN ('new', 'contacted')
         AND NOT EXISTS (SELECT 1 FROM events e WHERE e.prospect_id = p.id AND (e.kind IN ('replied', 'booked', 'opted_out')
           OR (e.kind IN ('touch_done', 'touch_skipped') AND e.at >= @from)))
         AND NOT EXISTS (SELECT 1 FROM reminders r WHERE r.prospect_id = p.id AND r.ended_at IS NULL)
         AND NOT EXISTS (SELECT 1 FROM reminders r WHERE r.prospect_id = p.id AND r.ended_at >= @from)
         AND NOT EXISTS (SELECT 1 FROM touches t WHERE t.prospect_id = p.id AND t.state = 'open')`,
    )
      .all({
        ...whose(user),
        ids: JSON.stringify(warm.map(({ prospectId }) => prospectId)),
        from: now - JUST_NOW,
      })
      .map(({ id }) => id),
  );
  return warm.filter(({ prospectId }) => quiet.has(prospectId)).slice(0, MOST_WARM);
}

const heldPeople = (db: Db) =>
  sql<
    [],
    {
      reason: string;
      detail: string | null;
      people: number;
      sequenceId: number;
      sequenceName: string;
      listId: number | null;
      prospectId: number;
    }
  >(
    db,
    `SELECT j.wait_reason AS reason, j.wait_detail AS detail, count(*) AS people, s.id AS sequenceId,
       s.name AS sequenceName, s.list_id AS listId, min(j.prospect_id) AS prospectId
     FROM journeys j JOIN sequences s ON s.id = j.sequence_id
     WHERE j.state = 'active' AND j.wait_reason IN ('merge_field_empty', 'text_broken', 'no_mailbox', 'undecided', 'likely_reply',
       'mailbox_stopped', 'address_not_good', 'no_address', 'came_back_twice')
     GROUP BY s.id, j.wait_reason, j.wait_detail ORDER BY count(*) DESC LIMIT 30`,
  ).all([]);

const mailboxTrouble = (db: Db) =>
  allMailboxes(db)
    .filter(({ state, trouble, smtpTrouble }) => state === "resting" || trouble || smtpTrouble)
    .map(({ id, address, state, restReason, restUntil, trouble, smtpTrouble }) => ({
      mailboxId: id,
      address,
      state,
      restReason,
      restUntil,
      trouble: trouble ?? smtpTrouble,
      people:
        sql<{ id: number }, { count: number }>(
          db,
          "SELECT count(*) AS count FROM journeys WHERE state = 'active' AND mailbox_id = @id",
        ).get({ id })?.count ?? 0,
    }));

/** People in conversation with whom nothing is planned: no sequence, answer, reminder, call or unread letter. */
function nothingAhead(db: Db, user: User, now: number): { people: Person[]; total: number } {
  const rows = sql<Record<string, unknown>, Person & { total: number }>(
    db,
    `SELECT count(*) OVER () AS total, ${PERSON} FROM prospects p
     WHERE p.stage IN ('in_conversation', 'meeting_booked') AND p.live = 1 AND (@isManager OR p.owner_id IS NULL OR p.owner_id = @userId)
       AND NOT EXISTS (SELECT 1 FROM journeys j WHERE j.prospect_id = p.id AND j.state = 'active')
       AND NOT EXISTS (SELECT 1 FROM reminders r WHERE r.prospect_id = p.id AND r.ended_at IS NULL)
       AND NOT EXISTS (SELECT 1 FROM meetings m WHERE m.prospect_id = p.id AND m.cancelled_at IS NULL AND (m.ends_at > @now OR (m.held_at IS NULL AND m.missed_at IS NULL)))
       AND NOT EXISTS (SELECT 1 FROM touches t WHERE t.prospect_id = p.id AND t.state IN ('queued', 'open', 'draft', 'claimed'))
       AND NOT EXISTS (SELECT 1 FROM replies r WHERE r.prospect_id = p.id AND r.read_at IS NULL AND r.kind IN ('person', 'left'))
       AND NOT EXISTS (SELECT 1 FROM touches t WHERE t.prospect_id = p.id AND t.kind = 'answer' AND t.sent_at > @lately)
     ORDER BY p.id LIMIT ${MOST_FORGOTTEN}`,
  ).all({ ...whose(user), now, lately: now - 3 * DAY });
  return { people: rows.map(({ total: _, ...person }) => person), total: rows[0]?.total ?? 0 };
}

const personById = (db: Db, id: number): Person | null =>
  sql<{ id: number }, Person>(db, `SELECT ${PERSON} FROM prospects p WHERE p.id = @id AND p.live = 1`).get({
    id,
  }) ?? null;

const formats = new Map<string, Intl.DateTimeFormat>();

/** The hour of the day somewhere, with its minutes as a fraction; null where the place is not known. */
function hourIn(at: number, zone: string | null): number | null {
  if (zone === null) return null;
  let format = formats.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat("en-GB", {
      timeZone: zone,
      hour: "2-digit",
      minute: "2-digit",
      hourCycle: "h23",
    });
    formats.set(zone, format);
  }
  const [hour = 0, minute = 0] = format.format(at).split(":").map(Number);
  return hour + minute / 60;
}

export interface CallSheet {
  person: Person;
  /** Local time of theirs, and the hour at which they are best reached, "HH:mm". */
  bestAt: string | null;
  owner: string | null;
  notes: { text: string; by: string; at: number }[];
  /** What happened lately, the newest first. */
  events: { kind: string; at: number; detail: string | null }[];
  /** The last letters to and fro, the newest first. */
  letters: { from: "us" | "them"; at: number; text: string }[];
}

const OFFICE = { days: [1, 2, 3, 4, 5], opens: "08:00", closes: "18:00" };

/** What a rep has beside them while they ring somebody up. Null for somebody who is gone. */
export function callSheet({ db, clock }: App, prospectId: number): CallSheet | null {
  const person = personById(db, prospectId);
  if (!person) return null;
  const country = sql<{ id: number }, { country: string; owner: string | null }>(
    db,
    "SELECT p.country, u.name AS owner FROM prospects p LEFT JOIN users u ON u.id = p.owner_id WHERE p.id = @id",
  ).get({ id: prospectId });
  const best = person.zone
    ? bestHourOf(
        db,
        { id: prospectId, zone: person.zone, country: country?.country ?? "", title: person.title },
        OFFICE,
        clock.now(),
      )
    : null;
  return {
    person,
    bestAt: best
      ? `${String(Math.floor(best.minute / 60)).padStart(2, "0")}:${String(best.minute % 60).padStart(2, "0")}`
      : null,
    owner: country?.owner ?? null,
    notes: sql<{ prospectId: number }, CallSheet["notes"][number]>(
      db,
      `SELECT n.text, u.name AS "by", n.at FROM notes n JOIN users u ON u.id = n.user_id WHERE n.prospect_id = @prospectId ORDER BY n.id DESC LIMIT 4`,
    ).all({ prospectId }),
    events: sql<{ prospectId: number }, CallSheet["events"][number]>(
      db,
      `SELECT kind, at, detail FROM events WHERE prospect_id = @prospectId AND kind NOT IN ('journey_started', 'journey_stopped') ORDER BY id DESC LIMIT 7`,
    ).all({ prospectId }),
    letters: sql<{ prospectId: number }, CallSheet["letters"][number]>(
      db,
      `SELECT * FROM (SELECT 'us' AS "from", sent_at AS at, body AS text FROM touches WHERE prospect_id = @prospectId AND state = 'sent' AND kind != 'test'
       UNION ALL SELECT 'them', at, text FROM replies WHERE prospect_id = @prospectId AND kind = 'person') ORDER BY at DESC LIMIT 2`,
    ).all({ prospectId }),
  };
}

export interface DaySoFar {
  sent: number;
  read: number;
  touches: number;
  calls: number;
  booked: number;
  moved: { name: string; stage: string }[];
}

/** What the day has brought: done by the user, and moved by anybody. */
export function daySoFar({ db, clock }: App, user: Pick<User, "id" | "zone">): DaySoFar {
  const now = clock.now();
  const from = startOfNextDay(now, user.zone) - DAY;
  const count = (text: string) =>
    sql<Record<string, unknown>, { count: number }>(db, text).get({ from, userId: user.id })?.count ?? 0;
  return {
    sent: count("SELECT count(*) AS count FROM events WHERE kind = 'email_sent' AND at >= @from"),
    read: count("SELECT count(*) AS count FROM replies WHERE labelled_by = @userId AND labelled_at >= @from"),
    touches: count(
      "SELECT count(*) AS count FROM events WHERE kind = 'touch_done' AND at >= @from AND user_id = @userId",
    ),
    calls: count(
      "SELECT count(*) AS count FROM touches WHERE kind = 'call' AND state = 'done' AND ended_at >= @from AND user_id = @userId",
    ),
    booked: count("SELECT count(*) AS count FROM events WHERE kind = 'booked' AND at >= @from"),
    moved: sql<Record<string, unknown>, { name: string; stage: string }>(
      db,
      `SELECT coalesce(nullif(trim(p.first_name || ' ' || p.last_name), ''), p.email) AS name, e.detail AS stage FROM events e JOIN prospects p ON p.id = e.prospect_id
       WHERE e.kind = 'stage_set' AND e.at >= @from ORDER BY e.id DESC LIMIT 6`,
    ).all({ from }),
  };
}
