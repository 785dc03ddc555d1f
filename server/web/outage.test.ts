/** What a locked and a damaged database do to the running processes: clear words while it lasts, and all goes on after it. */
import { closeSync, openSync, writeSync } from "node:fs";
import { dirname, join } from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, expect, it } from "vitest";
import { openSession } from "../accounts/session.ts";
import { backUp, restore } from "../db/backup.ts";
import { askJob, jobById } from "../db/jobs.ts";
import { type Started, startProcess } from "../processes.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { freePort } from "../tests/free-port.ts";
import { addMailbox, addPeople, addSequence, createWorld, email, rows, type World } from "../tests/world.ts";
import type { Health } from "./health.ts";
import { sessionCookie } from "./session-cookie.ts";

const PEOPLE = ["ana", "bia", "caio"];

let world: World;
let url: string;
let cookie: string;
let list: number;
let running: Started[];

const start = async () => {
  running = [
    await startProcess("web server", "server/web/main.ts", world.env),
    await startProcess("engine", "server/engine/main.ts", world.env),
    await startProcess("worker", "server/workers/main.ts", world.env),
  ];
};
const stop = () => Promise.all(running.map((each) => each.stop()));

beforeEach(async () => {
  const port = await freePort();
  url = `http://127.0.0.1:${port}`;
  world = await createWorld({
    env: { SAUDADE_PORT: String(port), SAUDADE_TICK: "0.2", SAUDADE_LEASE: "1" },
  });
  list = addPeople(world, PEOPLE);
  const token = openSession(world.app, world.userId);
  cookie = (await sessionCookie.serialize(token)).split(";")[0] ?? "";
});
afterEach(async () => {
  await stop();
  await world.close();
});

const get = (path: string) => fetch(url + path, { headers: { cookie } });
const note = (text: string) =>
  fetch(`${url}/prospects/1`, {
    method: "POST",
    headers: { cookie, origin: world.app.config.url },
    body: new URLSearchParams({ intent: "note", text }),
  });
const health = async () => (await (await fetch(`${url}/healthz`)).json()) as Health;
const notes = () => rows<{ text: string }>(world, "SELECT text FROM notes").map(({ text }) => text);

it("while another program holds the database, pages answer, what is written waits or says so, and nothing is lost", async () => {
  await start();
  await expect.poll(async () => (await health()).engine, { timeout: 90_000 }).toBe(true);
  // Its answers come after the lock: that an email left must be written down then.
  await world.tell("/misbehave", { kind: "slow", times: 100, ms: 3_000 });
  await startWriting();
  const claimed = () => rows(world, "SELECT 1 FROM touches WHERE state = 'claimed'").length;
  await expect.poll(claimed, { timeout: 90_000, interval: 20 }).toBeGreaterThan(0);

  const job = askJob(world.app.db, { kind: "duplicates", input: {}, userId: 1, now: Date.now() });
  const other = new Database(world.app.config.database);
  other.exec("BEGIN IMMEDIATE");
  // The lock lasts longer than the turn of whoever writes, which is what they are told.
  let answer: Response | null = null;
  void note("written at once").then((refusal) => {
    answer = refusal;
  });
  let pages = 0;
  while (answer === null) {
    expect((await get("/prospects/1")).status).toBe(200);
    pages++;
    await new Promise((next) => setTimeout(next, 200));
  }
  expect(pages).toBeGreaterThan(3);
  const refused = answer as Response;
  expect([refused.status, refused.headers.get("retry-after")]).toEqual([503, "2"]);
  expect(await refused.text()).toContain("Nothing was changed");
  const inTime = note("written later");
  await new Promise((next) => setTimeout(next, 2_000));
  other.exec("ROLLBACK");
  other.close();

  expect((await inTime).status).toBeLessThan(400);
  expect(notes()).toEqual(["written later"]);
  // Whoever was sending, or at work, goes on as the same process.
  await expect
    .poll(() => rows(world, "SELECT 1 FROM touches WHERE state = 'sent'").length, { timeout: 60_000 })
    .toBe(PEOPLE.length);
  await expect.poll(() => jobById(world.app.db, job)?.state, { timeout: 90_000 }).toBe("done");
  expect(running.map(({ child }) => child.exitCode)).toEqual([null, null, null]);
  expect((await world.deliveries()).map(({ recipient }) => recipient).toSorted()).toEqual(
    PEOPLE.map((name) => `${name}@${name}-museum.example`),
  );
  expect(rows(world, "SELECT trouble FROM mailboxes WHERE trouble IS NOT NULL")).toEqual([]);
  await expect.poll(health, { timeout: 90_000 }).toMatchObject({ ok: true, engine: true, problem: null });
});

/** Everybody is written to, as soon as the engine looks. */
async function startWriting(): Promise<void> {
  const mailbox = await addMailbox(world, "marta@quillwater.example", { gapLeast: 0, gapMost: 0 });
  const sequence = addSequence(world, list, [mailbox], { path: [email("one", 0, { subject: "Loans" })] });
  expect(startSequence(world.app, world.userId, sequence).ok).toBe(true);
}

/** Fills a table's first page with what no database holds there. */
function damage(table: string): void {
  const { db, config } = world.app;
  const page = rows<{ page: number }>(
    world,
    `SELECT rootpage AS page FROM sqlite_master WHERE name = '${table}'`,
  );
  const size = db.pragma("page_size", { simple: true }) as number;
  db.pragma("wal_checkpoint(TRUNCATE)");
  const file = openSync(config.database, "r+");
  writeSync(file, Buffer.alloc(size, 0xee), 0, size, ((page[0]?.page ?? 0) - 1) * size);
  closeSync(file);
}

it("a damaged database says so, on the page, in health and in words, and a copy put back is whole again", async () => {
  await startWriting();
  const copy = join(dirname(world.app.config.database), "copy.db");
  await backUp(world.app.config.database, world.app.key, copy);
  damage("prospects");
  await start();
  const page = await get("/prospects/1");
  expect(page.status).toBe(500);
  expect(await page.text()).toMatch(/^The database file is damaged\. .*npm run restore -- FILE/);
  await expect.poll(async () => (await health()).problem, { timeout: 90_000 }).toMatch("npm run restore");
  expect((await fetch(`${url}/healthz`)).status).toBe(503);
  expect(running.map(({ child }) => child.exitCode)).toEqual([null, null, null]);

  await stop();
  world.app.db.close();
  restore(copy, world.app.config.database, undefined, Date.now());
  await start();
  expect((await get("/prospects/1")).status).toBe(200);
  await expect.poll(health, { timeout: 90_000 }).toMatchObject({ engine: true, problem: null });
});
