/** Makes an empty installation into the one that an archive was made of: the same rows, numbers, key and links. */
import {
  closeSync,
  createReadStream,
  existsSync,
  mkdirSync,
  openSync,
  rmSync,
  writeFileSync,
  writeSync,
} from "node:fs";
import { dirname, join } from "node:path";
import { StringDecoder } from "node:string_decoder";
import { Unzip, UnzipInflate } from "fflate";
import { ZodError } from "zod";
import { type Config, mediaOf } from "../config.ts";
import { type Db, holdsData, migrate, newestSchema, openDb } from "../db/open.ts";
import { AppError } from "../errors.ts";
import { keyFileOf } from "../secrets.ts";
import { type Manifest, manifestSchema } from "./manifest.ts";
import { columnsOf, rowOfLine, tablesOf } from "./tables.ts";

const refuse = (words: string) => new AppError("restore_refused", words);

/** Longer is no row: the largest hold a file of some megabytes. */
const LONGEST_LINE = 64 * 1024 * 1024;
const LARGEST_MANIFEST = 1024 * 1024;

/** Throws `restore_refused`, having changed nothing. Returns how many rows were read. */
export async function readArchive(config: Pick<Config, "database" | "key">, file: string): Promise<number> {
  if (!existsSync(file)) throw refuse(`There is no file ${file}.`);
  if (existsSync(config.database)) {
    const known = openDb(config.database);
    const isUsed = holdsData(known);
    known.close();
    if (isUsed)
      throw refuse(
        `${config.database} holds an installation already. An archive is read into an empty one only.`,
      );
  }
  const manifest = await manifestOf(file);
  if (manifest.schema > newestSchema())
    throw refuse("A newer version of Saudade made it. Update the program first.");
  if (config.key !== undefined && config.key.toLowerCase() !== manifest.key.toLowerCase())
    throw refuse(
      "It was made with another key than SAUDADE_KEY. Set SAUDADE_KEY to that one, or take it away: the archive brings its own.",
    );
  mkdirSync(dirname(config.database), { recursive: true });
  for (const each of ["", "-wal", "-shm"]) rmSync(`${config.database}${each}`, { force: true });
  const db = openDb(config.database);
  let rows = 0;
  try {
    migrate(db, undefined, manifest.schema);
    rows = await load(db, file, manifest, mediaOf(config.database));
    migrate(db);
    db.close();
  } catch (error) {
    db.close();
    for (const each of ["", "-wal", "-shm"]) rmSync(`${config.database}${each}`, { force: true });
    throw error instanceof AppError ? error : refuse(`It is not whole: ${wordsOf(error)}`);
  }
  if (config.key === undefined) writeFileSync(keyFileOf(config.database), manifest.key, { mode: 0o600 });
  return rows;
}

const wordsOf = (error: unknown): string =>
  error instanceof ZodError
    ? "a row is not as agreed."
    : ((error as Error).message ?? String(error)).slice(0, 200);

async function manifestOf(file: string): Promise<Manifest> {
  let text = "";
  await walk(file, (name) =>
    name !== "manifest.json"
      ? null
      : asText((piece) => {
          text += piece;
          if (text.length > LARGEST_MANIFEST) throw refuse("Its manifest is too large to be one.");
        }),
  ).catch((error: unknown) => {
    throw error instanceof AppError ? error : refuse("It is no archive of Saudade's.");
  });
  try {
    return manifestSchema.parse(JSON.parse(text));
  } catch {
    throw refuse("It is no archive of Saudade's: its manifest.json is missing, or not as agreed.");
  }
}

/** All of it in one transaction, with what follows from a row left alone: it was followed where the archive was made. */
async function load(db: Db, file: string, manifest: Manifest, media: string): Promise<number> {
  const known = new Set(tablesOf(db));
  const triggers = db
    .prepare<[], { name: string; sql: string }>("SELECT name, sql FROM sqlite_schema WHERE type = 'trigger'")
    .all();
  const counts = new Map<string, number>();
  db.pragma("foreign_keys = OFF");
  db.exec("BEGIN IMMEDIATE");
  for (const { name } of triggers) db.exec(`DROP TRIGGER "${name}"`);
  // What the migrations put there stands in the archive as it was by then.
  for (const table of known) db.exec(`DELETE FROM ${table}`);
  await walk(file, (name) => {
    const film = /^films\/([\w-]{8,64}\.film)$/.exec(name)?.[1];
    if (film !== undefined) return intoFolder(media, film);
    const table = /^tables\/([a-z_]+)\.jsonl$/.exec(name)?.[1];
    if (table === undefined || !known.has(table)) return null;
    const columns = columnsOf(db, table);
    const insert = db.prepare(
      `INSERT INTO ${table} (${columns.map((each) => `"${each}"`).join()}) VALUES (${columns.map((each) => `@${each}`).join()})`,
    );
    let rest = "";
    return asText((piece, isLast) => {
      const lines = (rest + piece).split("\n");
      rest = isLast ? "" : (lines.pop() ?? "");
      if (rest.length > LONGEST_LINE) throw refuse(`A row of ${table} is too long to be one.`);
      for (const line of lines) {
        if (line === "") continue;
        const row = rowOfLine(line);
        insert.run(Object.fromEntries(columns.map((each) => [each, row[each] ?? null])));
        counts.set(table, (counts.get(table) ?? 0) + 1);
      }
    });
  });
  for (const [table, wanted] of Object.entries(manifest.tables))
    if (known.has(table) && (counts.get(table) ?? 0) !== wanted)
      throw refuse(`It is not whole: of ${table} it holds ${counts.get(table) ?? 0} of ${wanted} rows.`);
  for (const [name, seq] of Object.entries(manifest.numbers))
    db.prepare("UPDATE sqlite_sequence SET seq = max(seq, ?) WHERE name = ?").run(seq, name);
  indexLetters(db);
  for (const { sql } of triggers) db.exec(sql);
  const broken = db.pragma("foreign_key_check") as unknown[];
  if (broken.length > 0) throw refuse(`${broken.length} of its rows point nowhere.`);
  db.exec("COMMIT");
  db.pragma("foreign_keys = ON");
  return [...counts.values()].reduce((sum, count) => sum + count, 0);
}

/** The index of letters is made anew: of replies here, of emails by the worker (server/db/words.ts). */
function indexLetters(db: Db): void {
  db.exec(`
    INSERT INTO message_words (rowid, subject, body, who) SELECT 2 * id, subject, text, from_name || ' ' || from_address FROM replies;
    INSERT INTO message_pieces (rowid, body) SELECT 2 * id, subject || ' ' || text FROM replies WHERE subject || text GLOB '*[฀-๿぀-ヿ㐀-鿿가-힣]*';
    INSERT OR IGNORE INTO words_due SELECT id FROM touches WHERE state = 'sent'`);
}

type Taker = (piece: Buffer, isLast: boolean) => void;

/** A taker of text, whose pieces may end within a letter. */
function asText(take: (piece: string, isLast: boolean) => void): Taker {
  const decoder = new StringDecoder("utf8");
  return (piece, isLast) => take(decoder.write(piece), isLast);
}

/** Writes a film into its folder, a piece at a time. */
function intoFolder(folder: string, name: string): Taker {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const film = openSync(join(folder, name), "w", 0o600);
  return (piece, isLast) => {
    writeSync(film, piece);
    if (isLast) closeSync(film);
  };
}

/** Goes through an archive from its beginning; `take` says for each file who takes its bytes, and null for nobody. */
function walk(file: string, take: (name: string) => Taker | null): Promise<void> {
  return new Promise((resolve, reject) => {
    const source = createReadStream(file, { highWaterMark: 1024 * 1024 });
    const fail = (error: unknown) => {
      source.destroy();
      reject(error);
    };
    const unzip = new Unzip((entry) => {
      const taker = take(entry.name);
      if (!taker) return;
      entry.ondata = (error, piece, isLast) => {
        if (error) throw error;
        taker(Buffer.from(piece), isLast);
      };
      entry.start();
    });
    unzip.register(UnzipInflate);
    source.on("data", (piece) => {
      try {
        unzip.push(piece as Buffer);
      } catch (error) {
        fail(error);
      }
    });
    source.on("end", () => {
      try {
        unzip.push(new Uint8Array(0), true);
        resolve();
      } catch (error) {
        fail(error);
      }
    });
    source.on("error", fail);
  });
}
