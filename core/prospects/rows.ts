/** From a file's rows to people, cleaned, and to the rows that cannot become one, with the reason. */

import { domainOf, readAddress } from "./address.ts";
import {
  CLEANED_FIELDS,
  cleanPerson,
  type FieldChange,
  type FieldDoubt,
  type PersonFields,
} from "./cleaning/person.ts";
import { NOT_A_NAME } from "./cleaning/placeholders.ts";
import type { CleaningDoubt, CleaningRule } from "./cleaning/rules.ts";
import { hasLookAlikes } from "./cleaning/text.ts";
import { webDomain } from "./cleaning/web.ts";
import { type ColumnUse, FIELDS, type FieldName, MANY } from "./columns.ts";
import { isSameName } from "./duplicates.ts";
import { FIELD_CODES } from "./fields.ts";
import { isStatusColumn, type Mark, type MarkUse, markOf, markOfStatus } from "./marks.ts";
import type { Table } from "./table.ts";

export interface NewPerson {
  /** "" if the row has none; it can be found by the company's pattern. */
  email: string;
  fields: PersonFields;
  custom: Record<string, string>;
  /** What cleaning changed. */
  changes: FieldChange[];
  /** What the file says of whether they may be written to. */
  mark: Mark | null;
  /** The cell from which the address was mended; null if it stands there as it is. */
  mendedFrom: string | null;
  line: number;
}

/** Why a row is left out. */
export const LEFT_OUT = [
  "damaged",
  "broken_address",
  "nobody",
  "long_value",
  "repeated",
  "shared_address",
  "erased",
] as const;
/** What of a row that is taken should be looked at. */
export const TO_SEE = [
  "several_addresses",
  "not_a_name",
  "doubtful_name",
  "other_name",
  "look_alikes",
  "no_address",
  "surplus_cells",
  "missing_cells",
  "formula",
  "cut_off",
  "opted_out",
  "bad_address",
  "shared_domain",
] as const;
export type RowProblem = (typeof LEFT_OUT)[number] | (typeof TO_SEE)[number];

export interface RowFlag {
  problem: (typeof TO_SEE)[number];
  words: string;
}

export type ReadRow =
  | { kind: "person"; person: NewPerson; flags: RowFlag[] }
  | { kind: "refused" | "repeated"; line: number; problem: (typeof LEFT_OUT)[number]; reason: string };

/** Longer values are cut nowhere and stored nowhere: they mean that a column or a quote went astray. */
export const LONGEST_VALUE = 5_000;

/** A cell's text, without the mark by which an export keeps spreadsheets from taking it for a formula. */
const cellText = (cell = ""): string => {
  const text = cell.trim();
  return text.startsWith("'") ? text.replace(/^'(?=[=+\-@\t\r])/, "") : text;
};

const DOUBT_WORDS: Record<CleaningDoubt, string> = {
  address: "is an address and no name; the name was left empty",
  number: "is a number and no name; the name was left empty",
  job_title: "is a job title and no name; the name was left empty",
  company: "is a company and no name; the name was left empty",
  function: "is a function and no person; the name was left empty",
  broken_letters: "has letters that were broken on the way; write them anew",
  digits: "has digits in it; is it a name?",
  initial_only: "is only an initial; a greeting with it looks odd",
  two_people: "names two people; whom to greet is left empty",
  long: "is longer than names are; is it one?",
};
const doubtWords = ({ doubt, before }: FieldDoubt) => `${short(before)} ${DOUBT_WORDS[doubt]}`;

/**
 * A reader of one table's rows, to be called with each index once and in order: it remembers the
 * addresses it has met. `off` are the cleaning rules that this import does without.
 */
export function rowReader(
  table: Table,
  uses: readonly ColumnUse[],
  off: ReadonlySet<CleaningRule> = new Set(),
): (index: number) => ReadRow {
  const columnOf = new Map(uses.map((use, column) => [use, column]));
  const customs = uses.flatMap((use, column) =>
    use.startsWith("custom:") ? [{ name: use.slice("custom:".length), column }] : [],
  );
  const refused =
    off.size === 0 ? undefined : Object.fromEntries(CLEANED_FIELDS.map((field) => [field, off]));
  const markColumns = uses.flatMap((use, column) =>
    use === "opt_out" || use === "bad_address"
      ? [{ use: use as MarkUse | null, column }]
      : isStatusColumn(table.headers[column] ?? "")
        ? [{ use: null, column }]
        : [],
  );
  const seen = new Map<string, { line: number; name: string; firstName: string; lastName: string }>();

  const value = (row: string[], field: FieldName) => cellText(row[columnOf.get(field) ?? -1]);

  return (index) => {
    const row = table.rows[index] as string[];
    const line = table.lines[index] as number;
    const flags: RowFlag[] = [];

    const long = row.findIndex((cell) => cell.length > LONGEST_VALUE);
    if (long >= 0)
      return refuse(
        line,
        "long_value",
        `“${table.headers[long] ?? "a column"}” has more than 5,000 characters: a quotation mark or a delimiter went astray`,
      );
    lookAtCells(row, table, index, flags);
    const read = readAddress(value(row, "email"), {
      firstName: value(row, "first_name") || value(row, "full_name"),
      lastName: value(row, "last_name"),
      domain: webDomain(value(row, "company_domain")) ?? "",
    });
    if (!read.ok && !read.isEmpty) return refuse(line, "broken_address", withCells(read.reason, row, table));
    const isMended = read.ok && read.note !== null && read.others.length === 0;
    if (isMended && off.has("address"))
      return refuse(line, "broken_address", `${read.note}, which this import does without`);
    if (read.ok && read.others.length > 0)
      flags.push({ problem: "several_addresses", words: read.note ?? "" });
    const email = read.ok ? read.address : "";

    const raw = {} as PersonFields;
    for (const field of CLEANED_FIELDS) raw[field] = value(row, FIELD_CODES[field]);
    if (raw.firstName === "" && raw.lastName === "") raw.firstName = value(row, "full_name");
    if (raw.companyDomain === "" && email !== "") raw.companyDomain = domainOf(email);
    const { fields, changes, doubts } = cleanPerson(raw, refused, email);
    for (const doubt of doubts)
      flags.push({ problem: isNoName(doubt) ? "not_a_name" : "doubtful_name", words: doubtWords(doubt) });
    if (email === "") {
      if (fields.lastName === "" || (fields.company === "" && fields.companyDomain === ""))
        return refuse(
          line,
          "nobody",
          withCells("no address, and no name with a company by which to find one", row, table),
        );
      flags.push({
        problem: "no_address",
        words: "no address; look for it under Addresses once the list is imported",
      });
    } else {
      const name = [fields.firstName, fields.lastName].filter(Boolean).join(" ");
      const before = seen.get(email);
      if (before) {
        if (name === "" || before.name === "" || isSameName(before, fields))
          return {
            kind: "repeated",
            line,
            problem: "repeated",
            reason: `${email} is on line ${before.line} already`,
          };
        return refuse(
          line,
          "shared_address",
          `${email} is ${before.name}'s on line ${before.line}; ${name} has no address of their own`,
        );
      }
      seen.set(email, { line, name, firstName: fields.firstName, lastName: fields.lastName });
      if (hasLookAlikes(value(row, "email")))
        flags.push({
          problem: "look_alikes",
          words: `${value(row, "email")} has letters of two alphabets and was read as ${email}; make sure that it is real`,
        });
    }
    const mark = markIn(row, table.headers, markColumns, flags);
    const custom: Record<string, string> = {};
    if (read.ok && read.others.length > 0) custom.other_addresses = read.others.join(", ");
    for (const { name, column } of customs) {
      const text = cellText(row[column]);
      if (text !== "") custom[name] = text;
    }
    return {
      kind: "person",
      person: {
        email,
        fields,
        custom,
        changes,
        line,
        mark,
        mendedFrom: isMended ? value(row, "email") : null,
      },
      flags,
    };
  };
}

/** What the row says of whether they may be written to; an opt-out counts for more than an address that came back. */
function markIn(
  row: string[],
  headers: readonly string[],
  columns: readonly { use: MarkUse | null; column: number }[],
  flags: RowFlag[],
): Mark | null {
  let found: Mark | null = null;
  for (const { use, column } of columns) {
    const cell = cellText(row[column]);
    const mark = use === null ? markOfStatus(cell) : markOf(use, cell);
    if (mark === null || found === "opted_out") continue;
    found = mark;
    flags.push({
      problem: mark === "opted_out" ? "opted_out" : "bad_address",
      words: `“${headers[column] ?? ""}” is ${short(cell)}: nothing will be sent to them`,
    });
  }
  return found;
}

const refuse = (line: number, problem: (typeof LEFT_OUT)[number], reason: string): ReadRow => ({
  kind: "refused",
  line,
  problem,
  reason,
});

const isNoName = ({ doubt }: FieldDoubt) => (NOT_A_NAME as readonly string[]).includes(doubt);

/** A function whose value a spreadsheet shows: "=HYPERLINK(…)", "@SUM(…)", "=A1&B1". */
const FORMULA = /^(?:=\s*[\w"(+-]|[+@-]\s*[A-Z]{2,}\w*\()/;

/** What the cells of a row say by themselves: too many, too few, formulas. */
function lookAtCells(row: string[], { headers, rows }: Table, index: number, flags: RowFlag[]): void {
  const surplus = surplusCells(row, headers);
  if (surplus.length > 0)
    flags.push({
      problem: "surplus_cells",
      words: `${surplus.length} more cells than columns, left out: ${surplus.map(short).join(", ")}`,
    });
  if (row.length < headers.length) {
    const isLast = index === rows.length - 1;
    flags.push({
      problem: isLast ? "cut_off" : "missing_cells",
      words: isLast
        ? `the last line has ${row.length} of ${headers.length} columns; the file may be cut off here`
        : `${row.length} of ${headers.length} cells; the others count as empty`,
    });
  }
  const formula = row.find((cell) => FORMULA.test(cell.trimStart()));
  if (formula !== undefined)
    flags.push({
      problem: "formula",
      words: `${short(formula.trim())} is a formula; it is kept as text and not reckoned`,
    });
}

const surplusCells = (row: string[], headers: string[]) =>
  row.length > headers.length ? row.slice(headers.length).filter((cell) => cell.trim() !== "") : [];

const short = (text: string) => `“${text.length > 60 ? `${text.slice(0, 60)}…` : text}”`;

/** A row of too many cells has most likely a delimiter inside a value. */
function withCells(reason: string, row: string[], { headers }: Table): string {
  const more = surplusCells(row, headers).length;
  return more > 0
    ? `${reason}; the row has ${more} more cells than columns, so a value may have a delimiter inside and no quotation marks around it`
    : reason;
}

/** What keeps these column uses from being imported, or null. */
export function usesProblem(uses: readonly ColumnUse[]): string | null {
  const hasNames = uses.includes("full_name") || uses.includes("last_name");
  if (!uses.includes("email") && !(hasNames && (uses.includes("company") || uses.includes("company_domain"))))
    return "Say which column holds the email addresses, or which hold the name and the company by which to find them.";
  const twice = uses.find((use, index) => use !== "skip" && !MANY.has(use) && uses.indexOf(use) !== index);
  if (!twice) return null;
  const label = FIELDS.find(({ name }) => name === twice)?.label ?? twice.slice("custom:".length);
  return `Two columns are used as “${label}”. Choose one of them.`;
}
