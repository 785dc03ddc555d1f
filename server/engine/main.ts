/** The engine's process: a tick every few seconds, and the demo's clock moves in between. */
import { randomUUID } from "node:crypto";
import { openApp } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import { migrate, sql } from "../db/open.ts";
import { log } from "../log.ts";
import { advance, finishMove, isCancelled, moveStandin, takeMove } from "./advance.ts";
import { holdLease, releaseLease } from "./lease.ts";
import { Engine } from "./tick.ts";

const app = openApp();
migrate(app.db);
const engine = new Engine(app);
const holder = randomUUID();
let stopping = false;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const leaseMs = app.config.leaseSeconds * 1000;
const hold = () => holdLease(app.db, holder, Date.now(), leaseMs);

// A supervisor that is gone takes the engine with it.
process.on("disconnect", () => process.exit(0));
for (const signal of ["SIGINT", "SIGTERM"] as const)
  process.on(signal, () => {
    stopping = true;
  });

/** Keeps the clock's row young, so that a demo that was killed goes on from here and not from the hour of its restart. */
function keepDemoClock(): void {
  const running = sql<[], { started_wall: number | null }>(app.db, "SELECT started_wall FROM demo_clock").get(
    [],
  );
  if (running?.started_wall) setDemoClock(app.db, app.clock.now(), true);
}

const renewing = setInterval(hold, leaseMs / 4);
process.send?.("ready");
let standinKnows = false;
while (!stopping) {
  try {
    if (!hold()) {
      await pause(Math.min(500, leaseMs / 4));
      continue;
    }
    if (app.config.demo && !standinKnows) {
      await moveStandin(app, app.clock.now(), true);
      standinKnows = true;
    }
    const move = takeMove(app);
    if (move) {
      await advance(engine, move, () => !stopping && !isCancelled(app, move));
      finishMove(app, move);
    } else {
      await engine.tick();
      if (app.config.demo) keepDemoClock();
    }
  } catch (error) {
    log.error({ error: error instanceof Error ? error.stack : String(error) }, "tick failed");
  }
  for (let waited = 0; waited < app.config.tickSeconds * 1000 && !stopping; waited += 50) {
    if (
      app.config.demo &&
      sql<[], unknown>(app.db, "SELECT 1 FROM clock_moves WHERE state = 'asked'").get([])
    )
      break;
    await pause(Math.min(50, app.config.tickSeconds * 1000));
  }
}
clearInterval(renewing);
await engine.close();
releaseLease(app.db, holder);
app.db.close();
process.exit(0);
