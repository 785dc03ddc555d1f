/** The whole program as `npm start` starts it: its engine's lease is renewed by a thread, however long a look or a thought takes. */
import { type ChildProcess, spawn } from "node:child_process";
import { join } from "node:path";
import { afterEach, expect, it } from "vitest";
import { projectRoot } from "../config.ts";
import { built } from "../processes.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { freePort } from "../tests/free-port.ts";
import { addMailbox, addPeople, addSequence, createWorld, email, rows, type World } from "../tests/world.ts";

let world: World;
let programs: ChildProcess[] = [];
afterEach(async () => {
  for (const program of programs) {
    const ended = new Promise((resolve) => program.once("exit", resolve));
    program.kill("SIGTERM");
    await ended;
  }
  programs = [];
  await world.close();
});

async function start(env: Record<string, string> = {}): Promise<void> {
  const port = String(await freePort());
  programs.push(
    spawn(process.execPath, [built("server/main.ts")], {
      env: { ...process.env, ...world.env, SAUDADE_PORT: port, ...env },
      stdio: "ignore",
    }),
  );
}

interface Lease {
  holder: string;
  expires_wall: number;
  ticked_wall: number | null;
}
const lease = () => rows<Lease>(world, "SELECT holder, expires_wall, ticked_wall FROM engine_lease")[0];
const failures = () => rows(world, "SELECT kind, name, words FROM failures");

it("with a look a minute, the lease of a second is renewed all the time, and no thread has failed", async () => {
  world = await createWorld({ standin: false, env: { SAUDADE_TICK: "60", SAUDADE_LEASE: "1" } });
  await start();
  await expect.poll(() => lease()?.ticked_wall ?? null, { timeout: 120_000, interval: 100 }).not.toBeNull();
  const first = lease() as Lease;
  // Many times its length later it is the same engine's, and that has not looked again.
  await expect
    .poll(() => (lease()?.expires_wall ?? 0) - first.expires_wall, { timeout: 60_000, interval: 100 })
    .toBeGreaterThan(5_000);
  expect(lease()).toMatchObject({ holder: first.holder, ticked_wall: first.ticked_wall });
  expect(failures()).toEqual([]);
});

it("two programs whose engines think for longer than the lease lasts send nothing twice, and never at once", async () => {
  world = await createWorld({ env: { SAUDADE_TICK: "0.1", SAUDADE_LEASE: "4", SAUDADE_SETTLE: "60" } });
  const names = Array.from({ length: 24 }, (_, index) => `person${index}`);
  const limits = { dailyLimit: 500, gapLeast: 0, gapMost: 0 };
  const mailboxes = [await addMailbox(world, "marta@quillwater.example", limits)];
  const sequence = addSequence(world, addPeople(world, names), mailboxes, {
    path: [email("one", 0, { subject: "Loans", body: "Hello {{ first_name }}" })],
  });
  expect(startSequence(world.app, world.userId, sequence).ok).toBe(true);
  const slow = { NODE_OPTIONS: `--import ${join(projectRoot, "server/tests/slow-thinker.mjs")}` };
  await Promise.all([start(slow), start(slow)]);
  const holders = new Set<string>();
  const sent = () => {
    const now = lease();
    if (now) holders.add(now.holder);
    return rows(world, "SELECT 1 FROM touches WHERE state = 'sent'").length;
  };
  await expect.poll(sent, { timeout: 150_000, interval: 50 }).toBe(names.length);
  expect(holders.size).toBe(1);
  const recipients = (await world.deliveries()).map(({ recipient }) => recipient);
  expect(recipients.toSorted()).toEqual(names.map((name) => `${name}@${name}-museum.example`).toSorted());
});
