/** Letters as strangers send them, from a delivered message to what was sent or stopped, against a real database and mail server. */
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import { advance } from "../engine/advance.ts";
import { Engine } from "../engine/tick.ts";
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
import { countReplies, openReply } from "./list-replies.ts";

let standin: Standin;
let world: World;
let engine: Engine;

beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());

const OPT_OUT_LINE = 'If you would rather not hear from me, answer "stop" and I will.';

beforeEach(async () => {
  world = await createWorld({ standin });
  engine = new Engine(world.app);
  const mailboxId = await addMailbox(world, "marta@quillwater.example", { gapLeast: 0, gapMost: 0 });
  const listId = addPeople(world, ["ana"]);
  const sequenceId = addSequence(world, listId, [mailboxId], {
    settings: { tracksOpens: false, tracksClicks: false, holidays: false, awayDays: 3 },
  });
  addJourney(world, sequenceId, 1);
  world.app.db.exec("UPDATE sequences SET state = 'running'");
  await until(2 * HOUR);
  // The email as it went, with a line by which whoever quotes it seems to opt out.
  world.app.db.exec(`UPDATE touches SET body = body || '\n\n${OPT_OUT_LINE}' WHERE state = 'sent'`);
});
afterEach(async () => {
  await engine.close();
  await world.close();
});

const until = (later: number) =>
  advance(engine, { id: 0, kind: "until", until: TUESDAY + later }, () => true, false);
const sent = () =>
  rows<{ messageId: string; body: string; subject: string }>(
    world,
    "SELECT message_id AS messageId, body, subject FROM touches WHERE state = 'sent' ORDER BY id",
  );
const journey = () =>
  rows<{ state: string; reason: string | null; waits: string | null }>(
    world,
    "SELECT state, stop_reason AS reason, wait_reason AS waits FROM journeys",
  )[0];
const blocked = () => rows(world, "SELECT value FROM block_list");

interface Delivered {
  from?: string;
  subject?: string;
  /** Whether it names our email in its head. */
  answers?: boolean;
  headers?: string;
}

async function comes(text: string, { from, subject, answers = true, headers = "" }: Delivered = {}) {
  const [email] = sent();
  await world.tell("/deliver", {
    mailbox: "marta@quillwater.example",
    raw: `From: ${from ?? "ana <ana@ana-museum.example>"}\r\nTo: marta@quillwater.example\r\nMessage-ID: <${Math.random()}@ana.example>\r\n${
      answers ? `In-Reply-To: ${email?.messageId}\r\n` : ""
    }Subject: ${subject ?? `Re: ${email?.subject}`}\r\n${headers}Content-Type: text/plain; charset=utf-8\r\n\r\n${text.replaceAll("\n", "\r\n")}\r\n`,
  });
  await engine.tick();
  const [reply] = rows<{ id: number }>(world, "SELECT max(id) AS id FROM replies");
  return reply?.id ? openReply(world.app, reply.id) : null;
}

describe("what they quote of ours", () => {
  it.each([
    [
      "with bold labels",
      (own: string) => `*From:* Marta\n*Sent:* Monday\n*To:* Ana\n*Subject:* Loans\n\n${own}`,
    ],
    [
      "under a heading in Russian",
      (own: string) => `вт, 9 июн. 2026 г. в 09:00, Marta <marta@quillwater.example>:\n\n${own}`,
    ],
    ["without marks or heading", (own: string) => own],
    ["with somebody's initials", (own: string) => own.replace(/^/gm, "MQ> ")],
  ])("is never read as theirs: %s", async (_, quote) => {
    const reply = await comes(`Yes, Thursday would suit us.\n\n${quote(sent()[0]?.body ?? "")}`);
    expect(reply).toMatchObject({ text: "Yes, Thursday would suit us.", reading: { label: "interested" } });
    expect(journey()).toMatchObject({ state: "stopped", reason: "replied" });
    expect(blocked()).toEqual([]);
  });
});

describe("an absence word in a person's letter", () => {
  it("is no absence: it is a reply, and nothing more goes out", async () => {
    const reply = await comes("off tonight, back Monday, but yes we want it");
    expect(reply).toMatchObject({ kind: "person", label: null });
    expect(journey()).toMatchObject({ state: "stopped", reason: "replied" });
    await until(20 * DAY);
    expect(sent()).toHaveLength(1);
  });

  it("without a machine's header pauses, and stays on the desk", async () => {
    const reply = await comes("I am on leave until 19 June.");
    expect(reply).toMatchObject({
      kind: "automatic",
      reading: { label: "away", day: "2026-06-19", sure: false },
    });
    expect(journey()).toMatchObject({ state: "active" });
    expect(countReplies(world.app, { userId: world.userId, everybody: 0 } as never).unread).toBe(1);
  });

  it("and a death: no label does anything, and everything waits for the rep", async () => {
    const reply = await comes("Ana died last week. We are going through her letters. Her sister");
    expect(reply).toMatchObject({ certainty: "likely", label: null, reading: { sure: false } });
    expect(journey()).toMatchObject({ state: "active", waits: "likely_reply" });
    await until(20 * DAY);
    expect(sent()).toHaveLength(1);
  });
});

describe("an opt-out", () => {
  it.each([
    ["", { subject: "Unsubscribe", answers: false }],
    ["Please suppress this address.", {}],
    ["Παρακαλώ διαγράψτε με από τη λίστα.", {}],
  ])("in plain words is acted on alone: “%s”", async (text, more) => {
    const reply = await comes(text, more);
    expect(reply).toMatchObject({ label: { code: "opt_out", byRep: false } });
    expect(blocked()).toEqual([{ value: "ana@ana-museum.example" }]);
  });

  it.each([
    "Don't stop writing, I like it. Thursday?",
    "I unsubscribed from three others, yours is relevant. How much is it?",
    "Please take me off as the contact for this, it's Joss Lind now.",
    "Can our members unsubscribe by themselves?",
  ])("that is none is not: “%s”", async (text) => {
    await comes(text);
    expect(blocked()).toEqual([]);
    expect(journey()).toMatchObject({ state: "stopped", reason: "replied" });
  });
});

describe("what looks like a report", () => {
  it("and is an absence in German blocks nothing", async () => {
    const reply = await comes(
      "Ich bin zurzeit nicht erreichbar und ab dem 19. Juni wieder im Haus. Ihre Nachricht wird nicht weitergeleitet.",
      { subject: "Automatische Antwort", answers: false, headers: "Auto-Submitted: auto-replied\r\n" },
    );
    expect(reply).toMatchObject({ kind: "automatic", reading: { label: "away", day: "2026-06-19" } });
    expect(blocked()).toEqual([]);
  });

  it("and is a postmaster's own letter is a person's", async () => {
    const reply = await comes("If my mailbox is full again, ring me. I would like to see one.", {
      from: "Per <postmaster@ana-museum.example>",
    });
    expect(reply?.kind).toBe("person");
    expect(blocked()).toEqual([]);
  });

  it.each([
    ["Swedish", "Ditt meddelande kunde inte levereras", "Mottagaren finns inte"],
    ["Japanese", "メールを配信できませんでした", "宛先のユーザーは存在しません"],
    ["Czech", "Nedoručitelná zpráva", "Adresa neexistuje"],
  ])("in %s, without the standard part, stops what went to a dead address", async (_, subject, words) => {
    const [email] = sent();
    await comes(
      `<ana@ana-museum.example>: ${words}\n\nFrom: marta@quillwater.example\nTo: ana@ana-museum.example\nMessage-ID: ${email?.messageId}\n\n${email?.body}`,
      {
        from: "MAILER-DAEMON@mx.ana-museum.example",
        subject: `=?utf-8?B?${Buffer.from(subject).toString("base64")}?=`,
        answers: false,
        headers: "Auto-Submitted: auto-replied\r\n",
      },
    );
    expect(journey()).toMatchObject({ state: "stopped", reason: "bounced" });
    expect(blocked()).toEqual([{ value: "ana@ana-museum.example" }]);
  });

  it("and gives a ticket's number holds nothing", async () => {
    const reply = await comes("Thank you for contacting us. Your request has been received: ticket #48213.", {
      subject: "Ticket #48213",
      headers: "Auto-Submitted: auto-generated\r\n",
    });
    expect(reply?.kind).toBe("notice");
    expect(rows(world, "SELECT * FROM holds")).toEqual([]);
    expect(journey()).toMatchObject({ state: "active" });
  });
});

it("a colleague who gets a copy is whom they mean", async () => {
  const reply = await comes("This is no longer my area, I have copied in my colleague who owns it.", {
    headers: "Cc: Joss Lind <joss.lind@ana-museum.example>, marta@quillwater.example\r\n",
  });
  expect(reply?.reading).toMatchObject({
    label: "wrong_person",
    person: { firstName: "Joss", lastName: "Lind", email: "joss.lind@ana-museum.example" },
  });
});

it("an answer from an address that nobody knows is found by what it quotes, and put to the rep", async () => {
  const [email] = sent();
  const reply = await comes(
    `Yes, Thursday.\n\nFrom: Marta <marta@quillwater.example>\nTo: ana@ana-museum.example\nSubject: ${email?.subject}\n\n${email?.body}`,
    { from: "Ana at home <ana.h@post.example>", answers: false },
  );
  expect(reply).toMatchObject({ text: "Yes, Thursday.", certainty: "likely" });
  expect(journey()).toMatchObject({ state: "active", waits: "likely_reply" });
});
