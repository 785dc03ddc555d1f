/** The finished seasons as they are shipped: the database of a team that used Saudade before, compressed. */
import { readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, brotliDecompressSync, constants } from "node:zlib";
import { projectRoot } from "../server/config.ts";
import type { Db } from "../server/db/open.ts";

const FILE = join(projectRoot, "demo/seasons.db.br");

/** Written where no database is yet. Its mailboxes have no passwords: the demo's own are given to them at once. */
export function unpackSeasons(database: string): void {
  for (const more of ["", "-wal", "-shm"]) rmSync(database + more, { force: true });
  writeFileSync(database, brotliDecompressSync(readFileSync(FILE)), { mode: 0o600 });
}

/** Keeps what was recorded, without what belongs to the place where it was: secrets, sessions, and how far folders were read. */
export function packSeasons(db: Db, scratch: string): { bytes: number } {
  db.exec(`
    UPDATE mailboxes SET password_sealed = '', client_secret_sealed = '';
    DELETE FROM sessions; DELETE FROM folder_marks; DELETE FROM seen_folders; DELETE FROM notices; DELETE FROM jobs;
    DELETE FROM engine_lease; DELETE FROM clock_moves;
  `);
  rmSync(scratch, { force: true });
  db.prepare("VACUUM INTO ?").run(scratch);
  const packed = brotliCompressSync(readFileSync(scratch), {
    params: { [constants.BROTLI_PARAM_QUALITY]: 10, [constants.BROTLI_PARAM_LGWIN]: 24 },
  });
  writeFileSync(FILE, packed);
  return { bytes: packed.length };
}
