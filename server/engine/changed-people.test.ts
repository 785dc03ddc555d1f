/** People who are no longer as they were when they were written to: merged, erased, or at another address. */
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import { optOutProspect } from "../prospects/block-list/opt-out.ts";
import { mergeProspects } from "../prospects/duplicates/merge-prospects.ts";
import { prospectStory } from "../prospects/people/prospect-story.ts";
import { saveProspect } from "../prospects/people/save-prospect.ts";
import { eraseProspect } from "../prospects/privacy/erase-prospect.ts";
import { answerReply } from "../replies/answer-reply.ts";
import { countReplies, listReplies, openReply } from "../replies/list-replies.ts";
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
import { today } from "../today/today.ts";
import { advance } from "./advance.ts";
import { Engine } from "./tick.ts";

const MARTA = "marta@quillwater.example";
let standin: Standin;
let world: World;
let engine: Engine;
beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());

/** Two people have got their first email. */
beforeEach(async () => {
  world = await createWorld({ standin });
  engine = new Engine(world.app);
  const sequenceId = addSequence(world, addPeople(world, ["ana", "bia"]), [await addMailbox(world, MARTA)]);
  expect(startSequence(world.app, world.userId, sequenceId).ok).toBe(true);
  await runUntil(TUESDAY + HOUR);
});
afterEach(async () => {
  await engine.close();
  await world.close();
});

const runUntil = (until: number) => advance(engine, { id: 0, kind: "until", until }, () => true, false);
const firstTo = (prospectId: number) =>
  rows<{ messageId: string }>(
    world,
    `SELECT message_id AS messageId FROM touches WHERE prospect_id = ${prospectId} ORDER BY id LIMIT 1`,
  )[0]?.messageId as string;
const journeyOf = (prospectId: number) =>
  rows<{ state: string; stop_reason: string | null }>(
    world,
    `SELECT state, stop_reason FROM journeys WHERE prospect_id = ${prospectId}`,
  )[0];

/** An answer to the first email to somebody, in its thread. */
async function answers(
  prospectId: number,
  from: string,
  headers: string[] = [],
  body = "Tell me more.",
): Promise<void> {
  const lines = [
    `From: ${from}`,
    `To: ${MARTA}`,
    `Message-ID: <${Math.random()}@there.example>`,
    "Subject: Re: Loans",
  ];
  const raw = [...lines, `In-Reply-To: ${firstTo(prospectId)}`, ...headers, "", body].join("\r\n");
  await world.tell("/deliver", { mailbox: MARTA, raw });
  await engine.tick();
}
const write = (replyId: number) =>
  answerReply(
    world.app,
    { id: 1, zone: "UTC" },
    { replyId, text: "With pleasure.", key: `answer-no-${replyId}` },
  );
const recipients = async () => (await world.deliveries()).map(({ recipient }) => recipient).slice(2);

describe("an answer", () => {
  it("goes where the reply came from, or where it asks to be answered", async () => {
    await answers(1, "Front desk <desk@elsewhere.example>");
    await answers(2, "Bia <bia@bia-museum.example>", ["Reply-To: Bia at home <bia@home.example>"]);
    expect(
      listReplies(world.app, { everybody: 1, userId: 0 }, { filter: "unread" }, null)
        .map(({ answerTo }) => answerTo)
        .toSorted(),
    ).toEqual(["bia@home.example", "desk@elsewhere.example"]);
    for (const id of [1, 2]) expect(write(id).ok).toBe(true);
    await engine.tick();
    expect((await recipients()).toSorted()).toEqual(["bia@home.example", "desk@elsewhere.example"]);
  });

  it("is not taken for somebody who is blocked, and does not leave if they are blocked before it could", async () => {
    await answers(1, "Ana <ana@ana-museum.example>");
    expect(write(1).ok).toBe(true);
    optOutProspect(world.app, 1);
    await engine.tick();
    expect(await recipients()).toEqual([]);
    expect(rows(world, "SELECT state, refused_words AS words FROM touches WHERE kind = 'answer'")).toEqual([
      { state: "refused", words: expect.stringContaining("block list") },
    ]);
    expect(openReply(world.app, 1)?.blocked).toBe(true);
    expect(
      answerReply(world.app, { id: 1, zone: "UTC" }, { replyId: 1, text: "Once more", key: "another-key" }),
    ).toMatchObject({
      errors: { form: expect.stringContaining("ana@ana-museum.example is on the block list") },
    });
  });
});

const BOUNCE = [
  "MIME-Version: 1.0",
  'Content-Type: multipart/report; report-type=delivery-status; boundary="b"',
];
const report = (recipient: string) =>
  `--b\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; mx.example\r\n\r\nFinal-Recipient: rfc822; ${recipient}\r\nAction: failed\r\nStatus: 5.1.1\r\n\r\n--b--`;

describe("an email that comes back", () => {
  it("blocks the address it went to, and not the one that its owner has by now", async () => {
    expect(saveProspect(world.app, world.userId, { id: 1, email: "ana@new-house.example" }).ok).toBe(true);
    await answers(1, "mailer-daemon@ana-museum.example", BOUNCE, report("ana@ana-museum.example"));
    expect(rows(world, "SELECT value, reason FROM block_list")).toEqual([
      { value: "ana@ana-museum.example", reason: "bounced" },
    ]);
    expect(journeyOf(1)?.state).toBe("active");
    await runUntil(TUESDAY + 4 * DAY);
    expect(await recipients()).toContain("ana@new-house.example");
  });

  it("blocks the address we wrote to, whichever it was forwarded to from there", async () => {
    await answers(1, "mailer-daemon@ana-museum.example", BOUNCE, report("ana@private.example"));
    expect(rows(world, "SELECT value FROM block_list")).toEqual([{ value: "ana@ana-museum.example" }]);
    expect(journeyOf(1)).toEqual({ state: "stopped", stop_reason: "bounced" });
  });
});

it("an email that comes back with a report for people only bounces all the same", async () => {
  const plain = `Hi. I could not deliver your message.\r\n\r\n<ana@ana-museum.example>:\r\n550 5.1.1 unknown user\r\n\r\nMessage-ID: ${firstTo(1)}`;
  const raw = `From: MAILER-DAEMON@mx.ana-museum.example\r\nTo: ${MARTA}\r\nMessage-ID: <old@mx.example>\r\nSubject: failure notice\r\n\r\n${plain}`;
  await world.tell("/deliver", { mailbox: MARTA, raw });
  await engine.tick();
  expect(journeyOf(1)).toEqual({ state: "stopped", stop_reason: "bounced" });
  expect(rows(world, "SELECT kind, detail FROM replies")).toEqual([
    { kind: "bounce", detail: "550 5.1.1 unknown user" },
  ]);
});

describe("two entries of one person", () => {
  it("are over once merged, if one of them had answered since the other's sequence began", async () => {
    await answers(1, "Ana <ana@ana-museum.example>");
    mergeProspects(world.app, { keepId: 2, goneId: 1 }, world.userId);
    expect(journeyOf(2)).toEqual({ state: "stopped", stop_reason: "replied" });
    await runUntil(TUESDAY + 20 * DAY);
    expect(await recipients()).toEqual([]);
  });

  it("go on where the kept one stands, if neither has said anything; an answer to either stops it", async () => {
    const answered = firstTo(1);
    mergeProspects(world.app, { keepId: 2, goneId: 1 }, world.userId);
    expect(journeyOf(2)?.state).toBe("active");
    await runUntil(TUESDAY + 3 * DAY);
    expect(await recipients()).toEqual(["bia@bia-museum.example"]);
    const raw = `From: Ana <ana@ana-museum.example>\r\nTo: ${MARTA}\r\nMessage-ID: <late@there.example>\r\nIn-Reply-To: ${answered}\r\nSubject: Re: Loans\r\n\r\nYes.`;
    await world.tell("/deliver", { mailbox: MARTA, raw });
    await engine.tick();
    expect(journeyOf(2)).toEqual({ state: "stopped", stop_reason: "replied" });
  });
});

describe("somebody who was erased", () => {
  it("is on no page any more, not with the replies they had written, and what was queued for them never leaves", async () => {
    await answers(1, "Ana <ana@ana-museum.example>");
    expect(write(1).ok).toBe(true);
    expect(eraseProspect(world.app, null, { id: 1, name: "ana" }).ok).toBe(true);
    await engine.tick();
    expect(await recipients()).toEqual([]);
    expect(countReplies(world.app, { everybody: 1, userId: 0 })).toEqual({
      unread: 0,
      people: 0,
      automatic: 0,
      bounces: 0,
    });
    for (const filter of ["unread", "people"] as const)
      expect(listReplies(world.app, { everybody: 1, userId: 0 }, { filter }, 1)).toEqual([]);
    expect(today(world.app, world.user)).toMatchObject({ unread: 0 });
    expect(() => prospectStory(world.app, null, 1)).toThrow("does not exist");
    // What they did still counts, without their name.
    expect(today(world.app, world.user).week).toMatchObject({ sent: 2, answered: 1 });
  });

  it("can write again without being kept", async () => {
    expect(eraseProspect(world.app, null, { id: 1, name: "ana" }).ok).toBe(true);
    await answers(1, "Ana <ana@ana-museum.example>");
    expect(rows(world, "SELECT 1 FROM replies")).toEqual([]);
  });
});
