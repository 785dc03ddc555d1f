import { afterAll, beforeAll, expect, it } from "vitest";
import { seeded } from "../../core/random.ts";
import { startProcess } from "../processes.ts";
import { decide, undecidedEmails } from "../sending/undecided.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { addMailbox, addPeople, addSequence, createWorld, email, rows, type World } from "../tests/world.ts";

/** KILLS=20 for a long look; everyday runs have less time. */
const KILLS = Number(process.env.KILLS ?? 6);
const EMAILS = KILLS * 10;
// Another seed each day, so that over time every moment is met; the message of a failure names it.
const SEED = new Date().toISOString().slice(0, 10);

let world: World;
beforeAll(async () => {
  world = await createWorld({ env: { SAUDADE_TICK: "0.05", SAUDADE_LEASE: "0.5", SAUDADE_SETTLE: "3" } });
});
afterAll(() => world.close());

const underWay = () => rows(world, "SELECT 1 FROM touches WHERE state = 'claimed'").length;
const settled = () =>
  rows<{ count: number }>(world, "SELECT count(*) AS count FROM touches WHERE state = 'sent'")[0]?.count ?? 0;

it(`every recipient has each email exactly once after the engine was killed ${KILLS} times (seed ${SEED})`, async () => {
  const names = Array.from({ length: EMAILS }, (_, index) => `person${index}`);
  const limits = { dailyLimit: 500, gapLeast: 0, gapMost: 0 };
  const mailboxes = [
    await addMailbox(world, "marta@quillwater.example", limits),
    await addMailbox(world, "m.quintela@quillwater.example", limits),
  ];
  const path = [email("one", 0, { subject: "Loans", body: "Hello {{ first_name }}" })];
  const sequenceId = addSequence(world, addPeople(world, names), mailboxes, { path });
  expect(startSequence(world.app, world.userId, sequenceId).ok).toBe(true);
  // Slow answers leave the engine waiting for them most of the time, which is when a kill hurts.
  await world.tell("/misbehave", { kind: "slow", times: 10_000, ms: 800 });

  const draw = seeded("kill", SEED);
  let killedWhileSending = 0;
  for (let kill = 0; kill < KILLS; kill++) {
    const engine = await startProcess("engine", "server/engine/main.ts", world.env);
    await new Promise((resolve) => setTimeout(resolve, 550 + draw() * 900));
    // However long a busy machine took to start it: every other one dies with something under way.
    if (kill % 2 === 0) await expect.poll(underWay, { timeout: 30_000, interval: 20 }).toBeGreaterThan(0);
    engine.child.kill("SIGKILL");
    await new Promise((resolve) => engine.child.once("exit", resolve));
    if (underWay() > 0) killedWhileSending++;
  }
  expect(killedWhileSending).toBeGreaterThanOrEqual(KILLS / 3);
  await world.tell("/misbehave", { kind: "slow", times: 0 });

  const engine = await startProcess("engine", "server/engine/main.ts", world.env);
  // What nobody can tell is for the rep, who looks and says so.
  const lookAndSettle = async () => {
    const arrived = new Set((await world.deliveries()).map(({ recipient }) => recipient));
    for (const { id, recipient } of undecidedEmails(world.app, null).shown)
      decide(world.app, null, [id], arrived.has(recipient) ? "arrived" : "send");
    return settled();
  };
  await expect.poll(lookAndSettle, { timeout: 60_000, interval: 200 }).toBe(EMAILS);
  await engine.stop();
  const deliveries = await world.deliveries();
  expect(deliveries.map(({ recipient }) => recipient).toSorted()).toEqual(
    names.map((name) => `${name}@${name}-museum.example`).toSorted(),
  );
}, 240_000);
