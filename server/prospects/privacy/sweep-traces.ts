/**
 * What tells of somebody after their rows are gone: uploaded files in which their address stands, words in the letters'
 * index, and what the write-ahead log still holds. A worker sweeps it within a minute of an erasure; SQLite itself
 * overwrites what is deleted (`secure_delete`).
 */
import { setTimeout as pause } from "node:timers/promises";
import type { App } from "../../app.ts";
import { type Db, sql } from "../../db/open.ts";
import { readSetting, writeSetting } from "../../db/settings.ts";
import { dropFilesOfErased } from "../imports/import-file.ts";

/** How many erasures the last whole sweep knew of. */
const SWEPT = "traces_swept";

/** Sweeps if somebody was erased since it last did; whether nothing is left to do. Somebody's open read of the log delays it. */
export async function sweepTraces(app: App): Promise<boolean> {
  const { db } = app;
  const { erased } = sql(db, "SELECT count(*) AS erased FROM erased_addresses").get<{ erased: number }>(
    [],
  ) ?? { erased: 0 };
  if (Number(readSetting(db, SWEPT) ?? 0) === erased) return true;
  await dropFilesOfErased(app);
  for (const index of ["message_words", "message_pieces"]) await mergeIndex(db, index);
  const [log] = db.pragma("wal_checkpoint(TRUNCATE)") as { busy: number }[];
  if (log?.busy !== 0) return false;
  writeSetting(db, SWEPT, String(erased));
  return true;
}

/** Pages of the index that are merged in one transaction: some ten milliseconds, in which nobody else writes. */
const PAGES = 200;

/** A deleted letter's words leave the index when its segments are merged (https://www.sqlite.org/fts5.html, 6.8 and 6.10). */
async function mergeIndex(db: Db, index: string): Promise<void> {
  const changes = () => sql(db, "SELECT total_changes() AS n").get<{ n: number }>([])?.n ?? 0;
  for (let pages = -PAGES; ; pages = PAGES) {
    const before = changes();
    db.prepare(`INSERT INTO ${index} (${index}, rank) VALUES ('merge', ${pages})`).run();
    if (changes() - before < 2) return;
    await pause(20);
  }
}
