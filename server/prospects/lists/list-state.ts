import type { Verdict } from "../../../core/prospects/verdict.ts";
import type { App } from "../../app.ts";
import { blockedIds } from "../../db/block-list.ts";
import { keptCount, listTruth } from "../../db/kept-counts.ts";
import { type Db, sql } from "../../db/open.ts";
import { isRunning, type JobState, jobAbout } from "../../jobs/job-state.ts";
import { countDuplicates } from "../duplicates/duplicates.ts";

export interface ListState {
  people: number;
  /** Of how many each address is. */
  verdicts: Record<Verdict | "unchecked" | "missing", number>;
  duplicates: number;
  blocked: number;
  verifying: JobState | null;
  finding: JobState | null;
}

interface Counted {
  people: number;
  verdicts: ListState["verdicts"];
}

function countVerdicts(db: Db, listId: number): Counted {
  const verdicts = { good: 0, risky: 0, bad: 0, unknown: 0, unchecked: 0, missing: 0 };
  const rows = sql<{ listId: number }, { verdict: Verdict | null; missing: number; count: number }>(
    db,
    `SELECT p.verdict, p.email IS NULL AS missing, count(*) AS count
     FROM list_prospects lp CROSS JOIN prospects p INDEXED BY prospects_states ON p.id = lp.prospect_id
     WHERE lp.list_id = @listId GROUP BY 1, 2`,
  ).all({ listId });
  for (const { verdict, missing, count } of rows)
    verdicts[missing ? "missing" : (verdict ?? "unchecked")] += count;
  return { people: rows.reduce((sum, { count }) => sum + count, 0), verdicts };
}

/** How a list stands on its way to being safe to write to. Only living people are on lists. */
export function listState(app: App, listId: number): ListState {
  const { db } = app;
  const truth = listTruth(db, listId);
  const { people, verdicts } = keptCount(db, `verdicts ${listId}`, truth, () => countVerdicts(db, listId));
  const running = (kind: "verify" | "find_addresses") => {
    const job = jobAbout(app, kind, "listId", listId);
    return isRunning(job) ? job : null;
  };
  return {
    people,
    verdicts,
    blocked:
      sql<{ listId: number }, { count: number }>(
        db,
        `SELECT count(*) AS count FROM list_prospects WHERE list_id = @listId AND prospect_id IN (${blockedIds})`,
      ).get({ listId })?.count ?? 0,
    duplicates: countDuplicates(app, listId, truth),
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
