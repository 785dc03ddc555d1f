/** The database: one SQLite file in WAL mode, opened by each process for itself. */
import { mkdirSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import Database from "better-sqlite3";
import { fold } from "../../core/fold.ts";
import { projectRoot } from "../config.ts";

export type Db = Database.Database;

const MIGRATIONS = join(projectRoot, "server/db/migrations");

/** Opens the file, making it and its folder if need be. Run `migrate` once before the processes start. */
export function openDb(path: string): Db {
  mkdirSync(dirname(path), { recursive: true });
  const db = new Database(path, { timeout: 10_000 });
  db.pragma("journal_mode = WAL");
  // FULL: a claim in the ledger must survive the power going off, or an email could go out twice.
  db.pragma("synchronous = FULL");
  db.pragma("foreign_keys = ON");
  // 32 MB: the indexes of 100,000 prospects stay in memory while a file is imported (SQLite's own is 2 MB).
  db.pragma("cache_size = -32768");
  db.function("fold", { deterministic: true }, (text) => fold(String(text ?? "")));
  return db;
}

/**
 * Brings the schema forward, each migration in its own transaction; returns the names that were
 * applied. Foreign keys are off meanwhile, since a table that is made anew is dropped first, and are
 * checked before each commit (https://www.sqlite.org/lang_altertable.html, section 7). Throws if one is broken.
 */
export function migrate(db: Db, folder = MIGRATIONS, upTo = Number.POSITIVE_INFINITY): string[] {
  const files = readdirSync(folder)
    .filter((name) => /^\d{4}_.*\.sql$/.test(name))
    .sort();
  const version = db.pragma("user_version", { simple: true }) as number;
  const number = (name: string) => Number(name.slice(0, 4));
  const pending = files.filter((name) => number(name) > version && number(name) <= upTo);
  db.pragma("foreign_keys = OFF");
  try {
    for (const name of pending)
      db.transaction(() => {
        db.exec(readFileSync(join(folder, name), "utf8"));
        const broken = db.pragma("foreign_key_check") as unknown[];
        if (broken.length > 0) throw new Error(`${name} leaves ${broken.length} rows that point nowhere.`);
        db.pragma(`user_version = ${number(name)}`);
      }).immediate();
  } finally {
    db.pragma("foreign_keys = ON");
  }
  return pending;
}

type Statement = Database.Statement<unknown[], unknown>;
const prepared = new WeakMap<Db, Map<string, Statement>>();

/** A prepared statement, compiled once for each connection. */
export function sql<Parameters, Row = unknown>(db: Db, text: string) {
  let statements = prepared.get(db);
  if (!statements) {
    statements = new Map();
    prepared.set(db, statements);
  }
  let statement = statements.get(text);
  if (!statement) {
    statement = db.prepare(text);
    statements.set(text, statement);
  }
  return statement as unknown as Database.Statement<[Parameters], Row>;
}
