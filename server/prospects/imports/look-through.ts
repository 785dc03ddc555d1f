import { mayBeSameCompany } from "../../../core/prospects/cleaning/companies.ts";
import type { CleaningRule } from "../../../core/prospects/cleaning/rules.ts";
import type { ColumnUse } from "../../../core/prospects/columns.ts";
import { isSameName } from "../../../core/prospects/duplicates.ts";
import { isFreeMail } from "../../../core/prospects/free-mail.ts";
import { saysYesOrNo } from "../../../core/prospects/marks.ts";
import { LEFT_OUT, type RowProblem, rowReader, TO_SEE, usesProblem } from "../../../core/prospects/rows.ts";
import type { Table } from "../../../core/prospects/table.ts";
import { mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { erasedCheck } from "../../db/erased.ts";
import { askJob } from "../../db/jobs.ts";
import { sql } from "../../db/open.ts";
import { fullName } from "../../db/prospects.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import type { Report } from "../../jobs/report.ts";
import { keptTable } from "./import-file.ts";
import {
  type CleaningCount,
  type ImportReport,
  type ImportRow,
  importById,
  type ProblemGroup,
  setImport,
  settingsSchema,
} from "./imports.ts";
import { differences, type FieldDifference, knownPeople } from "./known-person.ts";
import { LeftOutFile } from "./left-out.ts";
import { ReadRowsFile } from "./read-rows.ts";

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
  const no = mayNot(app, userId, "import.change", importId);
  if (no) return no;
  const found = importById(app, importId);
  if (!found || !["columns", "ready", "failed"].includes(found.state))
    return refused({ form: "This file has been imported already, or is no longer here. Choose it again." });
  if (settings.uses.length !== found.settings.uses.length)
    return refused({ uses: "Say of each column what it is." });
  const problem = usesProblem(settings.uses);
  if (problem) return refused({ uses: problem });
  return app.db
    .transaction(() => {
      setImport(app, importId, { state: "looking", settings });
      const job = { kind: "look_through" as const, input: { importId }, userId, now: app.clock.now() };
      return done(askJob(app.db, job));
    })
    .immediate();
}

/** Examples of each rule, and of each kind of row, that the page shows. */
const EXAMPLES = 6;
const SHOWN_ROWS = 100;
/** Rows between two reports. */
const REPORT_ROWS = 500;
const LISTED = 500;

type Listed = { kind: ImportRow["kind"]; line: number; prospectId: number | null; detail: string };

/** What is found on the way through a file. */
class Findings {
  readonly report: ImportReport = {
    added: 0,
    known: 0,
    anothers: 0,
    refused: 0,
    repeated: 0,
    flagged: 0,
    withoutAddress: 0,
    cleaning: [],
    problems: [],
    notes: [],
    knownFields: [],
    merged: 0,
    likely: 0,
  };
  readonly listed: Listed[] = [];
  private readonly rules = new Map<CleaningRule, CleaningCount>();
  private readonly fields = new Map<string, { differ: number; blank: number }>();
  private readonly problems = new Map<RowProblem, ProblemGroup>();

  list(kind: ImportRow["kind"], line: number, detail: string, prospectId: number | null = null): void {
    if (++this.report[kind] <= LISTED) this.listed.push({ kind, line, detail, prospectId });
  }

  problem(problem: RowProblem, isLeftOut: boolean, line: number, words: string): void {
    const group = this.problems.get(problem) ?? { problem, isLeftOut, count: 0, examples: [] };
    this.problems.set(problem, group);
    if (++group.count <= SHOWN_ROWS) group.examples.push({ line, words });
  }

  cleaned(rule: CleaningRule, line: number, before: string, after: string): void {
    const count = this.rules.get(rule) ?? { rule, count: 0, examples: [] };
    this.rules.set(rule, count);
    count.count++;
    if (count.examples.length < EXAMPLES && count.examples.every((example) => example.before !== before))
      count.examples.push({ line, before, after });
  }

  differ(differences: readonly FieldDifference[]): void {
    for (const each of differences) {
      const count = this.fields.get(each.field) ?? { differ: 0, blank: 0 };
      this.fields.set(each.field, count);
      if (each.before === "") count.blank++;
      else count.differ++;
    }
  }

  finish(notes: string[]): ImportReport {
    const order = [...LEFT_OUT, ...TO_SEE] as RowProblem[];
    return {
      ...this.report,
      notes,
      cleaning: [...this.rules.values()].sort((a, b) => b.count - a.count),
      problems: [...this.problems.values()].sort(
        (a, b) => order.indexOf(a.problem) - order.indexOf(b.problem),
      ),
      knownFields: [...this.fields].map(([field, counts]) => ({ field, ...counts })),
    };
  }
}

/** Which houses stand at a domain: the one that is known, or that the file names first. Another's name there is said once. */
function housesAtDomains(db: App["db"]): (domain: string, name: string) => string | null {
  const known = sql(db, "SELECT name FROM companies WHERE domain = @domain");
  const first = new Map<string, string>();
  const told = new Set<string>();
  return (domain, name) => {
    if (domain === "" || name === "" || isFreeMail(domain)) return null;
    let house = first.get(domain);
    if (house === undefined) {
      house = known.get<{ name: string }>({ domain })?.name ?? name;
      first.set(domain, house);
    }
    const key = `${domain}\n${name}`;
    if (house === name || told.has(key) || house === domain) return null;
    told.add(key);
    return mayBeSameCompany(house, name) ? null : house;
  };
}

/** A flag that was taken for a field of the list may be a wish: that is asked, in whatever language it is named. */
const yesNoNotes = ({ headers, rows }: Table, uses: readonly ColumnUse[]): string[] =>
  headers
    .filter((_, column) => uses[column]?.startsWith("custom:") && saysYesOrNo(cellsOf(rows, column)))
    .map(
      (header) =>
        `“${header}” says only yes and no. If a yes means that they want no mail, change that column to “Do not contact” before you import.`,
    );

function* cellsOf(rows: readonly string[][], column: number): Generator<string> {
  for (const row of rows) yield row[column] ?? "";
}

/** Reads the whole file as it would be imported, and stores what a person should see of it. Nothing becomes a prospect. */
export async function lookThrough(app: App, importId: number, report: Report): Promise<void> {
  const { db } = app;
  const found = importById(app, importId);
  if (!found) return;
  const read = keptTable(app, importId);
  if (!read.ok) return setImport(app, importId, { state: "failed", problem: read.problem });
  const { table } = read;
  sql(db, "UPDATE imports SET rows = @rows WHERE id = @importId").run({
    importId,
    rows: table.rows.length,
  });
  const readRow = rowReader(table, found.settings.uses, new Set(found.settings.off));
  const known = knownPeople(db);
  const isErased = erasedCheck(app);
  const houseAt = housesAtDomains(db);
  const findings = new Findings();
  const leftOut = new LeftOutFile(app, importId, table.headers);
  const readRows = new ReadRowsFile(app, found, table);
  const leaveOut = (
    kind: "refused" | "repeated",
    problem: RowProblem,
    line: number,
    reason: string,
    row: string[],
  ) => {
    findings.list(kind, line, reason);
    findings.problem(problem, true, line, reason);
    if (problem !== "erased") leftOut.add(line, reason, row);
  };
  for (const { line, problem } of table.damaged) leaveOut("refused", "damaged", line, problem, []);

  for (let index = 0; index < table.rows.length; index++) {
    if (index % REPORT_ROWS === 0 && (await report(index, table.rows.length))) {
      readRows.drop();
      return setImport(app, importId, { state: "columns" });
    }
    const cells = table.rows[index] as string[];
    const row = readRow(index);
    // Whoever asked to be erased is written down nowhere.
    readRows.add(row.kind === "person" && !isErased(row.person.email) ? row.person : null);
    if (row.kind !== "person") {
      leaveOut(row.kind, row.problem, row.line, row.reason, cells);
      continue;
    }
    const { person } = row;
    if (isErased(person.email)) {
      leaveOut(
        "refused",
        "erased",
        person.line,
        "this person was erased and asked not to be kept again",
        cells,
      );
      continue;
    }
    const flags = [...row.flags];
    if (person.mendedFrom !== null) findings.cleaned("address", person.line, person.mendedFrom, person.email);
    for (const { field, before, after, rules } of person.changes)
      for (const rule of rules)
        findings.cleaned(
          rule,
          person.line,
          field === "timeZone" ? [person.fields.city, person.fields.country].join(", ") : before,
          after,
        );
    const house = houseAt(person.fields.companyDomain, person.fields.company);
    if (house !== null)
      flags.push({
        problem: "shared_domain",
        words: `${person.fields.company} has the domain ${person.fields.companyDomain}, as ${house} has`,
      });
    const before = known(person.email);
    if (!before) {
      findings.report.added++;
      if (person.email === "") findings.report.withoutAddress++;
    } else {
      const all = differences(before, person);
      const isAnothers = all.length > 0 && mayNot(app, found.userId, "prospect.change", before.id) !== null;
      if (isAnothers) findings.report.anothers++;
      const differ = isAnothers ? [] : all;
      findings.differ(differ);
      findings.list("known", person.line, JSON.stringify({ email: person.email, differ }), before.id);
      const theirs = { firstName: before.firstName ?? "", lastName: before.lastName ?? "", email: "" };
      if (!isSameName(theirs, person.fields))
        flags.push({
          problem: "other_name",
          words: `${person.email} is known as ${fullName(theirs)}, and the file says ${fullName({ ...person.fields, email: "" })}; one address is one person's`,
        });
    }
    if (flags.length > 0) findings.list("flagged", person.line, flags.map(({ words }) => words).join("; "));
    for (const { problem, words } of flags) findings.problem(problem, false, person.line, words);
  }
  leftOut.close();
  readRows.keep();
  const result = findings.finish([...table.notes, ...yesNoNotes(table, found.settings.uses)]);

  db.transaction(() => {
    sql(db, "DELETE FROM import_rows WHERE import_id = @importId").run({ importId });
    const insert = sql(
      db,
      `INSERT INTO import_rows (import_id, line, kind, prospect_id, detail)
       VALUES (@importId, @line, @kind, @prospectId, @detail) ON CONFLICT DO NOTHING`,
    );
    for (const row of findings.listed) insert.run({ importId, ...row });
    const [first] = findings.listed;
    const problem =
      result.added + result.known === 0
        ? `No row has a usable address. The first: line ${first?.line ?? 1}, ${first?.detail ?? "empty"}.`
        : null;
    setImport(app, importId, { state: problem ? "columns" : "ready", report: result, problem });
  }).immediate();
}
