import Papa from "papaparse";
import { STATE_HEADERS } from "../../../core/prospects/columns.ts";
import type { Stage } from "../../../core/prospects/stages.ts";
import { writeVcards } from "../../../core/prospects/vcard.ts";
import { type By, hiddenFrom } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { fieldsIn } from "../../db/json.ts";
import { listNames } from "../../db/lists.ts";
import { sql } from "../../db/open.ts";
import { matching, prospectsQuery } from "./list-prospects.ts";

interface ExportRow {
  email: string;
  firstName: string;
  lastName: string;
  company: string;
  domain: string;
  title: string;
  city: string;
  country: string;
  timeZone: string;
  phone: string;
  profile: string;
  stage: Stage;
  verdict: string;
  owner: string;
  lists: string;
  custom: string;
}

function rowsOf(app: App, by: By, query: Record<string, string>): ExportRow[] {
  const { where, values } = matching(app, by, prospectsQuery.parse(query));
  return sql(
    app.db,
    `SELECT coalesce(p.email, '') AS email, p.first_name AS firstName, p.last_name AS lastName, p.company,
       coalesce(c.domain, '') AS domain, p.title, p.city, p.country, coalesce(p.time_zone, '') AS timeZone, p.phone,
       p.profile, p.stage, coalesce(p.verdict, '') AS verdict, coalesce(u.name, '') AS owner, p.custom,
       coalesce(${listNames("p.id", "; ")}, '') AS lists
     FROM prospects p LEFT JOIN companies c ON c.id = p.company_id LEFT JOIN users u ON u.id = p.owner_id
     WHERE ${where} ORDER BY p.id`,
  ).all<ExportRow>({ ...values, hidden: JSON.stringify([...hiddenFrom(app, by, "list.see")]) });
}

/** The prospects of a query as CSV (RFC 4180). Cells that a spreadsheet would take for formulas are marked as text. */
export function exportCsv(app: App, by: By, query: Record<string, string>): string {
  const rows = rowsOf(app, by, query).map((row) => ({
    ...row,
    custom: fieldsIn(row.custom),
  }));
  const customs = [...new Set(rows.flatMap(({ custom }) => Object.keys(custom)))];
  return Papa.unparse(
    {
      fields: [
        "Email",
        "First name",
        "Last name",
        "Company",
        "Website",
        "Job title",
        "City",
        "Country",
        "Time zone",
        "Phone",
        "Social profile",
        ...STATE_HEADERS,
        ...customs,
      ],
      data: rows.map((row) => [
        row.email,
        row.firstName,
        row.lastName,
        row.company,
        row.domain,
        row.title,
        row.city,
        row.country,
        row.timeZone,
        row.phone,
        row.profile,
        row.stage,
        row.verdict,
        row.owner,
        row.lists,
        ...customs.map((name) => row.custom[name] ?? ""),
      ]),
    },
    // A phone number's plus is no formula, but spreadsheets take it for one all the same.
    { escapeFormulae: true, newline: "\r\n" },
  );
}

/** The same as vCards. */
export function exportVcards(app: App, by: By, query: Record<string, string>): string {
  return writeVcards(rowsOf(app, by, query));
}
