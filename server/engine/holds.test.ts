/** What holds the engine back, and what lets it go on. */
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { DAY, dayOf, HOUR, MINUTE, OpenHours } from "../../core/calendar.ts";
import { openMailbox } from "../sending/mailboxes/open-mailbox.ts";
import { saveMailbox, setMailboxState } from "../sending/mailboxes/save-mailbox.ts";
import { sequenceForm, sequenceOf } from "../sequences/open-sequence.ts";
import { saveSequence, setSequenceState } from "../sequences/save-sequence.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import {
  addMailbox,
  addPeople,
  addSequence,
  createWorld,
  email,
  PASSWORD,
  rows,
  type Standin,
  startStandin,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { advance } from "./advance.ts";
import { Engine } from "./tick.ts";

let standin: Standin;
let world: World;
let engine: Engine;
let mailboxId: number;
beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());
beforeEach(async () => {
  world = await createWorld({ standin });
  engine = new Engine(world.app);
  mailboxId = await addMailbox(world, "marta@quillwater.example");
});
afterEach(async () => {
  await engine.close();
  await world.close();
});

const runUntil = (until: number) => advance(engine, { id: 0, kind: "until", until }, () => true, false);
const sent = () =>
  rows<{ stepId: string; at: number; email: string }>(
    world,
    `SELECT step_id AS stepId, sent_at AS at, p.email FROM touches t JOIN prospects p ON p.id = t.prospect_id
     WHERE t.state = 'sent' ORDER BY sent_at`,
  );
const waits = () =>
  rows<{ reason: string; detail: string | null; nextAt: number | null }>(
    world,
    "SELECT wait_reason AS reason, wait_detail AS detail, next_at AS nextAt FROM journeys WHERE state = 'active'",
  );
function started(names: string[], change: Record<string, unknown> = {}): number {
  const id = addSequence(world, addPeople(world, names), [mailboxId], change);
  const report = startSequence(world.app, world.userId, id);
  if (!report.ok) throw new Error(JSON.stringify(report.errors));
  return id;
}
const names = (count: number) => Array.from({ length: count }, (_, index) => `person${index}`);
const settings = () => {
  const mailbox = openMailbox(world.app, mailboxId);
  if (!mailbox) throw new Error("no mailbox");
  // As its form sends it.
  return { ...mailbox, tags: mailbox.tags.join(), moreFolders: mailbox.moreFolders.join("\n") };
};

describe("the engine keeps", () => {
  it("the daily limit, the pauses between two emails and the hours where each prospect is", async () => {
    saveMailbox(world.app, world.user, { ...settings(), dailyLimit: 7 });
    started(names(24));
    world.app.db.exec("UPDATE prospects SET time_zone = 'Asia/Tokyo' WHERE id % 2 = 0");
    await runUntil(TUESDAY + 21 * DAY);
    const all = sent().filter(({ stepId }) => stepId === "one");
    expect(all).toHaveLength(24);
    const perDay = new Map<string, number>();
    for (const { at } of sent())
      perDay.set(dayOf(at, "Europe/Lisbon"), (perDay.get(dayOf(at, "Europe/Lisbon")) ?? 0) + 1);
    expect(Math.max(...perDay.values())).toBe(7);
    const times = sent().map(({ at }) => at);
    times.slice(1).forEach((at, index) => {
      expect(at - (times[index] ?? 0)).toBeGreaterThanOrEqual(9 * MINUTE);
    });
    for (const { at, email } of all) {
      const even = Number(email.match(/\d+/)?.[0]) % 2 === 1; // person1 has id 2
      const hours = new OpenHours(
        { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" },
        even ? "Asia/Tokyo" : "Europe/Lisbon",
        at,
      );
      expect(hours.windowFrom(at).opens).toBeLessThanOrEqual(at);
    }
  });

  it("a paused sequence and a paused mailbox waiting, reads its replies all the same, and goes on when told", async () => {
    const id = started(names(2));
    setSequenceState(world.app, null, id, "paused");
    await runUntil(TUESDAY + HOUR);
    expect(waits().map(({ reason }) => reason)).toEqual(["sequence_paused", "sequence_paused"]);
    setSequenceState(world.app, null, id, "running");
    setMailboxState(world.app, world.user, mailboxId, "paused");
    await runUntil(TUESDAY + 2 * HOUR);
    expect(waits()[0]).toMatchObject({ reason: "mailbox_paused", detail: "marta@quillwater.example" });
    expect(sent()).toEqual([]);
    setMailboxState(world.app, world.user, mailboxId, "active");
    await runUntil(TUESDAY + 3 * HOUR);
    expect(sent()).toHaveLength(2);
  });

  it("an unreachable outgoing server's emails, sends them once it is back, and each only once", async () => {
    const { smtpPort } = settings();
    saveMailbox(world.app, world.user, { ...settings(), smtpPort: 9, password: PASSWORD });
    started(names(2));
    await runUntil(TUESDAY + HOUR);
    expect(waits()[0]).toMatchObject({ reason: "mailbox_unreachable" });
    expect(waits()[0]?.detail).toContain("nothing listens on this port");
    saveMailbox(world.app, world.user, { ...settings(), smtpPort, password: PASSWORD });
    await runUntil(TUESDAY + 2 * HOUR);
    expect(sent()).toHaveLength(2);
    expect(await world.deliveries()).toHaveLength(2);
  });
});

describe("a mailbox whose email comes back", () => {
  it("rests by itself with the numbers, its threads wait until the day it wakes, and others are not slowed", async () => {
    saveMailbox(world.app, world.user, { ...settings(), gapLeast: 0, gapMost: 0, dailyLimit: 100 });
    started(names(30));
    await runUntil(TUESDAY + HOUR);
    const touches = rows<{ id: number; prospectId: number; journeyId: number }>(
      world,
      "SELECT id, prospect_id AS prospectId, journey_id AS journeyId FROM touches LIMIT 3",
    );
    for (const { prospectId } of touches)
      await world.tell("/deliver", {
        mailbox: "marta@quillwater.example",
        raw: [
          "From: mailer-daemon@x.example",
          `Message-ID: <dsn${prospectId}@x.example>`,
          "Subject: Undelivered",
          "MIME-Version: 1.0",
          'Content-Type: multipart/report; report-type=delivery-status; boundary="b"',
          "",
          "--b",
          "Content-Type: message/delivery-status",
          "",
          "Reporting-MTA: dns; x.example",
          "",
          `Final-Recipient: rfc822; person${prospectId - 1}@person${prospectId - 1}-museum.example`,
          "Action: failed",
          "Status: 5.1.1",
          "",
          "--b--",
          "",
        ].join("\r\n"),
      });
    await runUntil(TUESDAY + 3 * HOUR);
    expect(settings()).toMatchObject({
      state: "resting",
      restReason: '{"sent":30,"bounced":3,"of":"bounced"}',
    });
    await runUntil(TUESDAY + 3 * DAY);
    expect(sent()).toHaveLength(30);
    expect(waits()[0]).toMatchObject({ reason: "mailbox_resting" });
    expect(dayOf(waits()[0]?.nextAt ?? 0, "Europe/Lisbon")).toBe("2026-06-16");
    await runUntil(TUESDAY + 8 * DAY);
    expect(settings().state).toBe("active");
    expect(sent().filter(({ stepId }) => stepId === "two")).toHaveLength(27);
  });

  it("only for now does not stop anything", async () => {
    started(names(1));
    await runUntil(TUESDAY + HOUR);
    await world.tell("/deliver", {
      mailbox: "marta@quillwater.example",
      raw: 'From: mailer-daemon@x.example\r\nMessage-ID: <soft@x.example>\r\nSubject: Delayed\r\nMIME-Version: 1.0\r\nContent-Type: multipart/report; report-type=delivery-status; boundary="b"\r\n\r\n--b\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; x.example\r\n\r\nFinal-Recipient: rfc822; person0@person0-museum.example\r\nAction: delayed\r\nStatus: 4.2.2\r\n\r\n--b--\r\n',
    });
    await runUntil(TUESDAY + 20 * DAY);
    expect(sent()).toHaveLength(3);
    expect(rows(world, "SELECT kind FROM replies")).toEqual([{ kind: "delay" }]);
  });
});

describe("a sequence that is edited while people are on their way", () => {
  it("goes on with the new words, sends no step twice, and skips what was put in behind them", async () => {
    const id = started(names(1));
    await runUntil(TUESDAY + HOUR);
    const sequence = sequenceOf(world.app, null, id);
    if (!sequence) throw new Error("gone");
    const form = sequenceForm(sequence);
    const [, , three] = form.path;
    const path = [
      email("zero", 0, { subject: "New", body: "Before everything" }),
      email("one", 1, { subject: "Loans", body: "Hello" }),
      email("two", 2, { body: "Other words" }),
      three,
    ];
    expect(saveSequence(world.app, { ...form, path })).toMatchObject({ ok: true, value: 2 });
    await runUntil(TUESDAY + 20 * DAY);
    expect(sent().map(({ stepId }) => stepId)).toEqual(["one", "two", "three"]);
    expect(
      rows(world, "SELECT version, body LIKE 'Other words%' AS changed FROM touches WHERE step_id = 'two'"),
    ).toEqual([{ version: 2, changed: 1 }]);
  });

  it("counts their waits anew", async () => {
    const id = started(names(1));
    await runUntil(TUESDAY + HOUR);
    const sequence = sequenceOf(world.app, null, id);
    if (!sequence) throw new Error("gone");
    const form = sequenceForm(sequence);
    saveSequence(world.app, {
      ...form,
      path: form.path.map((node) => (node.id === "two" ? email("two", 5) : node)),
    });
    await runUntil(TUESDAY + 9 * DAY);
    expect(sent().map(({ at }) => dayOf(at, "Europe/Lisbon"))).toEqual(["2026-06-09", "2026-06-16"]);
  });

  it("is over for them when the rest of it is removed", async () => {
    const id = started(names(1));
    await runUntil(TUESDAY + HOUR);
    const sequence = sequenceOf(world.app, null, id);
    if (!sequence) throw new Error("gone");
    const form = sequenceForm(sequence);
    saveSequence(world.app, { ...form, path: form.path.slice(0, 1) });
    await runUntil(TUESDAY + 20 * DAY);
    expect(sent()).toHaveLength(1);
    expect(rows(world, "SELECT state FROM journeys")).toEqual([{ state: "finished" }]);
  });
});

describe("the demo's clock", () => {
  it("moves to the next event, or to half past eight of the next working morning", async () => {
    started(names(3));
    await advance(engine, { id: 0, kind: "next_event", until: null }, () => true, false);
    expect(sent()).toHaveLength(1);
    await advance(engine, { id: 0, kind: "next_morning", until: null }, () => true, false);
    expect(new Date(world.app.clock.now()).toISOString()).toBe("2026-06-10T07:30:00.000Z");
    expect(sent()).toHaveLength(3);
  });

  it("stops where it is told to, and runs on from there", async () => {
    started(names(3));
    let steps = 0;
    await advance(engine, { id: 0, kind: "until", until: TUESDAY + DAY }, () => ++steps < 2, true);
    const stopped = world.app.clock.now();
    expect(stopped).toBeLessThan(TUESDAY + DAY);
    await expect.poll(() => world.app.clock.now()).toBeGreaterThan(stopped);
  });
});

describe("an address that is not sure", () => {
  const judge = (verdict: string | null, where = "1") =>
    world.app.db.prepare(`UPDATE prospects SET verdict = ? WHERE ${where}`).run(verdict);

  it("keeps its journey waiting with the reason, until it is verified", async () => {
    started(["ana", "bia"], { writesTo: "good" });
    await runUntil(TUESDAY + HOUR);
    expect(sent()).toEqual([]);
    expect(waits()).toMatchObject([
      { reason: "address_not_good", detail: "unchecked", nextAt: null },
      { reason: "address_not_good", detail: "unchecked", nextAt: null },
    ]);
    judge("good", "email LIKE 'ana%'");
    judge("risky", "email LIKE 'bia%'");
    await runUntil(TUESDAY + 3 * HOUR);
    expect(sent().map(({ email }) => email)).toEqual(["ana@ana-museum.example"]);
    expect(waits().map(({ detail }) => detail)).toContain("doubtful");
  });

  it("is written to where the rep says that doubtful ones may be", async () => {
    started(["ana"], { writesTo: "doubtful" });
    judge("risky");
    await runUntil(TUESDAY + 3 * HOUR);
    expect(sent()).toHaveLength(1);
  });

  it("that turns bad on the way is not written to again", async () => {
    started(["ana"]);
    judge("good");
    await runUntil(TUESDAY + 3 * HOUR);
    judge("bad");
    await runUntil(TUESDAY + 7 * DAY);
    expect(sent()).toHaveLength(1);
    expect(waits()).toMatchObject([{ reason: "address_not_good", detail: "bad" }]);
  });

  it("that is known to be bad is not even started, and one that is missing starts and waits", async () => {
    const listId = addPeople(world, ["ana", "bia"]);
    judge("bad", "email LIKE 'ana%'");
    world.app.db.exec("UPDATE prospects SET email = NULL WHERE email LIKE 'bia%'");
    const id = addSequence(world, listId, [mailboxId]);
    expect(startSequence(world.app, world.userId, id)).toMatchObject({
      ok: true,
      value: { started: 1, counts: { address_bad: 1, no_address: 1 } },
    });
    await runUntil(TUESDAY + HOUR);
    expect(waits()).toMatchObject([{ reason: "no_address" }]);
  });
});
