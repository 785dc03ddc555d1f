/** After a restore, a lost log or a clock that jumped, the engine reads before it sends: nobody gets an email twice. */
import { existsSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import { type App, openApp } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import { readConfig } from "../config.ts";
import { backUp, restore } from "../db/backup.ts";
import { sql } from "../db/open.ts";
import { openRecovery } from "../db/recoveries.ts";
import { keepStops, stopsFileOf } from "../db/stops.ts";
import { optOutProspect } from "../prospects/block-list/opt-out.ts";
import { eraseForGood } from "../prospects/privacy/erase-prospect.ts";
import { decideRestored, restored } from "../sending/restored.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import {
  addMailbox,
  addPeople,
  addSequence,
  createWorld,
  email,
  type Standin,
  startStandin,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { endTouch } from "../today/end-touch.ts";
import { advance, moveStandin } from "./advance.ts";
import { afterRestore, afterRestoreWords } from "./after-restore.ts";
import { Marks, markFileOf } from "./marks.ts";
import { Engine } from "./tick.ts";

let standin: Standin;
let world: World;
let folder: string;
let open: { app: App; engine: Engine }[] = [];
beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "saudade-recovery-"));
  world = await createWorld({ standin, env: { SAUDADE_BACKUPS: folder } });
});
afterEach(async () => {
  for (const { app, engine } of open) {
    await engine.close();
    app.db.close();
  }
  open = [];
  await world.close();
  rmSync(folder, { recursive: true, force: true });
});

const names = Array.from({ length: 28 }, (_, index) => `person${index}`);

async function started(people = names): Promise<void> {
  const limits = { gapLeast: 5, gapMost: 8, dailyLimit: 100 };
  const mailboxes = [
    await addMailbox(world, "marta@quillwater.example", limits),
    await addMailbox(world, "m.quintela@quillwater.example", limits),
  ];
  const sequence = addSequence(world, addPeople(world, people), mailboxes);
  expect(startSequence(world.app, world.userId, sequence).ok).toBe(true);
}

/** An engine on a database, and its clock moved on. */
function engineOn(app: App): (until: number) => Promise<void> {
  const engine = new Engine(app);
  open.push({ app, engine });
  return (until) => advance(engine, { id: 0, kind: "until", until }, () => true, false);
}

/** The copy of an instant, put back at another. */
async function restoredAt(at: number): Promise<App> {
  const database = join(folder, "restored.db");
  restore(join(folder, "copy.db"), database, "0".repeat(64), at);
  const app = openApp(readConfig({ ...world.env, SAUDADE_DB: database }));
  setDemoClock(app.db, at, false);
  await moveStandin(app, at, false);
  return app;
}
const backedUp = () => backUp(world.app.config.database, world.app.key, join(folder, "copy.db"));
const perPerson = async () => {
  const counts = new Map<string, number>();
  for (const { recipient } of await world.deliveries())
    counts.set(recipient, (counts.get(recipient) ?? 0) + 1);
  return counts;
};
const count = (app: App, where: string) =>
  sql(app.db, `SELECT count(*) AS n FROM touches WHERE ${where}`).get<{ n: number }>([])?.n;

describe("a restored copy", () => {
  it("finds in the Sent folders what left since it was made: nobody gets it twice, and the follow-ups come in their time", async () => {
    await started();
    const runOld = engineOn(world.app);
    await runOld(TUESDAY + 20 * MINUTE);
    // Made in the middle of the day: some are written to already.
    const early = count(world.app, "state = 'sent'") ?? 0;
    expect(early).toBeGreaterThan(2);
    expect(early).toBeLessThan(28);
    await backedUp();
    await runOld(TUESDAY + 5 * HOUR);
    expect([...(await perPerson()).values()]).toEqual(names.map(() => 1));

    const app = await restoredAt(TUESDAY + 5 * HOUR);
    const after = afterRestore(app);
    expect(afterRestoreWords(after)).toContain(
      "read from the mailboxes' Sent folders before anything goes out",
    );
    const goOn = engineOn(app);
    await goOn(TUESDAY + DAY);
    expect([...(await perPerson()).values()]).toEqual(names.map(() => 1));
    expect(count(app, "state = 'sent'")).toBe(28);
    expect(openRecovery(app.db)).toBeUndefined();
    expect(restored(app, null)).toMatchObject({
      total: 0,
      recovery: { reason: "restored", held: 0, found: 28 - early },
    });
    // The follow-up goes once, in the thread of the email that was found.
    await goOn(TUESDAY + 4 * DAY);
    expect([...(await perPerson()).values()]).toEqual(names.map(() => 2));
    const ids = new Set((await world.deliveries()).map(({ messageId }) => messageId));
    expect(ids.size).toBe(56);
  });

  it("made before a mailbox was ever read knows the answers that came since: nobody who wrote back is written to again", async () => {
    await started(["ana", "bia"]);
    await backedUp();
    const runOld = engineOn(world.app);
    await runOld(TUESDAY + 2 * HOUR);
    const [first] = await world.deliveries();
    await world.tell("/deliver", {
      mailbox: first?.sender,
      raw: `From: ${first?.recipient}\r\nTo: ${first?.sender}\r\nMessage-ID: <back@x.example>\r\nIn-Reply-To: ${first?.messageId}\r\nSubject: Re: Loans\r\n\r\nYes, gladly.`,
    });
    const app = await restoredAt(TUESDAY + 5 * HOUR);
    afterRestore(app);
    await engineOn(app)(TUESDAY + 9 * DAY);
    const counts = await perPerson();
    expect(counts.get(first?.recipient ?? "")).toBe(1);
    expect([...counts.values()].toSorted()).toEqual([1, 3]);
    expect(sql(app.db, "SELECT count(*) AS n FROM replies").get<{ n: number }>([])).toEqual({ n: 1 });
  });

  it("of whom nothing tells waits for a person, whose word is done: go on, it left, nothing more", async () => {
    await started(["ana", "bia", "caio"]);
    const runOld = engineOn(world.app);
    // The plan is made, nothing has left.
    setDemoClock(world.app.db, TUESDAY - 3 * HOUR, false);
    await runOld(TUESDAY - 3 * HOUR);
    expect(await world.deliveries()).toEqual([]);
    await backedUp();

    const app = await restoredAt(TUESDAY + 6 * HOUR);
    afterRestore(app);
    const goOn = engineOn(app);
    await goOn(TUESDAY + 7 * HOUR);
    expect(await world.deliveries()).toEqual([]);
    const waits = restored(app, null);
    expect(waits).toMatchObject({ total: 3, recovery: { found: 0, held: 3 } });
    expect(waits?.shown[0]).toMatchObject({ stepName: "Opening", sequenceName: "Loans" });
    expect(decideRestored(app, 1, { intent: "go_on", ids: [1] })).toMatchObject({ value: 1 });
    expect(decideRestored(app, 1, { intent: "left", ids: [2] })).toMatchObject({ value: 1 });
    expect(decideRestored(app, 1, { intent: "stop", ids: null })).toMatchObject({ value: 1 });
    await goOn(TUESDAY + 8 * HOUR);
    await goOn(TUESDAY + DAY + 5 * HOUR);
    expect(await perPerson()).toEqual(new Map([["ana@ana-museum.example", 1]]));
    // Whose email counts as sent gets the follow-up in its thread, in its days.
    await goOn(TUESDAY + 6 * DAY);
    const second = (await world.deliveries()).find(({ recipient }) => recipient.startsWith("bia"));
    expect(second?.subject).toBe("Re: Loans at bia museum");
    expect((await perPerson()).get("caio@caio-museum.example")).toBeUndefined();
    expect(restored(app, null)?.total ?? 0).toBe(0);
  });

  it("what a rep does by hand stays open on Today: it is theirs to know", async () => {
    const mailbox = await addMailbox(world, "marta@quillwater.example");
    const ring = {
      id: "ring",
      kind: "call" as const,
      name: "Ring",
      note: "",
      wait: { days: 0, working: true },
    };
    const sequence = addSequence(world, addPeople(world, ["ana"]), [mailbox], {
      path: [
        { ...ring, text: "Ring them", journey: "waits", skipAfter: null, asNote: false },
        email("one", 2, { subject: "Loans" }),
      ],
    });
    expect(startSequence(world.app, world.userId, sequence).ok).toBe(true);
    await engineOn(world.app)(TUESDAY + HOUR);
    await backedUp();
    const app = await restoredAt(TUESDAY + 3 * DAY);
    afterRestore(app);
    await engineOn(app)(TUESDAY + 3 * DAY + HOUR);
    expect(restored(app, null)?.total ?? 0).toBe(0);
    const [call] = sql(app.db, "SELECT id, state FROM touches").all<{ id: number; state: string }>([]);
    expect(call?.state).toBe("open");
    expect(endTouch(app, world.user, { id: call?.id }, "done").ok).toBe(true);
    await engineOn(app)(TUESDAY + 9 * DAY);
    expect(await perPerson()).toEqual(new Map([["ana@ana-museum.example", 1]]));
  });

  it("learns who was erased and who opted out since it was made", async () => {
    await started(["ana", "bia", "caio"]);
    await backedUp();
    eraseForGood(world.app, 1);
    optOutProspect(world.app, 2);
    // Whoever was erased leaves two marks: of their address, and of themselves.
    expect(keepStops(world.app.db, world.app.key, stopsFileOf(world.app.config))).toBe(3);
    expect(keepStops(world.app.db, world.app.key, stopsFileOf(world.app.config))).toBe(0);

    const app = await restoredAt(TUESDAY + HOUR);
    expect(afterRestore(app)).toMatchObject({ erased: 1, optedOut: 1 });
    const people = sql(app.db, "SELECT email, first_name FROM prospects ORDER BY id").all<{
      email: string | null;
      first_name: string;
    }>([]);
    expect(people[0]).toEqual({ email: null, first_name: "" });
    const goOn = engineOn(app);
    await goOn(TUESDAY + 5 * DAY);
    decideRestored(app, 1, { intent: "go_on", ids: null });
    await goOn(TUESDAY + 6 * DAY);
    expect([...(await perPerson()).keys()]).toEqual(["caio@caio-museum.example"]);
  });

  it("sends no answer a second time, and asks about what the Sent folder does not show", async () => {
    await started(["ana"]);
    world.app.db.exec(
      `INSERT INTO touches (kind, prospect_id, mailbox_id, recipient, state, message_id, subject, body, at)
       VALUES ('answer', 1, 1, 'ana@ana-museum.example', 'queued', '<answer.1@quillwater.example>', 'Re: Loans', 'Gladly.', 0),
         ('answer', 1, 1, 'ana@ana-museum.example', 'queued', '<answer.2@quillwater.example>', 'Re: Loans', 'Never left.', 0)`,
    );
    await backedUp();
    world.app.db.exec("DELETE FROM touches WHERE message_id = '<answer.2@quillwater.example>'");
    const runOld = engineOn(world.app);
    await runOld(TUESDAY + MINUTE);
    const app = await restoredAt(TUESDAY + 30 * MINUTE);
    afterRestore(app);
    await engineOn(app)(TUESDAY + HOUR);
    const ids = (await world.deliveries()).map(({ messageId }) => messageId);
    expect(ids.filter((id) => id === "<answer.1@quillwater.example>")).toHaveLength(1);
    expect(ids).not.toContain("<answer.2@quillwater.example>");
    expect(count(app, "message_id = '<answer.2@quillwater.example>' AND undecided_at IS NOT NULL")).toBe(1);
  });
});

describe("the mark beside the database", () => {
  it("tells that the database lost its latest entries, and that a file was put in its place by hand", async () => {
    await started(["ana", "bia"]);
    const marks = new Marks(world.app);
    marks.check();
    expect(openRecovery(world.app.db)).toBeUndefined();
    expect(existsSync(markFileOf(world.app.config.database))).toBe(true);
    const last = sql(world.app.db, "SELECT max(id) AS id FROM events").get<{ id: number }>([])?.id ?? 0;
    writeFileSync(markFileOf(world.app.config.database), JSON.stringify({ event: last + 5 }));
    new Marks(world.app).check();
    expect(openRecovery(world.app.db)).toMatchObject({ reason: "lost" });
    // Said once: the next start goes on from here.
    world.app.db.exec("UPDATE recoveries SET ended_at = 1");
    new Marks(world.app).check();
    expect(openRecovery(world.app.db)).toBeUndefined();
  });

  it("that cannot be read is written anew", async () => {
    writeFileSync(markFileOf(world.app.config.database), "{");
    new Marks(world.app).check();
    expect(openRecovery(world.app.db)).toBeUndefined();
  });

  it("and a clock that jumps while the engine runs, or was set back before, have the Sent folders read first", async () => {
    await started(["ana"]);
    let [steady, wall] = [0, TUESDAY];
    const marks = new Marks(
      world.app,
      () => steady,
      () => wall,
    );
    steady += HOUR;
    wall += HOUR;
    marks.keep();
    expect(openRecovery(world.app.db)).toBeUndefined();
    wall -= 3 * HOUR;
    marks.keep();
    expect(openRecovery(world.app.db)).toMatchObject({ reason: "clock" });
    // Nothing was lost: nobody waits for a person, and sending goes on.
    const goOn = engineOn(world.app);
    await goOn(TUESDAY + HOUR);
    expect(openRecovery(world.app.db)).toBeUndefined();
    expect(await perPerson()).toEqual(new Map([["ana@ana-museum.example", 1]]));
    expect(restored(world.app, null)).toBeNull();
  });
});

it("a mailbox that cannot be read after a restore sends nothing until it was; the others do not wait for it", async () => {
  await started(["ana", "bia"]);
  await backedUp();
  const app = await restoredAt(TUESDAY + HOUR);
  app.db.exec("UPDATE mailboxes SET imap_port = 9 WHERE id = 2");
  afterRestore(app);
  const goOn = engineOn(app);
  await goOn(TUESDAY + 2 * HOUR);
  expect(openRecovery(app.db)).toBeUndefined();
  decideRestored(app, 1, { intent: "go_on", ids: null });
  await goOn(TUESDAY + 5 * HOUR);
  const senders = (await world.deliveries()).map(({ sender }) => sender);
  expect(new Set(senders)).toEqual(new Set(["marta@quillwater.example"]));
});
