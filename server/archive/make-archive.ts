/**
 * Everything in one archive (ZIP): what people read in open formats, and every table as JSON Lines, from which an empty
 * installation becomes this one again (read-archive.ts). Made as a job, at one instant of the database, row by row.
 */

import { once } from "node:events";
import {
  createReadStream,
  createWriteStream,
  existsSync,
  mkdirSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
} from "node:fs";
import { dirname, join } from "node:path";
import { Zip, ZipDeflate } from "fflate";
import ical, { ICalCalendarMethod } from "ical-generator";
import { plainFileName } from "../../core/plain-line.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { askJob, latestJob } from "../db/jobs.ts";
import { newestSchema, openReader, sql } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import type { JobState } from "../jobs/job-state.ts";
import type { Report } from "../jobs/report.ts";
import { mediaPath } from "../mail/media.ts";
import { addMeeting, meetingByToken } from "../meetings/calendar-file.ts";
import { exportCsv } from "../prospects/people/export-prospects.ts";
import { prospectsQuery } from "../prospects/people/list-prospects.ts";
import { listProspectResources } from "../resources/prospect.ts";
import { overviewTable } from "../results/as-table.ts";
import { exportSequence } from "../sequences/keep-sequences.ts";
import { visibleSequences } from "../sequences/visible-sequences.ts";
import { countLetters, mboxOf } from "./letters.ts";
import { ARCHIVE_FORMAT, type Manifest } from "./manifest.ts";
import { columnsOf, lineOf, tablesOf } from "./tables.ts";

/** Rows between two looks at whether it is still wanted. */
const AT_ONCE = 500;
/** Text that is handed to the compression at once. */
const PIECE = 256 * 1024;
const PEOPLE_AT_ONCE = 500;

export const archiveFolder = ({ config }: Pick<App, "config">): string =>
  join(dirname(config.database), "archives");
const NAME = "everything.zip";

/** The last one that was made whole; null without any. */
export function madeArchive(
  app: Pick<App, "config">,
): { path: string; bytes: number; madeAt: number } | null {
  const path = join(archiveFolder(app), NAME);
  if (!existsSync(path)) return null;
  const { size, mtimeMs } = statSync(path);
  return { path, bytes: size, madeAt: mtimeMs };
}

export const archiveJob = ({ db }: App): JobState | null => latestJob(db, "archive");

/** Asks for a new one; the one before is there until it is whole. */
export function askArchive(app: App, by: number): Outcome<number> {
  const no = mayNot(app, by, "archive.make");
  if (no) return no;
  const running = archiveJob(app);
  if (running?.state === "waiting" || running?.state === "working")
    return refused({ form: "One is being made. Wait until it is there." });
  return done(askJob(app.db, { kind: "archive", input: {}, userId: by, now: app.clock.now() }));
}

export async function makeArchive(app: App, report: Report): Promise<void> {
  const folder = archiveFolder(app);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  // What an earlier one left half done.
  for (const name of readdirSync(folder)) if (name.endsWith(".partial")) rmSync(join(folder, name));
  const partial = join(folder, `${NAME}.partial`);
  // A connection of its own, which sees one instant while others write.
  const reader = openReader(app.config.database);
  reader.exec("BEGIN");
  const own = { ...app, db: reader };
  // Results bring their summaries up to date, which only the other connection can.
  const results = await overviewTable(app, null, {}, "UTC");
  const file = createWriteStream(partial, { mode: 0o600 });
  try {
    const isWanted = await writeAll(own, file, results, report);
    file.end();
    await once(file, "close");
    if (isWanted) renameSync(partial, join(folder, NAME));
    else rmSync(partial, { force: true });
  } catch (error) {
    file.destroy();
    rmSync(partial, { force: true });
    throw error;
  } finally {
    reader.close();
  }
}

/** False if it was ended on the way. */
async function writeAll(
  app: App,
  file: NodeJS.WritableStream,
  results: string,
  report: Report,
): Promise<boolean> {
  const { db } = app;
  const archive = new Archive(file);
  const tables = tablesOf(db);
  const counts = Object.fromEntries(
    tables.map((table) => [
      table,
      (db.prepare(`SELECT count(*) AS n FROM ${table}`).get() as { n: number }).n,
    ]),
  );
  const total = Object.values(counts).reduce((sum, n) => sum + n, 0) + countLetters(db);
  let written = 0;
  const goesOn = async (rows: number) => {
    written += rows;
    return !(await report(Math.min(written, total), total));
  };
  await archive.add("manifest.json", [JSON.stringify(manifestOf(app, counts), null, 2)]);
  await archive.add("README.txt", [README]);
  for (const table of tables) {
    const select = db.prepare(
      `SELECT ${columnsOf(db, table)
        .map((each) => `"${each}"`)
        .join()} FROM ${table}`,
    );
    if (
      !(await archive.addRows(
        `tables/${table}.jsonl`,
        select.iterate() as Iterable<Record<string, unknown>>,
        lineOf,
        goesOn,
      ))
    )
      return false;
  }
  await archive.add("people.csv", [exportCsv(app, null, {})]);
  await archive.add("people.jsonl", peopleLines(app));
  const companies = db.prepare(
    "SELECT id, name, domain, industry, employees, region, about FROM companies WHERE merged_into IS NULL ORDER BY id",
  );
  await archive.addRows(
    "companies.jsonl",
    companies.iterate() as Iterable<Record<string, unknown>>,
    lineOf,
    () => Promise.resolve(true),
  );
  await archive.add("conversations.mbox", mboxOf(db));
  await archive.add("meetings.ics", [meetingsOf(app)]);
  for (const { id, name } of visibleSequences(app, null)) {
    const exported = exportSequence(app, null, id);
    if (exported.ok)
      await archive.add(`sequences/${id} ${plainFileName(name, 60)}.json`, [exported.value.text]);
  }
  await archive.add("results.csv", [results]);
  const events = db.prepare(
    "SELECT id, at, kind, prospect_id, journey_id, touch_id, detail FROM events ORDER BY id",
  );
  const asTold = (row: Record<string, unknown>) =>
    JSON.stringify({ ...row, at: new Date(Number(row.at)).toISOString() });
  if (
    !(await archive.addRows("log.jsonl", events.iterate() as Iterable<Record<string, unknown>>, asTold, () =>
      goesOn(0),
    ))
  )
    return false;
  for (const { id, name, bytes } of db
    .prepare("SELECT id, name, bytes FROM files ORDER BY id")
    .iterate() as Iterable<{
    id: number;
    name: string;
    bytes: Buffer;
  }>)
    await archive.addBytes(`files/${id} ${plainFileName(name, 120)}`, bytes);
  for (const { file } of db.prepare("SELECT file FROM films WHERE type != '' ORDER BY id").all() as {
    file: string;
  }[]) {
    const path = mediaPath(app, file);
    if (existsSync(path)) await archive.addFile(`films/${file}`, path);
    if (!(await goesOn(0))) return false;
  }
  await archive.end();
  return true;
}

const manifestOf = ({ db, key, config }: App, tables: Record<string, number>): Manifest => ({
  ...{ format: ARCHIVE_FORMAT, version: 1, schema: newestSchema() },
  ...{ madeAt: new Date().toISOString(), url: config.url, key: key.toString("hex"), tables },
  numbers: Object.fromEntries(
    sql(db, "SELECT name, seq FROM sqlite_sequence")
      .all<{ name: string; seq: number }>([])
      .map(({ name, seq }) => [name, seq]),
  ),
});

function* peopleLines(app: App): Generator<string> {
  for (let cursor: string | undefined; ; ) {
    const { data, next } = listProspectResources(app, null, prospectsQuery.parse({}), {
      ...{ limit: PEOPLE_AT_ONCE, cursor, order: "asc" },
    });
    yield data.map((person) => `${JSON.stringify(person)}\n`).join("");
    if (next === null) return;
    cursor = next;
  }
}

function meetingsOf(app: App): string {
  const calendar = ical({ name: "Calls", method: ICalCalendarMethod.PUBLISH });
  const tokens = sql(app.db, "SELECT token FROM meetings ORDER BY starts_at").all<{ token: string }>([]);
  for (const { token } of tokens) {
    const meeting = meetingByToken(app, token);
    addMeeting(calendar, meeting, { now: app.clock.now(), organizer: meeting.repEmail, asks: false });
  }
  return calendar.toString();
}

/** A ZIP that is written while it is made: no more of it is in memory than a piece. */
class Archive {
  private readonly zip: Zip;
  private failure: Error | null = null;
  private drains = Promise.resolve();

  constructor(file: NodeJS.WritableStream) {
    this.zip = new Zip((error, piece) => {
      if (error) this.failure = error;
      else if (!file.write(piece)) this.drains = once(file, "drain").then(() => {});
    });
  }

  async add(name: string, pieces: Iterable<string> | AsyncIterable<string>): Promise<void> {
    const entry = this.begin(name);
    for await (const piece of pieces) await this.push(entry, Buffer.from(piece));
    entry.push(new Uint8Array(0), true);
  }

  async addBytes(name: string, bytes: Buffer): Promise<void> {
    const entry = this.begin(name);
    await this.push(entry, bytes);
    entry.push(new Uint8Array(0), true);
  }

  /** A film, a piece at a time. */
  async addFile(name: string, path: string): Promise<void> {
    const entry = this.begin(name);
    for await (const piece of createReadStream(path, { highWaterMark: PIECE }))
      await this.push(entry, piece as Buffer);
    entry.push(new Uint8Array(0), true);
  }

  /** False if it is no longer wanted. */
  async addRows(
    name: string,
    rows: Iterable<Record<string, unknown>>,
    lineOf: (row: Record<string, unknown>) => string,
    goesOn: (rows: number) => Promise<boolean>,
  ): Promise<boolean> {
    const entry = this.begin(name);
    let [text, count] = ["", 0];
    for (const row of rows) {
      text += `${lineOf(row)}\n`;
      count++;
      if (text.length < PIECE && count % AT_ONCE !== 0) continue;
      await this.push(entry, Buffer.from(text));
      text = "";
      if (!(await goesOn(count))) return false;
      count = 0;
    }
    await this.push(entry, Buffer.from(text));
    entry.push(new Uint8Array(0), true);
    return goesOn(count);
  }

  async end(): Promise<void> {
    this.zip.end();
    await this.drains;
    if (this.failure) throw this.failure;
  }

  private begin(name: string): ZipDeflate {
    const entry = new ZipDeflate(name, { level: 6 });
    this.zip.add(entry);
    return entry;
  }

  private async push(entry: ZipDeflate, bytes: Uint8Array): Promise<void> {
    entry.push(bytes);
    await this.drains;
    if (this.failure) throw this.failure;
  }
}

const README = `Everything that Saudade held, at one instant.

people.csv, people.jsonl, companies.jsonl   whom you know
conversations.mbox                          every letter that went and came (RFC 4155, mboxrd)
meetings.ics                                calls (RFC 5545)
sequences/                                  each sequence by its own file format
results.csv                                 what came of them
log.jsonl                                   everything that happened, in order
files/, films/                              pictures and attachments, films
tables/, manifest.json                      the same whole, from which an empty installation becomes this one:
                                            npm run read-archive -- everything.zip

manifest.json holds the installation's key. Keep this archive as safe as the database.
`;
