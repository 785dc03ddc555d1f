/** The loader of the Prospects page with 100,000 people, over many filters and sorts, against the bare SQL of the same page. */

import { webDomain } from "../core/prospects/cleaning/web.ts";
import type { Filter } from "../core/prospects/filter.ts";
import { listNamed } from "../server/db/lists.ts";
import { filterChoices } from "../server/prospects/filters/filter-choices.ts";
import { listState } from "../server/prospects/lists/list-state.ts";
import { allLists } from "../server/prospects/lists/lists.ts";
import { listProspects, prospectsQuery } from "../server/prospects/people/list-prospects.ts";
import { overviewOf } from "../server/prospects/people/overview.ts";
import { prospectStore } from "../server/prospects/people/store-prospect.ts";
import { sequenceChoices } from "../server/sequences/add-people.ts";
import type { Figure } from "./figure.ts";
import { freshApp } from "./fresh-app.ts";
import { inventRows } from "./people.ts";

const PEOPLE = 100_000;
const ROUNDS = 3;

const one = (field: string, op: string, value: string): string =>
  JSON.stringify({
    match: "all",
    groups: [{ match: "all", conditions: [{ field, op, value }] }],
  } satisfies Filter);

/** What reps ask for, with the condition that one would write by hand. */
const QUERIES: { query: Record<string, string>; where: string; order: string }[] = [
  { query: {}, where: "1", order: "id DESC" },
  { query: { page: "3000" }, where: "1", order: "id DESC" },
  { query: { sort: "name", dir: "asc" }, where: "1", order: "last_name, first_name, id" },
  { query: { sort: "company", dir: "desc", page: "100" }, where: "1", order: "company DESC, id DESC" },
  { query: { sort: "verdict", dir: "asc" }, where: "1", order: "verdict, id" },
  {
    query: { stage: "contacted", sort: "name", dir: "asc" },
    where: "stage = 'contacted'",
    order: "last_name, first_name, id",
  },
  {
    query: { q: "solheim" },
    where: "(email LIKE '%solheim%' OR last_name LIKE '%solheim%')",
    order: "id DESC",
  },
  {
    query: { q: "nobody at all" },
    where: "(email LIKE '%nobody at all%' OR last_name LIKE '%nobody at all%')",
    order: "id DESC",
  },
  {
    query: { list: "2" },
    where: "id IN (SELECT prospect_id FROM list_prospects WHERE list_id = 2)",
    order: "id DESC",
  },
  {
    query: { list: "1", sort: "name", dir: "asc" },
    where: "id IN (SELECT prospect_id FROM list_prospects WHERE list_id = 1)",
    order: "last_name, first_name, id",
  },
  {
    query: { f: one("title", "contains", "conserv"), sort: "company", dir: "asc" },
    where: "title LIKE '%conserv%'",
    order: "company, id",
  },
  {
    query: { f: one("custom:rooms", "is", "7"), sort: "name", dir: "asc" },
    where: "json_extract(custom, '$.rooms') = '7'",
    order: "last_name, first_name, id",
  },
  {
    query: { f: one("verdict", "is", "good") },
    where: "verdict = 'good'",
    order: "id DESC",
  },
  {
    query: { f: one("outcome", "is", "any not_started") },
    where: "NOT EXISTS (SELECT 1 FROM journeys j WHERE j.prospect_id = p.id)",
    order: "id DESC",
  },
  {
    query: { f: one("blocked", "is", "yes") },
    where: "EXISTS (SELECT 1 FROM block_list b WHERE b.kind = 'address' AND b.value = p.email)",
    order: "id DESC",
  },
];

export async function benchProspectsPage(): Promise<Figure> {
  const { app, close } = freshApp();
  const { db } = app;
  const lists = [listNamed(db, "Everybody", 0), listNamed(db, "A few", 0)];
  const stores = lists.map((listId) =>
    prospectStore(db, { origin: "import", originId: null, ownerId: null, listId, importId: null, now: 0 }),
  );
  db.transaction(() => {
    for (const [nth, person] of inventRows(PEOPLE).entries())
      stores[nth % 20 === 0 ? 1 : 0]?.({
        email: person.email,
        fields: {
          firstName: person.first,
          lastName: person.last,
          company: person.company,
          companyDomain: webDomain(person.website) ?? "",
          title: person.title,
          city: person.city,
          country: person.country,
          timeZone: "Europe/Berlin",
          phone: person.phone,
          profile: "",
          language: "",
        },
        custom: { rooms: person.rooms },
        changes: [],
      });
  })();
  db.exec(
    "UPDATE prospects SET verdict = CASE id % 5 WHEN 0 THEN 'risky' WHEN 1 THEN 'bad' ELSE 'good' END, stage = CASE id % 9 WHEN 0 THEN 'contacted' ELSE 'new' END",
  );

  const ours: number[] = [];
  const ratios: number[] = [];
  for (let round = 0; round < ROUNDS; round++)
    for (const { query, where, order } of QUERIES) {
      const parsed = prospectsQuery.parse(query);
      const offset = parsed.page * parsed.size;
      let began = performance.now();
      db.prepare(
        `SELECT * FROM prospects p WHERE live = 1 AND ${where} ORDER BY ${order} LIMIT 25 OFFSET ${offset}`,
      ).all();
      db.prepare(`SELECT count(*) FROM prospects p WHERE live = 1 AND ${where}`).get();
      const bare = performance.now() - began;
      began = performance.now();
      // All that the page's loader does.
      listProspects(app, 1, parsed);
      allLists(app, null);
      filterChoices(app, null);
      overviewOf(app);
      sequenceChoices(app, null);
      if (parsed.list !== undefined) listState(app, parsed.list);
      const took = performance.now() - began;
      if (round === 0) continue; // the first fills the caches of both
      ours.push(took);
      ratios.push(took / bare);
    }
  close();
  const sorted = ours.toSorted((a, b) => a - b);
  const p95 = sorted[Math.floor(sorted.length * 0.95)] as number;
  const mean = ratios.reduce((sum, ratio) => sum + ratio, 0) / ratios.length;
  return {
    bench: "prospects-page",
    // The worst of them, so that no filter or sort hides among the others.
    ratio: Number(Math.max(...ratios).toFixed(2)),
    limit: 5,
    kind: "most",
    people: PEOPLE,
    queries: QUERIES.length,
    meanRatio: Number(mean.toFixed(2)),
    p50Ms: Math.round(sorted[Math.floor(sorted.length / 2)] as number),
    p95Ms: Math.round(p95),
    slowestMs: Math.round(sorted.at(-1) as number),
  };
}
