/** The plan of the coming weeks, and what one change costs: measured against what reps wait for without noticing. */
import { DAY, NO_HOLIDAYS } from "../core/calendar.ts";
import { publicHolidays } from "../core/holidays.ts";
import type { Pace } from "../core/sending/pace.ts";
import { makePlan } from "../core/sending/plan.ts";
import type { PlanInput, PlanJourney } from "../core/sending/plan-parts.ts";
import type { Sender } from "../core/sending/sender.ts";
import { NOTHING_ELSE } from "../core/sending/what-if.ts";
import { setHold } from "../server/db/holds.ts";
import { sql } from "../server/db/open.ts";
import { forecast, stopForecasting } from "../server/sending/forecast.ts";
import { PlanBook } from "../server/sending/plan.ts";
import { addPeople, addSequence, createWorld, email, TUESDAY, type World } from "../server/tests/world.ts";
import { type Figure, median } from "./figure.ts";

const PLACES = [
  ["Europe/Lisbon", "PT"],
  ["Europe/Berlin", "DE"],
  ["America/New_York", "US"],
  ["Asia/Tokyo", "JP"],
  ["America/Sao_Paulo", "BR"],
  ["Australia/Sydney", "AU"],
] as const;
const HOURS = { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" };
const PROVIDERS = ["north.example", "south.example", "west.example", null];

/** Ten sequences with pools that overlap, paces, ramps, hourly limits, providers, caps by domain and holidays. */
function input(people: number, mailboxes: number, days: number): PlanInput {
  const calendars = PLACES.map(([zone, country]) => ({
    zone,
    hours: HOURS,
    holidays: publicHolidays(country, 2026),
  }));
  const pools = Array.from({ length: 10 }, (_, pool) =>
    Array.from({ length: mailboxes }, (_, nth) => nth + 1).filter((id) => (id + pool) % 3 !== 0),
  );
  const paces = pools.map(
    (_, nth): Pace => ({
      newADay: nth % 2 === 0 ? 400 : null,
      begunToday: 0,
      perHour: nth % 3 === 0 ? 80 : null,
      minutesBetween: null,
      sentLately: [],
      zone: "Europe/Lisbon",
    }),
  );
  const singles = Array.from({ length: mailboxes }, (_, nth): readonly number[] => [nth + 1]);
  const ahead = Array.from({ length: 6 }, (_, nth) => ({
    id: `s${nth}`,
    waits: nth === 0 ? [] : [{ days: 3, working: true }],
  }));
  const journeys = Array.from({ length: people }, (_, nth): PlanJourney => {
    const isUnderWay = nth % 4 === 0;
    return {
      id: nth + 1,
      calendar: calendars[nth % calendars.length] as PlanJourney["calendar"],
      senderIds: (isUnderWay ? singles[nth % mailboxes] : pools[nth % 10]) as readonly number[],
      followUp: isUnderWay,
      dueAt: TUESDAY - DAY + (nth % 30) * 3 * 3_600_000,
      ahead: isUnderWay ? ahead.slice(1 + (nth % 5)) : ahead,
      pace: paces[nth % 10] as Pace,
      domain: `house${nth % 20_000}.example`,
      provider: PROVIDERS[nth % 4] as string | null,
    };
  });
  const senders = Array.from(
    { length: mailboxes },
    (_, nth): Sender => ({
      id: nth + 1,
      dailyLimit: 40,
      ramp: nth % 5 === 0 ? { start: 5, step: 3, daysSoFar: 0 } : null,
      hourlyLimit: nth % 7 === 0 ? 6 : null,
      gapMinutes: { least: 7, most: 12 },
      zone: "Europe/Lisbon",
      provider: PROVIDERS[nth % 4] as string | null,
      sentToday: 0,
      lastSentAt: null,
      restsUntil: null,
    }),
  );
  const rules = { followUpShare: 0.6, domainADay: 3, daysBetween: 1 };
  return { now: TUESDAY, until: TUESDAY + days * DAY, senders, journeys, rules };
}

/** Milliseconds of processor time. */
function processor(work: () => void): number {
  const before = process.cpuUsage();
  work();
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000;
}

/** 60 days for 50,000 people, six steps and 60 mailboxes; and ten times the people. */
export async function benchPlan(): Promise<Figure> {
  const asked = input(50_000, 60, 60);
  let touches = 0;
  const took = median([1, 2, 3].map(() => processor(() => (touches = makePlan(asked).touches.length))));
  const tenfold = processor(() => void makePlan(input(500_000, 60, 60)));
  return {
    bench: "plan",
    // Of the three seconds that were asked.
    ratio: Number((took / 3_000).toFixed(2)),
    limit: 0.57,
    kind: "most",
    processorMs: Math.round(took),
    touches,
    tenTimesThePeople: Number((tenfold / took).toFixed(2)),
    memoryMb: Math.round(process.memoryUsage().rss / 1e6),
  };
}

/** What mailboxes carry where it is known: 60 mailboxes with room for so many, and more people than they can serve. */
export async function benchCapacity(): Promise<Figure> {
  const base = input(60_000, 60, 10);
  const open = { zone: "Europe/Lisbon", hours: HOURS, holidays: NO_HOLIDAYS };
  const journeys = base.journeys.map((journey) => ({
    ...journey,
    calendar: open,
    pace: null,
    dueAt: TUESDAY - DAY,
  }));
  const senders = base.senders.map((sender) => ({
    ...sender,
    ramp: null,
    hourlyLimit: null,
    dailyLimit: 30,
  }));
  const until = Date.parse("2026-06-19T23:00:00+01:00");
  const { touches } = makePlan({
    ...base,
    until,
    journeys,
    senders,
    rules: { ...base.rules, domainADay: null },
  } as PlanInput);
  const best = 9 * 60 * 30; // nine working days
  return {
    bench: "plan-capacity",
    ratio: Number((touches.length / best).toFixed(4)),
    limit: 0.99,
    kind: "least",
    touches: touches.length,
    best,
  };
}

/** A world with that many under way, from so many mailboxes that nobody can reach: nothing is sent. */
async function crowd(people: number, mailboxes: number): Promise<World> {
  const world = await createWorld({ standin: false });
  const { db } = world.app;
  const add = sql(
    db,
    `INSERT INTO mailboxes (user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port,
       imap_security, username, password_sealed, daily_limit, gap_least, gap_most, connected_wall, created_at)
     VALUES (1, @address, 'Marta', 'h', 1, 'none', 'h', 1, 'none', 'u', '', 40, 7, 12, 1, 0)`,
  );
  for (let nth = 0; nth < mailboxes; nth++) add.run({ address: `box${nth}@quillwater.example` });
  const ids = Array.from({ length: mailboxes }, (_, nth) => nth + 1);
  const list = addPeople(
    world,
    Array.from({ length: people }, (_, nth) => `p${nth}`),
  );
  const path = Array.from({ length: 6 }, (_, nth) =>
    email(`s${nth}`, nth === 0 ? 0 : 3, { subject: nth === 0 ? "Loans" : "", body: "Hello" }),
  );
  const sequence = addSequence(world, list, ids, { path });
  db.exec(
    `INSERT INTO journeys (sequence_id, prospect_id, version, place_id, since, due_at, wake_at, mailbox_id, started_at)
     SELECT ${sequence}, id, 1, CASE id % 4 WHEN 0 THEN 's1' ELSE 's0' END, ${TUESDAY}, ${TUESDAY} + (id % 60) * 3600000, NULL,
       CASE id % 4 WHEN 0 THEN 1 + id % ${mailboxes} END, ${TUESDAY} FROM prospects;
     UPDATE sequences SET state = 'running';`,
  );
  return world;
}

/** One person is paused among 50,000: how long until the plan holds again, how many rows that writes, and an idle look. */
export async function benchPlanChange(): Promise<Figure> {
  const world = await crowd(50_000, 60);
  const { app } = world;
  const book = new PlanBook(app);
  book.look(TUESDAY);
  book.look(TUESDAY + 1_000);
  const planned = sql(
    app.db,
    "SELECT id FROM journeys WHERE next_at IS NOT NULL AND next_at != due_at ORDER BY next_at LIMIT 40",
  ).all<{ id: number }>([]);
  const times: number[] = [];
  let rows = 0;
  for (const [nth, { id }] of planned.slice(10, 25).entries()) {
    setHold(app.db, {
      scope: "journey",
      scopeId: id,
      reason: "paused_by_rep",
      detail: null,
      since: TUESDAY,
      until: null,
      causeProspectId: null,
    });
    const began = performance.now();
    const { written } = book.look(TUESDAY + 2_000 + nth);
    times.push(performance.now() - began);
    rows = Math.max(rows, written);
  }
  const idle = median(
    Array.from({ length: 15 }, (_, nth) => {
      const began = performance.now();
      book.look(TUESDAY + 3_000 + nth, 300_000);
      return performance.now() - began;
    }),
  );
  await world.close();
  const took = median(times);
  return {
    bench: "plan-change",
    // Of the 150 ms that were asked.
    ratio: Number((took / 150).toFixed(2)),
    limit: 0.93,
    kind: "most",
    afterOneChangeMs: Math.round(took),
    rowsWritten: rows,
    nothingDueMs: Number(idle.toFixed(1)),
  };
}

/** A what-if among 20,000, with the plan as it is known already, from the question to the answer. */
export async function benchWhatIf(): Promise<Figure> {
  const world = await crowd(20_000, 15);
  const { app } = world;
  await forecast(app, "Europe/Lisbon");
  const times: number[] = [];
  for (let nth = 0; nth < 5; nth++) {
    const began = performance.now();
    await forecast(app, "Europe/Lisbon", { ...NOTHING_ELSE, dailyLimit: 30 + nth, morePeople: 200 });
    times.push(performance.now() - began);
  }
  await stopForecasting();
  await world.close();
  const took = median(times);
  return {
    bench: "what-if",
    // Of the second that was asked.
    ratio: Number((took / 1_000).toFixed(2)),
    limit: 1,
    kind: "most",
    answerMs: Math.round(took),
  };
}
