import { findDuplicates, findSameCompanies, type PersonKey } from "../../../core/prospects/duplicates.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { mergeCompanies } from "./merge-companies.ts";
import { mergeProspects } from "./merge-prospects.ts";

const PERSON_KEYS = `SELECT p.id, p.email, p.first_name AS firstName, p.last_name AS lastName,
   coalesce(c.domain, c.name, '') AS domain, p.profile
 FROM prospects p LEFT JOIN companies c ON c.id = p.company_id`;

/** Forgets open pairs of people of whom one is gone, or who are not alike any more. */
export function dropStalePairs({ db }: App): void {
  const key = sql(db, `${PERSON_KEYS} WHERE p.live = 1 AND p.id = @id`);
  const drop = sql(db, "DELETE FROM duplicates WHERE id = @id");
  const open = sql(
    db,
    "SELECT id, a_id AS a, b_id AS b FROM duplicates WHERE kind = 'person' AND state = 'open'",
  );
  for (const { id, a, b } of open.all<{ id: number; a: number; b: number }>([])) {
    const two = [key.get<PersonKey>({ id: a }), key.get<PersonKey>({ id: b })].filter(
      (each) => each !== undefined,
    );
    if (two.length < 2 || findDuplicates(two).length === 0) drop.run({ id });
  }
}

/**
 * Looks for people and companies that are there twice, among all or among those at the companies of
 * one import. Certain ones are merged by rule, companies first, so that people of one company in two
 * spellings meet; likely ones wait for a person. What was decided before stays decided.
 */
export async function findAndMerge(
  app: App,
  scope: { importId: number | null },
): Promise<{ merged: number; likely: number }> {
  const { db, clock } = app;
  const companies = sql(db, "SELECT id, name FROM companies WHERE merged_into IS NULL").all<{
    id: number;
    name: string;
  }>([]);
  const sameCompanies = findSameCompanies(companies);
  const outcome = { merged: 0, likely: 0 };
  const decided = sql(
    db,
    "SELECT 1 FROM duplicates WHERE kind = @kind AND a_id = @a AND b_id = @b AND state != 'open'",
  );
  const insert = sql(
    db,
    `INSERT INTO duplicates (kind, a_id, b_id, reason, state, by_rule, at)
     VALUES (@kind, @a, @b, @reason, @state, @byRule, @now) ON CONFLICT (kind, a_id, b_id) DO NOTHING`,
  );
  const note = (
    pair: { kind: "person" | "company"; a: number; b: number; reason: string },
    isMerged: boolean,
  ) => {
    outcome[isMerged ? "merged" : "likely"]++;
    insert.run({ ...pair, state: isMerged ? "merged" : "open", byRule: isMerged ? 1 : 0, now: clock.now() });
  };

  db.transaction(() => {
    const domainOf = sql(db, "SELECT domain FROM companies WHERE id = @id");
    for (const [a, b] of sameCompanies) {
      if (decided.get({ kind: "company", a, b })) continue;
      // One of the two known by name only: certain. Two domains: for a person to decide.
      const isCertain =
        domainOf.get<{ domain: string | null }>({ id: a })?.domain == null ||
        domainOf.get<{ domain: string | null }>({ id: b })?.domain == null;
      if (isCertain) mergeCompanies(app, { keepId: a, goneId: b }, null);
      note({ kind: "company", a, b, reason: "same_name" }, isCertain);
    }
  }).immediate();

  const people = sql(
    db,
    `${PERSON_KEYS} WHERE p.live = 1 AND (@importId IS NULL OR p.company_id IN (
       SELECT company_id FROM prospects WHERE origin = 'import' AND origin_id = @importId))`,
  ).all<PersonKey>({ importId: scope.importId });
  const pairs = findDuplicates(people);
  // An import merges only those whom it brings, so that its undo has nothing else to take apart.
  const isBrought = sql(
    db,
    "SELECT 1 FROM prospects WHERE id = @id AND (@importId IS NULL OR (origin = 'import' AND origin_id = @importId))",
  );
  db.transaction(() => {
    for (const { a, b, reason, certain } of pairs) {
      if (decided.get({ kind: "person", a, b })) continue;
      const isMerged =
        certain &&
        isBrought.get({ id: b, importId: scope.importId }) !== undefined &&
        mergeProspects(app, { keepId: a, goneId: b }, null).ok;
      note({ kind: "person", a, b, reason }, isMerged);
    }
  }).immediate();
  return outcome;
}
