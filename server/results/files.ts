/** Files that went as links: how many looked at them, which pages, for how long, and who. */

import {
  byPage,
  median,
  type PageReading,
  type Reading,
  readingOf,
  type SecondsByPage,
} from "../../core/pages/reading.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { jsonOf } from "../db/json.ts";
import { sql, type Value } from "../db/open.ts";
import { keepOutcomes } from "../db/outcomes.ts";
import { secondsSchema } from "../pages/files-of-person.ts";
import { type Look, narrowed, rowsOf } from "./look.ts";

export interface FileLine {
  id: number;
  name: string;
  /** People who were given its link; of them those who looked, saved it, and came to its last page. */
  given: number;
  opened: number;
  saved: number;
  toTheEnd: number;
  pages: number;
  /** Of the reader in the middle. */
  seconds: number;
}

/** What a look narrows: files of a sequence's emails by their start, all others only where nothing is narrowed. */
function among(app: App, by: By, look: Look, zone: string): { from: string; values: Record<string, Value> } {
  const { where, values } = narrowed(app, by, look, zone);
  if (where !== "") keepOutcomes(app.db);
  const hidden = [...hiddenFrom(app, by, "sequence.see")];
  return {
    from: `file_looks l JOIN files f ON f.id = l.file_id LEFT JOIN touches t ON t.id = l.touch_id
      LEFT JOIN journeys j ON j.id = t.journey_id ${where === "" ? "" : "JOIN journey_outcomes o ON o.journey_id = t.journey_id"}
      WHERE l.given_at IS NOT NULL AND (j.id IS NULL OR j.sequence_id NOT IN (SELECT value FROM json_each(@hidden)))${where}`,
    values: { ...values, hidden: JSON.stringify(hidden) },
  };
}

/** Of every file, those that most people have first. */
export function fileLines(app: App, by: By, look: Look, zone: string): FileLine[] {
  const { from, values } = among(app, by, look, zone);
  const read = new Map<number, Reading[]>();
  // One JSON text is read several times as fast as so many rows.
  for (const [id, pages, seconds] of rowsOf<[id: number, pages: number, seconds: SecondsByPage]>(
    app.db,
    ["f.id", "l.pages", "json(l.seconds)"],
    `${from} AND l.opened_at IS NOT NULL`,
    values,
  )) {
    const reading = readingOf(pages, seconds);
    const known = read.get(id);
    if (known) known.push(reading);
    else read.set(id, [reading]);
  }
  return sql(
    app.db,
    `SELECT f.id, f.name, count(*) AS given, count(l.opened_at) AS opened, count(l.saved_at) AS saved, max(l.pages) AS pages
     FROM ${from} GROUP BY f.id ORDER BY given DESC, f.id DESC LIMIT 200`,
  )
    .all<Omit<FileLine, "toTheEnd" | "seconds">>(values)
    .map((line) => {
      const readings = read.get(line.id) ?? [];
      return {
        ...line,
        toTheEnd: readings.filter(({ isToTheEnd }) => isToTheEnd).length,
        seconds: median(readings.map(({ seconds }) => seconds)),
      };
    });
}

export interface FileReader {
  prospectId: number;
  name: string;
  company: string;
  openedAt: number | null;
  savedAt: number | null;
  reading: Reading;
}

export interface FileDetail {
  id: number;
  name: string;
  byPage: PageReading[];
  /** Who looked at it or saved it, the latest first; at most so many. */
  readers: FileReader[];
  more: number;
}

const READERS_SHOWN = 50;

/** One file, page by page and person by person; null where nobody was given it. */
export function fileDetail(
  app: App,
  by: By,
  fileId: number,
  look: Look,
  zone: string,
  most = READERS_SHOWN,
): FileDetail | null {
  const { from, values } = among(app, by, look, zone);
  const of = { ...values, fileId };
  const file = sql(app.db, `SELECT f.id, f.name FROM ${from} AND f.id = @fileId LIMIT 1`).get<{
    id: number;
    name: string;
  }>(of);
  if (!file) return null;
  const read = rowsOf<[pages: number, seconds: SecondsByPage]>(
    app.db,
    ["l.pages", "json(l.seconds)"],
    `${from} AND f.id = @fileId AND l.opened_at IS NOT NULL`,
    of,
  );
  const looked = "AND f.id = @fileId AND coalesce(l.opened_at, l.saved_at) IS NOT NULL";
  const all =
    sql(app.db, `SELECT count(*) AS count FROM ${from} ${looked}`).get<{ count: number }>(of)?.count ?? 0;
  const readers = sql(
    app.db,
    `SELECT p.id AS prospectId, coalesce(nullif(trim(p.first_name || ' ' || p.last_name), ''), p.email) AS name, p.company,
       l.opened_at AS openedAt, l.saved_at AS savedAt, l.pages, l.seconds
     FROM ${from.replace("file_looks l", "file_looks l JOIN prospects p ON p.id = l.prospect_id")} ${looked}
     ORDER BY coalesce(l.last_at, l.saved_at) DESC LIMIT @most`,
  ).all<Omit<FileReader, "reading"> & { pages: number; seconds: string }>({ ...of, most });
  const pages = read.reduce((most, [pages]) => Math.max(most, pages), 0);
  return {
    ...file,
    byPage: byPage(
      pages,
      read.map(([, seconds]) => seconds),
    ),
    readers: readers.map(({ pages, seconds, ...reader }) => ({
      ...reader,
      reading: readingOf(pages, jsonOf(secondsSchema, seconds)),
    })),
    more: Math.max(0, all - most),
  };
}
