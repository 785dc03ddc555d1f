/** The links of pages as a file: so that they also serve a letter that is sent from elsewhere. */
import Papa from "papaparse";
import { matchColumns } from "../../core/prospects/columns.ts";
import { readTable } from "../../core/prospects/table.ts";
import { type By, hiddenFrom, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { askJob } from "../db/jobs.ts";
import { sql, transact } from "../db/open.ts";
import { handOutPage } from "../db/pages.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { pageLink } from "../mail/page-links.ts";
import { templateById } from "./templates.ts";

/** Of one file. */
const MOST_PEOPLE = 20_000;
const ADDED = ["Page link", "Picture link"] as const;

const csv = (fields: string[], data: string[][]): string =>
  `\ufeff${Papa.unparse({ fields, data }, { escapeFormulae: true, newline: "\r\n" })}`;

/** Makes the pages of some people, and has their pictures drawn: each with its two links. */
function linksOf(
  app: App,
  templateId: number,
  prospectIds: readonly number[],
): Map<number, [page: string, picture: string]> {
  return transact(app, ({ db, clock }) => {
    const now = clock.now();
    const links = new Map<number, [string, string]>();
    for (const prospectId of prospectIds) {
      handOutPage(db, templateId, prospectId, now);
      const link = pageLink(app, templateId, prospectId);
      links.set(prospectId, [link, `${link}/picture.gif`]);
    }
    askJob(db, { kind: "page_pictures", input: { templateId }, userId: null, now });
    return links;
  });
}

/** Everybody of a list: name, address, page link, picture link (CSV, RFC 4180). */
export function linksOfList(app: App, by: By, templateId: number, listId: number): Outcome<string> {
  const no = mayNot(app, by, "page.use", templateId);
  if (no) return no;
  if (!templateById(app.db, templateId)) return refused({ form: "This page is no longer here." });
  if (hiddenFrom(app, by, "list.see").has(listId)) return refused({ form: "This list is no longer here." });
  const people = sql(
    app.db,
    `SELECT p.id, trim(p.first_name || ' ' || p.last_name) AS name, coalesce(p.email, '') AS email
     FROM list_prospects l JOIN prospects p ON p.id = l.prospect_id AND p.live = 1 WHERE l.list_id = @listId ORDER BY p.id LIMIT ${MOST_PEOPLE + 1}`,
  ).all<{ id: number; name: string; email: string }>({ listId });
  if (people.length > MOST_PEOPLE)
    return refused({
      form: `A file holds ${MOST_PEOPLE.toLocaleString("en")} people at most. Make a smaller list of them.`,
    });
  const links = linksOf(
    app,
    templateId,
    people.map(({ id }) => id),
  );
  return done(
    csv(
      ["Name", "Email", ...ADDED],
      people.map(({ id, name, email }) => [name, email, ...(links.get(id) ?? [])]),
    ),
  );
}

/**
 * A file with addresses in it comes back with two columns more. Whoever is not known here has none: their number is said beside the
 * file. Other columns stay as they are.
 */
export function linksIntoFile(
  app: App,
  by: By,
  templateId: number,
  bytes: Uint8Array,
): Outcome<{ file: string; people: number; unknown: number }> {
  const no = mayNot(app, by, "page.use", templateId);
  if (no) return no;
  if (!templateById(app.db, templateId)) return refused({ form: "This page is no longer here." });
  const read = readTable(bytes);
  if (!read.ok) return refused({ file: read.problem });
  const { headers, rows } = read.table;
  if (rows.length > MOST_PEOPLE)
    return refused({ file: `A file holds ${MOST_PEOPLE.toLocaleString("en")} people at most. Split it.` });
  const at = matchColumns(headers, rows.slice(0, 200)).indexOf("email");
  if (at < 0) return refused({ file: "No column of this file holds email addresses." });
  const known = sql(
    app.db,
    `SELECT p.id, lower(i.value) AS email FROM json_each(@addresses) i JOIN prospects p ON p.email = lower(i.value) AND p.live = 1`,
  ).all<{ id: number; email: string }>({
    addresses: JSON.stringify([...new Set(rows.map((row) => (row[at] ?? "").trim().toLowerCase()))]),
  });
  if (known.length === 0)
    return refused({
      file: "Nobody of this file is known here. Import it first: then everybody has a page.",
    });
  const links = linksOf(
    app,
    templateId,
    known.map(({ id }) => id),
  );
  const idOf = new Map(known.map(({ id, email }) => [email, id]));
  const lines = rows.map((row) => {
    const id = idOf.get((row[at] ?? "").trim().toLowerCase());
    return [
      ...headers.map((_, nth) => row[nth] ?? ""),
      ...(id === undefined ? ["", ""] : (links.get(id) ?? ["", ""])),
    ];
  });
  return done({
    file: csv([...headers, ...ADDED], lines),
    people: lines.filter((line) => line.at(-1) !== "").length,
    unknown: lines.filter((line) => line.at(-1) === "").length,
  });
}
