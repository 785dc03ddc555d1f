/** What a rep does at the reading desk, against a real database: labels, undo, answers that wait, absences, hand-overs. */
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import { effectsOf } from "../../core/replies/label-effects.ts";
import { sortReply } from "../../core/replies/sort.ts";
import { saveAssistant } from "../assistant/ask.ts";
import { setDemoClock } from "../clock.ts";
import { apply } from "../consequences/apply.ts";
import { liveState } from "../desk/live-state.ts";
import { advance } from "../engine/advance.ts";
import { Engine } from "../engine/tick.ts";
import { addNamed } from "../prospects/people/add-named.ts";
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
import { answerReply, comeBackLater, dropLater } from "./answer-reply.ts";
import { draftOf, keepDraft } from "./drafts.ts";
import { handOver } from "./hand-over.ts";
import { labelReply, undoLabel } from "./label-reply.ts";
import { allLabels, saveLabel } from "./labels.ts";
import { decideLearning, learn, learning, shippedExamples } from "./learn.ts";
import { markRead, openReply } from "./list-replies.ts";
import { labelFacts, previewLabel } from "./preview-label.ts";
import { searchMessages } from "./search-messages.ts";
import { readAgain } from "./second-reading.ts";
import { modelInUse, shippedModel } from "./sorter.ts";

let world: World;
let engine: Engine;
let sequenceId: number;
let standin: Standin;

beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());

beforeEach(async () => {
  world = await createWorld({ standin });
  engine = new Engine(world.app);
  const mailboxId = await addMailbox(world, "marta@quillwater.example", { gapLeast: 0, gapMost: 0 });
  const listId = addPeople(world, ["ana", "bia"]);
  world.app.db.exec(
    "UPDATE prospects SET company_id = (SELECT min(company_id) FROM prospects), company = 'ana museum'",
  );
  sequenceId = addSequence(world, listId, [mailboxId], {
    settings: { tracksOpens: false, tracksClicks: false, holidays: false, holdsCompany: true, awayDays: 3 },
  });
  for (const id of [1, 2]) addJourney(world, sequenceId, id);
  world.app.db.exec("UPDATE sequences SET state = 'running'");
  await advance(engine, { id: 0, kind: "until", until: TUESDAY + 2 * HOUR }, () => true, false);
});
afterEach(async () => {
  await engine.close();
  await world.close();
});

/** Somebody writes back, and the engine reads it. */
async function writes(
  name: string,
  text: string,
  more: { subject?: string; headers?: string } = {},
): Promise<number> {
  const [touch] = rows<{ messageId: string; address: string }>(
    world,
    `SELECT t.message_id AS messageId, m.address FROM touches t JOIN prospects p ON p.id = t.prospect_id
     JOIN mailboxes m ON m.id = t.mailbox_id WHERE p.email LIKE '${name}%' AND t.kind = 'email' AND t.state = 'sent'`,
  );
  if (!touch) throw new Error("nothing was sent");
  await world.tell("/deliver", {
    mailbox: touch.address,
    raw: `From: ${name} <${name}@${name}-museum.example>\r\nTo: ${touch.address}\r\nMessage-ID: <r${Math.random()}@${name}>\r\nIn-Reply-To: ${touch.messageId}\r\nSubject: ${more.subject ?? "Re: Loans"}\r\n${more.headers ?? ""}Content-Type: text/plain; charset=utf-8\r\n\r\n${text}\r\n`,
  });
  await engine.tick();
  return rows<{ id: number }>(world, "SELECT max(id) AS id FROM replies")[0]?.id as number;
}
const stateOf = (id: number) =>
  rows<{ state: string; reason: string | null }>(
    world,
    `SELECT state, stop_reason AS reason FROM journeys WHERE prospect_id = ${id}`,
  )[0];
const stageOf = (id: number) =>
  rows<{ stage: string }>(world, `SELECT stage FROM prospects WHERE id = ${id}`)[0]?.stage;
const holds = () =>
  rows<{ scope: string; reason: string; detail: string | null }>(
    world,
    "SELECT scope, reason, detail FROM holds ORDER BY id",
  );
const label = (replyId: number, code: string, day = "") =>
  labelReply(world.app, world.userId, { replyId, label: code, day });

describe("a label", () => {
  it("does what its margin said, and one press brings all of it back", async () => {
    const reply = await writes("ana", "No thanks, we are well served.");
    expect(stateOf(1)).toEqual({ state: "stopped", reason: "replied" });
    expect(holds()).toMatchObject([{ scope: "company", reason: "colleague_replied" }]);
    const before = { stage: stageOf(1), holds: holds() };
    const optOut = allLabels(world.app.db).find(({ code }) => code === "opt_out");
    const facts = labelFacts(world.app.db, reply, () => 1);
    if (!optOut || !facts) throw new Error("nothing to look at");
    const said = previewLabel(optOut, facts, null).map(({ verb }) => verb);
    expect(said).toEqual(["Blocks", "Releases", "Moves"]);
    expect(label(reply, "opt_out").ok).toBe(true);
    expect(stageOf(1)).toBe("lost");
    expect(holds()).toEqual([]);
    expect(rows(world, "SELECT value, reason FROM block_list")).toEqual([
      { value: "ana@ana-museum.example", reason: "opted_out" },
    ]);
    expect(undoLabel(world.app, world.userId, reply)).toEqual({ ok: true, value: 0 });
    expect({ stage: stageOf(1), holds: holds() }).toEqual(before);
    expect(rows(world, "SELECT * FROM block_list")).toEqual([]);
    expect(openReply(world.app, reply)?.label).toBeNull();
    expect(undoLabel(world.app, world.userId, reply).ok).toBe(false);
  });

  it("is told to the pages that are open, as a letter is that comes or is read, and nothing else", async () => {
    const told = () => liveState(world.app).replies;
    let before = told();
    const isNews = () => {
      const was = before;
      before = told();
      return before > was;
    };
    const reply = await writes("ana", "Which rooms?");
    expect(isNews()).toBe(true);
    markRead(world.app, null, reply, true);
    expect(isNews()).toBe(true);
    markRead(world.app, null, reply, true);
    expect(isNews()).toBe(false);
    label(reply, "question");
    expect(isNews()).toBe(true);
    undoLabel(world.app, world.userId, reply);
    expect(isNews()).toBe(true);
    await engine.tick();
    expect(isNews()).toBe(false);
  });

  it("that is set over another takes that one back first", async () => {
    const reply = await writes("ana", "Perhaps.");
    label(reply, "opt_out");
    label(reply, "interested");
    expect(rows(world, "SELECT * FROM block_list")).toEqual([]);
    expect(stageOf(1)).toBe("in_conversation");
    expect(openReply(world.app, reply)?.label).toMatchObject({ code: "interested", byRep: true });
  });

  it("away lets go on what the reply stopped, after the day; a reply before that stops it again", async () => {
    const reply = await writes("ana", "Marta, could you say that again? I could not open it.");
    expect(stateOf(1)?.state).toBe("stopped");
    label(reply, "away", "2026-06-22");
    expect(stateOf(1)).toEqual({ state: "active", reason: null });
    expect(holds()).toMatchObject([{ scope: "prospect", reason: "away", detail: "2026-06-22" }]);
    setDemoClock(world.app.db, TUESDAY + 3 * DAY, false);
    await engine.tick();
    expect(rows(world, "SELECT count(*) AS n FROM touches WHERE prospect_id = 1 AND state = 'sent'")).toEqual(
      [{ n: 1 }],
    );
    await writes("ana", "Back early: yes, tell me more.");
    expect(stateOf(1)).toEqual({ state: "stopped", reason: "replied" });
  });

  it("of the team's own does what it is set to; the usual ones keep their names, and an opt-out its stop", async () => {
    const own = saveLabel(world.app, null, null, {
      isPositive: false,
      name: "Wants a sample",
      effects: {
        ...effectsOf(null, {}),
        stage: "in_conversation",
        task: "Send the sample",
        colleagues: "release",
      },
    });
    if (!own.ok) throw new Error("not saved");
    const reply = await writes("ana", "Send a sample please");
    expect(label(reply, `own-${own.value}`).ok).toBe(true);
    expect(rows(world, "SELECT kind, text FROM reminders")).toEqual([
      { kind: "reminder", text: "Send the sample" },
    ]);
    expect(holds()).toEqual([]);
    const optOut = allLabels(world.app.db).find(({ key }) => key === "opt_out");
    saveLabel(world.app, null, optOut?.id ?? 0, {
      isPositive: false,
      name: "Else",
      effects: { ...effectsOf(null, {}), stops: false, blocks: false },
    });
    expect(allLabels(world.app.db).find(({ key }) => key === "opt_out")).toMatchObject({
      name: "Opt-out",
      effects: { stops: true, blocks: true },
    });
  });
});

describe("what is read", () => {
  it("a plain opt-out is blocked by itself, and that can be taken back; an unsure one waits for the rep", async () => {
    const reply = await writes("ana", "Unsubscribe");
    expect(openReply(world.app, reply)?.label).toEqual({ code: "opt_out", name: "Opt-out", byRep: false });
    expect(rows(world, "SELECT value FROM block_list")).toHaveLength(1);
    undoLabel(world.app, world.userId, reply);
    expect(rows(world, "SELECT value FROM block_list")).toEqual([]);
    const other = await writes("bia", "Hm, well, I wonder.");
    expect(openReply(world.app, other)?.label).toBeNull();
  });

  it("an absence pauses until the day after the return, and names who answers meanwhile", async () => {
    const reply = await writes(
      "ana",
      "I am away from 10 to 19 June. For urgent matters contact Ed Norris, ed.norris@ana-museum.example.",
      { subject: "Automatic reply: Loans", headers: "Auto-Submitted: auto-replied\r\n" },
    );
    expect(stateOf(1)?.state).toBe("active");
    expect(rows<{ until: number }>(world, "SELECT until FROM holds WHERE reason = 'away'")[0]?.until).toBe(
      // The working day after Friday the 19th.
      Date.parse("2026-06-22T08:30:00+01:00"),
    );
    expect(openReply(world.app, reply)?.reading).toMatchObject({
      label: "away",
      day: "2026-06-19",
      person: { firstName: "Ed", lastName: "Norris", email: "ed.norris@ana-museum.example" },
    });
  });

  it("two emails in a row that came back for now hold the journey; one does not", () => {
    const about = { at: TUESDAY, prospectId: 1, recipient: "ana@ana-museum.example" };
    apply(world.app.db, { kind: "bounced", hard: false, words: "full" }, about);
    expect(holds()).toEqual([]);
    apply(world.app.db, { kind: "bounced", hard: false, again: true, words: "full" }, about);
    expect(holds()).toMatchObject([{ scope: "prospect", reason: "came_back_twice" }]);
    apply(
      world.app.db,
      { kind: "bounced", hard: false, policy: true, again: true, words: "5.7.1" },
      { ...about, prospectId: 2 },
    );
    expect(holds()).toHaveLength(1);
  });

  it("a server that asks for a confirmation is put to the rep, and their sequence waits for it", async () => {
    const reply = await writes(
      "ana",
      "Your message is held. Please confirm that you are a real person: https://gate.example/confirm/1",
      { subject: "Please confirm your message", headers: "Auto-Submitted: auto-generated\r\n" },
    );
    expect(openReply(world.app, reply)?.kind).toBe("challenge");
    expect(holds()).toMatchObject([{ reason: "challenged" }]);
  });
});

describe("an answer", () => {
  const answer = (replyId: number, more: Record<string, unknown> = {}) =>
    answerReply(world.app, world.user, {
      replyId,
      text: "With pleasure.",
      key: `answer-${replyId}-0`,
      ...more,
    });
  const sent = () =>
    rows<{ body: string }>(
      world,
      "SELECT body FROM touches WHERE kind = 'answer' AND state = 'sent' ORDER BY sent_at",
    );

  it("goes later if the rep says so, with a nudge behind it that a reply makes needless", async () => {
    const reply = await writes("ana", "Tell me more.");
    expect(
      answer(reply, {
        when: "at",
        date: "2026-06-11",
        time: "09:00",
        nudgeAfter: 3,
        nudge: "Did it reach you?",
      }).ok,
    ).toBe(true);
    await engine.tick();
    expect(sent()).toEqual([]);
    setDemoClock(world.app.db, Date.parse("2026-06-11T09:01:00+01:00"), false);
    await engine.tick();
    expect(sent()).toHaveLength(1);
    await writes("ana", "Thanks, yes!");
    setDemoClock(world.app.db, TUESDAY + 14 * DAY, false);
    await engine.tick();
    expect(sent()).toHaveLength(1);
  });

  it("is no draft any more, even if what was typed comes here after it", async () => {
    const reply = await writes("ana", "Tell me more.");
    const draft = (key: string, text: string) =>
      keepDraft(world.app, world.user.id, { replyId: reply, key, text });
    const kept = () => draftOf(world.app, world.user.id, reply);
    expect(draft(`answer-${reply}-0`, "With pleas")).toBe("kept");
    expect(kept()).toBe("With pleas");
    answer(reply);
    expect(kept()).toBe("");
    expect(draft(`answer-${reply}-0`, "With pleasure.")).toBe("sent");
    expect(kept()).toBe("");
    expect(draft(`answer-${reply}-1`, "One thing more")).toBe("kept");
    expect(kept()).toBe("One thing more");
    expect(draft("short", "")).toBe("unread");
  });

  it("the nudge goes where nothing came back, in the same thread", async () => {
    const reply = await writes("ana", "Tell me more.");
    answer(reply, { nudgeAfter: 2, nudge: "Did it reach you?" });
    await engine.tick();
    setDemoClock(world.app.db, TUESDAY + 3 * DAY + 5 * HOUR, false);
    await engine.tick();
    expect(sent().map(({ body }) => body.split("\n")[0])).toEqual(["With pleasure.", "Did it reach you?"]);
    const [first, second] = rows<{ messageId: string; inReplyTo: string }>(
      world,
      "SELECT message_id AS messageId, in_reply_to AS inReplyTo FROM touches WHERE kind = 'answer' ORDER BY sent_at",
    );
    expect(second?.inReplyTo).toBe(first?.messageId);
  });

  it("comes back on the day that they asked for, unless it is taken back, and never twice by two presses", async () => {
    const reply = await writes("ana", "Ask again in the autumn.");
    label(reply, "not_now");
    expect(rows<{ kind: string; due: number }>(world, "SELECT kind, due_at AS due FROM reminders")).toEqual([
      { kind: "come_back", due: Date.parse("2026-09-15T08:30:00+01:00") },
    ]);
    const form = {
      replyId: reply,
      date: "2026-09-15",
      text: "Is it a better moment now?",
      key: "come-back-1",
    };
    expect(comeBackLater(world.app, world.user, form).ok).toBe(true);
    expect(comeBackLater(world.app, world.user, form).ok).toBe(true);
    const waiting = rows<{ id: number }>(
      world,
      "SELECT id FROM touches WHERE kind = 'answer' AND state = 'queued'",
    );
    expect(waiting).toHaveLength(1);
    expect(rows(world, "SELECT 1 FROM reminders WHERE ended_at IS NULL")).toEqual([]);
    expect(dropLater(world.app, null, waiting[0]?.id ?? 0).ok).toBe(true);
    setDemoClock(world.app.db, Date.parse("2026-09-20T12:00:00Z"), false);
    await engine.tick();
    expect(sent()).toEqual([]);
  });

  it("refuses what it cannot do, in words: a day that is over, a nudge without a text", async () => {
    const reply = await writes("ana", "Yes");
    expect(answer(reply, { when: "at", date: "2026-06-01" })).toMatchObject({
      errors: { date: expect.stringContaining("over") },
    });
    expect(answer(reply, { nudgeAfter: 3 })).toMatchObject({ errors: { nudge: expect.any(String) } });
  });
});

describe("from one to another", () => {
  it("the person whom they name becomes a prospect of the same house, with a first letter and thanks", async () => {
    const reply = await writes(
      "ana",
      "Not my area. Please write to Ed Norris, ed.norris@ana-museum.example.",
    );
    const added = addNamed(world.app, world.user, {
      replyId: reply,
      firstName: "Ed",
      lastName: "Norris",
      email: "ed.norris@ana-museum.example",
      subject: "Loans",
      opening: "Dear Ed, Ana told me that you are the one to ask.",
      thanks: "Thank you, I will write to Ed.",
      key: "named-press-1",
    });
    expect(added).toMatchObject({ ok: true, value: { isNew: true, writes: true } });
    expect(rows(world, "SELECT company, first_name FROM prospects WHERE email LIKE 'ed.%'")).toEqual([
      { company: "ana museum", first_name: "Ed" },
    ]);
    expect(rows(world, "SELECT state FROM touches WHERE kind = 'answer'")).toEqual([{ state: "queued" }]);
    expect(rows(world, "SELECT kind FROM sequences WHERE kind = 'single'")).toHaveLength(1);
  });

  it("a conversation handed to an outside seller goes with the story so far, and is off the rep's desk", async () => {
    const reply = await writes("ana", "We would buy ten.");
    expect(
      handOver(world.app, world.user, { replyId: reply, to: "seller@quillwater.example", note: "Hot." }),
    ).toEqual({
      ok: true,
      value: "seller@quillwater.example",
    });
    const [mail] = rows<{ body: string; recipient: string }>(
      world,
      "SELECT body, recipient FROM service_mails",
    );
    expect(mail?.recipient).toBe("seller@quillwater.example");
    expect(mail?.body).toMatch(/^Hot\.[\s\S]*We would buy ten\.[\s\S]*—/);
    await engine.tick();
    await engine.tick();
    expect(rows(world, "SELECT state FROM service_mails")).toEqual([{ state: "sent" }]);
    expect(handOver(world.app, world.user, { replyId: reply, to: "nobody" }).ok).toBe(false);
  });
});

describe("search", () => {
  it("finds words in any case and accent, beginnings, phrases, and scripts without spaces", async () => {
    const first = await writes("ana", "Olá, o relatório de HUMIDADE interessa-nos.");
    const second = await writes("bia", "十二個でいくらになりますか。");
    expect(searchMessages(world.app, "humidade relatorio")).toEqual([first]);
    expect(searchMessages(world.app, "humid")).toEqual([first]);
    expect(searchMessages(world.app, '"relatorio de humidade"')).toEqual([first]);
    expect(searchMessages(world.app, '"humidade relatorio"')).toEqual([]);
    expect(searchMessages(world.app, "いくら")).toEqual([second]);
    expect(searchMessages(world.app, "十二")).toEqual([second]);
    // Words of our own letters lead to the conversation.
    expect(searchMessages(world.app, "loans")).toEqual(expect.arrayContaining([first, second]));
    for (const odd of ['"', "*", "NEAR(", "a OR", "-x", "(", "%"])
      expect(() => searchMessages(world.app, odd)).not.toThrow();
  });
});

describe("learning", () => {
  it("proposes what it would read otherwise, uses it only when told, and goes back to what ships", async () => {
    const reply = await writes("ana", "Blue marble under the stairs, as ever.");
    label(reply, "question");
    expect(learning(world.app)).toMatchObject({ labelled: 1, proposed: null, inUse: null });
    // All of them take half a minute of the processor; what becomes of what was learned is the same.
    const some = shippedExamples().filter((_, nth) => nth % 8 === 0);
    await learn(world.app, world.userId, () => false, some);
    expect(modelInUse(world.app.db)).toBe(shippedModel());
    const proposed = learning(world.app).proposed;
    for (const { before, after } of proposed?.changes ?? []) expect(after).not.toBe(before);
    decideLearning(world.app, null, "use");
    const learned = modelInUse(world.app.db);
    expect(learned).not.toBe(shippedModel());
    const context = {
      text: "Blue marble under the stairs, as ever.",
      own: [],
      at: TUESDAY,
      zone: "UTC",
      country: "",
    };
    expect(sortReply(context, learned).label).toBe("question");
    decideLearning(world.app, null, "forget");
    expect(modelInUse(world.app.db)).toBe(shippedModel());
  });

  it("an outside model reads what is unsure, once, and only where a manager allowed it", async () => {
    let asked = 0;
    const server = createServer((_, response) => {
      asked++;
      response.end(JSON.stringify({ label: "interested", confidence: 0.6 }));
    });
    await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
    const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    const reply = await writes("ana", "Hm, well, I wonder.");
    expect(openReply(world.app, reply)?.reading?.sure).toBe(false);
    expect(await readAgain(world.app)).toBe(0);
    saveAssistant(world.app, null, { url, api: "own", model: "", key: "", readsReplies: "on" });
    await readAgain(world.app);
    await readAgain(world.app);
    expect(asked).toBe(1);
    expect(openReply(world.app, reply)).toMatchObject({
      label: null,
      reading: { by: "assistant", label: "interested", sure: false },
    });
    server.close();
  });
});
