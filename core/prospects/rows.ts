/** From a file's rows to people, cleaned, and to the rows that cannot become one, with the reason. */
import { domainOf, readAddress } from "./address.ts";
import {
  CLEANED_FIELDS,
  cleanPerson,
  type FieldChange,
  type FieldDoubt,
  type PersonFields,
} from "./cleaning/person.ts";
import type { CleaningDoubt, CleaningRule } from "./cleaning/rules.ts";
import { hasLookAlikes } from "./cleaning/text.ts";
import { webDomain } from "./cleaning/web.ts";
import { type ColumnUse, FIELDS, type FieldName } from "./columns.ts";
import type { Table } from "./table.ts";

export interface NewPerson {
  /** "" if the row has none; it can be found by the company's pattern. */
  email: string;
  fields: PersonFields;
  custom: Record<string, string>;
  /** What cleaning changed. */
  changes: FieldChange[];
  line: number;
}

export type ReadRow =
  | { kind: "person"; person: NewPerson; flags: string[] }
  | { kind: "refused" | "repeated"; line: number; reason: string };

/** Longer values are cut nowhere and stored nowhere: they mean that a column or a quote went astray. */
export const LONGEST_VALUE = 5_000;

const FIELD_OF: Record<(typeof CLEANED_FIELDS)[number], FieldName> = {
  firstName: "first_name",
  lastName: "last_name",
  company: "company",
  companyDomain: "company_domain",
  title: "title",
  city: "city",
  country: "country",
  timeZone: "time_zone",
  phone: "phone",
  profile: "profile",
};

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
  long: "is longer than names are; is it one?",
};
const doubtWords = ({ doubt, before }: FieldDoubt) =>
  `“${before.length > 60 ? `${before.slice(0, 60)}…` : before}” ${DOUBT_WORDS[doubt]}`;

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
  const seen = new Map<string, number>();

  return (index) => {
    const row = table.rows[index] as string[];
    const line = table.lines[index] as number;
    const value = (field: FieldName) => cellText(row[columnOf.get(field) ?? -1]);
    const refuse = (reason: string): ReadRow => ({ kind: "refused", line, reason });

    const long = row.findIndex((cell) => cell.length > LONGEST_VALUE);
    if (long >= 0)
      return refuse(
        `“${table.headers[long] ?? "a column"}” has more than 5,000 characters: a quotation mark or a delimiter went astray`,
      );
    const flags: string[] = [];
    if (index === table.rows.length - 1 && row.length < table.headers.length)
      flags.push(
        `the last line has ${row.length} of ${table.headers.length} columns; the file may be cut off here`,
      );
    const read = readAddress(value("email"), {
      firstName: value("first_name") || value("full_name"),
      lastName: value("last_name"),
      domain: webDomain(value("company_domain")) ?? "",
    });
    if (read.ok && read.note) flags.push(read.note);
    if (!read.ok && !read.isEmpty) return refuse(read.reason);
    const email = read.ok ? read.address : "";

    const raw = Object.fromEntries(
      CLEANED_FIELDS.map((field) => [field, value(FIELD_OF[field])]),
    ) as PersonFields;
    if (raw.firstName === "" && raw.lastName === "") raw.firstName = value("full_name");
    if (raw.companyDomain === "" && email !== "") raw.companyDomain = domainOf(email);
    const { fields, changes, doubts } = cleanPerson(raw, refused);
    flags.push(...doubts.map(doubtWords));
    if (email === "") {
      if (fields.lastName === "" || (fields.company === "" && fields.companyDomain === ""))
        return refuse("no address, and no name with a company by which to find one");
      flags.push("no address; look for it under Addresses once the list is imported");
    } else {
      const before = seen.get(email);
      if (before !== undefined)
        return { kind: "repeated", line, reason: `${email} is on line ${before} already` };
      seen.set(email, line);
      if (hasLookAlikes(email))
        flags.push(`${email} has letters of two alphabets; make sure that it is real`);
    }
    const custom: Record<string, string> = {};
    if (read.ok && read.others.length > 0) custom.other_addresses = read.others.join(", ");
    for (const { name, column } of customs) {
      const text = cellText(row[column]);
      if (text !== "") custom[name] = text;
    }
    return { kind: "person", person: { email, fields, custom, changes, line }, flags };
  };
}

/** What keeps these column uses from being imported, or null. */
export function usesProblem(uses: readonly ColumnUse[]): string | null {
  const hasNames = uses.includes("full_name") || uses.includes("last_name");
  if (!uses.includes("email") && !(hasNames && (uses.includes("company") || uses.includes("company_domain"))))
    return "Say which column holds the email addresses, or which hold the name and the company by which to find them.";
  const twice = uses.find((use, index) => use !== "skip" && uses.indexOf(use) !== index);
  if (!twice) return null;
  const label = FIELDS.find(({ name }) => name === twice)?.label ?? twice.slice("custom:".length);
  return `Two columns are used as “${label}”. Choose one of them.`;
}
