import type { ColumnUse } from "../../../core/prospects/columns.ts";
import { rowReader, usesProblem } from "../../../core/prospects/rows.ts";
import type { App } from "../../app.ts";
import { erasedCheck } from "../../db/erased.ts";
import { askJob } from "../../db/jobs.ts";
import { sql } from "../../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import type { Report } from "../../jobs/report.ts";
import { keptTable } from "./import-file.ts";
import { type CleaningCount, type ImportReport, importById, setImport, settingsSchema } from "./imports.ts";
import { differences, knownPeople } from "./known-person.ts";

/** Asks for a look through the whole file with these settings; the job's id. */
export function askLookThrough(
  app: App,
  userId: number | null,
  importId: number,
  input: unknown,
): Outcome<number> {
  const read = settingsSchema.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const settings = { ...read.data, uses: read.data.uses as ColumnUse[] };
  const found = importById(app, importId);
  if (!found || !["columns", "ready", "failed"].includes(found.state))
    return refused({ form: "This file has been imported already, or is no longer here. Choose it again." });
  if (settings.uses.length !== found.settings.uses.length)
    return refused({ uses: "Say of each column what it is." });
  const problem = usesProblem(settings.uses);
  if (problem) return refused({ uses: problem });
  setImport(app, importId, { state: "looking", settings });
  return done(askJob(app.db, { kind: "look_through", input: { importId }, userId, now: app.clock.now() }));
}

/** Examples of each rule that the page shows, and rows of each kind that it lists. */
const EXAMPLES = 6;
/** Rows between two reports. */
const REPORT_ROWS = 500;
const LISTED = 500;

/** Reads the whole file as it would be imported, and stores what a person should see of it. Nothing becomes a prospect. */
export async function lookThrough(app: App, importId: number, report: Report): Promise<void> {
  const { db } = app;
  const found = importById(app, importId);
  if (!found) return;
  const read = keptTable(app, importId);
  if (!read.ok) return setImport(app, importId, { state: "failed", problem: read.problem });
  const { table } = read;
  sql<Record<string, unknown>>(db, "UPDATE imports SET rows = @rows WHERE id = @importId").run({
    importId,
    rows: table.rows.length,
  });
  const readRow = rowReader(table, found.settings.uses, new Set(found.settings.off));
  const known = knownPeople(db);
  const isErased = erasedCheck(app);
  const result: ImportReport = {
    added: 0,
    known: 0,
    refused: 0,
    repeated: 0,
    flagged: 0,
    withoutAddress: 0,
    cleaning: [],
    knownFields: [],
    merged: 0,
    likely: 0,
  };
  const rules = new Map<string, CleaningCount>();
  const fields = new Map<string, { differ: number; blank: number }>();
  const listed: { kind: string; line: number; prospectId: number | null; detail: string }[] = [];
  const list = (
    kind: "refused" | "repeated" | "known" | "flagged",
    line: number,
    detail: string,
    prospectId: number | null = null,
  ) => {
    if (++result[kind] <= LISTED) listed.push({ kind, line, detail, prospectId });
  };

  for (let index = 0; index < table.rows.length; index++) {
    if (index % REPORT_ROWS === 0 && (await report(index, table.rows.length)))
      return setImport(app, importId, { state: "columns" });
    const row = readRow(index);
    if (row.kind !== "person") {
      list(row.kind, row.line, row.reason);
      continue;
    }
    const { person } = row;
    if (isErased(person.email)) {
      list("refused", person.line, "this person was erased and asked not to be kept again");
      continue;
    }
    if (row.flags.length > 0) list("flagged", person.line, row.flags.join("; "));
    for (const { field, before, after, rules: used } of person.changes)
      for (const rule of used) {
        const count = rules.get(rule) ?? { rule, count: 0, examples: [] };
        rules.set(rule, count);
        count.count++;
        const isNew = count.examples.every((example) => example.before !== before);
        if (count.examples.length < EXAMPLES && isNew && field !== "timeZone")
          count.examples.push({ line: person.line, before, after });
        else if (count.examples.length < EXAMPLES && isNew)
          count.examples.push({
            line: person.line,
            before: [person.fields.city, person.fields.country].join(", "),
            after,
          });
      }
    const before = known(person.email);
    if (!before) {
      result.added++;
      if (person.email === "") result.withoutAddress++;
      continue;
    }
    const differ = differences(before, person);
    for (const each of differ) {
      const count = fields.get(each.field) ?? { differ: 0, blank: 0 };
      fields.set(each.field, count);
      if (each.before === "") count.blank++;
      else count.differ++;
    }
    list("known", person.line, JSON.stringify({ email: person.email, differ }), before.id);
  }
  result.cleaning = [...rules.values()].sort((a, b) => b.count - a.count);
  result.knownFields = [...fields].map(([field, counts]) => ({ field, ...counts }));

  db.transaction(() => {
    sql<{ importId: number }>(db, "DELETE FROM import_rows WHERE import_id = @importId").run({ importId });
    const insert = sql<Record<string, unknown>>(
      db,
      `INSERT INTO import_rows (import_id, line, kind, prospect_id, detail)
       VALUES (@importId, @line, @kind, @prospectId, @detail) ON CONFLICT DO NOTHING`,
    );
    for (const row of listed) insert.run({ importId, ...row });
    const problem =
      result.added + result.known === 0
        ? `No row has a usable address. The first: line ${listed[0]?.line ?? 1}, ${listed[0]?.detail ?? "empty"}.`
        : null;
    setImport(app, importId, { state: problem ? "columns" : "ready", report: result, problem });
  }).immediate();
}
