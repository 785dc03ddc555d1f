/** Calls booked this week, by person and team: what is so far, what is aimed at, and what the plan and the rates lead to. */
import { z } from "zod";
import { DAY, dayNumberFrom, dayNumberOf, instantOnDay, MINUTE, textOfDay } from "../../core/calendar.ts";
import {
  type BookingOutlook,
  type BookingRecord,
  bookingOutlook,
} from "../../core/results/booking-outlook.ts";
import { mondayOf } from "../../core/results/weeks.ts";
import type { Outlook } from "../../core/sending/outlook.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { keptCount } from "../db/kept-counts.ts";
import { type Db, sql } from "../db/open.ts";
import { OWNER_OF_START, outcomesTruth } from "../db/outcomes.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { forecast } from "../sending/forecast.ts";

export interface TargetLine {
  /** Null: the team. */
  userId: number | null;
  name: string;
  /** Null: none is set. */
  callsAWeek: number | null;
  booked: number;
  maySet: boolean;
}

export interface WeekTargets {
  /** Its first and last day. */
  from: string;
  to: string;
  /** The team first; then whoever sends or has a target. */
  lines: TargetLine[];
}

/** How far back rates are taken from. */
const PAST_DAYS = 84;

/** Emails and bookings of whoever's mailbox wrote, days counted back from today. */
interface Past {
  sent: Map<number, number[]>;
  booked: Map<number, BookingRecord["booked"][number][]>;
  thisWeek: Map<number, number>;
}

/** `today`, and the Monday of its week. */
function daysOf({ clock }: App, zone: string): { today: number; monday: number } {
  const today = dayNumberOf(clock.now(), zone);
  return { today, monday: mondayOf(today) };
}

function pastUntilNow(app: App, zone: string): Past {
  const { db } = app;
  const { today, monday } = daysOf(app, zone);
  const truth = `${today} ${outcomesTruth(db)}`;
  return keptCount(db, `bookings ${zone}`, truth, () => pastOf(db, today, monday, zone));
}

/** By user ("null": the team) what is still to come besides what is booked; null while too little is known. */
export type WeekAhead = Record<string, BookingOutlook | null>;

/** What the plan and the rates lead to until Sunday. The plan of many takes seconds: no page waits for it. */
export async function weekAhead(app: App, lines: readonly TargetLine[], zone: string): Promise<WeekAhead> {
  const { today, monday } = daysOf(app, zone);
  const past = pastUntilNow(app, zone);
  const planned = await plannedUntil(app, monday + 6, zone);
  const none = Array.from({ length: monday + 7 - today }, () => 0);
  const aheadOf = (ids: readonly number[]) =>
    bookingOutlook({
      sent: summed(ids.map((id) => past.sent.get(id) ?? [])),
      booked: ids.flatMap((id) => past.booked.get(id) ?? []),
      planned: summed([none, ...ids.map((id) => planned.get(id) ?? [])]),
    });
  const everybody = [...new Set([...past.sent.keys(), ...past.booked.keys(), ...planned.keys()])];
  return Object.fromEntries(
    lines.map(({ userId }) => [String(userId), aheadOf(userId === null ? everybody : [userId])]),
  );
}

export function weekTargets(app: App, by: By, zone: string): WeekTargets {
  const { db } = app;
  const { monday } = daysOf(app, zone);
  const past = pastUntilNow(app, zone);
  const users = sql(
    db,
    `SELECT u.id AS userId, u.name, t.calls_a_week AS callsAWeek FROM users u LEFT JOIN targets t ON t.user_id = u.id
     WHERE u.removed_at IS NULL ORDER BY u.name`,
  ).all<Pick<TargetLine, "name" | "callsAWeek"> & { userId: number }>([]);
  const bookedOf = (ids: readonly number[]) => ids.reduce((sum, id) => sum + (past.thisWeek.get(id) ?? 0), 0);
  const everybody = [
    ...new Set([...users.map(({ userId }) => userId), ...past.sent.keys(), ...past.thisWeek.keys()]),
  ];
  const team: TargetLine = {
    userId: null,
    name: "The team",
    callsAWeek: teamTarget(db) ?? sumOfTargets(users),
    booked: bookedOf(everybody),
    maySet: mayNot(app, by, "target.set", [0]) === null,
  };
  const people = users
    .map((user) => ({
      ...user,
      booked: bookedOf([user.userId]),
      maySet: mayNot(app, by, "target.set", [user.userId]) === null,
    }))
    .filter(
      ({ userId, callsAWeek, booked }) =>
        callsAWeek !== null || booked > 0 || past.sent.has(userId) || userId === by,
    );
  return { from: textOfDay(monday), to: textOfDay(monday + 6), lines: [team, ...people] };
}

const teamTarget = (db: Db): number | null =>
  sql(db, "SELECT calls_a_week AS calls FROM targets WHERE user_id IS NULL").get<{ calls: number }>([])
    ?.calls ?? null;

/** Where none is set for the team, it is what its people want together. */
const sumOfTargets = (users: readonly { callsAWeek: number | null }[]): number | null =>
  users.reduce<number | null>(
    (sum, { callsAWeek }) => (callsAWeek === null ? sum : (sum ?? 0) + callsAWeek),
    null,
  );

function summed(all: readonly (readonly number[])[]): number[] {
  const longest = Math.max(0, ...all.map(({ length }) => length));
  return Array.from({ length: longest }, (_, nth) => all.reduce((sum, each) => sum + (each[nth] ?? 0), 0));
}

function pastOf(db: Db, today: number, monday: number, zone: string): Past {
  const until = instantOnDay(today + 1, 0, zone);
  const from = until - PAST_DAYS * DAY;
  const ago = (at: string) => `CAST((@until - 1 - ${at}) / ${DAY} AS INTEGER)`;
  const past: Past = { sent: new Map(), booked: new Map(), thisWeek: new Map() };
  const sentFrom = sql(
    db,
    `SELECT ${ago("at")} AS ago, count(*) AS many FROM touch_outcomes
     WHERE mailbox_id = @mailboxId AND at >= @from AND at < @until GROUP BY 1`,
  );
  for (const { id, userId } of sql(db, "SELECT id, user_id AS userId FROM mailboxes").all<{
    id: number;
    userId: number;
  }>([])) {
    const own = past.sent.get(userId) ?? Array.from({ length: PAST_DAYS }, () => 0);
    const days = sentFrom.all<{ ago: number; many: number }>({ mailboxId: id, from, until });
    for (const { ago, many } of days) own[ago] = (own[ago] ?? 0) + many;
    if (days.length > 0) past.sent.set(userId, own);
  }
  const bookings = sql(
    db,
    `SELECT o.booked_at AS at, ${OWNER_OF_START} AS userId, ${ago("e.at")} AS sentAgo,
       CAST((o.booked_at - e.at) / ${DAY} AS INTEGER) AS after
     FROM journey_outcomes o
     LEFT JOIN touch_outcomes e ON e.sequence_id = o.sequence_id AND e.journey_id = o.journey_id AND e.touch_id = (
       SELECT touch_id FROM touch_outcomes t WHERE t.sequence_id = o.sequence_id AND t.journey_id = o.journey_id
         AND t.mailbox_id IS NOT NULL AND t.at <= o.booked_at ORDER BY t.at DESC LIMIT 1)
     WHERE o.booked_at >= @from AND o.booked_at < @until`,
  ).all<{ at: number; userId: number; sentAgo: number | null; after: number | null }>({ from, until });
  const weekBegan = instantOnDay(monday, 0, zone);
  for (const { at, userId, sentAgo, after } of bookings) {
    if (at >= weekBegan) past.thisWeek.set(userId, (past.thisWeek.get(userId) ?? 0) + 1);
    if (sentAgo === null || after === null) continue;
    past.booked.set(userId, [...(past.booked.get(userId) ?? []), { sentAgo, after }]);
  }
  return past;
}

const plans = new WeakMap<Db, { asked: string; at: number; outlook: Promise<Outlook> }>();
/** As long as the engine lets its own reasons stand. */
const PLAN_KEEPS = 5 * MINUTE;

function keptPlan(app: App, zone: string): Promise<Outlook> {
  const now = app.clock.now();
  const asked = `${dayNumberOf(now, zone)} ${zone}`;
  const kept = plans.get(app.db);
  if (kept?.asked === asked && Math.abs(now - kept.at) < PLAN_KEEPS) return kept.outlook;
  const outlook = forecast(app, zone);
  plans.set(app.db, { asked, at: now, outlook });
  outlook.catch(() => plans.delete(app.db));
  return outlook;
}

/** By user the emails planned for each day from today to the last one. */
async function plannedUntil(app: App, last: number, zone: string): Promise<Map<number, number[]>> {
  const { days, cells } = await keptPlan(app, zone);
  const owners = new Map(
    sql(app.db, "SELECT id, user_id AS userId FROM mailboxes")
      .all<{ id: number; userId: number }>([])
      .map(({ id, userId }) => [id, userId]),
  );
  const today = dayNumberFrom(days[0] ?? textOfDay(last));
  const planned = new Map<number, number[]>();
  for (const [mailboxId, row] of Object.entries(cells)) {
    const userId = owners.get(Number(mailboxId));
    if (userId === undefined) continue;
    const own = planned.get(userId) ?? Array.from({ length: Math.max(0, last - today + 1) }, () => 0);
    for (const [nth, { planned: many }] of row.entries()) {
      const day = dayNumberFrom(days[nth] ?? "") - today;
      if (day < own.length) own[day] = (own[day] ?? 0) + many;
    }
    planned.set(userId, own);
  }
  return planned;
}

const form = z.object({
  /** "": the team's. */
  userId: z.union([z.literal("").transform(() => null), z.coerce.number().int().positive()]),
  /** "": none. */
  callsAWeek: z.union([
    z.literal("").transform(() => null),
    z.coerce
      .number({ error: "Say how many calls a week." })
      .int("Whole calls only.")
      .min(1, "At least one; leave it empty for none.")
      .max(1000, "At most 1,000."),
  ]),
});

export function setTarget(app: App, by: By, input: unknown): Outcome<null> {
  const { db, clock } = app;
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { userId, callsAWeek } = read.data;
  const no = mayNot(app, by, "target.set", [userId ?? 0]);
  if (no) return no;
  db.transaction(() => {
    sql(db, "DELETE FROM targets WHERE user_id IS @userId").run({ userId });
    if (callsAWeek !== null)
      sql(
        db,
        `INSERT INTO targets (user_id, calls_a_week, set_by, at) SELECT @userId, @callsAWeek, @by, @now
         WHERE @userId IS NULL OR EXISTS (SELECT 1 FROM users WHERE id = @userId AND removed_at IS NULL)`,
      ).run({ userId, callsAWeek, by, now: clock.now() });
  }).immediate();
  return done(null);
}
