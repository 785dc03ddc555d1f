/** No page walks through a table that grows: every statement of every page is explained on a grown database. */
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { APP, installation, LOADERS, one } from "../../app/tests/every-route.ts";

const PEOPLE = 3_000;

/** Thousands of people in ten companies each, on a list, on their way or through it, with what they did and wrote. */
const GROWN = `
  WITH RECURSIVE n(i) AS (SELECT 100 UNION ALL SELECT i + 1 FROM n WHERE i < 99 + ${PEOPLE})
    INSERT INTO companies (id, name, domain) SELECT i, 'Company ' || i, 'c' || i || '.example' FROM n WHERE i % 10 = 0;
  WITH RECURSIVE n(i) AS (SELECT 100 UNION ALL SELECT i + 1 FROM n WHERE i < 99 + ${PEOPLE})
    INSERT INTO prospects (id, email, first_name, last_name, company_id, company, owner_id, created_at, stage)
    SELECT i, 'p' || i || '@c' || (i / 10 * 10) || '.example', 'Ana', 'Reis ' || i, i / 10 * 10, 'Company ' || (i / 10 * 10), 1 + i % 2, i,
      iif(i % 5 = 0, 'in_conversation', 'contacted') FROM n;
  INSERT INTO list_prospects (list_id, prospect_id) SELECT 1, id FROM prospects WHERE id >= 100;
  INSERT INTO journeys (id, sequence_id, prospect_id, version, place_id, since, due_at, started_at, state, ended_at)
    SELECT id, 1, id, 1, iif(id % 3 = 0, NULL, 'two'), id, id, id, iif(id % 3 = 0, 'stopped', 'active'), iif(id % 3 = 0, id, NULL)
    FROM prospects WHERE id >= 100;
  INSERT INTO touches (id, kind, journey_id, step_id, version, variant_id, prospect_id, mailbox_id, recipient, state, at, due_at, sent_at, ended_at, subject, body, message_id)
    SELECT id, 'email', id, 'one', 1, 'a', id, 1, email, 'sent', id, id, id, id, 'Loans', 'Hello', '<' || id || '@q.example>'
    FROM prospects WHERE id >= 100;
  INSERT INTO crm_links (crm_id, kind, prospect_id, there_id, base, there_at) SELECT 1, 'person', id, 'p' || id, '{}', 0 FROM prospects WHERE id >= 100;
  INSERT INTO crm_conflicts (crm_id, link_id, field, here, there, at) SELECT 1, id, 'title', 'a', 'b', 0 FROM crm_links WHERE id % 2 = 0 AND id > 10;
  INSERT INTO crm_deals (crm_id, prospect_id, there_id, name, stage, changed_at) SELECT 1, id, 'd' || id, 'd', 's', 0 FROM prospects WHERE id >= 100;
  INSERT INTO crm_outbox (crm_id, kind, prospect_id, external_id, body, at, state) SELECT 1, 'activity', id, 'x' || id, '{}', 0, 'done' FROM prospects WHERE id >= 100;
  INSERT INTO events (at, kind, prospect_id, journey_id, touch_id, mailbox_id)
    SELECT t.id, k.value, t.prospect_id, t.journey_id, t.id, 1 FROM touches t, json_each('["email_sent", "opened"]') k WHERE t.id >= 100;
  INSERT INTO replies (id, mailbox_id, message_id, prospect_id, touch_id, kind, certainty, from_address, from_name, answer_to, subject, text, at, read_at)
    SELECT id, 1, '<r' || id || '@c.example>', prospect_id, id, 'person', 'sure', recipient, 'Ana', recipient, 'Re: Loans', 'Tell me more.', id, iif(id % 6 = 0, NULL, id)
    FROM touches WHERE id >= 100 AND id % 3 = 0;
`;

/** What grows with the people and with the years. */
const GROWS = [
  "prospects",
  "companies",
  "list_prospects",
  "journeys",
  "touches",
  "events",
  "replies",
  "crm_links",
  "crm_conflicts",
  "crm_outbox",
];

/** Pages that give out everything. */
const WHOLE = [
  "prospects/routes/prospects-export.tsx",
  "prospects/routes/prospect-data.tsx",
  "prospects/routes/import-left-out.ts",
];

/** Goes in the order of the page and ends with it. */
const ENDS_EARLY = /^SELECT p\.id, coalesce\(p\.email, ''\) .* ORDER BY p\.id desc LIMIT @limit/s;

let installed: Awaited<ReturnType<typeof installation>>;
/** Every statement with what it was asked. */
let asked: Map<string, unknown[]> | null = null;
// A count that is kept may walk: it is made again seldom (server/db/kept-counts.ts).
vi.mock("../db/kept-counts.ts", async (original) => {
  const actual = await original<typeof import("../db/kept-counts.ts")>();
  const keptCount: typeof actual.keptCount = (db, key, truth, compute) => {
    const before = asked;
    asked = null;
    try {
      return actual.keptCount(db, key, truth, compute);
    } finally {
      asked = before;
    }
  };
  return { ...actual, keptCount };
});
beforeAll(async () => {
  installed = await installation();
  const { db } = installed.app;
  db.exec(GROWN);
  const prepare = db.prepare.bind(db);
  db.prepare = ((text: string) => {
    const statement = prepare(text);
    for (const way of ["get", "all", "iterate", "run"] as const) {
      const run = statement[way].bind(statement) as (...values: unknown[]) => unknown;
      Object.assign(statement, {
        [way]: (...values: unknown[]) => {
          asked?.set(text, values);
          return run(...values);
        },
      });
    }
    return statement;
  }) as typeof db.prepare;
});
afterAll(() => installed.close());

/** The tables that an alias stands for anywhere in a statement. */
function tablesOf(text: string): Map<string, Set<string>> {
  const tables = new Map<string, Set<string>>();
  for (const [, table = "", alias] of text.matchAll(
    /\b(?:FROM|JOIN|UPDATE|INTO|,)\s+(\w+)(?:\s+(?:AS\s+)?(?!ON\b|WHERE\b|JOIN\b|LEFT\b|ORDER\b|GROUP\b|SET\b|USING\b|INDEXED\b|CROSS\b|LIMIT\b|UNION\b)(\w+))?/gi,
  ))
    for (const name of [table, alias]) if (name) tables.set(name, (tables.get(name) ?? new Set()).add(table));
  return tables;
}

/** The walks through a growing table that a statement would make. */
function walks(text: string, values: unknown[]): string[] {
  if (ENDS_EARLY.test(text)) return [];
  const plan = installed.app.db.prepare(`EXPLAIN QUERY PLAN ${text}`).all(...values) as { detail: string }[];
  const tables = tablesOf(text);
  return plan.flatMap(({ detail }) => {
    const [, name] = detail.match(/^SCAN (\w+)/) ?? [];
    return name && [...(tables.get(name) ?? [])].some((table) => GROWS.includes(table)) ? [detail] : [];
  });
}

describe("the statements of", () => {
  it.each(Object.keys(LOADERS).filter((file) => !WHOLE.includes(file)))(
    "%s walk through no growing table",
    async (file) => {
      const { loader } = (await import(/* @vite-ignore */ join(APP, file))) as {
        loader: (args: unknown) => Promise<unknown>;
      };
      asked = new Map();
      try {
        await loader({
          request: new Request("http://here.example/?show=people"),
          params: { ...one, journeyId: "1" },
          context: installed.contextOf("owner"),
        });
      } catch (thrown) {
        if (!(thrown instanceof Response) && !(thrown as { init?: unknown }).init) throw thrown;
      }
      const texts = [...asked];
      asked = null;
      expect(texts.length).toBeGreaterThan(0);
      const found = texts.flatMap(([text, values]) =>
        walks(text, values).map((walk) => `${walk}\n  ${text.replaceAll(/\s+/g, " ")}`),
      );
      expect(found).toEqual([]);
    },
  );
});
