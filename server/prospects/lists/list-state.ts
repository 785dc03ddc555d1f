import { ADDRESS_STATES, type AddressState, type Verdict } from "../../../core/prospects/verdict.ts";
import type { App } from "../../app.ts";
import { STATE_OF } from "../../db/address-state.ts";
import { blockedIds } from "../../db/block-list.ts";
import { keptCount, listTruth } from "../../db/kept-counts.ts";
import { type Db, sql } from "../../db/open.ts";
import { isRunning, type JobState, jobAbout } from "../../jobs/job-state.ts";
import { canFindAddresses } from "../addresses/find-addresses.ts";
import { isProbeOn } from "../addresses/probe-setting.ts";
import { countDuplicates } from "../duplicates/duplicates.ts";

export interface ListState {
  people: number;
  /** Of how many each address is. */
  verdicts: Record<AddressState, number>;
  duplicates: number;
  blocked: number;
  verifying: JobState | null;
  finding: JobState | null;
  /** Whether looking for the missing addresses can find any. */
  canFind: boolean;
  /** Columns that are worked out for it. */
  columns: number;
}

interface Counted {
  people: number;
  verdicts: ListState["verdicts"];
}

function countVerdicts(db: Db, listId: number): Counted {
  const verdicts = Object.fromEntries(ADDRESS_STATES.map((state) => [state, 0])) as Record<
    AddressState,
    number
  >;
  const rows = sql(
    db,
    `SELECT ${STATE_OF} AS state, count(*) AS count
     FROM list_prospects lp CROSS JOIN prospects p INDEXED BY prospects_states ON p.id = lp.prospect_id
     WHERE lp.list_id = @listId GROUP BY 1`,
  ).all<{ state: AddressState; count: number }>({ listId });
  for (const { state, count } of rows) verdicts[state] += count;
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
      sql(
        db,
        `SELECT count(*) AS count FROM list_prospects WHERE list_id = @listId AND prospect_id IN (${blockedIds})`,
      ).get<{ count: number }>({ listId })?.count ?? 0,
    duplicates: countDuplicates(app, listId, truth),
    verifying: running("verify"),
    finding: running("find_addresses"),
    columns:
      sql(db, "SELECT count(*) AS count FROM list_columns WHERE list_id = @listId").get<{ count: number }>({
        listId,
      })?.count ?? 0,
    canFind:
      verdicts.missing > 0 &&
      keptCount(db, `findable ${listId} ${isProbeOn(app)}`, truth, () => canFindAddresses(app, listId)),
  };
}

export interface CheckedRow {
  id: number;
  name: string;
  company: string;
  email: string;
  verdict: Verdict | null;
  verdictReason: string | null;
  detail: string;
  at: number | null;
  /** How an address that was found was found. */
  found: string | null;
}

export const CHECKED_PAGE = 50;

/** Addresses of a list with their verdicts, the doubtful ones first. */
export function checkedAddresses({ db }: App, listId: number, show: string, page: number): CheckedRow[] {
  return sql(
    db,
    `SELECT p.id, trim(p.first_name || ' ' || p.last_name) AS name, p.company, coalesce(p.email, '') AS email, p.verdict,
       p.verdict_reason AS verdictReason, p.verdict_detail AS detail, p.verdict_at AS at,
       (SELECT detail FROM changes WHERE prospect_id = p.id AND source = 'pattern' AND after = p.email ORDER BY id DESC LIMIT 1) AS found
     FROM list_prospects lp JOIN prospects p ON p.id = lp.prospect_id
     WHERE lp.list_id = @listId AND p.live = 1 AND CASE @show WHEN 'all' THEN 1
       WHEN 'found' THEN EXISTS (SELECT 1 FROM changes WHERE prospect_id = p.id AND source = 'pattern' AND after = p.email)
       ELSE ${STATE_OF} = @show END
     ORDER BY CASE ${STATE_OF} WHEN 'bad' THEN 0 WHEN 'doubtful' THEN 1 WHEN 'unchecked' THEN 2 WHEN 'likely' THEN 3 ELSE 4 END, p.id
     LIMIT ${CHECKED_PAGE} OFFSET @offset`,
  ).all<CheckedRow>({ listId, show, offset: page * CHECKED_PAGE });
}
