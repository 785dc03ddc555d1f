import { z } from "zod";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";

/** The state of the page as the address bar holds it. */
export const prospectsQuery = z.object({
  q: z.string().trim().max(100).catch("").default(""),
  list: z.coerce.number().int().optional().catch(undefined),
  stage: z.string().max(20).catch("").default(""),
  sort: z.enum(["name", "company", "stage", "added"]).catch("added").default("added"),
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
  stage: string;
  /** What goes on: the sequence and its state, if any. */
  sequence: string | null;
  journeyState: string | null;
  nextAt: number | null;
  waitReason: string | null;
  stopReason: string | null;
  blocked: number;
}

const ORDER: Record<ProspectsQuery["sort"], (dir: string) => string> = {
  name: (dir) => `p.last_name ${dir}, p.first_name ${dir}, p.id ${dir}`,
  company: (dir) => `p.company_id ${dir}, p.id ${dir}`,
  stage: (dir) => `p.stage ${dir}, p.id ${dir}`,
  added: (dir) => `p.created_at ${dir}, p.id ${dir}`,
};

/** One page of prospects and how many there are in all. */
export function listProspects({ db }: App, query: ProspectsQuery): { rows: ProspectRow[]; total: number } {
  const conditions: string[] = [];
  if (query.q !== "")
    conditions.push(
      `(p.email LIKE @like OR p.last_name LIKE @like OR p.first_name LIKE @like
        OR p.first_name || ' ' || p.last_name LIKE @like
        OR p.company_id IN (SELECT id FROM companies WHERE name LIKE @like))`,
    );
  if (query.list !== undefined)
    conditions.push("p.id IN (SELECT prospect_id FROM list_prospects WHERE list_id = @list)");
  if (query.stage !== "") conditions.push("p.stage = @stage");
  const where = conditions.length > 0 ? `WHERE ${conditions.join(" AND ")}` : "";
  const values = {
    like: `%${query.q.replace(/[%_]/g, "")}%`,
    list: query.list ?? null,
    stage: query.stage,
    limit: query.size,
    offset: query.page * query.size,
  };
  const total =
    sql<typeof values, { count: number }>(db, `SELECT count(*) AS count FROM prospects p ${where}`).get(
      values,
    )?.count ?? 0;
  const rows = sql<typeof values, ProspectRow>(
    db,
    `SELECT p.id, p.email, trim(p.first_name || ' ' || p.last_name) AS name, coalesce(c.name, '') AS company,
       p.title, p.city, p.stage, s.name AS sequence, j.state AS journeyState, j.next_at AS nextAt,
       j.wait_reason AS waitReason, j.stop_reason AS stopReason,
       EXISTS (SELECT 1 FROM block_list b WHERE b.kind = 'address' AND b.value = p.email) AS blocked
     FROM (SELECT p.* FROM prospects p ${where}
           ORDER BY ${ORDER[query.sort](query.dir)} LIMIT @limit OFFSET @offset) p
     LEFT JOIN companies c ON c.id = p.company_id
     LEFT JOIN journeys j ON j.id = (SELECT max(id) FROM journeys WHERE prospect_id = p.id)
     LEFT JOIN sequences s ON s.id = j.sequence_id
     ORDER BY ${ORDER[query.sort](query.dir)}`,
  ).all(values);
  return { rows, total };
}

export interface ListRow {
  id: number;
  name: string;
  count: number;
}

/** Every list with its number of prospects. */
export function allLists({ db }: App): ListRow[] {
  return sql<[], ListRow>(
    db,
    `SELECT l.id, l.name, (SELECT count(*) FROM list_prospects WHERE list_id = l.id) AS count
     FROM lists l ORDER BY l.name`,
  ).all([]);
}
