import { z } from "zod";
import { type ColumnUse, matchColumns } from "../../core/prospects/columns.ts";
import {
  type NewProspect,
  type ReadRows,
  type RefusedRow,
  readRows,
  usesProblem,
} from "../../core/prospects/rows.ts";
import { readTable } from "../../core/prospects/table.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";

export interface ImportPreview {
  headers: string[];
  uses: ColumnUse[];
  rows: string[][];
  rowCount: number;
}

const PREVIEW_ROWS = 5;

/** What a file holds and how its columns would be used; nothing is stored. */
export function previewImport(bytes: Uint8Array): Outcome<ImportPreview> {
  const read = readTable(bytes);
  if (!read.ok) return refused({ file: read.problem });
  const { headers, rows } = read.table;
  return done({
    headers,
    uses: matchColumns(headers, rows.slice(0, 50)),
    rows: rows.slice(0, PREVIEW_ROWS).map((row) => headers.map((_, column) => row[column] ?? "")),
    rowCount: rows.length,
  });
}

const form = z.object({
  listName: z.string().trim().min(1, "Name the list that they go into.").max(80),
  uses: z.array(z.string().regex(/^(skip|[a-z_]+|custom:[a-z][a-z0-9_]{0,40})$/)),
  fileName: z.string().max(200),
});

export interface ImportReport {
  listId: number;
  added: number;
  /** Rows of people who were known; they are in the list now, their fields as they were. */
  known: number;
  /** Rows with no or a broken address, with line and reason. */
  refused: RefusedRow[];
  /** Rows whose address stands further up in the file. */
  repeated: RefusedRow[];
}

/** Adds a file's prospects to a list, all or nothing. */
export function importProspects(
  app: App,
  userId: number | null,
  bytes: Uint8Array,
  input: unknown,
): Outcome<ImportReport> {
  const parsed = form.safeParse(input);
  if (!parsed.success) return refused({ listName: parsed.error.issues[0]?.message ?? "" });
  const uses = parsed.data.uses as ColumnUse[];
  const problem = usesProblem(uses);
  if (problem) return refused({ uses: problem });
  const read = readTable(bytes);
  if (!read.ok) return refused({ file: read.problem });
  if (uses.length !== read.table.headers.length)
    return refused({ file: "This is not the file that was previewed. Choose it again." });
  const rows = readRows(read.table, uses);
  if (rows.prospects.length === 0)
    return refused({
      file: `No row has a usable address. The first: line ${rows.refused[0]?.line}, ${rows.refused[0]?.reason}.`,
    });
  const { listName, fileName } = parsed.data;
  return done(store(app, userId, rows, listName, fileName, read.table.rows.length));
}

function store(
  { db, clock }: App,
  userId: number | null,
  { prospects, refused: refusedRows, repeated }: ReadRows,
  listName: string,
  fileName: string,
  rowCount: number,
): ImportReport {
  const now = clock.now();
  return db
    .transaction(() => {
      const listId = listNamed(db, listName, now);
      const importId = Number(
        sql<Record<string, unknown>>(
          db,
          `INSERT INTO imports (file_name, user_id, rows, added, known, refused, at)
           VALUES (@fileName, @userId, @rowCount, 0, 0, @refused, @now)`,
        ).run({ fileName, userId, rowCount, refused: refusedRows.length, now }).lastInsertRowid,
      );
      let added = 0;
      const companies = new Map<string, number>();
      for (const prospect of prospects)
        if (addProspect(db, prospect, { listId, importId, now, companies })) added++;
      const known = prospects.length - added;
      sql<Record<string, unknown>>(
        db,
        "UPDATE imports SET added = @added, known = @known WHERE id = @importId",
      ).run({
        added,
        known,
        importId,
      });
      return { listId, added, known, refused: refusedRows, repeated };
    })
    .immediate();
}

export function listNamed(db: Db, name: string, now: number): number {
  sql<Record<string, unknown>>(
    db,
    "INSERT INTO lists (name, created_at) VALUES (@name, @now) ON CONFLICT (name) DO NOTHING",
  ).run({ name, now });
  return sql<{ name: string }, { id: number }>(db, "SELECT id FROM lists WHERE name = @name").get({ name })
    ?.id as number;
}

/** True if the prospect was not known. */
function addProspect(
  db: Db,
  prospect: NewProspect,
  {
    listId,
    importId,
    now,
    companies,
  }: { listId: number; importId: number; now: number; companies: Map<string, number> },
): boolean {
  const { company, companyDomain, custom, line: _, ...fields } = prospect;
  let companyId = companies.get(companyDomain);
  if (companyId === undefined) {
    companyId = companyWith(db, companyDomain, company);
    companies.set(companyDomain, companyId);
  }
  const inserted = sql<Record<string, unknown>>(
    db,
    `INSERT INTO prospects (email, first_name, last_name, company_id, title, city, country, time_zone,
       custom, import_id, created_at)
     VALUES (@email, @firstName, @lastName, @companyId, @title, @city, @country, @timeZone,
       @custom, @importId, @now)
     ON CONFLICT (email) DO NOTHING`,
  ).run({ ...fields, companyId, custom: JSON.stringify(custom), importId, now });
  const isNew = inserted.changes === 1;
  const prospectId = isNew
    ? Number(inserted.lastInsertRowid)
    : (sql<{ email: string }, { id: number }>(db, "SELECT id FROM prospects WHERE email = @email").get({
        email: prospect.email,
      })?.id as number);
  sql<Record<string, unknown>>(
    db,
    "INSERT INTO list_prospects (list_id, prospect_id) VALUES (@listId, @prospectId) ON CONFLICT DO NOTHING",
  ).run({ listId, prospectId });
  return isNew;
}

function companyWith(db: Db, domain: string, name: string): number {
  sql<Record<string, unknown>>(
    db,
    "INSERT INTO companies (name, domain) VALUES (@name, @domain) ON CONFLICT (domain) DO NOTHING",
  ).run({ name: name || domain, domain });
  return sql<{ domain: string }, { id: number }>(db, "SELECT id FROM companies WHERE domain = @domain").get({
    domain,
  })?.id as number;
}
