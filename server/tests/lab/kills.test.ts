/** The engine is killed at random moments while it sends through real servers: nobody gets an email twice, whatever the Sent folder says. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { seeded } from "../../../core/random.ts";
import { startProcess } from "../../processes.ts";
import { decide, undecidedEmails } from "../../sending/undecided.ts";
import { startSequence } from "../../sequences/start-sequence.ts";
import { rows } from "../world.ts";
import { type Lab, labMailbox, labSequence, labWorld, startLab } from "./lab.ts";

/** KILLS=100 for the whole measure; CI has less time. */
const KILLS = Number(process.env.KILLS ?? 3);
const SEED = process.env.SEED ?? new Date().toISOString().slice(0, 10);
/** Some five go out between two kills; a day takes 500 at most. */
const PEOPLE = Math.min(480, Math.max(24, KILLS * 5));
/** Milliseconds for what the kills left to go, and to arrive. */
const REST_LASTS = 90_000 + PEOPLE * 1_000;

let lab: Lab;
beforeAll(() => {
  lab = startLab();
});
afterAll(() => lab.stop());

it.each([
  ["the host keeps copies", "ana"],
  ["there is no Sent folder at first", "ben"],
  ["the Sent folder is ours to fill", "cleo"],
])(
  `where %s, everybody has each email at most once after ${KILLS} kills, and the rest is shown (seed ${SEED})`,
  async (_, name) => {
    const world = await labWorld({ SAUDADE_TICK: "0.05", SAUDADE_LEASE: "0.5", SAUDADE_SETTLE: "3" });
    const people = Array.from({ length: PEOPLE }, (_each, index) => `p${index + 1}`);
    const subject = `Loans ${name} ${Date.now()}`;
    const id = labMailbox(world, lab, name);
    const sequenceId = labSequence(world, id, people);
    world.app.db.prepare("UPDATE sequence_versions SET path = replace(path, 'Loans', ?)").run(subject);
    expect(startSequence(world.app, world.userId, sequenceId).ok).toBe(true);
    const count = (where: string) =>
      rows<{ count: number }>(world, `SELECT count(*) AS count FROM touches WHERE ${where}`)[0]?.count ?? 0;

    // The first emails tell who keeps copies; before that nothing can be told by them.
    const first = await startProcess("engine", "server/engine/main.ts", world.env);
    await expect.poll(() => count("state = 'sent'"), { timeout: 60_000, interval: 2 }).toBeGreaterThan(3);
    first.child.kill("SIGKILL");
    await new Promise((ended) => first.child.once("exit", ended));

    const draw = seeded("kill", SEED, name);
    let [kills, open] = [0, 0];
    for (; kills < KILLS && count("1") < PEOPLE; kills++) {
      const engine = await startProcess("engine", "server/engine/main.ts", world.env);
      // Killed soon after it begins to send, most often in the middle of it.
      const from = count("1");
      const until = Date.now() + 8_000;
      while (count("1") === from && Date.now() < until) await new Promise((next) => setTimeout(next, 2));
      await new Promise((next) => setTimeout(next, draw() * 80));
      engine.child.kill("SIGKILL");
      await new Promise((ended) => engine.child.once("exit", ended));
      if (count("state = 'claimed'") > 0) open++;
    }
    const engine = await startProcess("engine", "server/engine/main.ts", world.env);
    const settled = () => count("state = 'sent'") + count("undecided_at IS NOT NULL");
    await expect.poll(settled, { timeout: REST_LASTS, interval: 300 }).toBe(PEOPLE);
    await engine.stop();

    const copiesOf = (person: string) =>
      lab.messages(`${person}@museum.example`).filter((text) => text.includes(`Subject: ${subject}`)).length;
    const undecided = new Map(
      rows<{ id: number; name: string }>(
        world,
        "SELECT id, substr(recipient, 1, instr(recipient, '@') - 1) AS name FROM touches WHERE undecided_at IS NOT NULL",
      ).map(({ id: touch, name: person }) => [person, touch]),
    );
    expect(undecidedEmails(world.app, null).total).toBe(undecided.size);
    // What we call sent was sent, and arrives as the servers get to it; what was not, is shown.
    const missing = () => people.filter((person) => !undecided.has(person) && copiesOf(person) === 0);
    await expect.poll(missing, { timeout: REST_LASTS, interval: 500 }).toEqual([]);
    expect(people.filter((person) => copiesOf(person) > 1)).toEqual([]);
    const left = [...undecided].filter(([person]) => copiesOf(person) === 1).map(([, touch]) => touch);
    console.log(
      JSON.stringify({
        situation: name,
        kills,
        duringSending: open,
        undecided: undecided.size,
        ofWhichLeft: left.length,
      }),
    );
    // One press for each: those that left are marked, the others go.
    decide(world.app, null, left, "arrived");
    expect(undecidedEmails(world.app, null).total).toBe(undecided.size - left.length);
    await world.close();
  },
  120_000 + KILLS * 20_000 + 2 * REST_LASTS,
);
