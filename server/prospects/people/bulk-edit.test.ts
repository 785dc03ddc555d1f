/** Bulk edits, taken back one by one, leave everybody as they were. */
import fc from "fast-check";
import { afterAll, beforeAll, expect, it } from "vitest";
import { addPeople, createWorld, rows, type World } from "../../tests/world.ts";
import { bulkEdit, undoBulk } from "./bulk-edit.ts";

const PEOPLE = ["ana", "bia", "caio", "dora", "eva", "filipe"];

let world: World;
let listId: number;
beforeAll(async () => {
  world = await createWorld({ standin: false });
  listId = addPeople(world, PEOPLE);
});
afterAll(() => world.close());

const everything = () => ({
  people: rows<Record<string, unknown>>(
    world,
    "SELECT id, title, city, country, stage, owner_id, found_by FROM prospects ORDER BY id",
  ),
  lists: rows(
    world,
    "SELECT l.name, lp.prospect_id FROM list_prospects lp JOIN lists l ON l.id = lp.list_id ORDER BY 1, 2",
  ),
});

const ids = fc.uniqueArray(fc.integer({ min: 1, max: PEOPLE.length }), { minLength: 1 });
const action = fc.oneof(
  fc.record({
    kind: fc.constant("set"),
    field: fc.constantFrom("title", "city"),
    value: fc.constantFrom("Keeper", "Faro", "", "“Ägir”; --"),
  }),
  fc.record({
    kind: fc.constant("set"),
    field: fc.constant("country"),
    value: fc.constantFrom("Portugal", "DE", "Atlantis"),
  }),
  fc.record({
    kind: fc.constant("set"),
    field: fc.constant("stage"),
    value: fc.constantFrom("new", "contacted", "won"),
  }),
  fc.record({ kind: fc.constant("add_to_list"), name: fc.constantFrom("North", "Museums") }),
  fc.record({ kind: fc.constant("remove_from_list"), listId: fc.constant(1) }),
);

it("in the order they came from", () => {
  expect(listId).toBe(1);
  fc.assert(
    fc.property(fc.array(fc.record({ ids, action }), { minLength: 1, maxLength: 6 }), (edits) => {
      const before = everything();
      const batches = edits.map((edit) => {
        const done = bulkEdit(world.app, world.user, edit);
        if (!done.ok) throw new Error(JSON.stringify(done.errors));
        return done.value.batch as number;
      });
      for (const batch of batches.toReversed()) undoBulk(world.app, world.userId, batch);
      expect(everything()).toEqual(before);
      // Pressed twice, an undo changes nothing more.
      for (const batch of batches) undoBulk(world.app, world.userId, batch);
      expect(everything()).toEqual(before);
    }),
    { numRuns: 120 },
  );
});

it("but leave alone what somebody changed again since", () => {
  const set = (who: number[], value: string) =>
    bulkEdit(world.app, world.user, { ids: who, action: { kind: "set", field: "city", value } });
  const first = set([1, 2, 3], "Faro");
  set([2], "Lagos");
  if (!first.ok) throw new Error("not done");
  expect(undoBulk(world.app, world.userId, first.value.batch as number)).toMatchObject({ value: 2 });
  expect(rows(world, "SELECT city FROM prospects WHERE id <= 3 ORDER BY id")).toEqual([
    { city: "" },
    { city: "Lagos" },
    { city: "" },
  ]);
});
