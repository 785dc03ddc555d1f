import { afterEach, beforeEach, expect, it } from "vitest";
import { openApp, readTogether } from "./app.ts";
import { askJob, endJob, latestJob, takeJob } from "./db/jobs.ts";
import { createWorld, type World } from "./tests/world.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld();
});
afterEach(() => world.close());

it("what is read together is of one instant, whatever another process writes in between", () => {
  const { app } = world;
  const worker = openApp(app.config);
  const state = () => latestJob(app.db, "verify")?.state;
  const id = askJob(app.db, { kind: "verify", input: {}, userId: null, now: 0 });
  takeJob(worker.db, ["verify"], 0);
  const seen = readTogether(app, () => {
    const before = state();
    endJob(worker.db, id, "done");
    return [before, state()];
  });
  expect(seen).toEqual(["working", "working"]);
  expect(state()).toBe("done");
  worker.db.close();
});

it("waits for the disk at each commit, except in a simulated world", () => {
  const { config } = world.app;
  const real = openApp({ ...config, standin: null });
  expect(real.db.pragma("synchronous", { simple: true })).toBe(2); // FULL
  expect(world.app.db.pragma("synchronous", { simple: true })).toBe(1);
  real.db.close();
});
