/** Only one engine works on a database: the holder renews its lease, others wait until it runs out. */
import { type Db, sql } from "../db/open.ts";

/**
 * Takes or renews the lease for `lasts` ms; false if another engine holds it. `wall` is the machine's clock. A lease
 * that reaches further ahead than any lasts was written before the clock was set back, and counts for nothing.
 */
export function holdLease(db: Db, holder: string, wall: number, lasts: number): boolean {
  return (
    sql(
      db,
      `INSERT INTO engine_lease (id, holder, expires_wall) VALUES (1, @holder, @expires)
       ON CONFLICT (id) DO UPDATE SET holder = @holder, expires_wall = @expires
       WHERE holder = @holder OR expires_wall <= @wall OR expires_wall > @furthest`,
    ).run({ holder, expires: wall + lasts, wall, furthest: wall + 2 * lasts }).changes === 1
  );
}

/** Notes that a tick was finished. */
export function noteTick(db: Db, holder: string, wall: number): void {
  sql(db, "UPDATE engine_lease SET ticked_wall = @wall, problem = NULL WHERE holder = @holder").run({
    holder,
    wall,
  });
}

/** Notes, as far as the database still takes notes, why no tick comes to its end. */
export function noteProblem(db: Db, holder: string, problem: string): void {
  try {
    sql(
      db,
      "UPDATE engine_lease SET problem = @problem WHERE holder = @holder AND problem IS NOT @problem",
    ).run({ holder, problem });
  } catch {
    // The log has it.
  }
}

export function releaseLease(db: Db, holder: string): void {
  sql(db, "DELETE FROM engine_lease WHERE holder = @holder").run({ holder });
}
