/** Fifty pages asked for at the same moment, of a desk with 2,000 people, against one page alone. */
import { openSession } from "../server/accounts/session.ts";
import { startProcess } from "../server/processes.ts";
import { startSequence } from "../server/sequences/start-sequence.ts";
import { freePort } from "../server/tests/free-port.ts";
import { addMailbox, addPeople, addSequence, createWorld } from "../server/tests/world.ts";
import type { Figure } from "./figure.ts";

const PEOPLE = 2_000;
const AT_ONCE = 50;
const ROUNDS = 4;
const PAGES = [
  "/",
  "/prospects",
  "/sequences",
  "/sending",
  "/replies",
  "/results",
  "/prospects/7",
  "/lists/1/addresses",
];

export async function benchPagesAtOnce(): Promise<Figure> {
  const port = await freePort();
  const world = await createWorld({ env: { SAUDADE_PORT: String(port) } });
  const mailbox = await addMailbox(world, "marta@quillwater.example");
  const names = Array.from({ length: PEOPLE }, (_, nth) => `person${nth}`);
  startSequence(world.app, world.userId, addSequence(world, addPeople(world, names), [mailbox]));
  const web = await startProcess("web server", "server/web/main.ts", world.env);
  const token = openSession(world.app, world.userId);
  const cookie = `saudade_session=${encodeURIComponent(Buffer.from(JSON.stringify(token)).toString("base64"))}`;
  const ask = async (path: string) => {
    const began = performance.now();
    const answer = await fetch(`http://127.0.0.1:${port}${path}`, {
      headers: { cookie },
      redirect: "manual",
    });
    await answer.text();
    if (answer.status !== 200) throw new Error(`${path} answered ${answer.status}.`);
    return performance.now() - began;
  };
  for (const page of PAGES) await ask(page);
  const alone: number[] = [];
  for (let round = 0; round < ROUNDS; round++) for (const page of PAGES) alone.push(await ask(page));
  const together: number[] = [];
  for (let round = 0; round < ROUNDS; round++)
    together.push(
      ...(await Promise.all(
        Array.from({ length: AT_ONCE }, (_, nth) => ask(PAGES[nth % PAGES.length] as string)),
      )),
    );
  await web.stop();
  await world.close();
  const mean = alone.reduce((sum, each) => sum + each, 0) / alone.length;
  const p95 = together.toSorted((a, b) => a - b)[Math.floor(together.length * 0.95)] as number;
  return {
    bench: "pages-at-once",
    ratio: Number((p95 / mean).toFixed(1)),
    // One thread makes them one after the other: less than their number.
    limit: 46,
    kind: "most",
    atOnce: AT_ONCE,
    aloneMs: Math.round(mean),
    p95Ms: Math.round(p95),
  };
}
