import { plainFileName } from "../../../core/plain-line.ts";
import { guessContent } from "../../../core/prospects/column-content.ts";
import { type ColumnUse, headerKey, matchColumns } from "../../../core/prospects/columns.ts";
import { isEncoding } from "../../../core/prospects/encodings.ts";
import { MOST_BYTES } from "../../../core/prospects/table.ts";
import { mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { done, type Outcome, refused } from "../../errors.ts";
import { dropOldFiles, headOf, headOfFile, keepFile, keepReceived, keptHead } from "./import-file.ts";
import { importById, setImport, settingsSchema } from "./imports.ts";

/** Rows from which a column's content is told. */
const LOOKED_AT = 200;

export const TOO_LARGE = "The file is larger than 50 MB. Split it and import the parts one by one.";

/** A file in memory, or one that was received onto the disk (receive-upload.ts). */
type Uploaded = { name: string; listName?: string } & ({ bytes: Uint8Array } | { path: string });

/** Keeps an uploaded file and matches its columns; nothing of it is a prospect yet. Returns the import's id. */
export function uploadImport(app: App, userId: number | null, file: Uploaded): Outcome<number> {
  const { db, clock } = app;
  if ("bytes" in file && file.bytes.length > MOST_BYTES) return refused({ file: TOO_LARGE });
  const { head, rows: rowCount } = "bytes" in file ? headOf(file.bytes) : headOfFile(file.path);
  if (!head.ok) return refused({ file: head.problem });
  const { headers, rows } = head.table;
  const uses = matchColumns(headers, rows.slice(0, LOOKED_AT), rememberedUses(app, headers), guessContent);
  const name = plainFileName(file.name, 200);
  const listName =
    file.listName ??
    name
      .replace(/\.[^.]*$/, "")
      .replace(/[-_]+/g, " ")
      .slice(0, 80);
  const { encoding, isGuess } = head.table.letters;
  const settings = settingsSchema.parse({
    uses,
    listName: listName.trim() || "Imported",
    encoding: isGuess ? encoding : "",
  });
  const id = Number(
    sql(
      db,
      `INSERT INTO imports (file_name, user_id, rows, added, known, refused, at, state, settings)
       VALUES (@name, @userId, @rows, 0, 0, 0, @now, 'columns', @settings)`,
    ).run({
      name,
      userId,
      rows: rowCount,
      now: clock.now(),
      settings: JSON.stringify(settings),
    }).lastInsertRowid,
  );
  dropOldFiles(app);
  if ("bytes" in file) keepFile(app, id, file.bytes);
  else keepReceived(app, id, file.path);
  return done(id);
}

/** Reads the file in other letters, as somebody chose who saw them; its columns are told anew. */
export function chooseEncoding(
  app: App,
  userId: number | null,
  importId: number,
  chosen: unknown,
): Outcome<null> {
  const no = mayNot(app, userId, "import.change", importId);
  if (no) return no;
  const found = importById(app, importId);
  if (typeof chosen !== "string" || !isEncoding(chosen))
    return refused({ form: "Choose one of the letters." });
  if (!found || !["columns", "ready", "failed"].includes(found.state))
    return refused({ form: "This file has been imported already, or is no longer here. Choose it again." });
  const head = keptHead(app, importId, chosen);
  if (!head?.ok) return refused({ form: head?.problem ?? "The file is no longer here. Upload it again." });
  const { headers, rows } = head.table;
  const uses = matchColumns(headers, rows.slice(0, LOOKED_AT), rememberedUses(app, headers), guessContent);
  setImport(app, importId, { state: "columns", settings: { ...found.settings, uses, encoding: chosen } });
  return done(null);
}

function rememberedUses({ db }: App, headers: readonly string[]): Map<string, ColumnUse> {
  return new Map(
    sql(db, "SELECT header, use FROM column_uses WHERE header IN (SELECT value FROM json_each(@headers))")
      .all<{ header: string; use: ColumnUse }>({ headers: JSON.stringify(headers.map(headerKey)) })
      .map(({ header, use }) => [header, use]),
  );
}
