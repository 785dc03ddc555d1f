/** The engine's process: a tick every few seconds, and the demo's clock moves in between. */
import { randomUUID } from "node:crypto";
import type { Worker } from "node:worker_threads";
import { openApp } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import { noteFailure } from "../db/failures.ts";
import { migrate, sql } from "../db/open.ts";
import { keepStops, stopsFileOf } from "../db/stops.ts";
import { damageWords, isBusy } from "../errors.ts";
import { log } from "../log.ts";
import { endOnUncaught } from "../orderly-end.ts";
import { sayReady } from "../processes.ts";
import { startThread } from "../threads.ts";
import { traceOf } from "../trace.ts";
import { advance, finishMove, isCancelled, moveStandin, takeMove } from "./advance.ts";
import { holdLease, noteProblem, noteTick, releaseLease } from "./lease.ts";
import type { KeeperSays } from "./lease-keeper.ts";
import { Marks } from "./marks.ts";
import { Engine } from "./tick.ts";

/** A slow mailbox is left behind after this; the others go on. */
const PATIENCE = 2_000;

const app = openApp();
migrate(app.db);
const marks = new Marks(app);
let isChecked = false;
let hasNews = false;
const engine = new Engine(app, {
  patience: PATIENCE,
  onNews: () => {
    hasNews = true;
  },
});
const holder = randomUUID();
let stopping = false;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const leaseMs = app.config.leaseSeconds * 1000;
const hold = () => holdLease(app.db, holder, Date.now(), leaseMs);

for (const signal of ["SIGINT", "SIGTERM"] as const)
  process.on(signal, () => {
    stopping = true;
  });

/** Keeps the clock's row young, so that a demo that was killed goes on from here and not from the hour of its restart. */
function keepDemoClock(): void {
  const running = sql(app.db, "SELECT started_wall FROM demo_clock").get<{ started_wall: number | null }>([]);
  if (running?.started_wall) setDemoClock(app.db, app.clock.now(), true);
}

/** The thread that renews the lease; null before the first turn, and after a failure until the next try. */
let keeper = null as Worker | null;
let keeperFailures = 0;
let keeperNotBefore = 0;
let lastWords = "";

function keepLease(): void {
  if (keeper || Date.now() < keeperNotBefore) return;
  const thread = startThread("server/engine/lease-keeper.ts", {
    database: app.config.database,
    holder,
    lasts: leaseMs,
  });
  keeper = thread;
  thread.on("message", (says: KeeperSays) => {
    if ("held" in says) keeperFailures = 0;
    else log.warn({ reason: says.trouble }, "the lease could not be renewed; tried again within its time");
  });
  // A thread that fails is told of, and tried again later and later: the engine renews the lease itself with each turn.
  thread.on("error", (error) => {
    keeper = null;
    keeperNotBefore = Date.now() + Math.min(60_000, 1_000 * 2 ** keeperFailures++);
    noteFailure(app.db, "thread", "lease-keeper", error);
  });
}

endOnUncaught(app, "engine", async () => {
  stopping = true;
  await turn;
  await end();
});

/** Every failure is tried again; what keeps failing is said once, and again when it changes. */
function sayWhatFailed(error: unknown): void {
  const damage = damageWords(error);
  const words =
    damage ?? (isBusy(error) ? "The database is locked by another program; the engine waits for it." : null);
  const text = words ?? traceOf(error);
  if (text !== lastWords) log.error({ error: text }, "tick failed");
  lastWords = text;
  noteProblem(
    app.db,
    holder,
    words ?? (error instanceof Error ? error.message : String(error)).slice(0, 300),
  );
}

let stopsWritten = "";
/** Beside the backups lies who must never be written to again; it grows with them. */
function keepWhoStopped(): void {
  const { n = "" } =
    sql(
      app.db,
      "SELECT (SELECT count(*) FROM erased_addresses) || ' ' || (SELECT coalesce(max(id), 0) FROM block_list) AS n",
    ).get<{ n: string }>([]) ?? {};
  if (n === stopsWritten) return;
  keepStops(app.db, app.key, stopsFileOf(app.config));
  stopsWritten = n;
}

async function takeTurn(): Promise<void> {
  if (!hold()) return;
  keepLease();
  // Only whoever holds the lease says what the database has come to.
  if (!isChecked) marks.check();
  isChecked = true;
  if (app.config.demo && !standinKnows) {
    await moveStandin(app, app.clock.now(), true);
    standinKnows = true;
  }
  const move = takeMove(app);
  if (move) {
    await advance(engine, move, () => !stopping && !isCancelled(app, move));
    finishMove(app, move);
  } else {
    const began = performance.now();
    const { sent, received } = await engine.tick("as_needed");
    if (sent + received > 0) log.info({ sent, received, ms: Math.round(performance.now() - began) }, "tick");
    if (app.config.demo) keepDemoClock();
  }
  marks.keep();
  keepWhoStopped();
  noteTick(app.db, holder, Date.now());
  lastWords = "";
}

function isAsked(): boolean {
  try {
    return (
      app.config.demo &&
      sql(app.db, "SELECT 1 FROM clock_moves WHERE state = 'asked'").get<unknown>([]) !== undefined
    );
  } catch {
    return false;
  }
}

/** Ends what is open, and gives the lease back. */
async function end(): Promise<void> {
  keeper?.postMessage("end");
  await engine.close();
  try {
    releaseLease(app.db, holder);
    app.db.close();
  } catch (error) {
    log.warn({ error: String(error) }, "the lease was not given back; it runs out by itself");
  }
}

sayReady();
let standinKnows = false;
let turn: Promise<void> = Promise.resolve();
while (!stopping) {
  turn = takeTurn().catch(sayWhatFailed);
  await turn;
  // Whoever waits for the lease looks more often than it lasts.
  const wait = Math.min(app.config.tickSeconds * 1000, keeper ? Number.POSITIVE_INFINITY : leaseMs / 4);
  for (let waited = 0; waited < wait && !stopping && !hasNews; waited += 50) {
    if (isAsked()) break;
    await pause(Math.min(50, wait));
  }
  hasNews = false;
}
await end();
process.exit(0);
