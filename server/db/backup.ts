/**
 * Backups: one SQLite file that holds the database and its key, made while everything runs (SQLite's online backup,
 * https://www.sqlite.org/backup.html), checked before it counts.
 */
import {
  chmodSync,
  closeSync,
  copyFileSync,
  existsSync,
  mkdirSync,
  openSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { dirname, join } from "node:path";
import Database from "better-sqlite3";
import { mediaOf } from "../config.ts";
import { AppError } from "../errors.ts";
import { keyFileOf } from "../secrets.ts";
import { filmsFromBeside, keepFilmsBeside, packFilms, unpackFilms } from "./media-copies.ts";
import { newestSchema } from "./open.ts";

const DAY = 86_400_000;
/** Nightly copies are kept for so long. */
const KEPT_FOR = 14 * DAY;
/** All pages in one step, in one look at the database: whoever writes meanwhile does not make it begin again. */
const ALL_PAGES = 2_147_483_647;

/**
 * Writes database, key and films into `target`; `films` "beside": without these. Throws `backup_failed` if it exists, or does not hold
 * what it should.
 */
export async function backUp(
  database: string,
  key: Buffer,
  target: string,
  films: "inside" | "beside" = "inside",
): Promise<{ bytes: number }> {
  if (existsSync(target))
    throw new AppError("backup_failed", `${target} is there already. Choose another name, or delete it.`);
  if (!existsSync(database)) throw new AppError("backup_failed", `There is no database at ${database}.`);
  mkdirSync(dirname(target), { recursive: true });
  const partial = `${target}.partial`;
  closeSync(openSync(partial, "w", 0o600));
  try {
    const source = new Database(database, { readonly: true, timeout: 30_000 });
    try {
      await source.backup(partial, { progress: () => ALL_PAGES });
    } finally {
      source.close();
    }
    const copy = new Database(partial);
    try {
      copy.pragma("journal_mode = DELETE");
      copy.exec("CREATE TABLE backup_key (key TEXT NOT NULL, made_at INTEGER NOT NULL) STRICT");
      copy.prepare("INSERT INTO backup_key VALUES (?, ?)").run(key.toString("hex"), Date.now());
      if (films === "inside") packFilms(copy, mediaOf(database));
      requireSound(copy, "backup_failed");
    } finally {
      copy.close();
    }
    chmodSync(partial, 0o600);
    renameSync(partial, target);
    return { bytes: statSync(target).size };
  } catch (error) {
    rmSync(partial, { force: true });
    throw error instanceof AppError ? error : new AppError("backup_failed", (error as Error).message);
  }
}

function requireSound(db: Database.Database, code: "backup_failed" | "restore_refused"): void {
  const said = db.pragma("integrity_check(1)", { simple: true });
  if (said !== "ok") throw new AppError(code, `SQLite finds it damaged: ${String(said).slice(0, 200)}.`);
}

/**
 * Puts a backup in the database's place, its key beside it. What was there before is kept, with the time in its
 * name. Returns its path, or null if nothing was there. Where the installation is given its key (`ownKey`, 64 digits),
 * the backup must have been made with it, and no key file is written. Throws `restore_refused`, having changed nothing.
 */
export function restore(
  file: string,
  database: string,
  ownKey: string | undefined,
  now: number,
): string | null {
  if (!existsSync(file)) throw new AppError("restore_refused", `There is no file ${file}.`);
  mkdirSync(dirname(database), { recursive: true });
  const fresh = `${database}.restoring`;
  copyFileSync(file, fresh);
  chmodSync(fresh, 0o600);
  const keyFile = keyFileOf(database);
  let key: string;
  try {
    key = unpack(fresh, mediaOf(database));
    if (ownKey !== undefined && ownKey.toLowerCase() !== key.toLowerCase())
      throw new AppError(
        "restore_refused",
        "It was made with another key than SAUDADE_KEY. Set SAUDADE_KEY to that one, or take it away: the backup brings its own.",
      );
  } catch (error) {
    rmSync(fresh, { force: true });
    throw error instanceof AppError ? error : new AppError("restore_refused", "It is no SQLite database.");
  }
  const aside = existsSync(database) ? setAside(database, keyFile, now) : null;
  if (ownKey === undefined) writeFileSync(keyFile, key, { mode: 0o600 });
  renameSync(fresh, database);
  filmsFromBeside(dirname(file), mediaOf(database));
  return aside;
}

/** The key out of a backup, which is a plain database afterwards; its films go into their folder. */
function unpack(path: string, media: string): string {
  const db = new Database(path);
  try {
    requireSound(db, "restore_refused");
    const hasKey = db.prepare("SELECT 1 FROM sqlite_master WHERE name = 'backup_key'").get();
    if (!hasKey)
      throw new AppError("restore_refused", "It was not made with “npm run backup”: it holds no key.");
    if ((db.pragma("user_version", { simple: true }) as number) > newestSchema())
      throw new AppError("restore_refused", "A newer version of Saudade made it. Update the program first.");
    const { key } = db.prepare("SELECT key FROM backup_key").get() as { key: string };
    unpackFilms(db, media);
    db.exec("DROP TABLE backup_key; DELETE FROM engine_lease");
    return key;
  } finally {
    db.close();
  }
}

function setAside(database: string, keyFile: string, now: number): string {
  const stamp = new Date(now).toISOString().replace(/[-:]|\.\d+/g, "");
  for (const path of [database, `${database}-wal`, `${database}-shm`, keyFile])
    if (existsSync(path)) renameSync(path, path.replace(database, `${database}.before-${stamp}`));
  return `${database}.before-${stamp}`;
}

const NAME = /^saudade-(\d{4}-\d{2}-\d{2})\.db$/;

/** When the newest nightly copy was made, or null. */
export function newestCopyAt(folder: string): number | null {
  if (!existsSync(folder)) return null;
  const times = readdirSync(folder)
    .filter((name) => NAME.test(name))
    .map((name) => statSync(join(folder, name)).mtimeMs);
  return times.length === 0 ? null : Math.max(...times);
}

/** The local hour from which the night's copy is made. */
const AT_HOUR = 3;

/** Whether a copy is due: none of this night yet, or none for over a day. */
export function copyIsDue(newest: number | null, wall: number): boolean {
  if (newest === null || wall - newest > 1.1 * DAY) return true;
  const tonight = new Date(wall).setHours(AT_HOUR, 0, 0, 0);
  return wall >= tonight && newest < tonight;
}

/** Makes the night's copy and deletes those that are too old. */
export async function nightlyCopy(
  database: string,
  key: Buffer,
  folder: string,
  wall: number,
): Promise<void> {
  const day = new Date(wall - new Date(wall).getTimezoneOffset() * 60_000).toISOString().slice(0, 10);
  const target = join(folder, `saudade-${day}.db`);
  const before = `${target}.old`;
  if (existsSync(target)) renameSync(target, before);
  await backUp(database, key, target, "beside");
  keepFilmsBeside(mediaOf(database), folder, KEPT_FOR, wall);
  rmSync(before, { force: true });
  for (const name of readdirSync(folder))
    if (NAME.test(name) && wall - statSync(join(folder, name)).mtimeMs > KEPT_FOR) rmSync(join(folder, name));
}
