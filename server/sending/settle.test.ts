/** What becomes of an email by what its server said, and of one of which nobody knows by the evidence. */
import { beforeAll, describe, expect, it } from "vitest";
import { DAY, MINUTE } from "../../core/calendar.ts";
import { saveCompany } from "../accounts/company.ts";
import type { AppTx } from "../app.ts";
import { enterTouch, type Touch, touchById } from "../db/ledger.ts";
import { type Mailbox, mailboxById } from "../db/mailboxes.ts";
import { fileLink } from "../mail/file-links.ts";
import type { SendResult } from "../mail/smtp.ts";
import { optOutProspect } from "../prospects/block-list/opt-out.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { openDoors } from "../tests/doors.ts";
import { addPeople, addSequence, addUnasked, createWorld, openCopy, TUESDAY } from "../tests/world.ts";
import { settle, settleOpenClaims } from "./settle.ts";

const NOW = TUESDAY;
let image: Buffer;
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  startSequence(world.app, 1, addSequence(world, addPeople(world, ["ana", "bia"]), [addUnasked(world)]));
  image = world.app.db.serialize();
  await world.close();
});

/** Ana's first email, or an answer to her, claimed a minute ago. */
function claim(app: AppTx, change: Partial<Touch> = {}): Touch {
  const isAnswer = change.kind === "answer";
  const id = enterTouch(app.db, {
    kind: "email",
    ...(isAnswer
      ? { journeyId: null, stepId: null, version: null }
      : { journeyId: 1, stepId: "one", version: 1 }),
    ...{ prospectId: 1, mailboxId: 1, recipient: "ana@ana-museum.example", state: "claimed" },
    ...{ messageId: "<one@quillwater.example>", inReplyTo: null, references: "", markup: null },
    ...{ subject: "Loans", body: "Hello", claimedAt: NOW - MINUTE, claimedWall: 1 },
    ...change,
  } as Parameters<typeof enterTouch>[1]);
  return touchById(app.db, id as number) as Touch;
}
const mailboxOf = (app: AppTx) => mailboxById(app.db, 1) as Mailbox;

interface After {
  touch: string | null;
  words: string | null;
  journey: { state: string; dueAt: number; reason: string | null; mailboxId: number | null };
  mailbox: { trouble: string | null; retryIn: number | null; failures: number; stopped: number };
  events: string[];
  blocked: string[];
  held: string[];
  /** Whose refusals by rules are remembered. */
  refusals: string[];
}

/** How the world stands after a server's answer; `before` happens before it. */
function becomes(
  outcome: SendResult,
  { before = [], change = {} }: { before?: string[]; change?: Partial<Touch> } = {},
): After {
  const app = openCopy(image);
  const { db } = app;
  try {
    const touch = claim(app, change);
    for (const text of before) db.exec(text);
    settle(app, touch, mailboxOf(app), outcome, NOW);
    const all = (text: string) => db.prepare(text).pluck().all() as string[];
    const one = db
      .prepare(`SELECT state, refused_words AS words FROM touches WHERE id = ${touch.id}`)
      .get() as { state: string; words: string | null } | undefined;
    return {
      touch: one?.state ?? null,
      words: one?.words ?? null,
      journey: db
        .prepare(
          "SELECT state, due_at AS dueAt, wait_reason AS reason, mailbox_id AS mailboxId FROM journeys WHERE id = 1",
        )
        .get() as After["journey"],
      mailbox: db
        .prepare(
          `SELECT smtp_trouble AS trouble, smtp_retry_at - ${NOW} AS retryIn, smtp_failures AS failures, smtp_stopped AS stopped FROM mailboxes`,
        )
        .get() as After["mailbox"],
      events: all("SELECT kind FROM events WHERE kind != 'journey_started' ORDER BY id"),
      blocked: all("SELECT value FROM block_list"),
      held: all("SELECT reason || ' ' || coalesce(detail, '') FROM holds"),
      refusals: all("SELECT recipient || ': ' || words FROM refusals"),
    };
  } finally {
    app.close();
  }
}
const refused = (words: string, command: "MAIL" | "RCPT" | "DATA" = "RCPT", code = 550): SendResult => ({
  result: "refused",
  code,
  words,
  command,
});
const SENT_BEFORE = `INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, message_id, recipient, state, sent_at)
  VALUES ('email', 2, 'one', 2, 1, '<before@quillwater.example>', 'bia@bia-museum.example', 'sent', ${NOW - DAY / 2})`;

describe("an email that was taken", () => {
  it("is sent, at the moment of its claim, and its thread stays in its mailbox", () => {
    const seen = becomes({ result: "sent", answer: "250 ok" });
    expect(seen).toMatchObject({
      touch: "sent",
      journey: { state: "active", mailboxId: 1 },
      events: ["email_sent"],
    });
  });

  it("ends what the mailbox had to complain of, unless it was stopped", () => {
    const trouble = "UPDATE mailboxes SET smtp_trouble = 'no answer', smtp_retry_at = 9, smtp_failures = 3";
    expect(becomes({ result: "sent", answer: "" }, { before: [trouble] }).mailbox).toEqual({
      trouble: null,
      retryIn: null,
      failures: 0,
      stopped: 0,
    });
    const stopped = `${trouble}, smtp_stopped = 1`;
    expect(becomes({ result: "sent", answer: "" }, { before: [stopped] }).mailbox.trouble).toBe("no answer");
  });

  it("moves nobody who was stopped meanwhile", () => {
    const stop = "UPDATE journeys SET state = 'stopped' WHERE id = 1";
    expect(becomes({ result: "sent", answer: "" }, { before: [stop] }).journey.mailboxId).toBeNull();
  });

  it("that was an answer is one", () => {
    expect(becomes({ result: "sent", answer: "" }, { change: { kind: "answer" } })).toMatchObject({
      touch: "sent",
      events: ["answered"],
      journey: { mailboxId: null },
    });
  });

  it("twice is sent once", () => {
    const app = openCopy(image);
    const touch = claim(app);
    for (let nth = 0; nth < 2; nth++) settle(app, touch, mailboxOf(app), { result: "sent", answer: "" }, NOW);
    expect(app.db.prepare("SELECT count(*) FROM events WHERE kind = 'email_sent'").pluck().get()).toBe(1);
    app.close();
  });
});

describe("an email of which nobody knows", () => {
  it("stays claimed where the connection broke", () => {
    expect(becomes({ result: "unknown", words: "reset" })).toMatchObject({ touch: "claimed", events: [] });
  });

  it("is free again where another engine held it back, unless somebody decided about it", () => {
    expect(becomes({ result: "fenced" }).touch).toBeNull();
    expect(becomes({ result: "fenced" }, { before: ["UPDATE touches SET undecided_at = 1"] }).touch).toBe(
      "claimed",
    );
    expect(becomes({ result: "fenced" }, { before: ["UPDATE touches SET claimed_wall = 2"] }).touch).toBe(
      "claimed",
    );
  });
});

describe("an email that is on its way", () => {
  const LOST: SendResult[] = [
    { result: "fenced" },
    { result: "unreachable", words: "no route" },
    { result: "later", words: "451 greylisted" },
    refused("553 5.1.8 sender address rejected", "MAIL"),
  ];
  const FILE =
    "INSERT INTO files (id, name, type, bytes, user_id, at) VALUES (1, 'a.pdf', 'application/pdf', x'00', 1, 1)";
  const given = (app: AppTx) => app.db.prepare("SELECT touch_id FROM file_looks").pluck().all();

  it.each(LOST)("has given nobody its files, and is taken back with them: %o", (outcome) => {
    const app = openCopy(image);
    app.db.exec(FILE);
    const touch = claim(app, { body: `Look: ${fileLink(app, 1, 1)}` });
    settle(app, touch, mailboxOf(app), outcome, NOW);
    expect(touchById(app.db, touch.id)).toBeUndefined();
    expect(given(app)).toEqual([]);
    app.close();
  });

  it("gives its files once it is sent, also where only the evidence says so", async () => {
    for (const bySent of [true, false]) {
      const app = openCopy(image);
      app.db.exec(FILE);
      const touch = claim(app, { body: `Look: ${fileLink(app, 1, 1)}` });
      if (bySent) settle(app, touch, mailboxOf(app), { result: "sent", answer: "" }, NOW);
      else await settleOpenClaims(app, openDoors({ sentFolder: [touch.messageId] }).doors, mailboxOf(app));
      expect(given(app)).toEqual([touch.id]);
      app.close();
    }
  });

  it.each(LOST)(
    "and from which somebody opts out has arrived, whatever the server says: %o",
    async (outcome) => {
      const app = openCopy(image);
      const touch = claim(app);
      optOutProspect(app, 1);
      settle(app, touch, mailboxOf(app), outcome, NOW);
      await settleOpenClaims(app, openDoors({ sentFolder: null }).doors, mailboxOf(app));
      expect(touchById(app.db, touch.id)?.state).toBe("sent");
      app.close();
    },
  );

  it.each(LOST)("is not what they opted out from where they have an earlier one: %o", (outcome) => {
    const app = openCopy(image);
    const earlier = claim(app, { kind: "answer", messageId: "<before@quillwater.example>" });
    settle(app, earlier, mailboxOf(app), { result: "sent", answer: "" }, NOW);
    const touch = claim(app);
    optOutProspect(app, 1);
    settle(app, touch, mailboxOf(app), outcome, NOW);
    expect(touchById(app.db, touch.id)).toBeUndefined();
    expect(app.db.prepare("SELECT touch_id FROM events WHERE kind = 'opted_out'").pluck().all()).toEqual([
      earlier.id,
    ]);
    app.close();
  });
});

describe("a server that cannot be reached", () => {
  it.each([
    [0, 5],
    [1, 10],
    [3, 40],
    [4, 60],
    [9, 60],
  ])("after %i failures is left alone for %i minutes, and the email waits", (failures, minutes) => {
    const before = [`UPDATE mailboxes SET smtp_failures = ${failures}`];
    expect(becomes({ result: "unreachable", words: "no route" }, { before })).toMatchObject({
      touch: null,
      mailbox: { trouble: "no route", retryIn: minutes * MINUTE, failures: failures + 1, stopped: 0 },
      journey: { state: "active" },
    });
  });
});

describe("“later”", () => {
  it("is tried again after a quarter of an hour, and says why meanwhile", () => {
    expect(becomes({ result: "later", words: "451 greylisted" })).toMatchObject({
      touch: null,
      journey: { state: "active", dueAt: NOW + 15 * MINUTE, reason: "refused_for_now" },
      mailbox: { trouble: null },
    });
  });

  it("to an answer leaves its mailbox alone, and the answer in line", () => {
    expect(becomes({ result: "later", words: "451 busy" }, { change: { kind: "answer" } })).toMatchObject({
      touch: "queued",
      mailbox: { trouble: "451 busy", retryIn: 5 * MINUTE },
    });
  });

  it("is also what a refusal comes to that is none for good", () => {
    expect(becomes(refused("452 4.2.2 mailbox full", "RCPT", 452))).toMatchObject({
      touch: null,
      journey: { reason: "refused_for_now" },
    });
  });
});

describe("a refusal", () => {
  it("of the address blocks it, and ends the journey", () => {
    expect(becomes(refused("550 5.1.1 no such user"), { before: [SENT_BEFORE] })).toMatchObject({
      touch: "refused",
      words: "550 5.1.1 no such user",
      journey: { state: "stopped" },
      blocked: ["ana@ana-museum.example"],
      events: ["bounced", "journey_stopped"],
    });
  });

  it("of the sender stops the mailbox, and touches nobody's address", () => {
    expect(becomes(refused("553 5.1.8 sender address rejected", "MAIL"))).toMatchObject({
      touch: null,
      journey: { state: "active", reason: null },
      mailbox: { trouble: "The outgoing server says “553 5.1.8 sender address rejected”.", stopped: 1 },
      blocked: [],
    });
  });

  it("of this email alone is the rep's matter", () => {
    const seen = becomes(refused("552 5.3.4 message too big", "DATA", 552), { before: [SENT_BEFORE] });
    expect(seen).toMatchObject({ touch: "refused", blocked: [], mailbox: { stopped: 0 } });
    expect(seen.events).toContain("email_refused");
  });

  const POLICY = refused("550 5.7.1 blocked by policy");
  const refusedBefore = (ago: number) =>
    `INSERT INTO refusals (mailbox_id, recipient, at, words) VALUES (1, 'ana@ana-museum.example', ${NOW - ago}, 'before')`;

  it("by a host's rules stops the mailbox the first time, and is remembered", () => {
    expect(becomes(POLICY, { before: [SENT_BEFORE] })).toMatchObject({
      touch: null,
      journey: { reason: "refused_for_now", dueAt: NOW + 15 * MINUTE },
      mailbox: { stopped: 1, trouble: "The outgoing server says “550 5.7.1 blocked by policy”." },
      held: [],
      refusals: ["ana@ana-museum.example: 550 5.7.1 blocked by policy"],
    });
  });

  it("by a host's rules again, while others pass, holds this one alone", () => {
    expect(becomes(POLICY, { before: [SENT_BEFORE, refusedBefore(DAY / 4)] })).toMatchObject({
      touch: null,
      held: ["refused_by_host 550 5.7.1 blocked by policy"],
      mailbox: { stopped: 0 },
    });
  });

  it.each<[string, string[]]>([
    [
      "nothing passed since",
      [SENT_BEFORE.replace(String(NOW - DAY / 2), String(NOW - 3 * DAY)), refusedBefore(DAY / 4)],
    ],
    ["only the same address passed", [SENT_BEFORE.replace("bia@bia", "ana@ana"), refusedBefore(DAY / 4)]],
    [
      "the other refusal was another mailbox's or address's",
      [SENT_BEFORE, refusedBefore(DAY / 4).replace("ana@ana", "eva@eva")],
    ],
  ])("by a host's rules again, but %s, stops the mailbox", (_, before) => {
    expect(becomes(POLICY, { before })).toMatchObject({ mailbox: { stopped: 1 }, held: [] });
  });

  it("by a host's rules of an answer gives it back to who wrote it, or keeps it in line", () => {
    const change = { kind: "answer" as const };
    expect(becomes(POLICY, { before: [SENT_BEFORE], change })).toMatchObject({
      touch: "queued",
      mailbox: { stopped: 1 },
      journey: { reason: null },
    });
    expect(becomes(POLICY, { before: [SENT_BEFORE, refusedBefore(DAY / 4)], change })).toMatchObject({
      touch: "refused",
      mailbox: { stopped: 0 },
      held: [],
    });
  });
});

describe("what a crash left open", () => {
  const LONG_AGO = "UPDATE touches SET claimed_wall = 1";
  const justNow = () => `UPDATE touches SET claimed_wall = ${Date.now()}`;

  async function decided(
    given: Parameters<typeof openDoors>[0],
    { before = [LONG_AGO], sendsAgain = false }: { before?: string[]; sendsAgain?: boolean } = {},
  ) {
    const app = openCopy(image);
    try {
      const touch = claim(app);
      for (const text of before) app.db.exec(text);
      if (sendsAgain)
        expect(
          saveCompany(app, null, { name: "Quillwater", country: "PT", unsettled: "send_again" }),
        ).toMatchObject({ ok: true });
      const changed = await settleOpenClaims(app, openDoors(given).doors, mailboxOf(app));
      const row = touchById(app.db, touch.id);
      return {
        changed,
        state: row?.state ?? null,
        undecided: row ? row.undecidedAt !== null : null,
        sentAt: row?.sentAt ?? null,
        copies: mailboxOf(app).copies,
      };
    } finally {
      app.close();
    }
  }

  it("left, where the Sent folder holds it: then the server keeps the copies", async () => {
    expect(await decided({ sentFolder: ["<one@quillwater.example>"] })).toMatchObject({
      changed: true,
      state: "sent",
      sentAt: NOW - MINUTE,
      copies: "server",
    });
  });

  it("left, where the server's answer was noted, without a look into any folder", async () => {
    const before = [LONG_AGO, "UPDATE touches SET server_answer = '250 ok'"];
    expect(await decided({ sentFolder: null }, { before })).toMatchObject({
      changed: true,
      state: "sent",
      copies: "unknown",
    });
  });

  it("is left to the rep where the folder does not say, once", async () => {
    expect(await decided({})).toMatchObject({ changed: true, state: "claimed", undecided: true });
    const before = [LONG_AGO, "UPDATE touches SET undecided_at = 1"];
    expect(await decided({}, { before })).toMatchObject({ changed: false, undecided: true });
  });

  it("goes again where the company chose so", async () => {
    expect(await decided({}, { sendsAgain: true })).toMatchObject({ changed: true, state: null });
  });

  it("waits while it is young, or the folder cannot be asked now", async () => {
    expect(await decided({}, { before: [justNow()] })).toMatchObject({ changed: false, undecided: false });
    expect(await decided({ readAgainAt: Number.POSITIVE_INFINITY })).toMatchObject({
      changed: false,
      state: "claimed",
      undecided: false,
    });
  });

  it("stays open where the folder fails", async () => {
    await expect(decided({ sentFolder: null })).rejects.toThrow("no such folder");
  });

  it("is nothing, where nothing was claimed", async () => {
    const before = ["DELETE FROM touches"];
    expect((await decided({ sentFolder: null }, { before })).changed).toBe(false);
  });
});
