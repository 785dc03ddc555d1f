/** The database's tables as rows that any program can read, and back. */
import { z } from "zod";
import type { Db } from "../db/open.ts";

/** Of this machine, of a browser, or of an index that is made anew: nobody takes them along. */
const LEFT_HERE = ["engine_lease", "sessions", "sign_in_tries", "password_links", "words_due"];

/** Tables that hold what was kept, in the order of their names; indexes of texts are made anew. */
export function tablesOf(db: Db): string[] {
  return db
    .prepare<[], { name: string }>(
      `SELECT name FROM sqlite_schema m WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND sql NOT LIKE 'CREATE VIRTUAL%'
         AND NOT EXISTS (SELECT 1 FROM sqlite_schema v WHERE v.sql LIKE 'CREATE VIRTUAL TABLE%' AND m.name LIKE v.name || '\\_%' ESCAPE '\\')
       ORDER BY name`,
    )
    .all()
    .map(({ name }) => name)
    .filter((name) => !LEFT_HERE.includes(name));
}

/** What a table is given; what it works out itself is left out. */
export const columnsOf = (db: Db, table: string): string[] =>
  (db.pragma(`table_xinfo(${table})`) as { name: string; hidden: number }[])
    .filter(({ hidden }) => hidden === 0)
    .map(({ name }) => name);

const BYTES = "$base64";
const cellSchema = z.union([z.string(), z.number(), z.null(), z.strictObject({ [BYTES]: z.string() })]);
const rowSchema = z.record(z.string(), cellSchema);

/** A row as a line of JSON. */
export const lineOf = (row: Record<string, unknown>): string =>
  JSON.stringify(row, (_, value: unknown) =>
    isBuffer(value) ? { [BYTES]: Buffer.from(value.data).toString("base64") } : value,
  );

/** A Buffer tells itself so before it is asked. */
const isBuffer = (value: unknown): value is { data: number[] } =>
  typeof value === "object" && value !== null && (value as { type?: unknown }).type === "Buffer";

/** Throws a ZodError for what is no row. */
export function rowOfLine(line: string): Record<string, string | number | null | Buffer> {
  const row = rowSchema.parse(JSON.parse(line));
  return Object.fromEntries(
    Object.entries(row).map(([name, cell]) => [
      name,
      typeof cell === "object" && cell !== null ? Buffer.from(cell[BYTES] ?? "", "base64") : cell,
    ]),
  );
}
