/** What leaves when an email's moment has come: in which thread, with which words, to whom besides; and what ends a round. */
import { beforeAll, describe, expect, it } from "vitest";
import { DAY, MINUTE } from "../../core/calendar.ts";
import type { EmailStep } from "../../core/sequence/path.ts";
import type { AppTx } from "../app.ts";
import { enterTouch, type NewTouch } from "../db/ledger.ts";
import type { ComposedEmail } from "../mail/compose.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { type OpenDoors, openDoors } from "../tests/doors.ts";
import { addPeople, addSequence, addUnasked, createWorld, email, openCopy, TUESDAY } from "../tests/world.ts";
import { sendFrom } from "./send.ts";

const NOW = TUESDAY + 30 * MINUTE;
const ANA = 1;
let image: Buffer;

/** Ana stands before the first email of two, bia and caio as well; Marta has a second mailbox, which is not the sequence's. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const mailboxId = addUnasked(world);
  addUnasked(world, "m.q@quillwater.example");
  const path = [
    email("one", 0, { subject: "Loans at {{ company }}", body: "Hello {{ first_name }}" }),
    email("two", 2, { body: "One thing more" }),
  ];
  startSequence(
    world.app,
    1,
    addSequence(world, addPeople(world, ["ana", "bia", "caio"]), [mailboxId], { path }),
  );
  image = world.app.db.serialize();
  await world.close();
});

type Change = string | ((app: AppTx) => void);

/** Sends ana's planned email of a step in a changed world, and says what left and how it stands. */
async function sending(
  changes: Change[],
  {
    stepId = "one",
    senderId = 1,
    box = openDoors(),
  }: { stepId?: string; senderId?: number; box?: OpenDoors } = {},
) {
  const app = openCopy(image);
  try {
    for (const change of changes) typeof change === "string" ? app.db.exec(change) : change(app);
    const planned = { journeyId: ANA, stepId, senderId, at: NOW, followUp: stepId !== "one" };
    const count = await sendFrom(app, box.doors, senderId, [planned], NOW);
    const all = <Row>(text: string) => app.db.prepare(text).all() as Row[];
    return {
      count,
      texts: box.sent.map(textOf),
      to: box.sent.map(({ envelope }) => envelope.to),
      journey: all<{ state: string; reason: string | null; detail: string | null; place: string | null }>(
        "SELECT state, wait_reason AS reason, wait_detail AS detail, place_id AS place FROM journeys WHERE id = 1",
      )[0],
      touches: all<{
        stepId: string;
        state: string;
        subject: string;
        inReplyTo: string | null;
        references: string;
      }>(
        `SELECT step_id AS stepId, state, subject, in_reply_to AS inReplyTo, thread_references AS "references" FROM touches WHERE prospect_id = 1 ORDER BY id`,
      ),
      decisions: all<{ kind: string; inputs: string }>(
        "SELECT kind, inputs FROM decisions WHERE journey_id = 1 AND kind IN ('claim', 'skip') ORDER BY id",
      ),
    };
  } finally {
    app.close();
  }
}
const textOf = ({ raw }: ComposedEmail) => raw.toString().replace(/=\r\n/g, "");

/** Changes a step of the sequence's path as it is stored. */
const step =
  (id: string, change: Partial<EmailStep> | Record<string, unknown>): Change =>
  ({ db }) => {
    const stored = db.prepare("SELECT path FROM sequence_versions").pluck().get() as string;
    const path = (JSON.parse(stored) as EmailStep[]).map((each) =>
      each.id === id ? { ...each, ...change } : each,
    );
    db.prepare("UPDATE sequence_versions SET path = ?").run(JSON.stringify(path));
    db.exec("UPDATE sequences SET revision = revision + 1");
  };
const words = (id: string, subject: string, body: string): Change =>
  step(id, { variants: [{ id: "a", weight: 1, subject, body }] });
const settings = (change: object) =>
  `UPDATE sequences SET settings = json_patch(settings, '${JSON.stringify(change)}'), revision = revision + 1`;
const touch =
  (change: Partial<NewTouch> & { state: NewTouch["state"] }) =>
  (app: AppTx): void => {
    enterTouch(app.db, {
      ...{
        kind: "email",
        journeyId: ANA,
        stepId: "one",
        version: 1,
        variantId: "a",
        prospectId: ANA,
        mailboxId: 1,
      },
      ...{
        recipient: "ana@ana-museum.example",
        messageId: "<first@quillwater.example>",
        inReplyTo: null,
        references: "",
      },
      ...{
        subject: "Loans at ana museum",
        body: "Hello ana",
        markup: null,
        claimedAt: NOW - 2 * DAY,
        claimedWall: 1,
      },
      ...change,
    });
  };
/** Ana got the first email two days ago, and stands before the second. */
const AFTER_FIRST: Change[] = [
  touch({ state: "claimed" }),
  `UPDATE touches SET state = 'sent', sent_at = ${NOW - 2 * DAY}`,
  "UPDATE journeys SET place_id = 'two', mailbox_id = 1, due_at = 0 WHERE id = 1",
];
const followUp = (...changes: Change[]) => sending([...AFTER_FIRST, ...changes], { stepId: "two" });

describe("the first email", () => {
  it("begins a thread, greets by name, and the decision says as which of the day", async () => {
    const { count, texts, touches, decisions, to } = await sending([]);
    expect(count).toBe(1);
    expect(to).toEqual([["ana@ana-museum.example"]]);
    expect(texts[0]).toContain("Subject: Loans at ana museum");
    expect(texts[0]).toContain("Hello ana");
    expect(texts[0]).not.toMatch(/^(In-Reply-To|References):/m);
    expect(touches).toMatchObject([{ stepId: "one", state: "sent", inReplyTo: null, references: "" }]);
    expect(JSON.parse(decisions[0]?.inputs ?? "")).toEqual({
      mailbox: 1,
      planned: NOW,
      sentToday: 1,
      limit: 30,
    });
  });

  it("has the same Message-ID whenever it is put together", async () => {
    const ids = [await sending([]), await sending([])].map(
      ({ texts }) => texts[0]?.match(/^Message-ID: (.*)$/im)?.[1],
    );
    expect(ids[0]).toMatch(/^<.+@quillwater\.example>/);
    expect(ids[0]).toBe(ids[1]);
  });

  it("shows whether it is opened if the sequence asks for it, and never in a plain one", async () => {
    const isSeen = async (...changes: Change[]) =>
      (await sending(changes)).texts[0]?.includes("<img") ?? null;
    expect(await isSeen()).toBe(true);
    expect(await isSeen(settings({ tracksOpens: false }))).toBe(false);
    expect(await isSeen(step("one", { format: "plain" }))).toBe(false);
  });
});

describe("a follow-up", () => {
  it("without a subject goes on in the thread", async () => {
    const { touches, texts } = await followUp();
    expect(touches[1]).toEqual({
      stepId: "two",
      state: "sent",
      subject: "Re: Loans at ana museum",
      inReplyTo: "<first@quillwater.example>",
      references: "<first@quillwater.example>",
    });
    expect(texts[0]).toContain("In-Reply-To: <first@quillwater.example>");
  });

  it("names all before it, and one “Re:” is enough", async () => {
    const { touches } = await followUp(
      "UPDATE touches SET thread_references = '<zero@x.example>', subject = 'Re: Loans'",
    );
    expect(touches[1]).toMatchObject({
      subject: "Re: Loans",
      references: "<zero@x.example> <first@quillwater.example>",
    });
  });

  it("with a subject of its own begins another", async () => {
    const { touches } = await followUp(words("two", "Shall I close this?", "Hello again"));
    expect(touches[1]).toMatchObject({ subject: "Shall I close this?", inReplyTo: null, references: "" });
  });

  it("written by hand for them begins another if it has a subject", async () => {
    const own = `INSERT INTO own_texts (sequence_id, step_id, prospect_id, subject, body, at) VALUES (1, 'two', 1, 'For you', 'By hand', 1)`;
    const { touches, texts } = await followUp(own);
    expect(touches[1]).toMatchObject({ subject: "For you", inReplyTo: null });
    expect(texts[0]).toContain("By hand");
  });

  it("quotes the email before it where its step says so", async () => {
    const { texts } = await followUp(step("two", { quotes: true }));
    expect(texts[0]).toMatch(/^> Hello ana/m);
    expect((await followUp()).texts[0]).not.toContain("Hello ana");
  });

  it("goes to those who get a copy without what acts for the prospect", async () => {
    const body = "One thing more: {{ booking_link }}";
    const { to, texts, count } = await followUp(
      words("two", "", body),
      settings({ cc: "boss@quillwater.example", bcc: "me@quillwater.example", crm: "in@crm.example" }),
    );
    expect(count).toBe(1);
    expect(to).toEqual([
      ["ana@ana-museum.example"],
      ["boss@quillwater.example", "me@quillwater.example", "in@crm.example"],
    ]);
    expect(texts[0]).toContain("?p=3D");
    expect(texts[1]).not.toContain("?p=3D");
    expect(texts[0]).not.toMatch(/^Bcc:/m);
  });

  it.each([
    ["holds", { about: "opened", stepId: "one", not: true }, 1, undefined],
    ["does not hold", { about: "opened", stepId: "one" }, 0, "skip"],
  ])("whose condition %s", async (_, onlyIf, count, decision) => {
    const seen = await followUp(step("two", { onlyIf }));
    expect(seen.count).toBe(count);
    if (decision) expect(seen.decisions.at(-1)?.kind).toBe(decision);
    if (decision) expect(seen.touches).toHaveLength(1);
  });
});

describe("from another mailbox than the thread's", () => {
  const elsewhere = (...changes: Change[]) =>
    sending([...AFTER_FIRST, ...changes], { stepId: "two", senderId: 2 });
  const ALLOWED = settings({ threadElsewhere: "new_thread" });
  const SILENT = "UPDATE mailboxes SET state = 'paused' WHERE id = 1";

  it("goes, as a conversation of its own about the same, where the thread's is silent and the sequence allows it", async () => {
    const { count, touches } = await elsewhere(ALLOWED, SILENT);
    expect(count).toBe(1);
    expect(touches[1]).toMatchObject({ subject: "Loans at ana museum", inReplyTo: null, references: "" });
  });

  it("does not go while the thread's sends, or where it is to wait for it", async () => {
    expect((await elsewhere(ALLOWED)).count).toBe(0);
    expect((await elsewhere(SILENT)).count).toBe(0);
  });
});

describe("a draft", () => {
  const draft = (state: "draft" | "approved", change: Partial<NewTouch> = {}): Change =>
    touch({
      state,
      stepId: "two",
      messageId: null as never,
      mailboxId: null as never,
      subject: "",
      body: "As approved",
      ...change,
    });

  it("goes with the words that were said yes to, in its thread", async () => {
    const { count, texts, touches } = await followUp(draft("approved"), words("two", "", "Changed since"));
    expect(count).toBe(1);
    expect(texts[0]).toContain("As approved");
    expect(touches[1]).toMatchObject({
      state: "sent",
      subject: "Re: Loans at ana museum",
      inReplyTo: "<first@quillwater.example>",
    });
  });

  it("to which nobody said yes does not", async () => {
    expect((await followUp(draft("draft"))).count).toBe(0);
  });

  it("whose rep gave it a subject begins a thread; the thread's own is none", async () => {
    expect((await followUp(draft("approved", { subject: "Another matter" }))).touches[1]).toMatchObject({
      subject: "Another matter",
      inReplyTo: null,
    });
    expect(
      (await followUp(draft("approved", { subject: "Re: Loans at ana museum" }))).touches[1],
    ).toMatchObject({
      subject: "Re: Loans at ana museum",
      inReplyTo: "<first@quillwater.example>",
    });
  });

  it("whose wording is gone goes by the step's first", async () => {
    expect((await followUp(draft("approved", { variantId: "gone" }))).touches[1]).toMatchObject({
      inReplyTo: "<first@quillwater.example>",
    });
  });

  it("is not asked its condition again", async () => {
    const never = step("two", { onlyIf: { about: "opened", stepId: "one" } });
    expect((await followUp(draft("approved"), never)).count).toBe(1);
  });
});

describe("does not go, and says why", () => {
  it.each<[string, Change, string, string | RegExp]>([
    ["an empty field", words("one", "S", "Hi {{ city }}"), "merge_field_empty", "city"],
    ["a text that cannot be read", words("one", "S", "{% if %}"), "text_broken", /./],
    [
      "a file that is gone",
      step("one", { attachments: [99] }),
      "text_broken",
      /^The email cannot be put together: /,
    ],
  ])("%s", async (_, change, reason, detail) => {
    const seen = await sending([change]);
    expect(seen.count).toBe(0);
    expect(seen.journey).toMatchObject({ state: "active", reason });
    expect(seen.journey?.detail).toMatch(detail);
    expect(seen.touches).toEqual([]);
  });

  it("an address that was blocked since, which ends their journey", async () => {
    const block =
      "INSERT INTO block_list (kind, value, reason, at) VALUES ('address', 'ana@ana-museum.example', 'added_by_rep', 1)";
    expect(await sending([block])).toMatchObject({ count: 0, journey: { state: "stopped" } });
  });

  it("an answer that cannot be put together is given back", async () => {
    const app = openCopy(image);
    touch({
      ...{ kind: "answer", journeyId: null, stepId: null, version: null, state: "queued" },
      ...{ attachments: "[99]", dueAt: NOW, claimedAt: null, claimedWall: null },
    })(app);
    const box = openDoors();
    expect(await sendFrom(app, box.doors, 1, [], NOW)).toBe(0);
    expect(app.db.prepare("SELECT state, refused_words AS words FROM touches").get()).toEqual({
      state: "refused",
      words: expect.stringContaining("cannot be put together"),
    });
    app.close();
  });
});

describe("a round", () => {
  /** Of all three people, with room for them. */
  async function round(box: OpenDoors, goesOn = () => true, prepare: Change[] = []) {
    const app = openCopy(image);
    try {
      app.db.exec("UPDATE mailboxes SET gap_least = 0, gap_most = 0");
      for (const change of prepare) typeof change === "string" ? app.db.exec(change) : change(app);
      const due = [1, 2, 3].map((journeyId) => ({
        journeyId,
        stepId: "one",
        senderId: 1,
        at: NOW,
        followUp: false,
      }));
      const count = await sendFrom(app, box.doors, 1, due, NOW, goesOn);
      const { trouble } = app.db
        .prepare("SELECT smtp_trouble AS trouble FROM mailboxes WHERE id = 1")
        .get() as {
        trouble: string | null;
      };
      return {
        count,
        trouble,
        open: app.db.prepare("SELECT count(*) FROM touches WHERE state = 'claimed'").pluck().get(),
      };
    } finally {
      app.close();
    }
  }

  it("sends all that are due, over connections that are open already or made", async () => {
    for (const isKept of [true, false]) {
      const box = openDoors({ isKept });
      expect(await round(box)).toEqual({ count: 3, trouble: null, open: 0 });
      expect(box.opened > 0).toBe(!isKept);
      expect(box.ours).toEqual([true, true, true]);
    }
  });

  it("claims nothing of a server that lets nobody in, and leaves it alone", async () => {
    const box = openDoors({ isShut: "no route to host" });
    expect(await round(box)).toEqual({ count: 0, trouble: "no route to host", open: 0 });
  });

  it("ends where the server goes away, and goes on after anything else", async () => {
    const answering = (result: object) =>
      openDoors({ answer: (_, nth) => (nth === 0 ? (result as never) : { result: "sent", answer: "" }) });
    const away = answering({ result: "unreachable", words: "gone" });
    await round(away);
    const later = answering({ result: "later", words: "451" });
    expect((await round(later)).count).toBe(2);
    expect(later.sent).toHaveLength(3);
  });

  it("begins nothing once the engine ends, and gives back a connection that it does not need", async () => {
    const box = openDoors();
    expect((await round(box, () => false)).count).toBe(0);
    expect(box.sent).toEqual([]);
    const paused = openDoors();
    await round(paused, undefined, ["UPDATE sequences SET state = 'paused', revision = revision + 1"]);
    expect(paused.released).toBe(3);
  });

  it("sends nothing that is no longer its own", async () => {
    const box = openDoors();
    await round(box, undefined, [
      (app) => {
        (app.config as { settleSeconds: number }).settleSeconds = 0;
      },
    ]);
    expect(box.ours).toEqual([false, false, false]);
  });

  it("of a mailbox that is gone is none", async () => {
    const app = openCopy(image);
    expect(await sendFrom(app, openDoors().doors, 99, [], NOW)).toBe(0);
    app.close();
  });
});
