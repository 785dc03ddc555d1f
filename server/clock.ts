/** What time it is. In the demo the time is a row of the database, so that every process agrees. */
import type { Db } from "./db/open.ts";
import { sql } from "./db/open.ts";

export interface Clock {
  now(): number;
}

interface ClockRow {
  base: number;
  started_wall: number | null;
}

/** The demo's clock if the database has one, else the machine's. */
export function clockOf(db: Db): Clock {
  return {
    now() {
      const row = sql(db, "SELECT base, started_wall FROM demo_clock WHERE id = 1").get<ClockRow>([]);
      if (!row) return Date.now();
      return row.started_wall === null ? row.base : row.base + (Date.now() - row.started_wall);
    },
  };
}

/** Puts the demo's clock to an instant; it runs on from there, or stands still. */
export function setDemoClock(db: Db, now: number, runs: boolean): void {
  sql(
    db,
    `INSERT INTO demo_clock (id, base, started_wall) VALUES (1, @now, @wall)
     ON CONFLICT (id) DO UPDATE SET base = @now, started_wall = @wall`,
  ).run({ now, wall: runs ? Date.now() : null });
}
