import { afterEach, expect, it } from "vitest";
import { isCancelled, takeMove } from "../engine/advance.ts";
import { createWorld, rows, type World } from "../tests/world.ts";
import { askMove, cancelMove } from "./ask-move.ts";

let world: World;
afterEach(() => world.close());
const begin = async (env: Record<string, string>) => {
  world = await createWorld({ standin: false, env });
};

it("the demo's clock is moved once at a time, by the engine, until somebody stops it", async () => {
  await begin({ SAUDADE_DEMO: "1" });
  expect(askMove(world.app, { kind: "next_morning" })).toBe(true);
  expect(askMove(world.app, { kind: "next_event" })).toBe(false);
  const move = takeMove(world.app);
  expect(move).toMatchObject({ kind: "next_morning" });
  if (!move) return;
  expect(isCancelled(world.app, move)).toBe(false);
  cancelMove(world.app);
  expect(isCancelled(world.app, move)).toBe(true);
  expect(askMove(world.app, { kind: "next_event" })).toBe(true);
});

it("nobody moves the clock outside the demo, nor to where it cannot go", async () => {
  await begin({});
  expect(askMove(world.app, { kind: "next_morning" })).toBe(false);
  await world.close();
  await begin({ SAUDADE_DEMO: "1" });
  for (const input of [{ kind: "until" }, { kind: "yesterday" }, {}, null])
    expect(askMove(world.app, input)).toBe(false);
  expect(rows(world, "SELECT 1 FROM clock_moves")).toEqual([]);
});
