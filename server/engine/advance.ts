/**
 * Moves the demo's world on: from one instant at which something happens to the next, on both
 * sides, so that what follows from an email follows in the right order however fast time passes.
 */
import { z } from "zod";
import { DAY, instantOn, MINUTE, MORNING, startOfNextDay, workingDayAfter } from "../../core/calendar.ts";
import type { App } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import { sql } from "../db/open.ts";
import type { Engine } from "./tick.ts";

export interface ClockMove {
  id: number;
  kind: "next_event" | "next_morning" | "until";
  until: number | null;
}

const standinClock = z.object({ next: z.number().nullable(), arrived: z.number().optional() });
type StandinClock = z.infer<typeof standinClock>;

/**
 * Tells the stand-ins what time it is, and lets them act up to then. Returns when one acts next, and how many messages have
 * come into inboxes by now (undefined where real servers hold them).
 */
export async function moveStandin({ config }: App, now: number, runs: boolean): Promise<StandinClock> {
  const urls = [config.standin, config.socialStandin, config.crmStandin].filter((url) => url !== null);
  const said = await Promise.all(urls.map((url) => moveOne(url, now, runs)));
  const times = said.map(({ next }) => next).filter((at) => at !== null);
  return {
    next: times.length === 0 ? null : Math.min(...times),
    arrived: said.find(({ arrived }) => arrived !== undefined)?.arrived,
  };
}

async function moveOne(url: string, now: number, runs: boolean): Promise<StandinClock> {
  const answer = await fetch(`${url}/clock`, {
    method: "POST",
    // A line that rested for seconds may be closed at the moment at which it is used again.
    headers: { "content-type": "application/json", connection: "close" },
    body: JSON.stringify({ now, runs }),
  });
  if (!answer.ok) throw new Error(`The stand-in at ${url} answered ${answer.status}: ${await answer.text()}`);
  return standinClock.parse(await answer.json());
}

/** While time is walked through nobody reads the plan's reasons, so it stands until something changes. */
const NOBODY_LOOKS = DAY;

/** When a move ends; the "next morning" is that of the first user. */
function target(app: App, move: ClockMove, now: number): number {
  if (move.kind === "until") return move.until ?? now;
  if (move.kind === "next_event") return now + 7 * 24 * 60 * MINUTE;
  const zone =
    sql(app.db, "SELECT time_zone AS zone FROM users ORDER BY id LIMIT 1").get<{ zone: string }>([])?.zone ??
    "UTC";
  const day = workingDayAfter(startOfNextDay(now, zone), 0, [1, 2, 3, 4, 5], zone);
  return instantOn(day, MORNING, zone);
}

/** Carries out a move; `keepGoing` is asked between two instants. Ends with the clock running again unless told otherwise. */
export async function advance(
  engine: Engine,
  move: ClockMove,
  keepGoing: () => boolean,
  runsAfter = true,
): Promise<void> {
  const { app } = engine;
  let now = app.clock.now();
  const until = target(app, move, now);
  setDemoClock(app.db, now, false);
  let outside = await moveStandin(app, now, false);
  let read = outside.arrived;
  engine.forgetPlan();
  let result = await engine.tick();
  const isOver = () => move.kind === "next_event" && (result.sent > 0 || result.received > 0);
  while (now < until && !isOver() && keepGoing()) {
    now = Math.min(until, Math.max(now + 1, Math.min(result.nextAt ?? until, outside.next ?? until)));
    noteInstant(app, move, now);
    outside = await moveStandin(app, now, false);
    // Time is walked through in thousands of steps; most bring no mail.
    const asks = outside.arrived !== undefined && outside.arrived === read ? "none" : "all";
    read = outside.arrived;
    result = await engine.tick(asks, now < until ? NOBODY_LOOKS : undefined);
    // The recipients act on what was just sent.
    if (result.sent > 0) outside = await moveStandin(app, now, false);
  }
  setDemoClock(app.db, now, runsAfter);
  await moveStandin(app, now, runsAfter);
}

function noteInstant({ db }: App, { id }: ClockMove, now: number): void {
  db.transaction(() => {
    setDemoClock(db, now, false);
    sql(db, "UPDATE clock_moves SET now = @now WHERE id = @id").run({ now, id });
  }).immediate();
}

/** The oldest move that was asked for, taken on. */
export function takeMove(app: App): ClockMove | null {
  return (
    sql(
      app.db,
      `UPDATE clock_moves SET state = 'moving'
       WHERE id = (SELECT min(id) FROM clock_moves WHERE state IN ('asked', 'moving'))
       RETURNING id, kind, until`,
    ).get<ClockMove>([]) ?? null
  );
}

export function isCancelled(app: App, move: ClockMove): boolean {
  return (
    sql(app.db, "SELECT state FROM clock_moves WHERE id = @id").get<{ state: string }>({
      id: move.id,
    })?.state === "cancelled"
  );
}

export function finishMove(app: App, move: ClockMove): void {
  sql(app.db, "UPDATE clock_moves SET state = 'done' WHERE id = @id AND state = 'moving'").run({
    id: move.id,
  });
}
