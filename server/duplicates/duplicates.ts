/** Pairs that may be the same, for a person to decide. */
import { z } from "zod";
import type { App } from "../app.ts";
import { askJob } from "../db/jobs.ts";
import { sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { mergeCompanies } from "./merge-companies.ts";
import { mergeProspects } from "./merge-prospects.ts";

export interface Side {
  id: number;
  name: string;
  email: string;
  company: string;
  title: string;
  city: string;
  phone: string;
  stage: string;
  verdict: string | null;
  lists: string;
  sent: number;
  replies: number;
  blocked: number;
}

export interface DuplicatePair {
  id: number;
  kind: "person" | "company";
  reason: string;
  a: Side;
  b: Side;
}

const LISTED = 100;

const PERSON = `SELECT p.id, trim(p.first_name || ' ' || p.last_name) AS name, coalesce(p.email, '') AS email, p.company,
    p.title, p.city, p.phone, p.stage, p.verdict,
    coalesce((SELECT group_concat(l.name, ', ') FROM list_prospects lp JOIN lists l ON l.id = lp.list_id
      WHERE lp.prospect_id = p.id), '') AS lists,
    (SELECT count(*) FROM touches t WHERE t.prospect_id = p.id AND t.state = 'sent') AS sent,
    (SELECT count(*) FROM replies r WHERE r.prospect_id = p.id AND r.kind = 'person') AS replies,
    EXISTS (SELECT 1 FROM block_list b WHERE b.kind = 'address' AND b.value = p.email) AS blocked
  FROM prospects p WHERE p.id = @id`;
const COMPANY = `SELECT c.id, c.name, coalesce(c.domain, '') AS email, '' AS company,
    (SELECT count(*) || ' people' FROM prospects p WHERE p.company_id = c.id AND p.live = 1) AS title, '' AS city,
    '' AS phone, '' AS stage, NULL AS verdict, '' AS lists, 0 AS sent, 0 AS replies, 0 AS blocked
  FROM companies c WHERE c.id = @id`;

/** Open pairs, and how many there are; those of a list's people if one is given. */
export function openDuplicates({ db }: App, listId: number | null): { pairs: DuplicatePair[]; total: number; byRule: number } {
  const where = `d.state = 'open' AND (@listId IS NULL
    OR (d.kind = 'person' AND EXISTS (SELECT 1 FROM list_prospects lp WHERE lp.list_id = @listId AND lp.prospect_id IN (d.a_id, d.b_id)))
    OR (d.kind = 'company' AND EXISTS (SELECT 1 FROM list_prospects lp JOIN prospects p ON p.id = lp.prospect_id
      WHERE lp.list_id = @listId AND p.company_id IN (d.a_id, d.b_id))))
    AND CASE d.kind WHEN 'person' THEN (SELECT min(live) FROM prospects WHERE id IN (d.a_id, d.b_id)) = 1
      ELSE NOT EXISTS (SELECT 1 FROM companies WHERE id IN (d.a_id, d.b_id) AND merged_into IS NOT NULL) END`;
  const rows = sql<{ listId: number | null }, { id: number; kind: "person" | "company"; a: number; b: number; reason: string }>(
    db,
    `SELECT d.id, d.kind, d.a_id AS a, d.b_id AS b, d.reason FROM duplicates d WHERE ${where} ORDER BY d.id LIMIT ${LISTED}`,
  ).all({ listId });
  const side = (kind: "person" | "company", id: number) =>
    sql<{ id: number }, Side>(db, kind === "person" ? PERSON : COMPANY).get({ id });
  const count = (condition: string) =>
    sql<{ listId: number | null }, { count: number }>(
      db,
      `SELECT count(*) AS count FROM duplicates d WHERE ${condition}`,
    ).get({ listId })?.count ?? 0;
  return {
    pairs: rows.flatMap(({ id, kind, a, b, reason }) => {
      const [left, right] = [side(kind, a), side(kind, b)];
      return left && right ? [{ id, kind, reason, a: left, b: right }] : [];
    }),
    total: count(where),
    byRule: count("d.by_rule = 1 AND (@listId IS NULL OR 1)"),
  };
}

const form = z.object({
  id: z.coerce.number().int(),
  decision: z.enum(["merge", "apart"]),
  keepId: z.coerce.number().int().optional(),
});

/** Merges a pair into the one that is kept, or says that they are two. */
export function decideDuplicate(app: App, userId: number | null, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { db } = app;
  const { id, decision, keepId } = read.data;
  return db
    .transaction((): Outcome<null> => {
      const pair = sql<{ id: number }, { kind: string; a: number; b: number }>(
        db,
        "SELECT kind, a_id AS a, b_id AS b FROM duplicates WHERE id = @id AND state = 'open'",
      ).get({ id });
      if (!pair) return refused({ form: "This pair has been decided already." });
      if (decision === "merge") {
        const keep = keepId === pair.b ? pair.b : pair.a;
        const ids = { keepId: keep, goneId: keep === pair.a ? pair.b : pair.a };
        if (pair.kind === "company") mergeCompanies(app, ids);
        else {
          const merged = mergeProspects(app, ids, userId);
          if (!merged.ok) return merged;
        }
      }
      sql<Record<string, unknown>>(db, "UPDATE duplicates SET state = @state WHERE id = @id").run({
        id,
        state: decision === "merge" ? "merged" : "apart",
      });
      return done(null);
    })
    .immediate();
}

/** Looks through everybody again. */
export function askDuplicates(app: App, userId: number | null): number {
  return askJob(app.db, { kind: "duplicates", input: {}, userId, now: app.clock.now() });
}
