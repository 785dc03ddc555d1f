import { afterEach, beforeEach, describe, expect, it } from "vitest";
import {
  askJob,
  cancelJob,
  endJob,
  isCancelled,
  jobById,
  latestJob,
  requeueJobs,
  takeJob,
} from "../db/jobs.ts";
import { type Started, startProcess } from "../processes.ts";
import { importById } from "../prospects/imports/imports.ts";
import { askLookThrough } from "../prospects/imports/look-through.ts";
import { askImport } from "../prospects/imports/run-import.ts";
import { uploadImport } from "../prospects/imports/upload-import.ts";
import { createWorld, rows, type World } from "../tests/world.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());

const ask = (input: object, notBefore = 0) =>
  askJob(world.app.db, { kind: "verify", input, userId: null, now: 0, notBefore });

describe("a job", () => {
  it("is taken once, the oldest first, by the lane that it is for, and not before its time", () => {
    const { db } = world.app;
    const [first, second, later] = [ask({ listId: 1 }), ask({ listId: 2 }), ask({ listId: 1 }, 5_000)];
    expect(takeJob(db, ["import"], 1_000)).toBeNull();
    expect(takeJob(db, ["verify"], 1_000)?.id).toBe(first);
    expect(takeJob(db, ["verify", "search"], 1_000)?.id).toBe(second);
    expect(takeJob(db, ["verify"], 1_000)).toBeNull();
    expect(takeJob(db, ["verify"], 6_000)?.id).toBe(later);
    expect(latestJob(db, "verify", { key: "listId", value: 1 })?.id).toBe(first);
  });

  it("that was being done when its worker died waits again; one that was cancelled does not", () => {
    const { db } = world.app;
    const [died, cancelled] = [ask({}), ask({})];
    takeJob(db, ["verify"], 0);
    takeJob(db, ["verify"], 0);
    cancelJob(db, cancelled);
    expect(isCancelled(db, cancelled)).toBe(true);
    endJob(db, cancelled, "done");
    requeueJobs(db);
    expect([died, cancelled].map((id) => jobById(db, id)?.state)).toEqual(["waiting", "cancelled"]);
  });
});

it("a worker that is killed in the middle of an import leaves nothing half done: the next one ends it, everybody once", async () => {
  const ROWS = 12_000;
  const lines = Array.from({ length: ROWS }, (_, nth) => `p${nth}@house${nth % 500}.example,Ana ${nth},Reis`);
  const uploaded = uploadImport(world.app, world.userId, {
    name: "many.csv",
    bytes: new TextEncoder().encode(`email,first name,last name\n${lines.join("\n")}`),
  });
  const id = uploaded.ok ? uploaded.value : 0;
  const state = () => importById(world.app, id);
  askLookThrough(world.app, world.userId, id, state()?.settings);
  let worker: Started = await startProcess("worker", "server/workers/main.ts", world.env);
  await expect.poll(() => state()?.state, { timeout: 120_000 }).toBe("ready");
  expect(state()?.report).toMatchObject({ added: ROWS, refused: 0 });
  askImport(world.app, world.userId, id);
  await expect.poll(() => state()?.stored ?? 0, { timeout: 120_000, interval: 10 }).toBeGreaterThan(0);
  worker.child.kill("SIGKILL");
  worker = await startProcess("worker", "server/workers/main.ts", world.env);
  await expect.poll(() => state()?.state, { timeout: 120_000 }).toBe("done");
  await worker.stop();
  expect(rows(world, "SELECT count(*) AS n, count(DISTINCT email) AS emails FROM prospects")).toEqual([
    { n: ROWS, emails: ROWS },
  ]);
  expect(rows(world, "SELECT count(*) AS n FROM list_prospects")).toEqual([{ n: ROWS }]);
});
