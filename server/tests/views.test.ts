/** What the screens are told, after a small season by the real engine. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { DAY, dayOf, HOUR } from "../../core/calendar.ts";
import { whatIfSchema } from "../../core/sending/what-if.ts";
import { setDemoClock } from "../clock.ts";
import { dayLine } from "../desk/day-line.ts";
import { find } from "../desk/find.ts";
import { advance } from "../engine/advance.ts";
import { Engine } from "../engine/tick.ts";
import { bookMeeting } from "../meetings/book-meeting.ts";
import { bookingPage } from "../meetings/booking-page.ts";
import { prospectStory } from "../prospects/people/prospect-story.ts";
import { conversation } from "../replies/conversation.ts";
import { countReplies, listReplies, markRead } from "../replies/list-replies.ts";
import { lookQuery } from "../results/look.ts";
import { sequenceResults } from "../results/one-sequence.ts";
import { signLink } from "../secrets.ts";
import { forecast, mailboxStandings, notToday, stopForecasting } from "../sending/forecast.ts";
import { waitingJourneys } from "../sending/waiting.ts";
import { listSequences } from "../sequences/list-sequences.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { today } from "../today/today.ts";
import { todoList } from "../today/todo-list.ts";
import { recordClick, recordOpen } from "../web/tracking.ts";
import { addMailbox, addPeople, addSequence, createWorld, rows, TUESDAY, type World } from "./world.ts";

/** A mail program on a desk. */
const READER = { agent: "Mozilla/5.0 (X11; Linux x86_64)", ip: "198.51.100.7", isHead: false, isOwn: false };
const USER = { id: 1, zone: "Europe/Lisbon" };
const NAMES = ["ana", "bia", "caio", "dora", "eva", "faro"];
let world: World;
let engine: Engine;

/** Six people get a first email on Tuesday; on Wednesday ana answers, bia opens and clicks, caio books; dora has no name. */
beforeAll(async () => {
  world = await createWorld();
  engine = new Engine(world.app);
  const mailboxes = [
    await addMailbox(world, "marta@quillwater.example"),
    await addMailbox(world, "m.q@quillwater.example", { dailyLimit: 2 }),
  ];
  const sequenceId = addSequence(world, addPeople(world, NAMES), mailboxes);
  world.app.db.exec("UPDATE prospects SET first_name = '' WHERE email LIKE 'dora%'");
  startSequence(world.app, world.userId, sequenceId);
  await advance(engine, { id: 0, kind: "until", until: TUESDAY + DAY }, () => true, false);
  const touchTo = (name: string) =>
    rows<{ id: number; messageId: string; address: string }>(
      world,
      `SELECT t.id, t.message_id AS messageId, m.address FROM touches t JOIN prospects p ON p.id = t.prospect_id
       JOIN mailboxes m ON m.id = t.mailbox_id WHERE p.email LIKE '${name}%'`,
    )[0] as { id: number; messageId: string; address: string };
  const ana = touchTo("ana");
  await world.tell("/deliver", {
    mailbox: ana.address,
    raw: `From: Ana <ana@ana-museum.example>\r\nTo: ${ana.address}\r\nMessage-ID: <r1@ana>\r\nIn-Reply-To: ${ana.messageId}\r\nSubject: Re: Loans\r\n\r\nTell me more.\r\n`,
  });
  await engine.tick();
  const bia = touchTo("bia");
  const later = (seconds: number) =>
    setDemoClock(world.app.db, world.app.clock.now() + seconds * 1_000, false);
  later(30);
  recordOpen(world.app, signLink("open", String(bia.id), world.app.key), READER);
  recordOpen(world.app, signLink("open", String(bia.id), world.app.key), READER);
  later(5);
  expect(
    recordClick(
      world.app,
      signLink("click", `${bia.id} https://quillwater.example/a b`, world.app.key),
      READER,
    ),
  ).toBe("https://quillwater.example/a b");
  const slug = rows<{ slug: string }>(world, "SELECT booking_slug AS slug FROM users")[0]?.slug ?? "";
  const token = signLink("booking", "3", world.app.key);
  const start = bookingPage(world.app, slug, token).times[0];
  expect(
    bookMeeting(world.app, slug, token, {
      start,
      phone: "+351 210 000 000",
      name: "Caio",
      email: "caio@caio-museum.example",
    }).ok,
  ).toBe(true);
  later(31);
  await engine.tick();
});
afterAll(async () => {
  await stopForecasting();
  await engine.close();
  await world.close();
});

describe("Today", () => {
  it("counts who wrote back, the calls ahead, what is wrong and the week", () => {
    const view = today(world.app, world.user);
    expect(view).toMatchObject({
      unread: 1,
      week: { sent: 5, answered: 1, positive: 1, booked: 1, optedOut: 0 },
    });
    expect(view.mailboxes.map(({ limit }) => limit)).toEqual([30, 2]);
  });

  it("is one list: the reply first, with the reason for its place, then who looked, and what one field would mend", () => {
    const { items } = todoList(world.app, { ...USER, id: 1 } as never);
    expect(items[0]).toMatchObject({
      kind: "replies",
      count: 1,
      readings: [{ label: "interested", count: 1 }],
    });
    expect(items[0]?.place.reasons[0]).toEqual({ because: "interested", number: 1 });
    expect(items.find(({ kind }) => kind === "warm")).toMatchObject({ person: { name: "bia" }, clicks: 1 });
    expect(items.find(({ kind }) => kind === "field")).toMatchObject({
      field: "first_name",
      sequenceName: "Loans",
      people: 1,
    });
    const scores = items.map(({ place }) => place.score);
    expect(scores).toEqual(scores.toSorted((a, b) => b - a));
  });
});

describe("Sending", () => {
  it("plans by the engine's own plan: never above a limit, today's count included, held people left out of the line", async () => {
    const { app } = world;
    const plan = await forecast(app, USER.zone);
    expect(plan.days[0]).toBe(dayOf(app.clock.now(), USER.zone));
    expect(plan.days).toHaveLength(12);
    for (const { id, sentToday } of mailboxStandings(app))
      for (const [nth, { planned, limit }] of (plan.cells[id] ?? []).entries())
        expect(planned + (nth === 0 ? sentToday : 0)).toBeLessThanOrEqual(limit);
    // bia, eva and faro still get two emails each.
    expect(plan.total).toBe(6);
    expect(plan.waitingForFirst).toBe(0);
    expect(notToday(app, USER.zone)).toMatchObject([{ reason: "merge_field_empty", count: 1 }]);
  });

  it("answers what would be if, and changes nothing", async () => {
    const { app } = world;
    const plan = await forecast(app, USER.zone);
    const ask = (change: object) => forecast(app, USER.zone, whatIfSchema.parse(change));
    expect((await ask({ morePeople: 3 })).total).toBe(plan.total + 9);
    expect((await ask({ paused: mailboxStandings(app).map(({ id }) => id) })).total).toBe(0);
    expect(await forecast(app, USER.zone)).toEqual(plan);
  });

  it("lists every waiting journey with its recorded reason, those that wait for a person first", () => {
    const all = waitingJourneys(world.app, null, 0);
    expect(all.total).toBe(4);
    expect(all.rows[0]).toMatchObject({ reason: "merge_field_empty", detail: "first_name", nextAt: null });
    expect(
      waitingJourneys(world.app, "wait_days", 0)
        .rows.map(({ name }) => name)
        .toSorted(),
    ).toEqual(["bia", "eva", "faro"]);
    expect(waitingJourneys(world.app, null, 1).rows).toEqual([]);
  });
});

describe("the day line", () => {
  it("has a tick for each email of the day and a dot for each reply", () => {
    const now = world.app.clock.now();
    expect(dayLine(world.app, USER)).toMatchObject({
      now,
      replies: [{ name: "ana" }],
      sent: [],
      demo: false,
    });
    setDemoClock(world.app.db, TUESDAY + 5 * HOUR, false);
    expect(dayLine(world.app, USER).sent).toHaveLength(5);
    setDemoClock(world.app.db, now, false);
  });
});

describe("Replies", () => {
  it("are listed by kind, read once they are marked, and kept in view while they are open", () => {
    expect(countReplies(world.app, { everybody: 1, userId: 0 })).toEqual({
      unread: 1,
      people: 1,
      automatic: 0,
      bounces: 0,
    });
    const [reply] = listReplies(world.app, { everybody: 1, userId: 0 }, { filter: "unread" }, null);
    if (!reply) throw new Error("no reply");
    expect(reply).toMatchObject({ name: "ana", company: "ana museum", kind: "person" });
    markRead(world.app, null, reply.id, true);
    expect(listReplies(world.app, { everybody: 1, userId: 0 }, { filter: "unread" }, null)).toEqual([]);
    expect(listReplies(world.app, { everybody: 1, userId: 0 }, { filter: "unread" }, reply.id)).toHaveLength(
      1,
    );
    markRead(world.app, null, reply.id, false);
  });

  it("stand in a conversation, oldest first", () => {
    expect(conversation(world.app, 1).map(({ from, kind }) => `${from} ${kind}`)).toEqual([
      "us step",
      "them person",
    ]);
  });
});

describe("a prospect's story", () => {
  it("says what was sent, what they did, and what was cancelled", () => {
    const [journey] = prospectStory(world.app, null, 1).journeys;
    expect(journey).toMatchObject({ state: "stopped", stopReason: "replied" });
    expect(journey?.touches.map(({ state }) => state)).toEqual(["done", "cancelled", "cancelled"]);
    expect(prospectStory(world.app, null, 1).events.map(({ kind }) => kind)).toEqual([
      "journey_started",
      "email_sent",
      "replied",
      "journey_stopped",
    ]);
  });

  it("plans the later touches on their working days", () => {
    const [journey] = prospectStory(world.app, null, 2).journeys;
    const days = journey?.touches.map(({ at }) => dayOf(at, USER.zone));
    expect(days).toEqual(["2026-06-09", "2026-06-11", "2026-06-16"]);
  });

  it("is not there for nobody", () => {
    expect(() => prospectStory(world.app, null, 999)).toThrow("does not exist");
  });
});

describe("Results and Sequences", () => {
  it("count people once, whatever they did twice", () => {
    const found = sequenceResults(world.app, null, 1, lookQuery.parse({}), "Europe/Lisbon");
    const figures = { started: 6, written: 5, reached: 5, answered: 1, booked: 1, active: 4, opened: 1 };
    expect(found).toMatchObject({ figures });
    expect(found?.steps[0]).toMatchObject({
      name: "Opening",
      made: 5,
      opened: 1,
      clicked: 1,
      brought: { answered: 1, booked: 1 },
      bounced: 0,
    });
    expect(found?.steps[1]).toMatchObject({ made: 0 });
    expect(listSequences(world.app, world.userId)).toMatchObject([{ figures, cameTo: 1, steps: 3, days: 5 }]);
  });
});

describe("the finder", () => {
  it("finds prospects, companies, sequences and mailboxes by a part of their name", () => {
    const kinds = (typed: string) => find(world.app, null, typed).map(({ kind }) => kind);
    expect(kinds("loans")).toEqual(["sequence"]);
    expect(kinds("DÓRA museum")).toEqual(["prospect", "company"]);
    expect(kinds("eva@")).toEqual(["prospect"]);
    expect(kinds("m.q@")).toEqual(["mailbox"]);
    expect(kinds("%")).toEqual([]);
  });
});
