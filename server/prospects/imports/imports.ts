/** An import as it is stored: its file's name, how it is to be read, and what came of it. */

import { z } from "zod";
import type { CleaningRule } from "../../../core/prospects/cleaning/rules.ts";
import { CLEANING_RULES } from "../../../core/prospects/cleaning/rules.ts";
import type { ColumnUse } from "../../../core/prospects/columns.ts";
import { ENCODINGS, type Encoding } from "../../../core/prospects/encodings.ts";
import type { RowProblem } from "../../../core/prospects/rows.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";

/** What happens to a field of somebody who is known. */
export const KNOWN_CHOICES = ["keep", "fill", "replace"] as const;
export type KnownChoice = (typeof KNOWN_CHOICES)[number];

export const settingsSchema = z.object({
  uses: z.array(z.string().regex(/^(skip|[a-z_]+|custom:[a-z][a-z0-9_]{0,40})$/)).default([]),
  listName: z.string().trim().min(1, "Name the list that they go into.").max(80).default("Imported"),
  known: z.record(z.string(), z.enum(KNOWN_CHOICES)).default({}),
  off: z.array(z.enum(CLEANING_RULES)).default([]),
  /** The set of letters, where the bytes do not say it; "" where they do. */
  encoding: z.union([z.literal(""), z.enum(Object.keys(ENCODINGS) as [Encoding, ...Encoding[]])]).default(""),
});
export type ImportSettings = Omit<z.infer<typeof settingsSchema>, "uses"> & { uses: ColumnUse[] };

export interface CleaningCount {
  rule: CleaningRule;
  count: number;
  examples: { line: number; before: string; after: string }[];
}

/** Rows of one kind, with the first of them. */
export interface ProblemGroup {
  problem: RowProblem;
  isLeftOut: boolean;
  count: number;
  examples: { line: number; words: string }[];
}

export interface ImportReport {
  /** How many people would be, or were, added. */
  added: number;
  known: number;
  /** Of the known, colleagues' people of whom the file says something else: they stay as they are. */
  anothers: number;
  refused: number;
  repeated: number;
  flagged: number;
  withoutAddress: number;
  cleaning: CleaningCount[];
  /** What is wrong with the file's rows, alike ones together. */
  problems: ProblemGroup[];
  /** What was found of the file as a whole. */
  notes: string[];
  /** Per field: how many known people have another value, and how many of theirs are blank. */
  knownFields: { field: string; differ: number; blank: number }[];
  merged: number;
  likely: number;
  /** After an undo: how many went, and how many stay because they have been written to. */
  removed?: number;
  stay?: number;
}

export interface Import {
  id: number;
  fileName: string;
  userId: number | null;
  rows: number;
  state: "columns" | "looking" | "ready" | "importing" | "done" | "undone" | "failed";
  listId: number | null;
  settings: ImportSettings;
  report: Partial<ImportReport>;
  stored: number;
  problem: string | null;
  at: number;
}

export function importById({ db }: App, id: number): Import | null {
  const row = sql(
    db,
    `SELECT id, file_name AS fileName, user_id AS userId, rows, state, list_id AS listId, settings, report, stored,
       problem, at FROM imports WHERE id = @id`,
  ).get<Omit<Import, "settings" | "report"> & { settings: string; report: string }>({ id });
  if (!row) return null;
  const settings = settingsSchema.parse(JSON.parse(row.settings)) as ImportSettings;
  return { ...row, settings, report: JSON.parse(row.report) };
}

export function setImport(
  { db }: App,
  id: number,
  values: {
    state: Import["state"];
    settings?: ImportSettings;
    report?: Partial<ImportReport>;
    problem?: string | null;
  },
): void {
  sql(
    db,
    `UPDATE imports SET state = @state, settings = coalesce(@settings, settings), report = coalesce(@report, report),
       problem = @problem WHERE id = @id`,
  ).run({
    id,
    state: values.state,
    settings: values.settings ? JSON.stringify(values.settings) : null,
    report: values.report ? JSON.stringify(values.report) : null,
    problem: values.problem ?? null,
  });
}

export interface ImportRow {
  line: number;
  kind: "refused" | "repeated" | "known" | "flagged";
  prospectId: number | null;
  detail: string;
}

/** Rows that a person should see, by kind and line. */
export function importRows({ db }: App, importId: number, kind: ImportRow["kind"], limit = 200): ImportRow[] {
  return sql(
    db,
    `SELECT line, kind, prospect_id AS prospectId, detail FROM import_rows
     WHERE import_id = @importId AND kind = @kind ORDER BY line LIMIT @limit`,
  ).all<ImportRow>({ importId, kind, limit });
}
