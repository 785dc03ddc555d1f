/**
 * What the triggers keep is what the touches and events say: worlds drawn at random, every happening through its own door, are
 * counted again here from the raw rows by the words of core/results/figures.ts.
 */
import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { DAY } from "../../core/calendar.ts";
import { creditOf } from "../../core/results/credit.ts";
import { type Course, FIGURE_NAMES, figuresOf } from "../../core/results/figures.ts";
import type { AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { forgetCounts } from "../db/kept-counts.ts";
import {
  figuresBySequence,
  figuresOfEach,
  keepOutcomes,
  rebuildOutcomes,
  wordingOutcomes,
} from "../db/outcomes.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import { mergeProspects } from "../prospects/duplicates/merge-prospects.ts";
import { eraseForGood } from "../prospects/privacy/erase-prospect.ts";
import { labelReply, undoLabel } from "../replies/label-reply.ts";
import { saveLabel } from "../replies/labels.ts";
import { startJourneys } from "../sequences/start-sequence.ts";
import { addPeople, addSequence, addUnasked, createWorld, inCopyOf, TUESDAY } from "../tests/world.ts";
import { lookQuery, materialOf, narrowed } from "./look.ts";

const NAMES = ["ana", "bia", "caio"];
const STEPS = ["one", "two"];
const COUNTRIES = ["", "PT", "DE"];
let image: Buffer;
let sequences: number[];

beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const list = addPeople(world, NAMES);
  const mailbox = addUnasked(world);
  sequences = [addSequence(world, list, [mailbox]), addSequence(world, list, [mailbox])];
  world.app.db.exec("UPDATE sequences SET state = 'running'");
  image = world.app.db.serialize();
  await world.close();
});

const who = fc.nat({ max: NAMES.length - 1 }).map((nth) => nth + 1);
const step = fc.constantFrom(...STEPS);
const happening = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.record({ do: fc.constant("start" as const), who, sequence: fc.nat({ max: 1 }) }),
  },
  {
    weight: 8,
    arbitrary: fc.record({
      do: fc.constant("touch" as const),
      who,
      step,
      kind: fc.constantFrom("email", "call", "profile_view", "invitation"),
      state: fc.constantFrom("claimed", "sent", "done", "refused", "skipped"),
      outcome: fc.constantFrom(null, "reached", "voicemail", "no_answer"),
    }),
  },
  { weight: 2, arbitrary: fc.record({ do: fc.constant("taken" as const), who, step }) },
  {
    weight: 8,
    arbitrary: fc.record({
      do: fc.constant("event" as const),
      who,
      // Null: it answers a letter outside of a journey.
      step: fc.option(step),
      kind: fc.constantFrom(
        "opened",
        "clicked",
        "replied",
        "bounced",
        "opted_out",
        "complained",
        "booked",
        "booking_cancelled",
      ),
    }),
  },
  {
    weight: 4,
    arbitrary: fc.record({
      do: fc.constant("label" as const),
      nth: fc.nat({ max: 2 }),
      label: fc.constantFrom("interested", "question", "not_now"),
    }),
  },
  { weight: 2, arbitrary: fc.record({ do: fc.constant("unlabel" as const), nth: fc.nat({ max: 2 }) }) },
  {
    weight: 4,
    arbitrary: fc.record({
      do: fc.constant("counts" as const),
      label: fc.constantFrom("interested", "question"),
      isPositive: fc.boolean(),
    }),
  },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("move" as const), who }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("merge" as const), who, other: who }) },
  { weight: 2, arbitrary: fc.record({ do: fc.constant("erase" as const), who }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("forget" as const), who, step }) },
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constant("person" as const),
      who,
      country: fc.constantFrom(...COUNTRIES),
      stage: fc.constantFrom("new", "contacted", "won"),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({ do: fc.constant("mailbox" as const), who, mailbox: fc.option(fc.constant(1)) }),
  },
);
type Happening = typeof happening extends fc.Arbitrary<infer T> ? T : never;

const STARTED: Happening[] = [{ do: "start", who: 1, sequence: 0 }];
const WRITTEN: Happening[] = [
  ...STARTED,
  { do: "touch", who: 1, step: "one", kind: "email", state: "sent", outcome: null },
];
/** What few drawn worlds have: in every run all that is counted happens. */
const SELDOM: Happening[][] = [
  STARTED,
  ...(["opened", "clicked", "booked"] as const).map((kind): Happening[] => [
    ...WRITTEN,
    { do: "event", who: 1, step: "one", kind },
  ]),
];

let at = 0;
const seen = new Set<string>();

function happen(app: AppTx, each: Happening): void {
  const { db } = app;
  at += 1_000;
  const one = <T>(text: string, ...values: unknown[]) => db.prepare<unknown[], T>(text).get(...values);
  const journeyOf = (prospectId: number) =>
    one<{ id: number }>(
      "SELECT id FROM journeys WHERE prospect_id = ? ORDER BY started_at DESC, id DESC LIMIT 1",
      prospectId,
    )?.id;
  const touchOf = (prospectId: number, stepId: string) =>
    one<{ id: number }>(
      "SELECT id FROM touches WHERE journey_id = ? AND step_id = ?",
      journeyOf(prospectId),
      stepId,
    )?.id;
  const replyAt = (nth: number) =>
    one<{ id: number }>("SELECT id FROM replies ORDER BY id LIMIT 1 OFFSET ?", nth)?.id;
  switch (each.do) {
    case "start": {
      const sequenceId = sequences[each.sequence] as number;
      db.prepare(
        "UPDATE journeys SET state = 'finished', ended_at = ? WHERE prospect_id = ? AND state = 'active'",
      ).run(at, each.who);
      if (!one("SELECT 1 FROM prospects WHERE id = ? AND live = 1", each.who)) return;
      // As starting again makes room: the latest is round 0.
      const on = [each.who, sequenceId];
      db.prepare(
        `UPDATE journeys SET round = 1 + (SELECT max(round) FROM journeys WHERE prospect_id = ? AND sequence_id = ?)
         WHERE prospect_id = ? AND sequence_id = ? AND round = 0`,
      ).run(...on, ...on);
      startJourneys(app, null, sequenceById(app.db, sequenceId) as Sequence, [each.who], { again: true });
      return;
    }
    case "touch": {
      const journey = journeyOf(each.who);
      if (journey === undefined || touchOf(each.who, each.step) !== undefined) return;
      const [sent, over] = [each.state === "sent", each.state !== "claimed"];
      db.prepare(
        `INSERT INTO touches (kind, journey_id, step_id, version, prospect_id, mailbox_id, recipient, state, at, due_at, ended_at, sent_at, outcome, message_id, claimed_at)
         VALUES (?, ?, ?, 1, ?, 1, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      ).run(
        each.kind,
        journey,
        each.step,
        each.who,
        `${NAMES[each.who - 1]}@x.example`,
        each.state,
        at,
        at,
        over ? at : null,
        sent ? at : null,
        each.kind === "call" ? each.outcome : null,
        `<${at}@q.example>`,
        at,
      );
      return;
    }
    case "taken":
      db.prepare(
        "UPDATE touches SET state = 'sent', sent_at = ?, ended_at = ? WHERE id = ? AND state = 'claimed'",
      ).run(at, at, touchOf(each.who, each.step));
      return;
    case "event": {
      if (!one("SELECT 1 FROM prospects WHERE id = ? AND live = 1", each.who)) return;
      const journeyId = each.step === null ? null : (journeyOf(each.who) ?? null);
      const touchId = each.step === null ? null : (touchOf(each.who, each.step) ?? null);
      const replyId =
        each.kind === "replied"
          ? Number(
              db
                .prepare(
                  `INSERT INTO replies (mailbox_id, message_id, prospect_id, touch_id, kind, from_address, from_name, subject, text, at)
                   VALUES (1, ?, ?, ?, 'person', 'x@x.example', 'X', 'Re', 'Hm.', ?)`,
                )
                .run(`<r${at}@x.example>`, each.who, touchId, at - 500).lastInsertRowid,
            )
          : null;
      const about = { at, prospectId: each.who, journeyId, touchId, replyId, recipient: "" };
      if (each.kind === "bounced")
        apply(db, { kind: "bounced", hard: at % 2_000 === 0, words: "gone" }, about);
      else if (each.kind === "clicked") apply(db, { kind: "clicked", url: "https://q.example" }, about);
      else if (each.kind === "complained") apply(db, { kind: "complained", because: "report" }, about);
      else if (each.kind === "booked" || each.kind === "booking_cancelled")
        apply(db, { kind: each.kind, at }, about);
      else apply(db, { kind: each.kind as "replied" | "opened" | "opted_out" }, about);
      return;
    }
    case "label": {
      const replyId = replyAt(each.nth);
      if (replyId !== undefined) labelReply(app, 1, { replyId, label: each.label });
      return;
    }
    case "unlabel": {
      const replyId = replyAt(each.nth);
      if (replyId !== undefined) undoLabel(app, 1, replyId);
      return;
    }
    case "counts": {
      const label = one<{ id: number; name: string; effects: string }>(
        "SELECT id, name, effects FROM labels WHERE key = ?",
        each.label,
      );
      if (label)
        saveLabel(app, null, label.id, {
          name: label.name,
          effects: {
            stage: null,
            stops: true,
            resumes: false,
            colleagues: "leave",
            task: "",
            listId: null,
            blocks: false,
          },
          isPositive: each.isPositive,
        });
      return;
    }
    case "move":
      // As a merge does with somebody who was on both.
      db.prepare("UPDATE OR IGNORE journeys SET sequence_id = ? WHERE id = ?").run(
        sequences[at % 2],
        journeyOf(each.who) ?? 0,
      );
      return;
    case "merge":
      if (
        each.who !== each.other &&
        one<{ n: number }>(
          "SELECT count(*) AS n FROM prospects WHERE live = 1 AND id IN (?, ?)",
          each.who,
          each.other,
        )?.n === 2
      )
        mergeProspects(app, { keepId: each.who, goneId: each.other }, 1);
      return;
    case "erase":
      if (one("SELECT 1 FROM prospects WHERE id = ? AND live = 1", each.who)) eraseForGood(app, each.who);
      return;
    case "person":
      db.prepare("UPDATE prospects SET country = ?, stage = ? WHERE id = ? AND live = 1").run(
        each.country,
        each.stage,
        each.who,
      );
      return;
    case "mailbox":
      db.prepare("UPDATE journeys SET mailbox_id = ? WHERE prospect_id = ?").run(each.mailbox, each.who);
      return;
    case "forget": {
      const touch = touchOf(each.who, each.step);
      if (
        touch !== undefined &&
        !one(
          "SELECT 1 FROM events WHERE touch_id = ? UNION SELECT 1 FROM replies WHERE touch_id = ?",
          touch,
          touch,
        )
      )
        db.prepare("DELETE FROM touches WHERE id = ?").run(touch);
    }
  }
}

interface Raw {
  journeys: { id: number; sequence_id: number; state: string; started_at: number; ended_at: number | null }[];
  touches: {
    id: number;
    journey_id: number;
    kind: string;
    state: string;
    at: number | null;
    sent_at: number | null;
    ended_at: number | null;
    outcome: string | null;
  }[];
  events: {
    id: number;
    at: number;
    kind: string;
    journey_id: number | null;
    touch_id: number | null;
    reply_id: number | null;
  }[];
  liked: { id: number; at: number }[];
}

const least = (times: (number | null | undefined)[]): number | null => {
  const known = times.filter((time): time is number => typeof time === "number");
  return known.length === 0 ? null : Math.min(...known);
};

/** By sequence, from nothing but the rows. */
function recounted(app: AppTx): Map<number, Course[]> {
  const all = <T>(text: string) => app.db.prepare<[], T>(text).all();
  const raw: Raw = {
    journeys: all("SELECT * FROM journeys"),
    touches: all("SELECT * FROM touches WHERE journey_id IS NOT NULL"),
    events: all("SELECT * FROM events"),
    liked: all("SELECT r.id, r.at FROM replies r JOIN labels l ON l.id = r.label_id WHERE l.is_positive = 1"),
  };
  const courses = new Map<number, Course[]>();
  for (const journey of raw.journeys) {
    const events = raw.events.filter(({ journey_id }) => journey_id === journey.id);
    const made = raw.touches
      .filter((touch) => touch.journey_id === journey.id && ["sent", "done", "refused"].includes(touch.state))
      .map((touch) => {
        const when = touch.sent_at ?? touch.ended_at ?? touch.at ?? 0;
        const own = raw.events.filter(({ touch_id }) => touch_id === touch.id);
        const bounced =
          touch.state === "refused"
            ? (touch.ended_at ?? touch.at ?? 0)
            : least(own.filter(({ kind }) => kind === "bounced").map((event) => event.at));
        const isWriting = !["profile_view", "errand"].includes(touch.kind);
        const gotThrough =
          touch.kind === "call"
            ? ["reached", "voicemail"].includes(touch.outcome ?? "") && touch.state !== "refused"
            : bounced === null;
        return {
          written: isWriting ? when : null,
          reached: isWriting && gotThrough ? when : null,
          bounced,
          talked: touch.kind === "call" && touch.outcome === "reached" ? when : null,
          opened: least(own.filter(({ kind }) => kind === "opened").map((event) => event.at)),
          clicked: least(own.filter(({ kind }) => kind === "clicked").map((event) => event.at)),
        };
      });
    const of = (...kinds: string[]) => events.filter(({ kind }) => kinds.includes(kind));
    const booked = of("booked").filter(({ id }) => !of("booking_cancelled").some((later) => later.id > id));
    const replied = of("replied");
    const reachedAt = least(made.map(({ reached }) => reached));
    const back = made.flatMap(({ bounced }) => (bounced === null ? [] : [bounced]));
    const bookedAt = least(booked.map((event) => event.at));
    const course: Course = {
      startedAt: journey.started_at,
      endedAt: journey.ended_at,
      stoppedAt: journey.state === "stopped" ? (journey.ended_at ?? journey.started_at) : null,
      writtenAt: least(made.map(({ written }) => written)),
      reachedAt,
      bouncedAt: reachedAt === null && back.length > 0 ? Math.max(...back) : null,
      answeredAt: least([...replied.map((event) => event.at), ...made.map(({ talked }) => talked)]),
      positiveAt: least([
        ...replied.map(({ reply_id }) => raw.liked.find(({ id }) => id === reply_id)?.at),
        bookedAt,
      ]),
      bookedAt,
      optedOutAt: least(of("opted_out", "complained").map((event) => event.at)),
      openedAt: least(made.map(({ opened }) => opened)),
      clickedAt: least(made.map(({ clicked }) => clicked)),
    };
    courses.set(journey.sequence_id, [...(courses.get(journey.sequence_id) ?? []), course]);
  }
  return courses;
}

/** What is owed to the emails of each step, by the words of core/results/credit.ts. */
function owedTo(app: AppTx, sequenceId: number): Record<string, number[]> {
  const { starts, touches } = materialOf(app, 1, sequenceId, lookQuery.parse({}), "UTC");
  const sums: Record<string, number[]> = {};
  for (const own of touches.values())
    for (const { stepId, kind, isReached } of own)
      if (kind === "email" && isReached) addTo(sums, stepId, [1, 0, 0]);
  for (const start of starts)
    for (const [green, sum] of [
      ["answered", [0, 1, 0]],
      ["positive", [0, 0, 1]],
    ] as const)
      for (const { touch } of creditOf(start, touches.get(start.id) ?? [], green, "answered"))
        if (touch.kind === "email" && touch.isReached) addTo(sums, touch.stepId, sum);
  return sums;
}

function wordedSums(app: AppTx, sequenceId: number): Record<string, number[]> {
  const sums: Record<string, number[]> = {};
  for (const { stepId, reached, answered, positive } of wordingOutcomes(app.db, sequenceId))
    addTo(sums, stepId, [reached, answered, positive]);
  return sums;
}

function addTo(sums: Record<string, number[]>, key: string, some: readonly number[]): void {
  sums[key] = some.map((each, nth) => each + (sums[key]?.[nth] ?? 0));
}

/** Each filter of a look, and what it says of the raw journeys `j` with their people `p`. */
const FILTERS: readonly (readonly [query: Record<string, string>, raw: string])[] = [
  [{ country: "PT" }, "p.country = 'PT'"],
  [{ stage: "won" }, "p.stage = 'won'"],
  [{ mailbox: "1" }, "j.mailbox_id = 1"],
  [{ rep: "1" }, "j.mailbox_id = 1"],
  [{ rep: "2" }, "0"],
  [{ version: "1" }, "j.version = 1"],
  [
    { list: "1", country: "DE" },
    "p.country = 'DE' AND p.id IN (SELECT prospect_id FROM list_prospects WHERE list_id = 1)",
  ],
  [{ since: "2026-06-09", until: "2026-06-09" }, `j.started_at < ${TUESDAY + DAY}`],
];

/** The same by the whole and by a sequence: figures of all, and whose starts they are. */
function expectNarrowed(app: AppTx): void {
  for (const [query, raw] of FILTERS) {
    const look = lookQuery.parse(query);
    const { where, values } = narrowed(app, 1, look, "UTC");
    const all = figuresOfEach(app.db, where, values);
    for (const id of sequences) {
      const expected = app.db
        .prepare<[number], { id: number }>(
          `SELECT j.id FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE j.sequence_id = ? AND ${raw} ORDER BY j.id`,
        )
        .all(id)
        .map((row) => row.id);
      const { starts } = materialOf(app, 1, id, look, "UTC");
      expect([query, starts.map((start) => start.id).sort((a, b) => a - b)]).toEqual([query, expected]);
      expect([query, all.get(id)?.started ?? 0]).toEqual([query, expected.length]);
    }
  }
}

const kept = (app: AppTx) =>
  ["journey_outcomes", "touch_outcomes"].map((table) => app.db.prepare(`SELECT * FROM ${table}`).all());

describe("what is kept of starts and touches", () => {
  it("is what the touches and events say, whatever happens in whatever order", () => {
    inCopyOf(image, (app) =>
      fc.assert(
        fc.property(fc.array(happening, { minLength: 60, maxLength: 100 }), (happenings) => {
          app.db.exec("SAVEPOINT drawn");
          try {
            at = TUESDAY;
            for (const each of happenings) happen(app, each);
            const expected = recounted(app);
            const figures = figuresBySequence(app.db);
            for (const each of figures.values())
              for (const name of FIGURE_NAMES) if (each[name] > 0) seen.add(name);
            for (const id of sequences)
              expect([id, figures.get(id)]).toEqual([
                id,
                expected.has(id) ? figuresOf(expected.get(id) ?? []) : undefined,
              ]);
            for (const id of sequences) expect([id, owedTo(app, id)]).toEqual([id, wordedSums(app, id)]);
            expectNarrowed(app);
            // Whoever looked had it made; what nobody was shown yet is made now.
            keepOutcomes(app.db);
            const before = kept(app);
            rebuildOutcomes(app.db);
            expect(before).toEqual(kept(app));
          } finally {
            app.db.exec("ROLLBACK TO drawn; RELEASE drawn");
            forgetCounts(app.db);
          }
        }),
        { numRuns: 80, examples: SELDOM.map((each) => [each]) },
      ),
    );
    // The worlds have everything that is counted.
    expect([...seen].sort()).toEqual([...FIGURE_NAMES].sort());
  });
});
