/**
 * Every page of a list with 100,000 people and thousands of open pairs, while the engine sends and the file is written
 * to: the slowest page's 95th percentile, against reading as many rows bare.
 */
import { spawn } from "node:child_process";
import { join } from "node:path";
import { webDomain } from "../core/prospects/cleaning/web.ts";
import { projectRoot } from "../server/config.ts";
import { listNamed } from "../server/db/lists.ts";
import { countCleaned, countRules, listCleanings } from "../server/prospects/cleaning/cleanings.ts";
import { openDuplicates } from "../server/prospects/duplicates/duplicates.ts";
import { checkedAddresses, listState } from "../server/prospects/lists/list-state.ts";
import { listProspects, prospectsQuery } from "../server/prospects/people/list-prospects.ts";
import { prospectStore } from "../server/prospects/people/store-prospect.ts";
import type { Figure } from "./figure.ts";
import { freshApp } from "./fresh-app.ts";
import { inventRows } from "./people.ts";

const PEOPLE = 100_000;
const PAIRS = 5_000;
const ROUNDS = 30;

export async function benchListPages(): Promise<Figure> {
  const { app, close } = freshApp();
  const { db } = app;
  const listId = listNamed(db, "Everybody", 0);
  const store = prospectStore(db, {
    origin: "import",
    originId: null,
    ownerId: null,
    listId,
    importId: null,
    now: 0,
  });
  db.transaction(() => {
    for (const person of inventRows(PEOPLE))
      store({
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
        custom: {},
        changes: [
          { field: "title", before: person.title.toUpperCase(), after: person.title, rules: ["capitals"] },
        ],
      });
    const pair = db.prepare(
      "INSERT INTO duplicates (kind, a_id, b_id, reason, at) VALUES (?, ?, ?, 'same_name', 0) ON CONFLICT DO NOTHING",
    );
    for (let nth = 1; nth <= PAIRS; nth++) {
      pair.run("person", nth, nth + PAIRS);
      pair.run("company", nth, nth + PAIRS);
    }
  })();
  // Somebody else writes all the time, as the engine does while it sends and plans.
  const writer = spawn(
    process.execPath,
    ["--import", "tsx", join(projectRoot, "bench/busy-writer.ts"), app.config.database],
    { stdio: ["ignore", "pipe", "inherit"] },
  );
  await new Promise((ready) => writer.stdout.once("data", ready));

  const query = (more: Record<string, string>) => prospectsQuery.parse({ list: String(listId), ...more });
  const pages: Record<string, () => unknown> = {
    people: () => [listState(app, listId), listProspects(app, 1, query({}))],
    "people by name": () => [
      listState(app, listId),
      listProspects(app, 1, query({ sort: "name", dir: "asc", page: "900" })),
    ],
    cleaning: () => [
      listState(app, listId),
      countRules(app, listId),
      countCleaned(app, listId),
      listCleanings(app, listId, "capitals", 3),
    ],
    duplicates: () => [listState(app, listId), openDuplicates(app, 1, listId)],
    addresses: () => [listState(app, listId), checkedAddresses(app, listId, "all", 3)],
    unchecked: () => [listState(app, listId), checkedAddresses(app, listId, "unchecked", 0)],
  };
  const times = new Map<string, number[]>(Object.keys(pages).map((name) => [name, []]));
  const bare: number[] = [];
  const rows = db.prepare(
    "SELECT * FROM prospects WHERE id IN (SELECT prospect_id FROM list_prospects WHERE list_id = ?) ORDER BY id DESC LIMIT 50",
  );
  for (let round = 0; round < ROUNDS; round++) {
    for (const [name, page] of Object.entries(pages)) {
      const began = performance.now();
      page();
      times.get(name)?.push(performance.now() - began);
    }
    const began = performance.now();
    rows.all(listId);
    bare.push(performance.now() - began);
    await new Promise((next) => setTimeout(next, 5));
  }
  writer.kill();
  close();
  const p95 = (all: number[]) => all.toSorted((a, b) => a - b)[Math.floor(all.length * 0.95)] as number;
  const each = Object.fromEntries([...times].map(([name, all]) => [name, Math.round(p95(all))]));
  const slowest = Math.max(...Object.values(each));
  return {
    bench: "list-pages",
    // What the pages' limit of 300 ms is to reading 50 rows bare, which takes about 10 ms here.
    ratio: Number((slowest / Math.max(1, p95(bare))).toFixed(1)),
    limit: 30,
    kind: "most",
    onTheList: PEOPLE,
    pairs: 2 * PAIRS,
    bareMs: Math.round(p95(bare)),
    slowestMs: slowest,
    ...each,
  };
}
