import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import { setDemoClock } from "../clock.ts";
import { optOutProspect } from "../prospects/block-list/opt-out.ts";
import { answerReply } from "../replies/answer-reply.ts";
import { setMailboxState } from "../sending/mailboxes/save-mailbox.ts";
import { decide, undecidedEmails } from "../sending/undecided.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import {
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

async function runUntil(until: number): Promise<void> {
  await advance(engine, { id: 0, kind: "until", until }, () => true, false);
}

async function started(names: string[], change: Record<string, unknown> = {}) {
  const first = await addMailbox(world, "marta@quillwater.example", change);
  const second = await addMailbox(world, "m.quintela@quillwater.example", change);
  const sequenceId = addSequence(world, addPeople(world, names), [first, second]);
  const report = startSequence(world.app, world.userId, sequenceId);
  if (!report.ok) throw new Error(JSON.stringify(report.errors));
  return { first, second, sequenceId };
}

interface Sent {
  prospect: string;
  stepId: string;
  mailboxId: number;
  messageId: string;
  inReplyTo: string | null;
  references: string;
  subject: string;
  sentAt: number;
}
const sent = () =>
  rows<Sent>(
    world,
    `SELECT p.email AS prospect, step_id AS stepId, mailbox_id AS mailboxId, message_id AS messageId,
       in_reply_to AS inReplyTo, thread_references AS "references", subject, sent_at AS sentAt
     FROM touches t JOIN prospects p ON p.id = t.prospect_id WHERE t.state = 'sent' AND t.kind = 'email' ORDER BY sent_at`,
  );
const journey = () =>
  rows<{ state: string; stop_reason: string | null; wait_reason: string | null; wait_detail: string | null }>(
    world,
    "SELECT state, stop_reason, wait_reason, wait_detail FROM journeys",
  )[0];

async function arrives(mailbox: string, from: string, headers: string[], text = "Thank you."): Promise<void> {
  await world.tell("/deliver", {
    mailbox,
    raw: [
      `From: ${from}`,
      `To: ${mailbox}`,
      `Message-ID: <${Math.random()}@x.example>`,
      ...headers,
      "",
      text,
    ].join("\r\n"),
  });
}
const addressOf = (id: number) =>
  rows<{ address: string }>(world, `SELECT address FROM mailboxes WHERE id = ${id}`)[0]?.address as string;

describe("the engine", () => {
  it("sends three steps, working days apart, in turns, each thread in its mailbox", async () => {
    await started(["ana", "bia", "caio", "dora"]);
    await runUntil(TUESDAY + 14 * DAY);
    const all = sent();
    expect(all).toHaveLength(12);
    expect(new Set(all.filter(({ stepId }) => stepId === "one").map(({ mailboxId }) => mailboxId)).size).toBe(
      2,
    );
    for (const name of ["ana", "bia", "caio", "dora"]) {
      const own = all.filter(({ prospect }) => prospect.startsWith(name));
      expect(own.map(({ stepId }) => stepId)).toEqual(["one", "two", "three"]);
      expect(new Set(own.map(({ mailboxId }) => mailboxId)).size).toBe(1);
      expect(own[1]).toMatchObject({
        subject: `Re: Loans at ${name} museum`,
        inReplyTo: own[0]?.messageId,
        references: own[0]?.messageId,
      });
      expect(own[2]).toMatchObject({ subject: "Shall I close this?", inReplyTo: null });
    }
    expect(await world.deliveries()).toHaveLength(12);
    expect(journey()?.state).toBe("finished");
  });

  it("stops everything after a reply, matched by its thread even from another address", async () => {
    await started(["ana"]);
    await runUntil(TUESDAY + HOUR);
    const email = sent()[0] as Sent;
    await arrives(addressOf(email.mailboxId), "Front Desk <desk@elsewhere.example>", [
      `In-Reply-To: ${email.messageId}`,
      "Subject: Re: Loans",
    ]);
    await runUntil(TUESDAY + 20 * DAY);
    expect(journey()).toMatchObject({ state: "stopped", stop_reason: "replied" });
    expect(sent()).toHaveLength(1);
  });

  it("stops after a reply that has lost its thread, by the sender's address, whichever mailbox it reaches", async () => {
    const { first, second } = await started(["ana"]);
    await runUntil(TUESDAY + HOUR);
    const other = sent()[0]?.mailboxId === first ? second : first;
    await arrives(addressOf(other), "ana@ana-museum.example", ["Subject: your letter"]);
    await runUntil(TUESDAY + 20 * DAY);
    expect(journey()?.stop_reason).toBe("replied");
  });

  it("does not take an automatic answer for a reply, nor keep mail from strangers", async () => {
    await started(["ana"]);
    await runUntil(TUESDAY + HOUR);
    const email = sent()[0] as Sent;
    const mailbox = addressOf(email.mailboxId);
    await arrives(mailbox, "ana@ana-museum.example", ["Auto-Submitted: auto-replied", "Subject: Away"]);
    await arrives(mailbox, "stranger@nowhere.example", ["Subject: Buy shelves"]);
    await runUntil(TUESDAY + 20 * DAY);
    expect(sent()).toHaveLength(3);
    expect(rows<{ kind: string }>(world, "SELECT kind FROM replies")).toEqual([{ kind: "automatic" }]);
  });

  it("stops after a hard bounce reported later, and puts the address on the block list", async () => {
    await started(["ana"]);
    await runUntil(TUESDAY + HOUR);
    const email = sent()[0] as Sent;
    const part = (type: string, ...lines: string[]) => ["--b", `Content-Type: ${type}`, "", ...lines, ""];
    await arrives(
      addressOf(email.mailboxId),
      "mailer-daemon@ana-museum.example",
      [
        'Content-Type: multipart/report; report-type=delivery-status; boundary="b"',
        "MIME-Version: 1.0",
        "Subject: Undelivered",
      ],
      [
        ...part("text/plain", "could not be delivered"),
        ...part(
          "message/delivery-status",
          "Reporting-MTA: dns; mx.example",
          "",
          "Final-Recipient: rfc822; ana@ana-museum.example",
          "Action: failed",
          "Status: 5.1.1",
        ),
        ...part("text/rfc822-headers", `Message-ID: ${email.messageId}`),
        "--b--",
      ].join("\r\n"),
    );
    await runUntil(TUESDAY + 20 * DAY);
    expect(journey()).toMatchObject({ state: "stopped", stop_reason: "bounced" });
    expect(rows(world, "SELECT value, reason FROM block_list")).toEqual([
      { value: "ana@ana-museum.example", reason: "bounced" },
    ]);
  });

  it("writes to nobody who opted out between the plan and the sending", async () => {
    await started(["ana"]);
    optOutProspect(world.app, 1);
    await runUntil(TUESDAY + 5 * DAY);
    expect(journey()).toMatchObject({ state: "stopped", stop_reason: "opted_out" });
    expect(await world.deliveries()).toHaveLength(0);
  });

  it("holds a prospect whose merge field is empty, says which, and goes on once it is filled", async () => {
    await started(["ana"]);
    world.app.db.exec("UPDATE prospects SET first_name = ''");
    await runUntil(TUESDAY + HOUR);
    expect(journey()).toMatchObject({ wait_reason: "merge_field_empty", wait_detail: "first_name" });
    const { saveProspect } = await import("../prospects/people/save-prospect.ts");
    saveProspect(world.app, null, {
      id: 1,
      firstName: "Ana",
      lastName: "",
      title: "",
      city: "",
      country: "",
      timeZone: "Europe/Lisbon",
    });
    await runUntil(TUESDAY + 2 * HOUR);
    expect(sent()).toHaveLength(1);
  });

  it("sends nothing again by itself when the connection breaks after the final dot, whatever the Sent folder says; what is sent again keeps its Message-ID", async () => {
    await started(["ana", "bia"]);
    // As after the first emails, which were found in the Sent folder.
    world.app.db.exec("UPDATE mailboxes SET copies = 'server'");
    await world.tell("/misbehave", { kind: "drop_after", times: 1 });
    await world.tell("/misbehave", { kind: "drop_before", times: 1 });
    await runUntil(TUESDAY + HOUR);
    await new Promise((resolve) => setTimeout(resolve, 1100)); // the settling time of this world, in real seconds
    await runUntil(TUESDAY + 5 * HOUR);
    // One left a copy in the Sent folder. Of the other there is none, which proves nothing.
    expect(await world.deliveries()).toHaveLength(1);
    const [open] = undecidedEmails(world.app, null).shown;
    const id = () =>
      rows<{ messageId: string }>(
        world,
        `SELECT message_id AS messageId FROM touches WHERE recipient = '${open?.recipient}' AND step_id = 'one'`,
      )[0]?.messageId;
    const before = id();
    expect(decide(world.app, null, [open?.id as number], "send")).toMatchObject({ value: 1 });
    expect(id()).toBeUndefined();
    await runUntil(TUESDAY + DAY + 5 * HOUR);
    expect(id()).toBe(before);
    const first = (await world.deliveries()).map(({ recipient }) => recipient).toSorted();
    expect(first).toEqual(["ana@ana-museum.example", "bia@bia-museum.example"]);
  });

  it("waits when a server says later, and stops when it refuses for good", async () => {
    await started(["ana"]);
    await world.tell("/misbehave", { kind: "refuse_later", times: 1 });
    await runUntil(TUESDAY + 10 * MINUTE);
    expect(journey()).toMatchObject({ state: "active", wait_reason: "refused_for_now" });
    await world.tell("/misbehave", { kind: "refuse", times: 1 });
    await runUntil(TUESDAY + 3 * HOUR);
    expect(journey()).toMatchObject({ state: "stopped", stop_reason: "refused" });
    expect(rows(world, "SELECT 1 FROM block_list")).toEqual([]);
  });

  it("stops the mailbox, not the prospects, when its server refuses by policy, until a person lets it go on", async () => {
    const { first, second } = await started(["ana", "bia", "caio"]);
    await world.tell("/misbehave", { kind: "refuse_policy", times: 100 });
    await runUntil(TUESDAY + 3 * HOUR);
    expect(await world.deliveries()).toEqual([]);
    expect(rows(world, "SELECT DISTINCT state, wait_reason FROM journeys")).toEqual([
      { state: "active", wait_reason: "mailbox_stopped" },
    ]);
    expect(journey()?.wait_detail).toContain("not owned by user");
    expect(rows(world, "SELECT 1 FROM block_list")).toEqual([]);
    await world.tell("/misbehave", { kind: "refuse_policy", times: 0 });
    for (const id of [first, second]) setMailboxState(world.app, world.user, id, "active");
    await runUntil(TUESDAY + 5 * HOUR);
    expect(await world.deliveries()).toHaveLength(3);
  });

  it("leaves it to the rep when nothing tells whether an email left; each word of theirs does what it says", async () => {
    await started(["ana", "bia"]);
    await world.tell("/misbehave", { kind: "drop_before", times: 2 });
    await runUntil(TUESDAY + HOUR);
    await new Promise((resolve) => setTimeout(resolve, 1100)); // the settling time of this world, in real seconds
    await runUntil(TUESDAY + 3 * DAY);
    expect(rows(world, "SELECT wait_reason FROM journeys")).toEqual([
      { wait_reason: "undecided" },
      { wait_reason: "undecided" },
    ]);
    const [one, two] = undecidedEmails(world.app, null).shown;
    decide(world.app, null, [one?.id ?? 0], "send");
    decide(world.app, null, [two?.id ?? 0], "arrived");
    await runUntil(TUESDAY + 5 * DAY);
    const got = (await world.deliveries()).filter(({ subject }) => subject.startsWith("Loans"));
    expect(got.map(({ recipient }) => recipient)).toEqual([one?.recipient]);
    expect(sent().filter(({ stepId }) => stepId === "one")).toHaveLength(2);
  });

  it("sends nothing from a mailbox whose password is wrong, and says so", async () => {
    await started(["ana"], { password: "wrong" });
    await runUntil(TUESDAY + HOUR);
    expect(journey()).toMatchObject({ state: "active", wait_reason: "mailbox_unreachable" });
    expect(journey()?.wait_detail).toContain("refuses the user name or password");
    expect(await world.deliveries()).toHaveLength(0);
  });

  it("sends a rep's answer in the thread at once, at any hour, and once however often it is pressed", async () => {
    await started(["ana"]);
    await runUntil(TUESDAY + HOUR);
    const email = sent()[0] as Sent;
    await arrives(addressOf(email.mailboxId), "ana@ana-museum.example", [
      "Subject: Re: Loans",
      `References: ${email.messageId}`,
    ]);
    setDemoClock(world.app.db, TUESDAY + 12 * HOUR, false);
    await engine.tick();
    for (let press = 0; press < 2; press++)
      expect(
        answerReply(
          world.app,
          { id: 1, zone: "UTC" },
          { replyId: 1, text: "With pleasure.", key: "press-once" },
        ).ok,
      ).toBe(true);
    await engine.tick();
    await engine.tick();
    expect(rows(world, "SELECT subject, state FROM touches WHERE kind = 'answer'")).toEqual([
      { subject: "Re: Loans", state: "sent" },
    ]);
    expect(await world.deliveries()).toHaveLength(2);
  });

  it("knows the mailboxes' messages again after the stand-in restarted", async () => {
    await started(["ana"]);
    await runUntil(TUESDAY + HOUR);
    await world.restartStandin();
    await engine.close();
    await runUntil(TUESDAY + 20 * DAY);
    expect(sent()).toHaveLength(3);
  });
});
