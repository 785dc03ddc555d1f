import { z } from "zod";
import { fold } from "../../../core/fold.ts";
import { type Filter, parseFilter } from "../../../core/prospects/filter.ts";
import { kindOfField } from "../../../core/prospects/filter-fields.ts";
import type { Stage } from "../../../core/prospects/stages.ts";
import type { Verdict, VerdictReason } from "../../../core/prospects/verdict.ts";
import type { StopReason, WaitReason } from "../../../core/sending/reasons.ts";
import { type By, hiddenFrom } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { fieldsIn } from "../../db/json.ts";
import { anyTruth, keptCount } from "../../db/kept-counts.ts";
import { sql } from "../../db/open.ts";
import { filterSql } from "../filters/filter-sql.ts";

/** The state of the page as the address bar holds it. */
export const prospectsQuery = z.object({
  q: z.string().trim().max(100).catch("").default(""),
  list: z.coerce.number().int().optional().catch(undefined),
  stage: z.string().max(20).catch("").default(""),
  /** Chosen ones, for an export: ids with commas between. */
  ids: z
    .string()
    .max(2_000_000)
    .regex(/^[\d,]*$/)
    .catch("")
    .default(""),
  /** A filter as JSON. */
  f: z.string().max(8_000).catch("").default(""),
  sort: z.enum(["name", "company", "stage", "verdict", "added"]).catch("added").default("added"),
  dir: z.enum(["asc", "desc"]).catch("desc").default("desc"),
  page: z.coerce.number().int().min(0).catch(0).default(0),
  size: z.coerce.number().int().min(10).max(100).catch(25).default(25),
});
export type ProspectsQuery = z.infer<typeof prospectsQuery>;

export interface ProspectRow {
  id: number;
  email: string;
  name: string;
  company: string;
  title: string;
  city: string;
  stage: Stage;
  verdict: Verdict | null;
  verdictReason: VerdictReason | null;
  verdictDetail: string;
  verdictAt: number | null;
  owner: string | null;
  /** The team's own fields. */
  custom: Record<string, string>;
  /** What goes on: the sequence and its state, if any. */
  sequence: string | null;
  journeyState: string | null;
  nextAt: number | null;
  waitReason: WaitReason | null;
  waitDetail: string | null;
  stopReason: StopReason | null;
  blocked: number;
}

const ORDER: Record<ProspectsQuery["sort"], (dir: string) => string> = {
  name: (dir) => `p.last_name ${dir}, p.first_name ${dir}, p.id ${dir}`,
  company: (dir) => `p.company ${dir}, p.id ${dir}`,
  stage: (dir) => `p.stage ${dir}, p.id ${dir}`,
  verdict: (dir) => `p.verdict ${dir}, p.id ${dir}`,
  // Ids are given in the order in which people come.
  added: (dir) => `p.id ${dir}`,
};

const ON_LIST = "p.id IN (SELECT prospect_id FROM list_prospects WHERE list_id = @list)";
/** The same for long lists, of which a page in order is found by going through everybody in that order. */
const ON_LONG_LIST =
  "EXISTS (SELECT 1 FROM list_prospects lp WHERE lp.list_id = @list AND lp.prospect_id = p.id)";
const LONG_LIST = 5_000;

const listLength = ({ db }: App, list: number) =>
  sql(db, "SELECT count(*) AS count FROM list_prospects WHERE list_id = @list").get<{ count: number }>({
    list,
  })?.count ?? 0;

/** A filter as it is for somebody: a list or sequence that another keeps to themselves is to it as one that is not there. */
export function filterSeenBy(app: App, by: By, text: string): Filter | null {
  const filter = parseFilter(text);
  if (!filter) return null;
  const hidden = { list: hiddenFrom(app, by, "list.see"), outcome: hiddenFrom(app, by, "sequence.see") };
  return {
    ...filter,
    groups: filter.groups.map((group) => ({
      ...group,
      conditions: group.conditions.map((condition) => {
        const { field, value } = condition;
        if (field !== "list" && field !== "outcome") return condition;
        const [id = "", ...rest] = value.split(" ");
        return hidden[field].has(Number(id)) ? { ...condition, value: ["0", ...rest].join(" ") } : condition;
      }),
    })),
  };
}

/** Whom a query of somebody's means, as a condition over `prospects p` and the values that it binds. */
export function matching(
  app: App,
  by: By,
  query: ProspectsQuery,
): { where: string; values: Record<string, string | number> } {
  const filter = filterSql(filterSeenBy(app, by, query.f), app.clock.now());
  const conditions = ["p.live = 1"];
  const values: Record<string, string | number> = { ...filter.values };
  if (query.q !== "") {
    // One look at one text for each person; a line break stands in no search.
    conditions.push("p.found_by LIKE @like");
    values.like = `%${fold(query.q.slice(0, 200).replace(/[%_]/g, ""))}%`;
  }
  if (query.list !== undefined && hiddenFrom(app, by, "list.see").has(query.list)) conditions.push("0");
  else if (query.list !== undefined) {
    conditions.push(listLength(app, query.list) > LONG_LIST ? ON_LONG_LIST : ON_LIST);
    values.list = query.list;
  }
  if (query.ids !== "") {
    conditions.push("p.id IN (SELECT value FROM json_each(@ids))");
    values.ids = `[${query.ids}]`;
  }
  if (query.stage !== "") {
    conditions.push("p.stage = @stage");
    values.stage = query.stage;
  }
  if (filter.where !== "1") conditions.push(filter.where);
  return { where: conditions.join(" AND "), values };
}

/** Texts are read in the order in which they lie in the file: SQLite would go by an index of the living, and jump. */
const scan = ({ q, f }: ProspectsQuery) => {
  const groups = parseFilter(f)?.groups ?? [];
  const hasText = groups.some(({ conditions }) =>
    conditions.some(({ field }) => kindOfField(field) === "text"),
  );
  return q !== "" || hasText ? "NOT INDEXED" : "";
};

/** How many a query means. */
export function countProspects(app: App, by: By, query: ProspectsQuery): number {
  const { where, values } = matching(app, by, query);
  // Only living people are on lists, so a whole list is counted without looking at them.
  if (
    query.list !== undefined &&
    values.list === query.list &&
    query.q + query.f + query.stage + query.ids === ""
  )
    return listLength(app, query.list);
  const text = `SELECT count(*) AS count FROM prospects p ${scan(query)} WHERE ${where}`;
  return keptCount(
    app.db,
    `${text} ${JSON.stringify(values)}`,
    anyTruth(app.db),
    () => sql(app.db, text).get<{ count: number }>(values)?.count ?? 0,
  );
}

/** One page of prospects and how many there are in all. */
export function listProspects(
  app: App,
  by: By,
  query: ProspectsQuery,
): { rows: ProspectRow[]; total: number } {
  const { where, values } = matching(app, by, query);
  const order = ORDER[query.sort](query.dir);
  const offset = query.page * query.size;
  const window = { limit: query.size, offset };
  // What no index answers is asked of everybody once; the page is then taken out of the ids that match.
  if (query.q !== "" || query.f !== "") {
    const { ids } = sql(
      app.db,
      `SELECT json_group_array(id) AS ids FROM (SELECT p.id FROM prospects p ${scan(query)} WHERE ${where})`,
    ).get<{ ids: string }>(values) as { ids: string };
    const total = (JSON.parse(ids) as number[]).length;
    // In the order of an index, this many people are looked at until the page is full; else all matches are sorted.
    const people =
      sql(app.db, "SELECT max(id) AS most FROM prospects").get<{ most: number | null }>([])?.most ?? 0;
    if (((offset + query.size) * people) / total > total) {
      const found = "p.id IN (SELECT value FROM json_each(@ids))";
      return { rows: rowsOf(app, pageOf(found, order), order, { ids, ...window }), total };
    }
    return { rows: rowsOf(app, pageOf(where, order), order, { ...values, ...window }), total };
  }
  const rows = rowsOf(app, pageOf(where, order), order, { ...values, ...window });
  return { rows, total: countProspects(app, by, query) };
}

const pageOf = (where: string, order: string) =>
  `p.id IN (SELECT p.id FROM prospects p WHERE ${where} ORDER BY ${order} LIMIT @limit OFFSET @offset)`;

function rowsOf(
  { db }: App,
  where: string,
  order: string,
  values: Record<string, string | number>,
): ProspectRow[] {
  return sql(
    db,
    `SELECT p.id, coalesce(p.email, '') AS email, trim(p.first_name || ' ' || p.last_name) AS name, p.company,
       p.title, p.city, p.stage, p.verdict, p.verdict_reason AS verdictReason, p.verdict_detail AS verdictDetail,
       p.verdict_at AS verdictAt, u.name AS owner, p.custom, s.name AS sequence, j.state AS journeyState, j.next_at AS nextAt,
       j.wait_reason AS waitReason, j.wait_detail AS waitDetail, j.stop_reason AS stopReason,
       EXISTS (SELECT 1 FROM block_list b WHERE (b.kind = 'address' AND b.value = p.email)
         OR (b.kind = 'domain' AND b.value = substr(p.email, instr(p.email, '@') + 1))) AS blocked
     FROM prospects p
     LEFT JOIN users u ON u.id = p.owner_id
     LEFT JOIN journeys j ON j.id = (SELECT max(id) FROM journeys WHERE prospect_id = p.id)
     LEFT JOIN sequences s ON s.id = j.sequence_id
     WHERE ${where} ORDER BY ${order}`,
  )
    .all<Omit<ProspectRow, "custom"> & { custom: string }>(values)
    .map((row) => ({ ...row, custom: fieldsIn(row.custom) }));
}
