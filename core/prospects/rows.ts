/** From a file's rows to prospects, and to the rows that cannot become one, with the reason. */
import { isZone } from "../calendar.ts";
import { checkAddress, domainOf } from "./address.ts";
import { type ColumnUse, FIELDS, type FieldName } from "./columns.ts";
import type { Table } from "./table.ts";

export interface NewProspect {
  email: string;
  firstName: string;
  lastName: string;
  company: string;
  companyDomain: string;
  title: string;
  city: string;
  country: string;
  timeZone: string | null;
  custom: Record<string, string>;
  line: number;
}

export interface RefusedRow {
  line: number;
  reason: string;
}

export interface ReadRows {
  prospects: NewProspect[];
  refused: RefusedRow[];
  /** Rows whose address stands further up in the same file. */
  repeated: RefusedRow[];
}

/** Longer values are cut nowhere and stored nowhere: they mean that a column or a quote went astray. */
export const LONGEST_VALUE = 5_000;

export function readRows(table: Table, uses: readonly ColumnUse[]): ReadRows {
  const columnOf = new Map(uses.map((use, column) => [use, column]));
  const customs = uses.flatMap((use, column) =>
    use.startsWith("custom:") ? [{ name: use.slice("custom:".length), column }] : [],
  );
  const seen = new Map<string, number>();
  const result: ReadRows = { prospects: [], refused: [], repeated: [] };

  for (const [index, row] of table.rows.entries()) {
    const line = table.lines[index] as number;
    const value = (field: FieldName) => (row[columnOf.get(field) ?? -1] ?? "").trim();

    const checked = checkAddress(value("email"));
    if (!checked.ok) {
      result.refused.push({ line, reason: checked.reason });
      continue;
    }
    const long = row.findIndex((cell) => cell.length > LONGEST_VALUE);
    if (long >= 0) {
      result.refused.push({
        line,
        reason: `“${table.headers[long] ?? "a column"}” has more than 5,000 characters`,
      });
      continue;
    }
    const before = seen.get(checked.address);
    if (before !== undefined) {
      result.repeated.push({ line, reason: `${checked.address} is on line ${before} already` });
      continue;
    }
    seen.set(checked.address, line);
    const zone = value("time_zone");
    result.prospects.push({
      email: checked.address,
      firstName: value("first_name"),
      lastName: value("last_name"),
      company: value("company"),
      companyDomain: webDomain(value("company_domain")) || domainOf(checked.address),
      title: value("title"),
      city: value("city"),
      country: value("country"),
      timeZone: zone !== "" && isZone(zone) ? zone : null,
      custom: Object.fromEntries(
        customs
          .map(({ name, column }) => [name, (row[column] ?? "").trim()])
          .filter(([, text]) => text !== ""),
      ),
      line,
    });
  }
  return result;
}

/** "https://www.Museum.example/visit" is museum.example. */
function webDomain(text: string): string {
  return text
    .toLowerCase()
    .replace(/^[a-z]+:\/\//, "")
    .replace(/^www\./, "")
    .replace(/[/?#:].*$/, "");
}

/** What keeps these column uses from being imported, or null. */
export function usesProblem(uses: readonly ColumnUse[]): string | null {
  if (!uses.includes("email")) return "Say which column holds the email addresses.";
  const twice = uses.find((use, index) => use !== "skip" && uses.indexOf(use) !== index);
  if (!twice) return null;
  const label = FIELDS.find(({ name }) => name === twice)?.label ?? twice.slice("custom:".length);
  return `Two columns are used as “${label}”. Choose one of them.`;
}
