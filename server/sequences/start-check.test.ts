/** How many stand before a start is SQL, how one stands is a rule: they agree, and a start does what they said. */
import fc from "fast-check";
import { afterAll, beforeAll, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import { addressState, VERDICTS, type Verdict, WRITES_TO } from "../../core/prospects/verdict.ts";
import { type Known, mayNotGo } from "../../core/sending/may-go.ts";
import { LEFT_OUT, type Standing } from "../../core/sequence/standing.ts";
import { enterTouch } from "../db/ledger.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import {
  addPeople,
  addSequence,
  addUnasked,
  createWorld,
  email,
  rows,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { startCheck, startPeople } from "./start-check.ts";
import { startJourneys } from "./start-sequence.ts";

/** Longer than the team leaves somebody alone, shorter, and never. */
const WRITTEN = [null, TUESDAY - 31 * DAY, TUESDAY - 29 * DAY, TUESDAY - HOUR] as const;

interface Person {
  hasEmail: boolean;
  verdict: Verdict | null;
  /** Of a risky one: nothing speaks against it. */
  isLikely: boolean;
  blocked: "no" | "address" | "domain";
  here: "never" | "active" | "finished";
  other: "never" | "active" | "stopped";
  writtenAt: number | null;
  isTest: boolean;
  held: "no" | "away" | "colleague" | "own answer";
  hasName: boolean;
  /** What the assistant wrote into the field that the text names, or into another. */
  line: "none" | "unread" | "changed by hand" | "of another field" | "said yes to";
}

/** Most things are not against most people, so that every rule is the first for somebody. */
const seldom = <T>(usual: T, ...others: T[]): fc.Arbitrary<T> =>
  fc.oneof(
    { weight: 5, arbitrary: fc.constant(usual) },
    { weight: 1, arbitrary: fc.constantFrom(...others) },
  );
const person: fc.Arbitrary<Person> = fc.record({
  hasEmail: seldom(true, false),
  verdict: fc.constantFrom(...VERDICTS, null),
  isLikely: fc.boolean(),
  blocked: seldom<Person["blocked"]>("no", "address", "domain"),
  here: seldom<Person["here"]>("never", "active", "finished"),
  other: seldom<Person["other"]>("never", "active", "stopped"),
  writtenAt: seldom(...(WRITTEN as readonly [number | null, ...(number | null)[]])),
  isTest: fc.boolean(),
  held: seldom<Person["held"]>("no", "away", "colleague", "own answer"),
  hasName: seldom(true, false),
  line: seldom<Person["line"]>("none", "unread", "changed by hand", "of another field", "said yes to"),
});

/** Against whom nothing speaks, and whoever has one thing against them: each rule is the first for one of them. */
const FINE: Person = {
  ...{ hasEmail: true, verdict: "good", isLikely: true, blocked: "no", here: "never", other: "never" },
  ...{ writtenAt: null, isTest: false, held: "no", hasName: true, line: "none" },
};
const FIRST_REASONS: Partial<Record<Standing, Partial<Person>>> = {
  ready: {},
  already: { here: "finished" },
  elsewhere: { other: "active" },
  blocked: { blocked: "address" },
  address_bad: { verdict: "bad" },
  written_lately: { writtenAt: TUESDAY - HOUR },
  held: { held: "away" },
  no_address: { hasEmail: false },
  address_not_good: { verdict: "unknown" },
  lacks_field: { hasName: false },
  line_unread: { line: "unread" },
};

const NAMES = ["ana", "bia", "caio", "dora", "eva", "fay"];
let world: World;
let sequence: Sequence;
let another: number;

beforeAll(async () => {
  world = await createWorld({ standin: false });
  const list = addPeople(world, NAMES);
  addUnasked(world);
  const step = email("one", 0, {
    subject: "Loans",
    body: "Dear {{ first_name }} {{ opening | default: '' }}",
  });
  another = addSequence(world, list, [], { path: [step] });
  sequence = sequenceById(world.app.db, addSequence(world, list, [], { path: [step] })) as Sequence;
});
afterAll(() => world.close());

/** Makes the person at `id` what was drawn, and says what the rules are told about them. */
function live(id: number, drawn: Person, writesTo: Sequence["writesTo"], hasEmailStep: boolean) {
  const { db } = world.app;
  const domain = `${NAMES[id - 1]}-museum.example`;
  const address = `${NAMES[id - 1]}@${domain}`;
  const run = (text: string) => db.exec(text);
  run(`UPDATE prospects SET email = ${drawn.hasEmail ? `'${address}'` : "NULL"},
    verdict = ${drawn.verdict === null || !drawn.hasEmail ? "NULL" : `'${drawn.verdict}'`}, verdict_reason = '${drawn.isLikely ? "not_probed" : "role"}', first_name = '${drawn.hasName ? "X" : " "}' WHERE id = ${id}`);
  const line = drawn.line === "of another field" ? "news" : "opening";
  if (drawn.line !== "none")
    run(`UPDATE prospects SET unread = json_object('${line}', 'a line'),
      custom = json_object('${line}', '${drawn.line === "changed by hand" ? "mine" : "a line"}') WHERE id = ${id}`);
  if (drawn.line === "said yes to")
    run(
      `INSERT INTO approvals (sequence_id, step_id, prospect_id, at) VALUES (${sequence.id}, 'one', ${id}, 1)`,
    );
  if (drawn.blocked !== "no")
    run(`INSERT INTO block_list (kind, value, reason, at)
      VALUES ('${drawn.blocked}', '${drawn.blocked === "domain" ? domain : address}', 'added_by_rep', 1)`);
  const journey = (sequenceId: number, state: string) =>
    run(`INSERT INTO journeys (sequence_id, prospect_id, version, state, due_at, started_at, ended_at)
      VALUES (${sequenceId}, ${id}, 1, '${state}', 0, 0, ${state === "active" ? "NULL" : 1})`);
  // Nobody can be on two.
  const other = drawn.here === "active" && drawn.other === "active" ? "never" : drawn.other;
  if (drawn.here !== "never") journey(sequence.id, drawn.here);
  if (other !== "never") journey(another, other);
  if (drawn.writtenAt !== null) {
    enterTouch(db, {
      kind: drawn.isTest ? "test" : "answer",
      ...{ journeyId: null, stepId: null, version: null, prospectId: id, mailboxId: 1, recipient: address },
      ...{ state: "queued", messageId: `<${id}@q.example>`, inReplyTo: null, references: "" },
      ...{ subject: "", body: "", markup: null, claimedAt: null, claimedWall: null },
    });
    run(`UPDATE touches SET state = 'sent', sent_at = ${drawn.writtenAt} WHERE prospect_id = ${id}`);
  }
  const hold = (scope: string, scopeId: string, cause: string) =>
    run(`INSERT INTO holds (scope, scope_id, reason, since, cause_prospect_id)
      VALUES ('${scope}', ${scopeId}, '${scope === "company" ? "colleague_replied" : "away"}', 1, ${cause})`);
  const company = `(SELECT company_id FROM prospects WHERE id = ${id})`;
  if (drawn.held === "away") hold("prospect", `${id}`, "NULL");
  if (drawn.held === "colleague") hold("company", company, `${(id % NAMES.length) + 1}`);
  if (drawn.held === "own answer") hold("company", company, `${id}`);
  const known: Pick<Known, "entry" | "person" | "address"> = {
    entry: {
      hadIt: drawn.here !== "never",
      isElsewhere: drawn.here === "active" || other === "active",
      writtenAt: drawn.isTest ? null : drawn.writtenAt,
      lacksField: !drawn.hasName,
      isUnread: hasEmailStep && drawn.line === "unread",
    },
    person: {
      isBlocked: drawn.hasEmail && drawn.blocked !== "no",
      held:
        drawn.held === "away" || drawn.held === "colleague"
          ? { reason: "away", until: null, detail: null }
          : null,
    },
    address: {
      email: drawn.hasEmail ? address : null,
      state: addressState({
        email: drawn.hasEmail ? address : "",
        verdict: drawn.verdict,
        verdictReason: drawn.isLikely ? "not_probed" : "role",
      }),
      writesTo,
      isNeeded: hasEmailStep,
    },
  };
  return known;
}

const ruleOf = (said: ReturnType<typeof mayNotGo<"preview">>): Standing =>
  said === null ? "ready" : said.reason === "away" ? "held" : (said.reason as Standing);

it("for every drawn world, and every door of a start", () => {
  const { app } = world;
  const met = new Set<Standing>();
  fc.assert(
    fc.property(
      fc.array(person, { minLength: NAMES.length, maxLength: NAMES.length }),
      fc.constantFrom(...WRITES_TO),
      fc.boolean(),
      (people, writesTo, hasEmailStep) => {
        app.db.exec("BEGIN");
        try {
          const asked: Sequence = {
            ...sequence,
            writesTo,
            state: "running",
            path: hasEmailStep
              ? sequence.path
              : [
                  {
                    ...{ id: "one", kind: "call", name: "Call", note: "", wait: { days: 0, working: true } },
                    ...{ text: "Ring {{ first_name }}", journey: "waits", skipAfter: null, asNote: false },
                  } as Sequence["path"][number],
                ],
          };
          const known = people.map((each, nth) => live(nth + 1, each, writesTo, hasEmailStep));
          const standings = known.map((each) => ruleOf(mayNotGo("preview", each, TUESDAY)));
          for (const each of standings) met.add(each);
          const seen = startPeople(app, asked, null, 0).toSorted((a, b) => a.id - b.id);
          expect(seen.map(({ standing }) => standing)).toEqual(standings);
          const { counts } = startCheck(app, asked);
          for (const [standing, number] of Object.entries(counts))
            expect(number).toBe(standings.filter((each) => each === standing).length);
          const ids = known.map((_, nth) => nth + 1);
          for (const again of [true, false]) {
            // Whoever had it begins in another round (sequence-people.ts).
            const asking = again ? ids.filter((id) => people[id - 1]?.here === "never") : ids;
            const may = asking.filter((id) => {
              const about = known[id - 1] as (typeof known)[number];
              return mayNotGo(again ? "single" : "start", about, TUESDAY) === null;
            });
            if (!again)
              expect(may).toEqual(ids.filter((id) => !LEFT_OUT.includes(standings[id - 1] as Standing)));
            app.db.exec("SAVEPOINT started");
            expect(startJourneys(app, null, asked, asking, { again })).toHaveLength(may.length);
            const began = rows<{ id: number }>(
              world,
              `SELECT prospect_id AS id FROM journeys WHERE sequence_id = ${asked.id} AND started_at > 0 ORDER BY 1`,
            ).map(({ id }) => id);
            expect(began).toEqual(may);
            app.db.exec("ROLLBACK TO started; RELEASE started");
          }
        } finally {
          app.db.exec("ROLLBACK");
        }
      },
    ),
    {
      numRuns: 120,
      examples: Object.values(FIRST_REASONS).map((against) => [
        NAMES.map(() => ({ ...FINE, ...against })),
        "good",
        true,
      ]),
    },
  );
  // Each of them was the first reason for somebody.
  expect([...met].sort()).toEqual(Object.keys(FIRST_REASONS).sort());
});
