/**
 * Every look of Results with 60 sequences, 300,000 starts, 1,500,000 touches and 5,000,000 events, against the count over all
 * events that it replaces; and what a write costs more because outcomes are kept.
 */
import { DAY, dayNumberOf, textOfDay } from "../core/calendar.ts";
import { apply } from "../server/consequences/apply.ts";
import { sql } from "../server/db/open.ts";
import { rebuildOutcomes } from "../server/db/outcomes.ts";
import { lookChoices } from "../server/results/choices.ts";
import { lookQuery } from "../server/results/look.ts";
import { sequenceResults } from "../server/results/one-sequence.ts";
import { cohorts, overview } from "../server/results/overview.ts";
import { behindQuery, peopleBehind } from "../server/results/people-behind.ts";
import { report } from "../server/results/report.ts";
import { senders } from "../server/results/senders.ts";
import { weekAhead, weekTargets } from "../server/results/targets.ts";
import { listSequences } from "../server/sequences/list-sequences.ts";
import {
  addPeople,
  addSequence,
  addUnasked,
  createWorld,
  email,
  TUESDAY,
  type World,
} from "../server/tests/world.ts";
import { type Figure, median } from "./figure.ts";

const SEQUENCES = 60;
const STARTS = 300_000;
const STEPS = 5;
const EVENTS = 5_000_000;
const MAILBOXES = 30;
const ZONE = "Europe/Lisbon";
/** One for each sequence, so that none is looked at twice. */
const ROUNDS = SEQUENCES;

const path = Array.from({ length: STEPS }, (_, nth) =>
  email(`s${nth}`, nth === 0 ? 0 : 3, { subject: nth === 0 ? "Loans" : "", body: "Hello" }),
);

async function bigWorld(): Promise<World> {
  const world = await createWorld({ standin: false });
  const { db } = world.app;
  db.pragma("synchronous = OFF");
  const mailboxes = Array.from({ length: MAILBOXES }, (_, nth) =>
    addUnasked(world, `m${nth}@quillwater.example`),
  );
  const list = addPeople(world, ["ana"]);
  for (let nth = 0; nth < SEQUENCES; nth++)
    addSequence(world, list, [mailboxes[nth % MAILBOXES] as number], { path });
  // What is measured is not how this world is made: without triggers, and each index in one go.
  const around = sql(
    db,
    `SELECT type, name, sql FROM sqlite_schema WHERE type IN ('trigger', 'index') AND sql IS NOT NULL
       AND tbl_name IN ('journeys', 'touches', 'events', 'prospects')`,
  ).all<{ type: string; name: string; sql: string }>([]);
  for (const { type, name } of around) db.exec(`DROP ${type} ${name}`);
  db.pragma("cache_size = -1000000");
  const first = TUESDAY - 730 * DAY;
  const apart = Math.floor((730 * DAY) / STARTS);
  const many = (count: number) =>
    `WITH RECURSIVE n (i) AS (VALUES (1) UNION ALL SELECT i + 1 FROM n WHERE i < ${count})`;
  db.exec(`BEGIN;
    ${many(STARTS)} INSERT INTO prospects (id, email, first_name, company, title, country, created_at)
      SELECT 1000 + i, 'p' || i || '@h' || (i % 5000) || '.example', 'P', 'C' || (i % 5000),
        CASE i % 3 WHEN 0 THEN 'Registrar' WHEN 1 THEN 'Head of collections' ELSE 'Facilities manager' END,
        CASE i % 4 WHEN 0 THEN 'PT' WHEN 1 THEN 'ES' ELSE 'FR' END, 0 FROM n;
    ${many(STARTS)} INSERT INTO journeys (id, sequence_id, prospect_id, state, version, place_id, mailbox_id, due_at, started_at, ended_at, next_at)
      SELECT i, 1 + (i % ${SEQUENCES}), 1000 + i, CASE WHEN i % 6 = 0 THEN 'active' WHEN i % 6 < 3 THEN 'stopped' ELSE 'finished' END, 1, 's4',
        1 + (i % ${MAILBOXES}), 0, ${first} + i * ${apart}, CASE WHEN i % 6 != 0 THEN ${first} + i * ${apart} + ${20 * DAY} END, 1 FROM n;
    ${many(STARTS * STEPS)} INSERT INTO touches (id, kind, journey_id, step_id, version, variant_id, prospect_id, mailbox_id, recipient, state, at, due_at, ended_at, sent_at, message_id, subject, body)
      SELECT i, 'email', j, 's' || (i % ${STEPS}), 1, 'a', 1000 + j, 1 + (j % ${MAILBOXES}), 'p@x.example', 'sent', t, t, t, t, '<' || i || '>', 'Loans', ''
      FROM (SELECT i, 1 + (i - 1) / ${STEPS} AS j, ${first} + (1 + (i - 1) / ${STEPS}) * ${apart} + (i % ${STEPS}) * ${3 * DAY} AS t FROM n);
    ${many(EVENTS)} INSERT INTO events (at, kind, prospect_id, journey_id, touch_id, mailbox_id)
      SELECT ${first} + j * ${apart} + (t % ${STEPS}) * ${3 * DAY} + 3600000, CASE WHEN i % 3 = 0 THEN 'email_sent' WHEN i % 97 = 0 THEN 'replied'
          WHEN i % 211 = 0 THEN 'bounced' WHEN i % 601 = 0 THEN 'booked' ELSE 'opened' END, 1000 + j, j, t, 1 + (j % ${MAILBOXES})
      FROM (SELECT i, t, 1 + (t - 1) / ${STEPS} AS j FROM (SELECT i, 1 + (i * ${STARTS * STEPS}) / ${EVENTS + 1} AS t FROM n));
    COMMIT`);
  for (const { sql: text } of around.toSorted((a, b) => a.type.localeCompare(b.type))) db.exec(text);
  db.pragma("cache_size = -32768");
  return world;
}

async function timed(work: () => unknown): Promise<number> {
  const began = performance.now();
  await work();
  return performance.now() - began;
}
const p95 = (times: number[]) =>
  times.toSorted((a, b) => a - b)[Math.ceil(0.95 * times.length) - 1] as number;

export async function benchResults(): Promise<Figure> {
  const world = await bigWorld();
  try {
    const { app, userId } = world;
    const { db } = app;
    const rebuiltMs = await timed(() => rebuildOutcomes(db));
    db.exec("ANALYZE");
    // Something happens to somebody between any two looks, so that nothing that was counted before serves.
    let nth = 0;
    const happens = () => {
      nth = (nth + 7_919) % (STARTS * STEPS);
      const touch = sql(
        db,
        "SELECT id AS touchId, journey_id AS journeyId, prospect_id AS prospectId FROM touches WHERE id = @id",
      ).get<{
        touchId: number;
        journeyId: number;
        prospectId: number;
      }>({ id: nth + 1 });
      if (touch) apply(app.db as never, { kind: "opened" }, { ...touch, at: TUESDAY, mailboxId: 1 });
    };
    const usual = lookQuery.parse({});
    const recent = lookQuery.parse({ since: "2026-01-01" });
    const narrow = lookQuery.parse({ country: "PT", credit: "shared" });
    const people = behindQuery.parse({ pick: "answered" });
    const country = lookQuery.parse({ country: "PT", stage: "new", rep: userId });
    const ofList = lookQuery.parse({ list: 1 });
    const looks: Record<string, (id: number) => unknown> = {
      overview: () => overview(app, userId, usual, ZONE),
      "overview of a time": () => overview(app, userId, recent, ZONE),
      "overview of a country": () => overview(app, userId, country, ZONE),
      "overview of a list": () => overview(app, userId, ofList, ZONE),
      senders: () => senders(app, ZONE),
      weeks: () => cohorts(app, userId, null, usual, ZONE),
      "weeks of a country": () => cohorts(app, userId, null, country, ZONE),
      targets: () => weekTargets(app, userId, ZONE),
      report: () => report(app, userId, textOfDay(dayNumberOf(TUESDAY, ZONE)), "week", ZONE),
      sequence: (id) => sequenceResults(app, userId, id, usual, ZONE),
      "sequence of a country": (id) => sequenceResults(app, userId, id, narrow, ZONE),
      "people behind": (id) => peopleBehind(app, userId, id, people, ZONE),
      choices: (id) => lookChoices(app, userId, id, ZONE),
      list: () => listSequences(app, userId),
    };
    const times: Record<string, number> = {};
    for (const [name, look] of Object.entries(looks)) {
      const each: number[] = [];
      for (let round = 1; round <= ROUNDS; round++) {
        happens();
        each.push(await timed(() => look(round)));
      }
      times[name] = p95(each);
    }
    const before = await timed(() =>
      sql(
        db,
        `SELECT t.step_id, count(DISTINCT CASE WHEN t.state = 'sent' THEN t.id END), count(DISTINCT CASE WHEN e.kind = 'opened' THEN t.id END),
           count(DISTINCT CASE WHEN e.kind = 'replied' THEN t.id END) FROM journeys j JOIN touches t ON t.journey_id = j.id
         LEFT JOIN events e ON e.touch_id = t.id GROUP BY j.sequence_id, t.step_id`,
      ).all([]),
    );
    const ahead = await timed(() => weekAhead(app, weekTargets(app, userId, ZONE).lines, ZONE));
    const { list = 0, ...pages } = times;
    const slowest = Math.max(...Object.values(pages));
    return {
      bench: "results",
      ratio: Number((slowest / before).toFixed(4)),
      limit: 0.045,
      kind: "most",
      ...Object.fromEntries(Object.entries(times).map(([name, ms]) => [name, Math.round(ms)])),
      weekAheadMs: Math.round(ahead),
      countedBeforeMs: Math.round(before),
      rebuiltMs: Math.round(rebuiltMs),
    };
  } finally {
    await world.close();
  }
}

const CHUNKS = 150;
const PEOPLE_IN_CHUNK = 20;

/** A world in which so many are written to after the other, each written to, sent, and opened in a transaction of its own. */
async function writingWorld(keeps: boolean): Promise<{ world: World; writeChunk: (nth: number) => number }> {
  const world = await createWorld({ standin: false });
  const { db } = world.app;
  const mailbox = addUnasked(world);
  const names = Array.from({ length: CHUNKS * PEOPLE_IN_CHUNK }, (_, nth) => `p${nth}`);
  const id = addSequence(world, addPeople(world, names), [mailbox], { path });
  const triggers = sql(db, "SELECT name FROM sqlite_schema WHERE type = 'trigger' AND name LIKE 'outcome%'");
  if (!keeps) for (const { name } of triggers.all<{ name: string }>([])) db.exec(`DROP TRIGGER ${name}`);
  const write = db.prepare(
    `INSERT INTO journeys (sequence_id, prospect_id, place_id, due_at, started_at) VALUES (${id}, ?, 's0', 0, 0)`,
  );
  const touch = db.prepare(
    `INSERT INTO touches (kind, journey_id, step_id, version, variant_id, prospect_id, mailbox_id, recipient, state, due_at, message_id, claimed_at)
     VALUES ('email', ?, 's0', 1, 'a', ?, ${mailbox}, 'x@x.example', 'claimed', 0, ?, 1)`,
  );
  const sent = db.prepare(
    "UPDATE touches SET state = 'sent', sent_at = 1, ended_at = 1, body = ? WHERE id = ?",
  );
  const body = "Dear Ana, ".repeat(80);
  const writeChunk = (nth: number) => {
    const began = performance.now();
    for (let each = 1; each <= PEOPLE_IN_CHUNK; each++) {
      const person = nth * PEOPLE_IN_CHUNK + each;
      const journeyId = Number(db.transaction(() => write.run(person).lastInsertRowid)());
      const touchId = Number(
        db.transaction(() => touch.run(journeyId, person, `<${person}>`).lastInsertRowid)(),
      );
      const about = { at: 2, prospectId: person, journeyId, touchId, mailboxId: mailbox };
      db.transaction(() => {
        sent.run(body, touchId);
        apply(db as never, { kind: "sent" }, about);
      })();
      db.transaction(() => apply(db as never, { kind: "opened" }, about))();
    }
    return performance.now() - began;
  };
  return { world, writeChunk };
}

/** With what is kept of each write and without, in turns: what else the machine does falls on both. */
export async function benchResultsWrite(): Promise<Figure> {
  const keeping = await writingWorld(true);
  const bare = await writingWorld(false);
  try {
    const times: [withIt: number[], without: number[]] = [[], []];
    for (let nth = 0; nth < CHUNKS; nth++) {
      times[0].push(keeping.writeChunk(nth));
      times[1].push(bare.writeChunk(nth));
    }
    const [withIt, without] = [median(times[0]), median(times[1])];
    return {
      bench: "results-write",
      ratio: Number((withIt / without).toFixed(3)),
      limit: 1.05,
      kind: "most",
      msWith: Number(withIt.toFixed(2)),
      msWithout: Number(without.toFixed(2)),
      writes: 4 * PEOPLE_IN_CHUNK,
    };
  } finally {
    await keeping.world.close();
    await bare.world.close();
  }
}
