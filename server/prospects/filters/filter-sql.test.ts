/** Filters against a plain reading of what they say, over people and filters that are drawn at random. */
import fc from "fast-check";
import { afterAll, beforeAll, expect, it } from "vitest";
import { countryName } from "../../../core/countries.ts";
import type { Condition, Filter } from "../../../core/prospects/filter.ts";
import { OUTCOMES } from "../../../core/prospects/filter-fields.ts";
import { addSequence, createWorld, rows, type World } from "../../tests/world.ts";
import { applyBlocks } from "../block-list/block-list.ts";
import { bulkEdit } from "../people/bulk-edit.ts";
import { countProspects, listProspects, prospectsQuery } from "../people/list-prospects.ts";
import { prospectStore } from "../people/store-prospect.ts";

const DAY = 86_400_000;
const FIRST = ["João", "JOSÉ", "Ana", "Łucja", "Ærøe", ""];
const CITIES = ["Évora", "evora", "Łódź", "Faro_1", "100%", ""];
const COUNTRIES = ["PT", "PL", "Atlantis", ""];
const ROOMS = ["7", "12", ""];

interface Person {
  id: number;
  firstName: string;
  companyDomain: string;
  city: string;
  country: string;
  rooms: string;
  stage: string;
  ageDays: number;
  blocked: boolean;
  sent: boolean;
  opened: boolean;
  replied: boolean;
}

let world: World;
let people: Person[];
beforeAll(async () => {
  world = await createWorld({ standin: false });
  const { app } = world;
  const now = app.clock.now();
  const draws = fc.sample(
    fc.record({
      firstName: fc.constantFrom(...FIRST),
      city: fc.constantFrom(...CITIES),
      country: fc.constantFrom(...COUNTRIES),
      rooms: fc.constantFrom(...ROOMS),
      stage: fc.constantFrom("new", "contacted", "won"),
      ageDays: fc.integer({ min: 0, max: 40 }),
      blocked: fc.boolean(),
      sent: fc.boolean(),
      opened: fc.boolean(),
      replied: fc.boolean(),
    }),
    { numRuns: 150, seed: 7 },
  );
  const sequenceId = addSequence(world, null as unknown as number, []);
  people = draws.map((drawn, index) => {
    const companyDomain = `house${index}.example`;
    const store = prospectStore(app.db, {
      origin: "typed",
      originId: null,
      ownerId: null,
      listId: null,
      importId: null,
      now: now - drawn.ageDays * DAY - 1,
    });
    const { id } = store({
      email: `p${index}@house${index}.example`,
      fields: {
        firstName: drawn.firstName,
        lastName: "",
        company: "",
        companyDomain,
        title: "",
        city: drawn.city,
        country: drawn.country,
        timeZone: "",
        phone: "",
        profile: "",
        language: "",
      },
      custom: drawn.rooms === "" ? {} : { rooms: drawn.rooms },
      changes: [],
    });
    const opened = drawn.sent && drawn.opened;
    const replied = drawn.sent && drawn.replied;
    if (drawn.sent) app.db.exec(journeyOf(id, sequenceId, opened, replied));
    return { ...drawn, id, companyDomain, opened, replied };
  });
  for (const { id, stage } of people)
    bulkEdit(app, world.user, { ids: [id], action: { kind: "set", field: "stage", value: stage } });
  const blocked = people.filter((each) => each.blocked).map(({ id }) => `house${id - 1}.example`);
  applyBlocks(app, 1, { text: blocked.join("\n"), mode: "append" });
});
afterAll(() => world.close());

const journeyOf = (id: number, sequenceId: number, opened: boolean, replied: boolean) => `
  INSERT INTO journeys (id, sequence_id, prospect_id, due_at, started_at) VALUES (${id}, ${sequenceId}, ${id}, 0, 0);
  ${opened ? `INSERT INTO events (at, kind, prospect_id, journey_id) VALUES (1, 'opened', ${id}, ${id});` : ""}
  ${replied ? `INSERT INTO events (at, kind, prospect_id, journey_id) VALUES (2, 'replied', ${id}, ${id});` : ""}`;

/** As somebody would read it: capitals and accents do not matter. */
const read = (text: string) =>
  text
    .toLowerCase()
    .replaceAll("ł", "l")
    .replaceAll("æ", "ae")
    .replaceAll("ø", "o")
    .normalize("NFD")
    .replace(/\p{M}/gu, "");

function meets(person: Person, { field, op, value }: Condition): boolean {
  const isNot = op.endsWith("_not");
  switch (field) {
    case "stage":
      return (person.stage === value) !== isNot;
    case "blocked":
      return (person.blocked === (value === "yes")) !== isNot;
    case "added": {
      const within = person.ageDays < Number(value);
      return op === "never" ? false : op === "within" ? within : !within;
    }
    case "outcome": {
      const outcome = value.split(" ")[1];
      const is =
        outcome === "started"
          ? person.sent
          : outcome === "not_started"
            ? !person.sent
            : outcome === "replied"
              ? person.replied
              : person.opened && !person.replied;
      return is !== isNot;
    }
  }
  const texts = {
    firstName: [person.firstName],
    companyDomain: [person.companyDomain],
    city: [person.city],
    country: [person.country, countryName(person.country)],
    "custom:rooms": [person.rooms],
  }[field] as string[];
  if (op === "empty") return texts[0] === "";
  if (op === "filled") return texts[0] !== "";
  const wanted = read(value);
  const found = texts.some((text) =>
    op.startsWith("is") ? read(text) === wanted : read(text).includes(wanted),
  );
  return found !== isNot;
}

const joined = (match: "all" | "any", parts: boolean[]) =>
  match === "all" ? parts.every(Boolean) : parts.some(Boolean);
const passes = (person: Person, { match, groups }: Filter) =>
  joined(
    match,
    groups.map((group) =>
      joined(
        group.match,
        group.conditions.map((condition) => meets(person, condition)),
      ),
    ),
  );

const textOps = ["is", "is_not", "contains", "contains_not", "empty", "filled"];
const condition: fc.Arbitrary<Condition> = fc.oneof(
  fc.record({
    field: fc.constantFrom("firstName", "city"),
    op: fc.constantFrom(...textOps),
    value: fc.constantFrom("joao", "JOSÉ", "an", "lucja", "evora", "Évora", "ŁÓDŹ", "o_1", "0%", "_", "%"),
  }),
  fc.record({
    field: fc.constant("companyDomain"),
    op: fc.constantFrom(...textOps),
    value: fc.constantFrom("house7.example", "House1", "example", "_"),
  }),
  fc.record({
    field: fc.constant("country"),
    op: fc.constantFrom(...textOps),
    value: fc.constantFrom("Portugal", "portu", "Poland", "atlantis", "lan"),
  }),
  fc.record({
    field: fc.constant("custom:rooms"),
    op: fc.constantFrom(...textOps),
    value: fc.constantFrom(...ROOMS),
  }),
  fc.record({
    field: fc.constant("stage"),
    op: fc.constantFrom("is", "is_not"),
    value: fc.constantFrom("new", "contacted", "won", "lost"),
  }),
  fc.record({
    field: fc.constant("blocked"),
    op: fc.constantFrom("is", "is_not"),
    value: fc.constantFrom("yes", "no"),
  }),
  fc.record({
    field: fc.constant("added"),
    op: fc.constantFrom("within", "longer_ago", "never"),
    value: fc.constantFrom("0", "1", "7", "30"),
  }),
  fc.record({
    field: fc.constant("outcome"),
    op: fc.constantFrom("is", "is_not"),
    value: fc.constantFrom("any started", "any not_started", "any replied", "any opened_silent"),
  }),
);
const match = fc.constantFrom("all" as const, "any" as const);
const filter: fc.Arbitrary<Filter> = fc.record({
  match,
  groups: fc.array(fc.record({ match, conditions: fc.array(condition, { minLength: 1, maxLength: 4 }) }), {
    minLength: 1,
    maxLength: 3,
  }),
});

it("a filter finds exactly those whom it describes, in any grouping, and counts them", () => {
  fc.assert(
    fc.property(filter, (drawn) => {
      const query = prospectsQuery.parse({ f: JSON.stringify(drawn), size: "100" });
      const expected = people.filter((person) => passes(person, drawn)).map(({ id }) => id);
      const { rows: found, total } = listProspects(world.app, null, query);
      expect(total).toBe(expected.length);
      expect(countProspects(world.app, null, query)).toBe(expected.length);
      if (expected.length <= 100)
        expect(found.map(({ id }) => id).toSorted((a, b) => a - b)).toEqual(expected);
    }),
    { numRuns: 400 },
  );
});

it("a filter and what it leaves out are everybody", () => {
  const opposite: Record<string, string> = {
    is: "is_not",
    is_not: "is",
    contains: "contains_not",
    contains_not: "contains",
    empty: "filled",
    filled: "empty",
    within: "longer_ago",
    longer_ago: "within",
  };
  fc.assert(
    fc.property(
      condition.filter(({ op }) => op !== "never"),
      (drawn) => {
        const count = (one: Condition) =>
          countProspects(
            world.app,
            null,
            prospectsQuery.parse({
              f: JSON.stringify({ match: "all", groups: [{ match: "all", conditions: [one] }] }),
            }),
          );
        expect(count(drawn) + count({ ...drawn, op: opposite[drawn.op] as string })).toBe(people.length);
      },
    ),
  );
});

it("the search finds people without their capitals and accents, also after they were renamed", () => {
  const count = (q: string) => countProspects(world.app, null, prospectsQuery.parse({ q }));
  const named = (name: string) => people.filter(({ firstName }) => firstName === name).length;
  expect(count("joao")).toBe(named("João"));
  expect(count("JOSÉ")).toBe(named("JOSÉ"));
  expect(count("aeroe")).toBe(named("Ærøe"));
  world.app.db.exec(`UPDATE prospects SET first_name = 'Zuçana' WHERE id = ${people[0]?.id}`);
  expect(count("zucana")).toBe(1);
  world.app.db.exec("UPDATE companies SET name = 'Música Antiga' WHERE domain = 'house3.example'");
  expect(count("musica ant")).toBe(1);
  expect(rows(world, "SELECT DISTINCT 1 FROM prospects WHERE found_by = ''")).toEqual([]);
});

it("every outcome can be asked for", () => {
  for (const outcome of OUTCOMES) {
    const conditions = [{ field: "outcome", op: "is", value: `any ${outcome}` }];
    const f = JSON.stringify({ match: "all", groups: [{ match: "all", conditions }] });
    expect(() => countProspects(world.app, null, prospectsQuery.parse({ f })), outcome).not.toThrow();
  }
});
