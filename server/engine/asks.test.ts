/** Which servers a look asks for mail: none while there is nothing to do, each of them before anything leaves. */
import { afterAll, afterEach, beforeAll, beforeEach, expect, it, vi } from "vitest";
import { HOUR } from "../../core/calendar.ts";
import { setDemoClock } from "../clock.ts";
import { MailFolders } from "../mail/imap.ts";
import { seal } from "../secrets.ts";
import {
  addJourney,
  addMailbox,
  addPeople,
  addSequence,
  createWorld,
  rows,
  type Standin,
  startStandin,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { moveStandin } from "./advance.ts";
import { Engine } from "./tick.ts";

const MAILBOX = "marta@quillwater.example";
let standin: Standin;
let world: World;
let engine: Engine;
let asked: ReturnType<typeof vi.spyOn>;

beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());

beforeEach(async () => {
  world = await createWorld({ standin });
  await addMailbox(world, "other@quillwater.example");
  const mailboxId = await addMailbox(world, MAILBOX, { gapLeast: 0, gapMost: 0 });
  const sequence = addSequence(world, addPeople(world, ["ada", "bea"]), [mailboxId]);
  for (const id of [1, 2]) addJourney(world, sequence, id);
  world.app.db.exec("UPDATE sequences SET state = 'running'");
  engine = new Engine(world.app);
  await engine.tick();
  asked = vi.spyOn(MailFolders.prototype, "since");
  await settle();
});

/** Looks until both emails went, what came of them is noted, their copies are found, and a look asks nobody any more. */
async function settle(): Promise<void> {
  await expect
    .poll(
      async () => {
        asked.mockClear();
        await engine.tick("as_needed");
        return [await sent(), asked.mock.calls.length];
      },
      { timeout: 60_000, interval: 10 },
    )
    .toEqual([2, 0]);
}
afterEach(async () => {
  vi.restoreAllMocks();
  await engine.close();
  await world.close();
});

/** Lets the clock go on, for the app and for whoever was written to. */
async function goOn(to: number): Promise<void> {
  setDemoClock(world.app.db, to, false);
  await moveStandin(world.app, to, false);
}
const sent = async () => (await world.deliveries()).length;

it("asks nobody and writes nothing while nothing is due and no server has news", async () => {
  expect(await sent()).toBe(2);
  const { db } = world.app;
  const prepare = vi.spyOn(db, "prepare");
  const written = () => db.prepare("SELECT total_changes()").pluck().get() as number;
  const before = written();
  prepare.mockClear();
  for (let look = 0; look < 20; look++) await engine.tick("as_needed");
  expect(asked).not.toHaveBeenCalled();
  expect(prepare).not.toHaveBeenCalled();
  expect(written()).toBe(before);
});

it("asks every server before the next email leaves, and it does not where its prospect had answered", async () => {
  const due = rows<{ at: number }>(world, "SELECT max(next_at) AS at FROM journeys")[0]?.at ?? 0;
  expect(due).toBeGreaterThan(TUESDAY + HOUR);
  const [first] = (await world.deliveries()).filter(({ recipient }) => recipient.startsWith("ada"));
  // Told of it or not: the server is asked.
  vi.spyOn(MailFolders.prototype, "mayHaveNews", "get").mockReturnValue(false);
  await world.tell("/deliver", {
    mailbox: MAILBOX,
    raw: `From: ada@ada-museum.example\r\nTo: ${MAILBOX}\r\nSubject: Re: ${first?.subject}\r\nMessage-ID: <a1@ada-museum.example>\r\nIn-Reply-To: ${first?.messageId}\r\n\r\nNot now, thank you.\r\n`,
  });
  asked.mockClear();
  await engine.tick("as_needed");
  expect(asked).not.toHaveBeenCalled();
  await goOn(due);
  await engine.tick("as_needed");
  expect(asked).toHaveBeenCalledTimes(2);
  expect((await world.deliveries()).map(({ recipient }) => recipient.slice(0, 3)).toSorted()).toEqual([
    "ada",
    "bea",
    "bea",
  ]);
});

it("asks every server before a social touch is made, too", async () => {
  const { db, key } = world.app;
  // The network itself need not answer.
  db.prepare(
    "INSERT INTO social_accounts (id, user_id, name, url, token_sealed, created_at) VALUES (1, 1, 'Marta', 'http://127.0.0.1:9', ?, 0)",
  ).run(seal("token", key));
  db.prepare(
    `INSERT INTO touches (kind, journey_id, step_id, prospect_id, user_id, state, due_at, account_id)
     VALUES ('profile_view', 1, 'look', 1, 1, 'open', ?, 1)`,
  ).run(TUESDAY);
  await engine.tick("as_needed");
  expect(asked).toHaveBeenCalledTimes(2);
});

it("reads what a server tells of, though nothing is due", async () => {
  await world.tell("/deliver", {
    mailbox: MAILBOX,
    raw: `From: ada@ada-museum.example\r\nTo: ${MAILBOX}\r\nSubject: A word\r\nMessage-ID: <a2@ada-museum.example>\r\n\r\nWho are you?\r\n`,
  });
  await expect
    .poll(
      async () => {
        await engine.tick("as_needed");
        return rows(world, "SELECT 1 FROM replies").length;
      },
      { timeout: 20_000 },
    )
    .toBe(1);
});
