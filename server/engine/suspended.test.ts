/** A machine that sleeps: an engine stands still for longer than its lease and its claims last, another goes on, the first wakes. */
import type { ChildProcess } from "node:child_process";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type Started, startProcess } from "../processes.ts";
import { decide, undecidedEmails } from "../sending/undecided.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { addMailbox, addPeople, addSequence, createWorld, email, rows, type World } from "../tests/world.ts";

/** SLEEPS=20 for a long look. */
const SLEEPS = Number(process.env.SLEEPS ?? 2);
const EMAILS = 6;

let world: World;
let engines: Started[] = [];
beforeAll(async () => {
  world = await createWorld({ env: { SAUDADE_TICK: "0.05", SAUDADE_LEASE: "1", SAUDADE_SETTLE: "2" } });
});
afterAll(async () => {
  for (const { child } of engines) child.kill("SIGCONT");
  await Promise.all(engines.map((engine) => engine.stop()));
  await world.close();
});

/** Of which nobody has said anything yet. */
const claimed = () =>
  rows(world, "SELECT 1 FROM touches WHERE state = 'claimed' AND undecided_at IS NULL").length;
const recipients = async () => (await world.deliveries()).map(({ recipient }) => recipient);
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
/** Not in the middle of a transaction: that would hold up everybody, and a machine that sleeps has nobody beside it. */
async function fallAsleep(child: ChildProcess): Promise<void> {
  for (;;) {
    child.kill("SIGSTOP");
    try {
      world.app.db.exec("BEGIN IMMEDIATE; COMMIT");
      return;
    } catch {
      child.kill("SIGCONT");
      await pause(20);
    }
  }
}
const within = { timeout: 60_000, interval: 50 };

it(`an engine fell asleep over what it claimed, ${SLEEPS} times, and another sent it meanwhile: nobody gets it twice`, async () => {
  const mailbox = await addMailbox(world, "marta@quillwater.example", {
    ...{ dailyLimit: 500, gapLeast: 0, gapMost: 0 },
  });
  const start = () => startProcess("engine", "server/engine/main.ts", world.env);
  engines = [await start()];
  const everybody: string[] = [];
  for (let nth = 0; nth < SLEEPS; nth++) {
    // Whoever falls asleep has claimed, and offered nothing yet.
    await world.tell("/misbehave", { kind: "slow_rcpt", times: 10_000, ms: 1_500 });
    const names = Array.from({ length: EMAILS }, (_, index) => `person${nth}x${index}`);
    const path = [email("one", 0, { subject: "Loans", body: "Hello {{ first_name }}" })];
    const sequence = addSequence(world, addPeople(world, names, `List ${nth}`), [mailbox], { path });
    expect(startSequence(world.app, world.userId, sequence).ok).toBe(true);
    await expect.poll(claimed, { ...within, interval: 10 }).toBeGreaterThan(0);
    const sleeper = engines[0] as Started;
    await fallAsleep(sleeper.child);
    engines.push(await start());
    await world.tell("/misbehave", { kind: "slow_rcpt", times: 0 });
    // Nobody can tell whether it left. It did not, says the rep, and the other engine sends it.
    const decided = new Set<number>();
    const sendAll = async () => {
      for (const { id } of undecidedEmails(world.app, null).shown) {
        decided.add(id);
        decide(world.app, null, [id], "send");
      }
      return (await recipients()).length;
    };
    everybody.push(...names.map((name) => `${name}@${name}-museum.example`));
    await expect.poll(sendAll, within).toBe(everybody.length);
    expect(decided.size).toBeGreaterThan(0);
    sleeper.child.kill("SIGCONT");
    // It goes on where it stood: with the answer to RCPT.
    await pause(1_500);
    expect((await recipients()).toSorted()).toEqual(everybody.toSorted());
    await sleeper.stop();
    engines.shift();
  }
}, 240_000);
