/** The database: one SQLite file in WAL mode, opened by each process for itself. */
import { closeSync, existsSync, mkdirSync, openSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import Database from "better-sqlite3";
import { fold } from "../../core/fold.ts";
import { isFreeMail } from "../../core/prospects/free-mail.ts";
import { projectRoot } from "../config.ts";
import { AppError, type Refused } from "../errors.ts";

export type Db = Database.Database;

declare const within: unique symbol;
/** A connection within a transaction: what must not be half done takes no other. */
export type Tx = Db & { readonly [within]: true };

/** Ends a transaction with nothing done. */
class TakenBack extends Error {
  constructor(readonly outcome: Refused) {
    super("Refused: nothing of it is done.");
  }
}

const isRefused = (result: unknown): result is Refused =>
  typeof result === "object" && result !== null && (result as Partial<Refused>).ok === false;

/**
 * Runs `work` as one: in a transaction that begins by writing, or as a part of the one that is under way. A refusal takes back
 * what was written before it.
 */
export function transact<A extends { db: Db }, T>(app: A, work: (app: A & { db: Tx }) => T): T {
  try {
    return app.db
      .transaction(() => {
        const result = work(app as A & { db: Tx });
        if (isRefused(result)) throw new TakenBack(result);
        return result;
      })
      .immediate();
  } catch (error) {
    if (error instanceof TakenBack) return error.outcome as T;
    throw error;
  }
}

const MIGRATIONS = join(projectRoot, "server/db/migrations");

/**
 * Opens the file, making it and its folder if need be. Run `migrate` once before the processes start. `isPlay`: of a
 * simulated world, which may lose its last moments when the power goes off, and need not wait for the disk.
 */
export function openDb(path: string, isPlay = false): Db {
  mkdirSync(dirname(path), { recursive: true });
  // For nobody else on this machine; SQLite gives its other files the same rights.
  if (path !== ":memory:" && !existsSync(path)) closeSync(openSync(path, "a", 0o600));
  const db = new Database(path, { timeout: 10_000 });
  db.pragma("journal_mode = WAL");
  // FULL: a claim in the ledger must survive the power going off, or an email could go out twice.
  db.pragma(`synchronous = ${isPlay ? "NORMAL" : "FULL"}`);
  db.pragma("foreign_keys = ON");
  // What is deleted is overwritten with zeros: whoever was erased is not in the file's free pages either.
  db.pragma("secure_delete = ON");
  // 32 MB: the indexes of 100,000 prospects stay in memory while a file is imported (SQLite's own is 2 MB).
  db.pragma("cache_size = -32768");
  registerFunctions(db);
  return db;
}

/** A connection that only reads, for what looks at one instant for long. Close it when it has seen it. */
export function openReader(path: string): Db {
  const db = new Database(path, { readonly: true, timeout: 10_000 });
  registerFunctions(db);
  return db;
}

function registerFunctions(db: Db): void {
  db.function("is_free_mail", { deterministic: true }, (host) => (isFreeMail(String(host ?? "")) ? 1 : 0));
  db.function("fold", { deterministic: true }, (text) => fold(String(text ?? "")));
}

/** Whether there is something in it that only its own key opens. */
export function holdsData(db: Db): boolean {
  const hasTable = db.prepare("SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'users'").get();
  return hasTable !== undefined && db.prepare("SELECT 1 FROM users LIMIT 1").get() !== undefined;
}

const migrationFiles = (folder: string) =>
  readdirSync(folder)
    .filter((name) => /^\d{4}_.*\.sql$/.test(name))
    .sort();
const numberOf = (name: string) => Number(name.slice(0, 4));

/** The newest schema that this program knows. */
export function newestSchema(folder = MIGRATIONS): number {
  return Math.max(...migrationFiles(folder).map(numberOf));
}

/**
 * Brings the schema forward, each migration in its own transaction; returns the names that were
 * applied. Foreign keys are off meanwhile, since a table that is made anew is dropped first, and are
 * checked before each commit (https://www.sqlite.org/lang_altertable.html, section 7). Throws if one is broken, and
 * `database_newer` for a schema that this program does not know.
 */
export function migrate(db: Db, folder = MIGRATIONS, upTo = Number.POSITIVE_INFINITY): string[] {
  const files = migrationFiles(folder);
  const version = db.pragma("user_version", { simple: true }) as number;
  if (version > newestSchema(folder))
    throw new AppError("database_newer", "Update the program, or restore a backup that this version made.");
  const pending = files.filter((name) => numberOf(name) > version && numberOf(name) <= upTo);
  db.pragma("foreign_keys = OFF");
  try {
    for (const name of pending)
      db.transaction(() => {
        db.exec(readFileSync(join(folder, name), "utf8"));
        const broken = db.pragma("foreign_key_check") as unknown[];
        if (broken.length > 0) throw new Error(`${name} leaves ${broken.length} rows that point nowhere.`);
        db.pragma(`user_version = ${numberOf(name)}`);
      }).immediate();
  } finally {
    db.pragma("foreign_keys = ON");
  }
  return pending;
}

/** What SQLite keeps, and what a statement is given. */
export type Value = string | number | bigint | null | Uint8Array;

type Letter<C extends string> = Lowercase<C> extends Uppercase<C> ? (C extends Digit | "_" ? C : never) : C;
type Digit = "0" | "1" | "2" | "3" | "4" | "5" | "6" | "7" | "8" | "9";
type NameAt<Text extends string, Name extends string = ""> = Text extends `${infer C}${infer Rest}`
  ? [Letter<C>] extends [never]
    ? Name
    : NameAt<Rest, `${Name}${C}`>
  : Name;
/** The names that a statement has behind an "@". */
type NamesIn<Text extends string, Names extends string = never> = Text extends `${string}@${infer After}`
  ? NamesIn<After, Names | Exclude<NameAt<After>, "">>
  : Names;
/** Whether parts of a statement are only known when it runs. */
type IsPut<Text extends string> = Record<never, never> extends Record<Text, 1> ? true : false;

/** What a statement has to be given: a value for each name, or values in their order. Put together at run time, it takes any names. */
export type Given<Text extends string> =
  IsPut<Text> extends true
    ? Readonly<Record<string, Value>> | readonly Value[]
    : [NamesIn<Text>] extends [never]
      ? readonly Value[]
      : { readonly [Name in NamesIn<Text>]: Value };

export interface Statement<Text extends string> {
  get<Row>(given: Given<Text>): Row | undefined;
  all<Row>(given: Given<Text>): Row[];
  iterate<Row>(given: Given<Text>): IterableIterator<Row>;
  run(given: Given<Text>): Database.RunResult;
}

const prepared = new WeakMap<Db, Map<string, unknown>>();

/** A prepared statement, compiled once for each connection; the compiler reads from its text what it has to be given. */
export function sql<const Text extends string>(db: Db, text: Text): Statement<Text> {
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
  return statement as Statement<Text>;
}
