import { afterEach, beforeEach, expect, it } from "vitest";
import { createWorld, type World } from "../../tests/world.ts";
import { allFilters, dropFilter, saveFilter } from "./filters.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());

const inCity = (city: string) =>
  JSON.stringify({
    match: "all",
    groups: [{ match: "all", conditions: [{ field: "city", op: "is", value: city }] }],
  });
const save = (name: string, definition: string) => saveFilter(world.app, world.userId, { name, definition });

it("a saved filter keeps its conditions; one of the same name takes its place", () => {
  expect(save("Coast", inCity("Faro")).ok).toBe(true);
  expect(save(" Coast ", inCity("Bergen")).ok).toBe(true);
  const [filter, ...others] = allFilters(world.app, null);
  expect(others).toEqual([]);
  expect(filter?.name).toBe("Coast");
  expect(filter?.definition).toContain("Bergen");
  dropFilter(world.app, null, filter?.id ?? 0);
  expect(allFilters(world.app, null)).toEqual([]);
});

it.each([
  "",
  "{}",
  "not JSON",
  '{"groups":[]}',
  '{"groups":[{"conditions":[]}]}',
  '{"groups":[{"conditions":[{"field":"shoe size","op":"is","value":"41"}]}]}',
])("what holds no condition is no filter: %s", (definition) => {
  expect(save("Coast", definition)).toMatchObject({ ok: false, errors: { name: "Add a condition first." } });
  expect(allFilters(world.app, null)).toEqual([]);
});

it("a filter needs a name", () => {
  expect(save(" ", inCity("Faro"))).toMatchObject({ errors: { name: "Name the filter." } });
});
