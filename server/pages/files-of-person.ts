/** What somebody did with the files whose links they have. */
import { z } from "zod";
import { type Reading, readingOf } from "../../core/pages/reading.ts";
import type { App } from "../app.ts";
import { jsonOf } from "../db/json.ts";
import { sql } from "../db/open.ts";
import { fileLink } from "../mail/file-links.ts";

export const secondsSchema = z.record(z.string(), z.number());

export interface FileOfPerson {
  id: number;
  name: string;
  /** Where whoever is signed in looks at it: nothing is noted. */
  look: string;
  givenAt: number | null;
  openedAt: number | null;
  lastAt: number | null;
  savedAt: number | null;
  reading: Reading;
}

/** The latest first. */
export function filesOfPerson(app: App, prospectId: number): FileOfPerson[] {
  return sql(
    app.db,
    `SELECT f.id, f.name, l.given_at AS givenAt, l.opened_at AS openedAt, l.last_at AS lastAt, l.saved_at AS savedAt, l.pages, l.seconds
     FROM file_looks l JOIN files f ON f.id = l.file_id
     WHERE l.prospect_id = @prospectId AND coalesce(l.given_at, l.opened_at, l.saved_at) IS NOT NULL
     ORDER BY coalesce(l.last_at, l.given_at) DESC, f.id LIMIT 20`,
  )
    .all<
      Pick<FileOfPerson, "id" | "name" | "givenAt" | "openedAt" | "lastAt" | "savedAt"> & {
        pages: number;
        seconds: string;
      }
    >({ prospectId })
    .map(({ pages, seconds, ...file }) => ({
      ...file,
      look: fileLink(app, file.id, prospectId, "look"),
      reading: readingOf(pages, jsonOf(secondsSchema, seconds)),
    }));
}
