/** The shipped seasons open as any older database does, and hold what was planted in them: results find it. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type App, openApp } from "../server/app.ts";
import { setDemoClock } from "../server/clock.ts";
import { readConfig } from "../server/config.ts";
import { type Db, migrate, openDb, sql } from "../server/db/open.ts";
import { rebuildOutcomes } from "../server/db/outcomes.ts";
import { lookQuery } from "../server/results/look.ts";
import { type SequenceResults, sequenceResults } from "../server/results/one-sequence.ts";
import { overview } from "../server/results/overview.ts";
import { senders } from "../server/results/senders.ts";
import { KEEN_TITLE } from "./season-people.ts";
import { FALLING, SEASONS_END } from "./seasons.ts";
import { unpackSeasons } from "./seasons-file.ts";

const ZONE = "Europe/Lisbon";
const folder = mkdtempSync(join(tmpdir(), "saudade-seasons-"));
let app: App;
let seasons: SequenceResults[];

beforeAll(() => {
  const database = join(folder, "seasons.db");
  unpackSeasons(database);
  app = openApp(
    readConfig({
      SAUDADE_DB: database,
      SAUDADE_KEY: "0".repeat(64),
      SAUDADE_BACKUPS: "off",
      SAUDADE_URL: "http://127.0.0.1:9",
    }),
  );
  migrate(app.db);
  setDemoClock(app.db, Date.parse(SEASONS_END), false);
  const look = lookQuery.parse({});
  seasons = overview(app, 1, look, ZONE).lines.map(({ id }) => {
    const results = sequenceResults(app, 1, id, look, ZONE);
    if (!results) throw new Error("no results");
    return results;
  });
});
afterAll(() => {
  app.db.close();
  rmSync(folder, { recursive: true, force: true });
});
const count = (text: string) =>
  sql(app.db, `SELECT count(*) AS n FROM ${text}`).get<{ n: number }>([])?.n ?? 0;

describe("the finished seasons", () => {
  it("are of 1,500 people, with some 5,000 emails and the calls between, and over for all of them", () => {
    expect(count("prospects WHERE live = 1")).toBe(1_500);
    expect(count("touches WHERE kind = 'email' AND state = 'sent'")).toBeGreaterThan(4_500);
    expect(count("touches WHERE kind = 'call' AND state = 'done'")).toBeGreaterThan(700);
    expect(count("journeys WHERE state = 'active'")).toBe(0);
    expect(count("replies WHERE read_at IS NULL AND kind = 'person'")).toBe(0);
    expect(count("reminders WHERE ended_at IS NULL")).toBe(0);
  });

  it("have the schema of a new database", () => {
    const fresh = openDb(":memory:");
    migrate(fresh);
    const schemaOf = (db: Db) =>
      sql(
        db,
        "SELECT type, name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite_%' ORDER BY type, name",
      ).all<object>([]);
    expect(schemaOf(app.db)).toEqual(schemaOf(fresh));
    fresh.close();
  });

  it("hold no secret of where they were recorded", () => {
    expect(count("mailboxes WHERE password_sealed != '' OR client_secret_sealed != ''")).toBe(0);
    expect(count("sessions")).toBe(0);
  });

  it("count as their touches and events say", () => {
    const kept = () =>
      ["journey_outcomes", "touch_outcomes"].map((table) => app.db.prepare(`SELECT * FROM ${table}`).all());
    const before = kept();
    rebuildOutcomes(app.db);
    expect(kept()).toEqual(before);
  });

  it("show the wording that is better, the job that answers more, the good hour and the silent step", () => {
    expect(seasons).toHaveLength(2);
    for (const { id, name, worded, groups, steps, findings } of seasons) {
      const [opening] = worded;
      const [a, b] = (opening?.wordings ?? []).map(({ part, whole }) => part / whole);
      expect([name, (b ?? 0) > 1.5 * (a ?? 1)]).toEqual([name, true]);
      expect([name, findings.map(({ kind }) => kind)]).toEqual([
        name,
        expect.arrayContaining(["wording_better"]),
      ]);
      const keen = groups.find(
        ({ attribute, own, rest, differs }) =>
          attribute === "title" && differs && own.part / own.whole > rest.part / rest.whole,
      );
      expect([name, keen?.value]).toEqual([
        name,
        expect.stringContaining(KEEN_TITLE.split(" ")[0]?.toLowerCase() ?? ""),
      ]);
      // Wanting to talk is rarer than answers: what one hour does to it is seen with twice the people.
      const { stretches } = sequenceResults(app, 1, id, lookQuery.parse({ green: "answered" }), ZONE) ?? {
        stretches: [],
      };
      expect([
        name,
        stretches.some(({ by, from, differs }) => by === "hour" && differs && from >= 7 && from <= 9),
      ]).toEqual([name, true]);
      expect([name, steps.find(({ stepId }) => stepId === "brochure")?.brought.positive]).toEqual([name, 0]);
    }
  });

  it("show the mailbox that lost its name, and no other", () => {
    const drifting = senders(app, ZONE).filter(({ drift }) => drift !== null);
    expect(drifting.map(({ name }) => name)).toEqual([FALLING.sender]);
  });
});
