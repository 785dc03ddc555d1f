/** The database: one SQLite file in WAL mode, opened by each process for itself. */
import { mkdirSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import Database from "better-sqlite3";
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
  return db;
}

/** Brings the schema forward, each migration in its own transaction; returns the names that were applied. */
export function migrate(db: Db, folder = MIGRATIONS): string[] {
  const files = readdirSync(folder)
    .filter((name) => /^\d{4}_.*\.sql$/.test(name))
    .sort();
  const version = db.pragma("user_version", { simple: true }) as number;
  const pending = files.filter((name) => Number(name.slice(0, 4)) > version);
  for (const name of pending)
    db.transaction(() => {
      db.exec(readFileSync(join(folder, name), "utf8"));
      db.pragma(`user_version = ${Number(name.slice(0, 4))}`);
    }).immediate();
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
