import type { Verdict } from "../../core/prospects/verdict.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { countDuplicates } from "../duplicates/duplicates.ts";
import { isRunning, type JobState, jobAbout } from "../jobs/job-state.ts";

export interface ListState {
  people: number;
  /** Of how many each address is. */
  verdicts: Record<Verdict | "unchecked" | "missing", number>;
  cleaned: number;
  duplicates: number;
  blocked: number;
  verifying: JobState | null;
  finding: JobState | null;
}

/** How a list stands on its way to being safe to write to; everybody if no list is given. */
export function listState(app: App, listId: number | null): ListState {
  const { db } = app;
  const on = "(@listId IS NULL OR p.id IN (SELECT prospect_id FROM list_prospects WHERE list_id = @listId))";
  const rows = sql<{ listId: number | null }, { state: string; count: number; blocked: number }>(
    db,
    `SELECT CASE WHEN p.email IS NULL THEN 'missing' ELSE coalesce(p.verdict, 'unchecked') END AS state,
       count(*) AS count, sum(EXISTS (SELECT 1 FROM block_list b WHERE (b.kind = 'address' AND b.value = p.email)
         OR (b.kind = 'domain' AND b.value = substr(p.email, instr(p.email, '@') + 1)))) AS blocked
     FROM prospects p WHERE p.live = 1 AND ${on} GROUP BY 1`,
  ).all({ listId });
  const verdicts = { good: 0, risky: 0, bad: 0, unknown: 0, unchecked: 0, missing: 0 };
  for (const { state, count } of rows) verdicts[state as keyof typeof verdicts] = count;
  const count = (text: string) =>
    sql<{ listId: number | null }, { count: number }>(db, text).get({ listId })?.count ?? 0;
  const running = (kind: "verify" | "find_addresses") => {
    const job = listId === null ? null : jobAbout(app, kind, "listId", listId);
    return isRunning(job) ? job : null;
  };
  return {
    people: rows.reduce((sum, row) => sum + row.count, 0),
    verdicts,
    blocked: rows.reduce((sum, row) => sum + row.blocked, 0),
    cleaned: count(
      `SELECT count(*) AS count FROM cleanings c JOIN prospects p ON p.id = c.prospect_id
       WHERE c.rules != '' AND p.live = 1 AND ${on}`,
    ),
    duplicates: countDuplicates(app, listId),
    verifying: running("verify"),
    finding: running("find_addresses"),
  };
}

export interface CheckedRow {
  id: number;
  name: string;
  company: string;
  email: string;
  verdict: Verdict | null;
  reason: string | null;
  detail: string;
  at: number | null;
  /** How an address that was found was found. */
  found: string | null;
}

const CHECKED_PAGE = 50;

/** Addresses of a list with their verdicts, the doubtful ones first. */
export function checkedAddresses({ db }: App, listId: number, show: string, page: number): CheckedRow[] {
  return sql<Record<string, unknown>, CheckedRow>(
    db,
    `SELECT p.id, trim(p.first_name || ' ' || p.last_name) AS name, p.company, coalesce(p.email, '') AS email, p.verdict,
       p.verdict_reason AS reason, p.verdict_detail AS detail, p.verdict_at AS at,
       (SELECT detail FROM changes WHERE prospect_id = p.id AND source = 'pattern' AND after = p.email ORDER BY id DESC LIMIT 1) AS found
     FROM list_prospects lp JOIN prospects p ON p.id = lp.prospect_id
     WHERE lp.list_id = @listId AND p.live = 1 AND CASE @show WHEN 'all' THEN 1 WHEN 'missing' THEN p.email IS NULL
       WHEN 'unchecked' THEN p.email IS NOT NULL AND p.verdict IS NULL
       WHEN 'found' THEN EXISTS (SELECT 1 FROM changes WHERE prospect_id = p.id AND source = 'pattern' AND after = p.email)
       ELSE p.email IS NOT NULL AND p.verdict = @show END
     ORDER BY CASE p.verdict WHEN 'bad' THEN 0 WHEN 'unknown' THEN 1 WHEN 'risky' THEN 2 ELSE 3 END, p.id
     LIMIT ${CHECKED_PAGE} OFFSET @offset`,
  ).all({ listId, show, offset: page * CHECKED_PAGE });
}
