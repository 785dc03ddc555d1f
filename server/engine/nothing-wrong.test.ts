/** What strangers' servers and strangers' letters could make the engine do wrong, each as it happens on a real host. */
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import { CALL } from "../../core/meetings/calendar-events.ts";
import { touchById } from "../db/ledger.ts";
import { mailboxById } from "../db/mailboxes.ts";
import { composeEmail, OPT_OUT_SUBJECT } from "../mail/compose.ts";
import { signLink } from "../secrets.ts";
import { setMailboxState } from "../sending/mailboxes/save-mailbox.ts";
import { saveSendingSettings } from "../sending/rules.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import {
  addMailbox,
  addPeople,
  addSequence,
  createWorld,
  email,
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
beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());
beforeEach(async () => {
  world = await createWorld({ standin });
  engine = new Engine(world.app);
});
afterEach(async () => {
  await engine.close();
  await world.close();
});

const runUntil = (until: number) => advance(engine, { id: 0, kind: "until", until }, () => true, false);
async function started(
  names: string[],
  change: Record<string, unknown> = {},
  mailboxes = 1,
): Promise<number[]> {
  const ids: number[] = [];
  for (const address of ["marta@quillwater.example", "m.quintela@quillwater.example"].slice(0, mailboxes))
    ids.push(await addMailbox(world, address, { gapLeast: 0, gapMost: 0, dailyLimit: 100 }));
  const report = startSequence(
    world.app,
    world.userId,
    addSequence(world, addPeople(world, names), ids, change),
  );
  if (!report.ok) throw new Error(JSON.stringify(report.errors));
  return ids;
}
const arrives = (headers: string[], text: string, mailbox = "marta@quillwater.example") =>
  world.tell("/deliver", {
    mailbox,
    raw: [`To: ${mailbox}`, `Message-ID: <${Math.random()}@x.example>`, ...headers, "", text].join("\r\n"),
  });
const sentTo = async () => (await world.deliveries()).map(({ recipient }) => recipient);

describe("a host whose rules refuse one person", () => {
  it("stops the mailbox once; refused again while the others pass, that person's email only is held, with the host's words", async () => {
    const [mailbox] = await started(["ana", "bia", "caio"], { path: [email("one", 0, { subject: "S" })] });
    const standing = () => mailboxById(world.app.db, mailbox as number);
    await world.tell("/misbehave", { kind: "refuse_rules", times: 1 });
    await runUntil(TUESDAY + HOUR / 12);
    expect(standing()).toMatchObject({ smtpStopped: 1 });
    const [refused] = rows<{ recipient: string }>(world, "SELECT recipient FROM refusals");
    // Somebody looks, and lets it go on: the others pass, before it or now.
    expect(setMailboxState(world.app, world.user, mailbox as number, "active").ok).toBe(true);
    await engine.tick();
    expect(await sentTo()).toHaveLength(2);
    await world.tell("/misbehave", { kind: "refuse_rules", times: 9 });
    await runUntil(TUESDAY + 6 * HOUR);
    expect(standing()).toMatchObject({ smtpStopped: 0, smtpTrouble: null });
    expect(await sentTo()).not.toContain(refused?.recipient);
    expect(rows<{ reason: string; detail: string }>(world, "SELECT reason, detail FROM holds")).toEqual([
      { reason: "refused_by_host", detail: expect.stringContaining("5") },
    ]);
    expect(rows(world, "SELECT 1 FROM block_list")).toEqual([]);
  });
});

describe("a mailbox that rests by itself", () => {
  it("has its threads go on from another, as a new thread, where the sequence says so", async () => {
    const [first, second] = await started(
      ["ana"],
      {
        path: [email("one", 0, { subject: "S" }), email("two", 2, { body: "Again" })],
        settings: { threadElsewhere: "new_thread" },
      },
      2,
    );
    await runUntil(TUESDAY + HOUR);
    const [{ mailboxId } = { mailboxId: 0 }] = rows<{ mailboxId: number }>(
      world,
      "SELECT mailbox_id AS mailboxId FROM touches",
    );
    world.app.db.exec(
      `UPDATE mailboxes SET state = 'resting', rest_reason = '{"sent":30,"bounced":3,"of":"bounced"}', rest_until = ${TUESDAY + 20 * DAY} WHERE id = ${mailboxId}`,
    );
    await runUntil(TUESDAY + 5 * DAY);
    const touches = rows<{ mailboxId: number; subject: string }>(
      world,
      "SELECT mailbox_id AS mailboxId, subject FROM touches WHERE state = 'sent' ORDER BY id",
    );
    expect(touches.map((touch) => touch.mailboxId)).toEqual([
      mailboxId,
      mailboxId === first ? second : first,
    ]);
  });
});

describe("an opt-out by mail", () => {
  it.each([
    ["behind a gateway's tag", (token: string) => `Subject: [EXTERNAL] ${OPT_OUT_SUBJECT} ${token}`],
    ["as an answer", (token: string) => `Subject: Re: ${OPT_OUT_SUBJECT} ${token}`],
    ["folded over two lines", (token: string) => `Subject: {Spam?}\r\n ${OPT_OUT_SUBJECT}\r\n ${token}`],
  ])("%s, from whatever address, is honoured by its token", async (_, subject) => {
    await started(["ana"]);
    await runUntil(TUESDAY + HOUR);
    const token = signLink("opt-out", "1", world.app.key);
    await arrives([`From: someone@else.example`, subject(token)], "");
    await runUntil(TUESDAY + 6 * DAY);
    expect(await sentTo()).toEqual(["ana@ana-museum.example"]);
    expect(rows(world, "SELECT value, reason FROM block_list")).toEqual([
      { value: "ana@ana-museum.example", reason: "opted_out" },
    ]);
  });

  it("with a token that is not ours stops nobody", async () => {
    await started(["ana"]);
    await runUntil(TUESDAY + HOUR);
    await arrives(
      [
        "From: someone@else.example",
        `Subject: ${OPT_OUT_SUBJECT} ${signLink("opt-out", "1", Buffer.alloc(32, 1))}`,
      ],
      "",
    );
    await runUntil(TUESDAY + 3 * DAY);
    expect(rows(world, "SELECT 1 FROM block_list")).toEqual([]);
  });
});

describe("the answer to an invitation", () => {
  const answer = (from: string, words: string) =>
    arrives(
      [
        `From: ${from}`,
        `Subject: Accepted: ${CALL}Ana and Marta Quintela`,
        "MIME-Version: 1.0",
        'Content-Type: multipart/mixed; boundary="b"',
      ],
      [
        "--b",
        "Content-Type: text/plain",
        "",
        words,
        "--b",
        "Content-Type: text/calendar; method=REPLY",
        "",
        "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nMETHOD:REPLY\r\nBEGIN:VEVENT\r\nUID:meeting-token-1@saudade\r\nDTSTAMP:20260609T090000Z\r\nDTSTART:20260616T090000Z\r\nATTENDEE;PARTSTAT=ACCEPTED:mailto:ana@ana-museum.example\r\nEND:VEVENT\r\nEND:VCALENDAR",
        "--b--",
        "",
      ].join("\r\n"),
    );
  beforeEach(async () => {
    await started(["ana"]);
    await runUntil(TUESDAY + HOUR / 2);
    world.app.db.exec(
      `INSERT INTO meetings (token, user_id, prospect_id, name, email, starts_at, ends_at, visitor_zone, created_at)
       VALUES ('meeting-token-1', 1, 1, 'Ana', 'ana@ana-museum.example', ${TUESDAY + 7 * DAY}, ${TUESDAY + 7 * DAY + HOUR}, 'UTC', 1)`,
    );
  });

  it("counts by its UID from an alias, too; without words of their own there is nothing to read", async () => {
    await answer("Ana <a.lima@alias.example>", "Ana has accepted this invitation.");
    await runUntil(TUESDAY + HOUR);
    expect(rows(world, "SELECT attendance FROM meetings")).toEqual([{ attendance: "accepted" }]);
    expect(rows(world, "SELECT 1 FROM replies")).toEqual([]);
  });

  it("brings what they wrote into it to the desk", async () => {
    await answer("Ana <ana@ana-museum.example>", "Gladly. Could you send the price list before?");
    await runUntil(TUESDAY + HOUR);
    expect(rows(world, "SELECT attendance FROM meetings")).toEqual([{ attendance: "accepted" }]);
    expect(rows(world, "SELECT prospect_id AS id, text FROM replies")).toEqual([
      { id: 1, text: "Gladly. Could you send the price list before?" },
    ]);
  });
});

describe("a copy for others", () => {
  it("acts for nobody: its opt-out, booking link and tracking are neutral, and the prospect's own are whole", async () => {
    const [id] = await started(["ana"], {
      path: [email("one", 0, { subject: "S", body: "Book: {{ booking_link }} or stop: {{ opt_out_link }}" })],
      settings: { tracksOpens: true, tracksClicks: true, cc: "colleague@quillwater.example" },
    });
    await runUntil(TUESDAY + HOUR);
    const touch = touchById(world.app.db, 1);
    const mailbox = mailboxById(world.app.db, id as number);
    if (!touch || !mailbox) throw new Error("Nothing went.");
    const options = { toName: "", tracksOpens: true, tracksClicks: true, optOutHeader: "always" } as const;
    const { raw, copies } = await composeEmail(world.app, touch, mailbox, options);
    const plain = (bytes: Buffer | undefined) =>
      (bytes ?? Buffer.alloc(0)).toString().replace(/=\r\n/g, "").replace(/=3D/g, "=");
    const optOut = signLink("opt-out", "1", world.app.key);
    expect(plain(raw)).toContain(optOut);
    // Never by way of a counter: an opt-out has to work whatever follows clicks.
    expect(plain(raw)).toMatch(new RegExp(`href="https://outreach.quillwater.example/opt-out/${optOut}`));
    expect(copies?.envelope.to).toEqual(["colleague@quillwater.example"]);
    for (const secret of [
      optOut,
      signLink("booking", "1", world.app.key),
      "/t/c/",
      "/t/o/",
      "List-Unsubscribe",
    ])
      expect(plain(copies?.raw)).not.toContain(secret);
  });

  it("goes blind, and once, to where the team and the mailbox have every email listened to; a test goes nowhere else", async () => {
    const [id] = await started(["ana"]);
    world.app.db.exec(`UPDATE mailboxes SET copy_to = 'crm@listens.example' WHERE id = ${id}`);
    saveSendingSettings(world.app, null, { copyTo: "team@listens.example" });
    await runUntil(TUESDAY + HOUR);
    const delivered = await world.deliveries();
    expect(delivered.map(({ recipient }) => recipient).sort()).toEqual([
      "ana@ana-museum.example",
      "crm@listens.example",
      "team@listens.example",
    ]);
    expect(new Set(delivered.map(({ messageId }) => messageId)).size).toBe(1);
    expect(saveSendingSettings(world.app, null, { copyTo: "nowhere" })).toMatchObject({ ok: false });
  });
});
