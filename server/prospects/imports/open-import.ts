/** An import as its page shows it. */
import type { Encoding } from "../../../core/prospects/encodings.ts";
import type { Table } from "../../../core/prospects/table.ts";
import { type By, hiddenFrom } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { type JobState, jobAbout } from "../../jobs/job-state.ts";
import { keptHead } from "./import-file.ts";
import { type Import, type ImportRow, importById, importRows } from "./imports.ts";
import { hasLeftOut } from "./left-out.ts";
import { undoImportPreview } from "./undo-import.ts";

const PREVIEW_ROWS = 5;

export interface OpenImport extends Import {
  listName: string | null;
  headers: string[];
  preview: string[][];
  /** How the file's letters are read, with some of them, where its bytes do not say it for certain. */
  letters: { encoding: Encoding; sample: string } | null;
  job: JobState | null;
  /** Whether the rows that are left out can be had as a file. */
  hasLeftOut: boolean;
  knownRows: ImportRow[];
  /** What taking it back would do, once it is done. */
  undo: { goes: number; stays: number } | null;
  /** Whether one that was taken back can be brought again. */
  canComeAgain: boolean;
}

export function openImport(app: App, by: By, id: number): OpenImport | null {
  const found = importById(app, id);
  if (!found) return null;
  const isOpen = found.state === "columns" || found.state === "ready" || found.state === "failed";
  const read = isOpen ? keptHead(app, id) : null;
  const table = read?.ok ? read.table : null;
  return {
    ...found,
    listName:
      sql(
        app.db,
        "SELECT name FROM lists WHERE id = @id AND id NOT IN (SELECT value FROM json_each(@hidden))",
      ).get<{ name: string }>({
        id: found.listId ?? 0,
        hidden: JSON.stringify([...hiddenFrom(app, by, "list.see")]),
      })?.name ?? null,
    headers: table?.headers ?? [],
    preview: (table?.rows ?? [])
      .slice(0, PREVIEW_ROWS)
      .map((row) => (table?.headers ?? []).map((_, column) => row[column] ?? "")),
    letters:
      table && isDoubtful(found, table)
        ? { encoding: table.letters.encoding, sample: sampleOf(table) }
        : null,
    job: jobAbout(
      app,
      found.state === "importing" || found.state === "done" ? "import" : "look_through",
      "importId",
      id,
    ),
    hasLeftOut: hasLeftOut(app, id),
    knownRows: importRows(app, id, "known", 50),
    undo: found.state === "done" ? undoImportPreview(app, id) : null,
    canComeAgain: found.state === "undone" && keptHead(app, id) !== null,
  };
}

const isDoubtful = ({ settings }: Import, { letters }: Table) =>
  letters.isGuess || settings.encoding !== "" || !letters.encoding.startsWith("utf-");

const SAMPLE_CELLS = 8;
/** Cells with other letters than English: by them one sees whether they were read rightly. */
const sampleOf = ({ headers, rows }: Table): string =>
  [...new Set([headers, ...rows.slice(0, 2_000)].flat().filter((cell) => /[\u0080-\u{10ffff}]/u.test(cell)))]
    .slice(0, SAMPLE_CELLS)
    .map((cell) => cell.slice(0, 40))
    .join("  ·  ");

export interface ImportSummary {
  id: number;
  fileName: string;
  state: Import["state"];
  added: number;
  at: number;
}

export function latestImports({ db }: App): ImportSummary[] {
  return sql(
    db,
    "SELECT id, file_name AS fileName, state, added, at FROM imports ORDER BY id DESC LIMIT 6",
  ).all<ImportSummary>([]);
}
