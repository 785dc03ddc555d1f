/** Only one engine works on a database: the holder renews its lease, others wait until it runs out. */
import { type Db, sql } from "../db/open.ts";

/** Takes or renews the lease for `lasts` ms; false if another engine holds it. `wall` is the machine's clock. */
export function holdLease(db: Db, holder: string, wall: number, lasts: number): boolean {
  return (
    sql<Record<string, unknown>>(
      db,
      `INSERT INTO engine_lease (id, holder, expires_wall, ticked_wall) VALUES (1, @holder, @expires, @wall)
       ON CONFLICT (id) DO UPDATE SET holder = @holder, expires_wall = @expires, ticked_wall = @wall
       WHERE holder = @holder OR expires_wall <= @wall`,
    ).run({ holder, expires: wall + lasts, wall }).changes === 1
  );
}

export function releaseLease(db: Db, holder: string): void {
  sql<{ holder: string }>(db, "DELETE FROM engine_lease WHERE holder = @holder").run({ holder });
}
