/** Films in backups: inside one that is made by hand, beside the nightly ones, which share what has not changed. */
import {
  closeSync,
  copyFileSync,
  existsSync,
  linkSync,
  mkdirSync,
  openSync,
  readdirSync,
  readSync,
  rmSync,
  statSync,
  writeSync,
} from "node:fs";
import { join } from "node:path";
import type Database from "better-sqlite3";

const PIECE = 4 * 1024 * 1024;
const FILM = /^[\w-]{8,64}\.film$/;
/** In the folder of the nightly copies. */
const BESIDE = "films";

const filmsIn = (folder: string): string[] =>
  existsSync(folder) ? readdirSync(folder).filter((name) => FILM.test(name)) : [];

/** Puts the films of a folder into a copy of the database. */
export function packFilms(copy: Database.Database, folder: string): void {
  copy.exec(
    "CREATE TABLE backup_films (name TEXT NOT NULL, nth INTEGER NOT NULL, bytes BLOB NOT NULL, PRIMARY KEY (name, nth)) STRICT",
  );
  const insert = copy.prepare("INSERT INTO backup_films VALUES (?, ?, ?)");
  for (const name of filmsIn(folder)) {
    const file = openSync(join(folder, name), "r");
    try {
      const piece = Buffer.alloc(PIECE);
      for (let nth = 0; ; nth++) {
        const read = readSync(file, piece, 0, PIECE, null);
        if (read === 0) break;
        insert.run(name, nth, piece.subarray(0, read));
      }
    } finally {
      closeSync(file);
    }
  }
}

/** Takes them out again, into a folder; one that is there stays as it is. */
export function unpackFilms(copy: Database.Database, folder: string): void {
  if (!copy.prepare("SELECT 1 FROM sqlite_master WHERE name = 'backup_films'").get()) return;
  makeFolder(folder);
  const names = copy.prepare("SELECT DISTINCT name FROM backup_films").pluck().all() as string[];
  const pieces = copy.prepare("SELECT bytes FROM backup_films WHERE name = ? ORDER BY nth").pluck();
  for (const name of names.filter((each) => FILM.test(each) && !existsSync(join(folder, each)))) {
    const file = openSync(join(folder, name), "w", 0o600);
    try {
      for (const bytes of pieces.iterate(name) as Iterable<Buffer>) writeSync(file, bytes);
    } finally {
      closeSync(file);
    }
  }
  copy.exec("DROP TABLE backup_films");
}

/** Keeps the films beside nightly copies: each once, without copying it where the disk is the same. What nobody names any more goes after so many ms. */
export function keepFilmsBeside(folder: string, copies: string, keptFor: number, wall: number): void {
  const beside = join(copies, BESIDE);
  const live = new Set(filmsIn(folder));
  if (live.size === 0 && !existsSync(beside)) return;
  makeFolder(beside);
  for (const name of live) {
    const to = join(beside, name);
    const from = join(folder, name);
    // One that was still coming in is another by now.
    if (existsSync(to) && statSync(to).size === statSync(from).size) continue;
    rmSync(to, { force: true });
    try {
      linkSync(from, to);
    } catch {
      copyFileSync(from, to);
    }
  }
  // Its status changed when the other name of it was deleted.
  for (const name of filmsIn(beside))
    if (!live.has(name) && wall - statSync(join(beside, name)).ctimeMs > keptFor) rmSync(join(beside, name));
}

/** Brings back what lies beside a nightly copy. */
export function filmsFromBeside(copies: string, folder: string): void {
  const beside = join(copies, BESIDE);
  for (const name of filmsIn(beside)) {
    makeFolder(folder);
    if (!existsSync(join(folder, name))) copyFileSync(join(beside, name), join(folder, name));
  }
}

const makeFolder = (folder: string) => void mkdirSync(folder, { recursive: true, mode: 0o700 });
