import { fold } from "../../core/fold.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";
import { visibleSequences } from "../sequences/visible-sequences.ts";

export interface Found {
  kind: "prospect" | "company" | "sequence" | "mailbox";
  label: string;
  detail: string;
  to: string;
}

const MOST_OF_A_KIND = 5;

/** What the finder offers for some letters: prospects, companies, sequences, mailboxes. */
export function find(app: App, by: By, typed: string): Found[] {
  const { db } = app;
  const text = typed.trim().replace(/[%_]/g, "");
  if (text.length < 2) return [];
  const letters = fold(text.slice(0, 200));
  const ask = (query: string) =>
    sql(db, `${query} LIMIT ${MOST_OF_A_KIND}`).all<Found>({ like: `%${letters}%` });
  return [
    ...ask(
      `SELECT 'prospect' AS kind, ${nameSql()} AS label,
         coalesce(nullif(p.company, ''), p.email) AS detail, '/prospects/' || p.id AS "to"
       FROM prospects p
       WHERE p.live = 1 AND p.found_by LIKE @like`,
    ),
    ...ask(
      `SELECT 'company' AS kind, name AS label, domain AS detail, '/prospects?q=' || name AS "to"
       FROM companies WHERE merged_into IS NULL AND (fold(name) LIKE @like OR domain LIKE @like)`,
    ),
    ...visibleSequences(app, by)
      .filter(({ name }) => fold(name).includes(letters))
      .slice(0, MOST_OF_A_KIND)
      .map(({ id, name, state }) => ({
        kind: "sequence" as const,
        label: name,
        detail: state,
        to: `/sequences/${id}`,
      })),
    ...ask(
      `SELECT 'mailbox' AS kind, address AS label, sender_name AS detail, '/sending/mailboxes/' || id AS "to"
       FROM mailboxes WHERE removed_at IS NULL AND address LIKE @like`,
    ),
  ];
}
