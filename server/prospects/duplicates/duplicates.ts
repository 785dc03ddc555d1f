/** Pairs that may be the same, for a person to decide. */
import { z } from "zod";
import { whyNotYours } from "../../accounts/ownership.ts";
import type { User } from "../../accounts/session.ts";
import type { App } from "../../app.ts";
import { askJob } from "../../db/jobs.ts";
import { keptCount, listTruth } from "../../db/kept-counts.ts";
import { sql } from "../../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
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
    (SELECT count(*) FROM touches t WHERE t.prospect_id = p.id AND t.state = 'sent' AND t.kind != 'test') AS sent,
    (SELECT count(*) FROM replies r WHERE r.prospect_id = p.id AND r.kind = 'person') AS replies,
    EXISTS (SELECT 1 FROM block_list b WHERE b.kind = 'address' AND b.value = p.email) AS blocked
  FROM prospects p WHERE p.id = @id`;
const COMPANY = `SELECT c.id, c.name, coalesce(c.domain, '') AS email, '' AS company,
    (SELECT count(*) || iif(count(*) = 1, ' person', ' people') FROM prospects p WHERE p.company_id = c.id AND p.live = 1) AS title, '' AS city,
    '' AS phone, '' AS stage, NULL AS verdict, '' AS lists, 0 AS sent, 0 AS replies, 0 AS blocked
  FROM companies c WHERE c.id = @id`;

/** Open pairs `d` that are still two, of a list's people if one is given. */
const OPEN = `d.state = 'open' AND (@listId IS NULL
    OR (d.kind = 'person' AND EXISTS (SELECT 1 FROM list_prospects lp WHERE lp.list_id = @listId AND lp.prospect_id IN (d.a_id, d.b_id)))
    OR (d.kind = 'company' AND EXISTS (
      -- From the companies' side, who are few people; the list's may be 100,000.
      SELECT 1 FROM prospects p CROSS JOIN list_prospects lp ON lp.list_id = @listId AND lp.prospect_id = p.id
      WHERE p.company_id IN (d.a_id, d.b_id))))
    AND CASE d.kind WHEN 'person' THEN (SELECT min(live) FROM prospects WHERE id IN (d.a_id, d.b_id)) = 1
      ELSE NOT EXISTS (SELECT 1 FROM companies WHERE id IN (d.a_id, d.b_id) AND merged_into IS NOT NULL) END`;

/** How many pairs of a list wait for a decision. */
export function countDuplicates({ db }: App, listId: number | null, truth = listTruth(db, listId)): number {
  return keptCount(
    db,
    `duplicates ${listId}`,
    truth,
    () =>
      sql<{ listId: number | null }, { count: number }>(
        db,
        `SELECT count(*) AS count FROM duplicates d WHERE ${OPEN}`,
      ).get({ listId })?.count ?? 0,
  );
}

/** Open pairs, and how many there are; those of a list's people if one is given. */
export function openDuplicates(
  app: App,
  listId: number | null,
): { pairs: DuplicatePair[]; total: number; byRule: number } {
  const { db } = app;
  const rows = sql<
    { listId: number | null },
    { id: number; kind: "person" | "company"; a: number; b: number; reason: string }
  >(
    db,
    `SELECT d.id, d.kind, d.a_id AS a, d.b_id AS b, d.reason FROM duplicates d WHERE ${OPEN} ORDER BY d.id LIMIT ${LISTED}`,
  ).all({ listId });
  const side = (kind: "person" | "company", id: number) =>
    sql<{ id: number }, Side>(db, kind === "person" ? PERSON : COMPANY).get({ id });
  return {
    pairs: rows.flatMap(({ id, kind, a, b, reason }) => {
      const [left, right] = [side(kind, a), side(kind, b)];
      return left && right ? [{ id, kind, reason, a: left, b: right }] : [];
    }),
    total: countDuplicates(app, listId),
    byRule:
      sql<[], { count: number }>(db, "SELECT count(*) AS count FROM duplicates WHERE by_rule = 1").get([])
        ?.count ?? 0,
  };
}

const form = z.object({
  id: z.coerce.number().int(),
  /** Without one, they are two. */
  keepId: z.coerce.number().int().optional(),
});

/** Merges a pair into the one that is kept, or notes that they are two. */
export function decideDuplicate(app: App, user: User, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { db } = app;
  const { id, keepId } = read.data;
  return db
    .transaction((): Outcome<null> => {
      const pair = sql<{ id: number }, { kind: string; a: number; b: number }>(
        db,
        "SELECT kind, a_id AS a, b_id AS b FROM duplicates WHERE id = @id AND state = 'open'",
      ).get({ id });
      if (!pair) return refused({ form: "This pair has been decided already." });
      if (keepId !== undefined) {
        if (keepId !== pair.a && keepId !== pair.b) return refused({ form: "Choose one of the two." });
        const ids = { keepId, goneId: keepId === pair.a ? pair.b : pair.a };
        if (pair.kind === "company") mergeCompanies(app, ids);
        else {
          const notYours = whyNotYours(app, user, { prospectIds: [pair.a, pair.b] });
          if (notYours) return refused({ form: notYours });
          const merged = mergeProspects(app, ids, user.id);
          if (!merged.ok) return merged;
        }
      }
      sql<Record<string, unknown>>(db, "UPDATE duplicates SET state = @state WHERE id = @id").run({
        id,
        state: keepId === undefined ? "apart" : "merged",
      });
      return done(null);
    })
    .immediate();
}

/** Looks through everybody again. */
export function askDuplicates(app: App, userId: number | null): number {
  return askJob(app.db, { kind: "duplicates", input: {}, userId, now: app.clock.now() });
}
