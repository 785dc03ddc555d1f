import { guessContent } from "../../core/prospects/column-content.ts";
import { type ColumnUse, headerKey, matchColumns } from "../../core/prospects/columns.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { keepFile, tableOf } from "./import-file.ts";
import { settingsSchema } from "./imports.ts";

/** Rows from which a column's content is told. */
const LOOKED_AT = 200;

/** Keeps an uploaded file and matches its columns; nothing of it is a prospect yet. Returns the import's id. */
export function uploadImport(
  app: App,
  userId: number | null,
  file: { name: string; bytes: Uint8Array; listName?: string },
): Outcome<number> {
  const { db, clock } = app;
  const read = tableOf(file.bytes);
  if (!read.ok) return refused({ file: read.problem });
  const { headers, rows } = read.table;
  const uses = matchColumns(headers, rows.slice(0, LOOKED_AT), rememberedUses(app, headers), guessContent);
  const listName =
    file.listName ??
    file.name
      .replace(/\.[^.]*$/, "")
      .replace(/[-_]+/g, " ")
      .slice(0, 80);
  const settings = settingsSchema.parse({ uses, listName: listName.trim() || "Imported" });
  const id = Number(
    sql<Record<string, unknown>>(
      db,
      `INSERT INTO imports (file_name, user_id, rows, added, known, refused, at, state, settings)
       VALUES (@name, @userId, @rows, 0, 0, 0, @now, 'columns', @settings)`,
    ).run({
      name: file.name.slice(0, 200),
      userId,
      rows: rows.length,
      now: clock.now(),
      settings: JSON.stringify(settings),
    }).lastInsertRowid,
  );
  keepFile(app, id, file.bytes);
  return done(id);
}

function rememberedUses({ db }: App, headers: readonly string[]): Map<string, ColumnUse> {
  return new Map(
    sql<{ headers: string }, { header: string; use: ColumnUse }>(
      db,
      "SELECT header, use FROM column_uses WHERE header IN (SELECT value FROM json_each(@headers))",
    )
      .all({ headers: JSON.stringify(headers.map(headerKey)) })
      .map(({ header, use }) => [header, use]),
  );
}
