import { fold } from "../../core/fold.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";

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
  const ask = (query: string) =>
    sql<{ like: string }, Found>(db, `${query} LIMIT ${MOST_OF_A_KIND}`).all({
      like: `%${fold(text.slice(0, 200))}%`,
    });
  const hidden = hiddenFrom(app, by, "sequence.see");
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
    ...ask(
      `SELECT 'sequence' AS kind, name AS label, state AS detail, '/sequences/' || id AS "to" FROM sequences
       WHERE deleted_at IS NULL AND kind = 'shared' AND fold(name) LIKE @like`,
    ).filter(({ to }) => !hidden.has(Number(to.split("/").at(-1)))),
    ...ask(
      `SELECT 'mailbox' AS kind, address AS label, sender_name AS detail, '/sending/mailboxes/' || id AS "to"
       FROM mailboxes WHERE removed_at IS NULL AND address LIKE @like`,
    ),
  ];
}
