/** Who may be the same, for a person to decide: pairs that share somebody are one question. */

import { z } from "zod";
import type { DuplicateReason } from "../../../core/prospects/duplicates.ts";
import type { Stage } from "../../../core/prospects/stages.ts";
import { type By, hiddenFrom, mayNot } from "../../accounts/may-not.ts";
import type { User } from "../../accounts/session.ts";
import type { App } from "../../app.ts";
import { askJob } from "../../db/jobs.ts";
import { keptCount, listTruth } from "../../db/kept-counts.ts";
import { listNames } from "../../db/lists.ts";
import { type Db, sql, transact } from "../../db/open.ts";
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
  stage: Stage;
  verdict: string | null;
  verdictReason: string | null;
  lists: string;
  sent: number;
  replies: number;
  blocked: number;
}

export interface DuplicateGroup {
  kind: "person" | "company";
  /** The pairs that it is made of. */
  pairIds: number[];
  reasons: DuplicateReason[];
  /** Two or more, the oldest first. */
  sides: Side[];
}

const LISTED = 100;

const PERSON = `SELECT p.id, trim(p.first_name || ' ' || p.last_name) AS name, coalesce(p.email, '') AS email, p.company,
    p.title, p.city, p.phone, p.stage, p.verdict, p.verdict_reason AS verdictReason,
    coalesce(${listNames("p.id", ", ")}, '') AS lists,
    (SELECT count(*) FROM touches t WHERE t.prospect_id = p.id AND t.state = 'sent' AND t.kind != 'test') AS sent,
    (SELECT count(*) FROM replies r WHERE r.prospect_id = p.id AND r.kind = 'person') AS replies,
    EXISTS (SELECT 1 FROM block_list b WHERE b.kind = 'address' AND b.value = p.email) AS blocked
  FROM prospects p WHERE p.id = @id`;
const COMPANY = `SELECT c.id, c.name, coalesce(c.domain, '') AS email, '' AS company,
    (SELECT count(*) || iif(count(*) = 1, ' person', ' people') FROM prospects p WHERE p.company_id = c.id AND p.live = 1) AS title, '' AS city,
    '' AS phone, '' AS stage, NULL AS verdict, NULL AS verdictReason, '' AS lists, 0 AS sent, 0 AS replies, 0 AS blocked
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
      sql(db, `SELECT count(*) AS count FROM duplicates d WHERE ${OPEN}`).get<{ count: number }>({ listId })
        ?.count ?? 0,
  );
}

/** Open questions as somebody sees them, people before companies, and how many pairs there are; those of a list's people if one is given. */
export function openDuplicates(
  app: App,
  by: By,
  listId: number | null,
): { groups: DuplicateGroup[]; total: number; listed: number; byRule: number } {
  const { db } = app;
  const rows = sql(
    db,
    `SELECT d.id, d.kind, d.a_id AS a, d.b_id AS b, d.reason FROM duplicates d WHERE ${OPEN}
     ORDER BY d.kind = 'company', d.id LIMIT ${LISTED}`,
  ).all<Pair>({ listId });
  const hidden = JSON.stringify([...hiddenFrom(app, by, "list.see")]);
  const side = (kind: "person" | "company", id: number) =>
    kind === "person" ? sql(db, PERSON).get<Side>({ id, hidden }) : sql(db, COMPANY).get<Side>({ id });
  return {
    groups: grouped(rows).flatMap((pairs) => {
      const kind = (pairs[0] as Pair).kind;
      const ids = [...new Set(pairs.flatMap(({ a, b }) => [a, b]))].sort((x, y) => x - y);
      const sides = ids.flatMap((id) => side(kind, id) ?? []);
      const reasons = [...new Set(pairs.map(({ reason }) => reason))];
      return sides.length > 1 ? [{ kind, pairIds: pairs.map(({ id }) => id), reasons, sides }] : [];
    }),
    total: countDuplicates(app, listId),
    listed: rows.length,
    byRule:
      sql(db, "SELECT count(*) AS count FROM duplicates WHERE by_rule = 1").get<{ count: number }>([])
        ?.count ?? 0,
  };
}

interface Pair {
  id: number;
  kind: "person" | "company";
  a: number;
  b: number;
  reason: DuplicateReason;
}

/** Pairs that are joined by somebody whom they share, in the order in which they stand. */
function grouped(pairs: Pair[]): Pair[][] {
  const groups: Pair[][] = [];
  for (const pair of pairs) {
    const joins = groups.filter((group) =>
      group.some(
        (other) =>
          other.kind === pair.kind && [other.a, other.b].some((id) => id === pair.a || id === pair.b),
      ),
    );
    const [first, ...others] = joins;
    if (!first) groups.push([pair]);
    else {
      first.push(pair, ...others.flat());
      for (const other of others) groups.splice(groups.indexOf(other), 1);
    }
  }
  return groups;
}

const ids = z
  .string()
  .regex(/^\d+(,\d+)*$/)
  .transform((text) => text.split(",").map(Number));
const form = z.object({
  pairs: ids,
  /** Who remains; without one, all are different. */
  keepId: z.coerce.number().int().optional(),
  /** Who is the same as the one that remains. */
  same: ids.optional(),
});

/** Merges those who are the same into the one that is kept; the others of the question are different. Returns what undoes it, in the order to be undone. */
export function decideDuplicates(app: App, user: User, input: unknown): Outcome<number[]> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { db } = app;
  const { pairs: pairIds, keepId, same = [] } = read.data;
  return transact(app, (): Outcome<number[]> => {
    const pairs = sql(
      db,
      `SELECT id, kind, a_id AS a, b_id AS b, reason FROM duplicates
         WHERE state = 'open' AND id IN (SELECT value FROM json_each(@ids))`,
    ).all<Pair>({ ids: JSON.stringify(pairIds) });
    if (pairs.length === 0) return refused({ form: "This has been decided already." });
    const all = new Set(pairs.flatMap(({ a, b }) => [a, b]));
    const no = mayNot(app, user.id, "prospect.merge", concerned(db, (pairs[0] as Pair).kind, [...all]));
    if (no) return no;
    const gone = same.filter((id) => id !== keepId);
    if (keepId !== undefined && (gone.length === 0 || [keepId, ...gone].some((id) => !all.has(id))))
      return refused({ form: "Choose which of them are the same, and the one that remains." });
    const undoIds: number[] = [];
    if (keepId !== undefined) {
      const merged = mergeAll(app, user, (pairs[0] as Pair).kind, keepId, gone);
      if (!merged.ok) return merged;
      undoIds.push(...merged.value);
    }
    const isSame = new Set(keepId === undefined ? [] : [keepId, ...gone]);
    const decide = sql(db, "UPDATE duplicates SET state = @state WHERE id = @id");
    for (const { id, a, b } of pairs)
      decide.run({ id, state: isSame.has(a) && isSame.has(b) ? "merged" : "apart" });
    return done(undoIds.reverse());
  });
}

/** The people whom a decision is about; of companies those who work there. */
function concerned(db: Db, kind: Pair["kind"], ids: readonly number[]): number[] {
  if (kind === "person") return [...ids];
  return sql(
    db,
    "SELECT id FROM prospects WHERE live = 1 AND company_id IN (SELECT value FROM json_each(@ids))",
  )
    .all<{ id: number }>({ ids: JSON.stringify(ids) })
    .map(({ id }) => id);
}

function mergeAll(
  app: App,
  user: User,
  kind: "person" | "company",
  keepId: number,
  gone: number[],
): Outcome<number[]> {
  if (kind === "company")
    return done(gone.flatMap((goneId) => mergeCompanies(app, { keepId, goneId }, user.id) ?? []));
  const undoIds: number[] = [];
  for (const goneId of gone) {
    const merged = mergeProspects(app, { keepId, goneId }, user.id);
    if (!merged.ok) return merged;
    undoIds.push(merged.value);
  }
  return done(undoIds);
}

export function askDuplicates(app: App, userId: number | null): number {
  return askJob(app.db, { kind: "duplicates", input: {}, userId, now: app.clock.now() });
}
