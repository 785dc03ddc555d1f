/** What Today asks for: each kind of thing, whom it waits for, and what makes it go again. */
import { beforeAll, describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import { createUser } from "../accounts/create-user.ts";
import type { User } from "../accounts/session.ts";
import type { AppTx } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import {
  addJourney,
  addPeople,
  addSequence,
  addUnasked,
  createWorld,
  inCopyOf,
  MARTA,
  PASSWORD,
  TUESDAY,
} from "../tests/world.ts";
import { callSheet } from "./call-sheet.ts";
import { todoList } from "./todo-list.ts";

let image: Buffer;
const RUI: User = { ...MARTA, id: 2, name: "Rui Abrantes" };
const HELGA: User = { ...MARTA, id: 3, name: "Helga Lund", role: "manager" };

/** Marta's people ana (on "Loans"), bia and caio; two colleagues; nothing to do. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  for (const name of ["rui", "helga"])
    await createUser(world.app, {
      name,
      email: `${name}@quillwater.example`,
      password: PASSWORD,
      zone: "Europe/Lisbon",
    });
  const sequenceId = addSequence(world, addPeople(world, ["ana", "bia", "caio"]), [addUnasked(world)]);
  world.app.db.exec("UPDATE prospects SET owner_id = 1; UPDATE sequences SET state = 'running'");
  addJourney(world, sequenceId, 1);
  setDemoClock(world.app.db, TUESDAY, false);
  image = world.app.db.serialize();
  await world.close();
});

const inCopy = <T>(changes: string[], work: (app: AppTx) => T): T =>
  inCopyOf(image, (app) => {
    for (const change of changes) app.db.exec(change);
    return work(app);
  });
const keys = (user: User, ...changes: string[]) =>
  inCopy(changes, (app) => todoList(app, user).items.map(({ key }) => key));

const TOMORROW = TUESDAY + DAY;
const touch = (state: string, kind = "call", dueAt = TUESDAY) =>
  `INSERT INTO touches (id, kind, journey_id, step_id, prospect_id, user_id, state, at, due_at, body)
   VALUES (9, '${kind}', 1, 'one', 1, 1, '${state}', ${dueAt}, ${dueAt}, 'Ask after the loan')`;
const reminder = (dueAt = TUESDAY, kind = "reminder", prospectId = 2) =>
  `INSERT INTO reminders (user_id, prospect_id, kind, text, due_at, at) VALUES (1, ${prospectId}, '${kind}', 'Ring', ${dueAt}, 0)`;
const meeting = (startsAt: number, prospectId: number | null = 2) =>
  `INSERT INTO meetings (token, user_id, prospect_id, name, email, starts_at, ends_at, visitor_zone, created_at)
   VALUES ('m1', 1, ${prospectId}, 'Bia', 'bia@bia-museum.example', ${startsAt}, ${startsAt + HOUR / 2}, 'UTC', 0)`;
const reply = (prospectId: number, kind = "person", reading: object | null = null) =>
  `INSERT INTO replies (mailbox_id, message_id, prospect_id, kind, from_address, from_name, subject, text, at, reading)
   VALUES (1, '<r${prospectId}>', ${prospectId}, '${kind}', 'x@x.example', 'X', 'Re', 'Text', ${TUESDAY - HOUR},
     ${reading ? `'${JSON.stringify(reading)}'` : "NULL"})`;
const event = (kind: string, prospectId = 2, at = TUESDAY - HOUR) =>
  `INSERT INTO events (at, kind, prospect_id) VALUES (${at}, '${kind}', ${prospectId})`;
const hold = (reason: string, detail: string | null = null) =>
  `UPDATE journeys SET wait_reason = '${reason}', wait_detail = ${detail === null ? "NULL" : `'${detail}'`}`;
const TALKS = "UPDATE prospects SET stage = 'in_conversation' WHERE id = 2";
const COMPANY_HELD = `INSERT INTO holds (scope, scope_id, reason, since, cause_prospect_id, detail)
  SELECT 'company', company_id, 'colleague_replied', 0, 2, 'Bia' FROM prospects WHERE id = 1`;
const RESTING = "UPDATE mailboxes SET state = 'resting'";

describe("waits for whoever it is theirs, and for a manager", () => {
  it.each<[string, string, string, ...string[]]>([
    ["a call", "touch:9", touch("open")],
    ["a social touch", "touch:9", touch("open", "invitation")],
    ["an errand", "touch:9", touch("open", "errand")],
    ["a touch of yesterday", "touch:9", touch("open", "call", TUESDAY - DAY)],
    ["a reminder", "reminder:1", reminder()],
    ["drafts", "drafts", touch("draft", "approved_email")],
    ["a call that was booked", "meeting:m1", meeting(TUESDAY + 2 * HOUR)],
    ["one that is over without a word on it", "meeting:m1", meeting(TUESDAY - DAY)],
    ["one with a stranger", "meeting:m1", meeting(TUESDAY + 2 * HOUR, null)],
    ["who clicked", "warm:2", event("clicked")],
    ["who opened three times", "warm:2", event("opened"), event("opened"), event("opened")],
    ["an empty field", "hold:1:merge_field_empty:city", hold("merge_field_empty", "city")],
    ["an address that nobody knows", "hold:1:no_address:null", hold("no_address")],
    ["an email that may have left", "hold:1:undecided:null", hold("undecided")],
    ["a mailbox that rests", "mailbox:1", RESTING],
    ["a mailbox that cannot be read", "mailbox:1", "UPDATE mailboxes SET trouble = 'no answer'"],
    ["a mailbox that cannot send", "mailbox:1", "UPDATE mailboxes SET smtp_trouble = 'refused'"],
    ["somebody with whom nothing is planned", "next-step", TALKS],
    ["letters", "replies", reply(2)],
  ])("%s", (_, key, ...changes) => {
    expect(keys(MARTA, ...changes)).toContain(key);
    expect(keys(RUI, ...changes)).not.toContain(key);
    // A manager's day is theirs, until they look at a colleague's or at everybody's.
    expect(keys(HELGA, ...changes)).not.toContain(key);
    for (const looksAt of ["all", MARTA.id] as const)
      expect(keys({ ...HELGA, looksAt }, ...changes)).toContain(key);
  });

  it("nothing, where there is nothing", () => {
    for (const user of [MARTA, RUI, HELGA]) expect(keys(user)).toEqual([]);
  });
});

describe("goes again", () => {
  it.each<[string, string, ...string[]]>([
    ["a touch of tomorrow", "touch:9", touch("open", "call", TOMORROW)],
    ["a touch that is done", "touch:9", touch("done")],
    ["of a paused sequence", "touch:9", touch("open"), "UPDATE sequences SET state = 'paused'"],
    ["of a deleted sequence", "touch:9", touch("open"), "UPDATE sequences SET deleted_at = 1"],
    ["a reminder of tomorrow", "reminder:1", reminder(TOMORROW)],
    ["a reminder that ended", "reminder:1", reminder(), "UPDATE reminders SET ended_at = 1, how = 'done'"],
    ["a draft of a paused sequence", "drafts", touch("draft"), "UPDATE sequences SET state = 'paused'"],
    ["a draft that was said yes to", "drafts", touch("approved", "approved_email")],
    ["a call of tomorrow afternoon", "meeting:m1", meeting(TOMORROW + 5 * HOUR)],
    ["a cancelled call", "meeting:m1", meeting(TUESDAY + HOUR), "UPDATE meetings SET cancelled_at = 1"],
    ["a call that took place", "meeting:m1", meeting(TUESDAY - DAY), "UPDATE meetings SET held_at = 1"],
    ["a call that they missed", "meeting:m1", meeting(TUESDAY - DAY), "UPDATE meetings SET missed_at = 1"],
    ["a call of two weeks ago", "meeting:m1", meeting(TUESDAY - 15 * DAY)],
    ["who opened twice", "warm:2", event("opened"), event("opened")],
    ["who clicked two days ago", "warm:2", event("clicked", 2, TUESDAY - 2 * DAY)],
    ["who clicked and answered", "warm:2", event("clicked"), event("replied")],
    ["who clicked and booked", "warm:2", event("clicked"), event("booked")],
    ["who clicked and opted out", "warm:2", event("clicked"), event("opted_out")],
    ["who clicked and was rung up", "warm:2", event("clicked"), event("touch_done")],
    ["who clicked and has a touch due", "warm:1", event("clicked", 1), touch("open")],
    ["who clicked and is remembered", "warm:2", event("clicked"), reminder(TOMORROW)],
    ["who clicked and was lost", "warm:2", event("clicked"), "UPDATE prospects SET stage = 'lost'"],
    ["who clicked and was erased", "warm:2", event("clicked"), "UPDATE prospects SET erased_at = 1"],
    ["a wait that needs nobody", "hold:1:wait_days:null", hold("wait_days")],
    [
      "a hold of somebody stopped",
      "hold:1:no_address:null",
      hold("no_address"),
      "UPDATE journeys SET state = 'stopped'",
    ],
    ["a mailbox that is paused by hand", "mailbox:1", "UPDATE mailboxes SET state = 'paused'"],
    ["a mailbox that was removed", "mailbox:1", RESTING, "UPDATE mailboxes SET removed_at = 1"],
    ["a letter that was read", "replies", reply(2), "UPDATE replies SET read_at = 1"],
    ["a letter that is no answer", "replies", reply(2), "UPDATE replies SET certainty = 'denied'"],
    ["an absence", "replies", reply(2, "automatic")],
    ["a letter of nobody known", "replies", reply(2), "UPDATE replies SET prospect_id = NULL"],
  ])("%s", (_, key, ...changes) => {
    expect(keys(MARTA, ...changes)).not.toContain(key);
  });

  it.each<[string, ...string[]]>([
    ["a sequence", "UPDATE journeys SET prospect_id = 2"],
    ["a reminder", reminder(TUESDAY + 9 * DAY)],
    ["a call ahead", meeting(TUESDAY + 9 * DAY)],
    ["a call of which nobody has said how it went", meeting(TUESDAY - DAY)],
    ["an answer on its way", answered("queued", TUESDAY)],
    ["an answer of yesterday", answered("sent", TUESDAY - DAY)],
    ["an unread letter", reply(2)],
    ["having gone", "UPDATE prospects SET merged_into = 1 WHERE id = 2"],
  ])("the question what comes next, by %s", (_, ...changes) => {
    expect(keys(MARTA, TALKS)).toEqual(["next-step"]);
    expect(keys(MARTA, TALKS, ...changes)).not.toContain("next-step");
  });

  it("but not by what is over", () => {
    const over = [
      "UPDATE journeys SET prospect_id = 2, state = 'stopped'",
      answered("sent", TUESDAY - 4 * DAY),
      `${reply(2)}; UPDATE replies SET read_at = 1`,
      `${meeting(TUESDAY + 9 * DAY)}; UPDATE meetings SET cancelled_at = 1`,
    ];
    for (const change of over) expect(keys(MARTA, TALKS, change)).toEqual(["next-step"]);
  });
});

function answered(state: string, at: number): string {
  return `INSERT INTO touches (kind, prospect_id, user_id, mailbox_id, message_id, state, at, due_at, sent_at)
    VALUES ('answer', 2, 1, 1, '<a>', '${state}', ${at}, ${at}, ${state === "sent" ? at : "NULL"})`;
}

describe("says of it what there is to say", () => {
  const item = (user: User, ...changes: string[]) => inCopy(changes, (app) => todoList(app, user).items[0]);

  it("a call: who, of which step, and what to ask", () => {
    expect(item(MARTA, touch("open"))).toMatchObject({
      kind: "call",
      person: { id: 1, name: "ana", company: "ana museum" },
      stepName: "Opening",
      sequenceName: "Loans",
      text: "Ask after the loan",
    });
  });

  it("drafts: how many, and how many wait behind them", () => {
    expect(item(MARTA, touch("draft"), hold("first_ones"))).toMatchObject({
      kind: "drafts",
      count: 1,
      behind: 1,
    });
  });

  it("letters: what they seem to say, and how long the oldest has waited", () => {
    const changes = [
      reply(1, "person", { label: "interested", sure: true }),
      reply(2, "person", { label: "interested", sure: false }),
      `UPDATE replies SET at = ${TUESDAY - 3 * HOUR} WHERE prospect_id = 2`,
    ];
    expect(item(MARTA, ...changes)).toMatchObject({
      count: 2,
      readings: [
        { label: "unsure", count: 1 },
        { label: "interested", count: 1 },
      ],
      place: {
        reasons: [
          { because: "interested", number: 1 },
          { because: "waiting", hours: 3 },
        ],
      },
    });
  });

  it("a field: which, whose, and how many it holds", () => {
    const more = "INSERT INTO journeys (sequence_id, prospect_id, due_at, started_at) VALUES (1, 2, 0, 0)";
    expect(item(MARTA, more, hold("merge_field_empty", "city"))).toMatchObject({
      kind: "field",
      field: "city",
      people: 2,
      first: { id: 1 },
    });
  });

  it("a company: who it is held for, and how many of it wait", () => {
    expect(item(MARTA, COMPANY_HELD)).toMatchObject({
      kind: "company",
      company: { company: "ana museum", who: "Bia", waiting: 1 },
    });
    expect(keys(RUI, COMPANY_HELD)).toEqual([]);
    expect(keys(MARTA, COMPANY_HELD, "UPDATE journeys SET state = 'finished'")).toEqual([]);
  });

  it("a mailbox: why, and how many wait for it", () => {
    expect(
      item(
        MARTA,
        RESTING,
        "UPDATE mailboxes SET trouble = 'no answer'; UPDATE journeys SET mailbox_id = 1, wait_reason = 'mailbox_resting'",
      ),
    ).toMatchObject({ state: "resting", trouble: "no answer", people: 1 });
  });
});

describe("the list", () => {
  it("begins with a call within the hour, then who is interested", () => {
    const changes = [
      reply(1, "person", { label: "interested", sure: true }),
      meeting(TUESDAY + 30 * MINUTE),
      touch("open"),
      reminder(TUESDAY, "reminder", 3),
    ];
    expect(keys(MARTA, ...changes)).toEqual(["meeting:m1", "replies", "touch:9", "reminder:1"]);
  });

  it("shows who did most of those who looked, six at most", () => {
    const eight = `INSERT INTO prospects (id, email, owner_id, created_at)
      SELECT value, 'p' || value || '@house.example', 1, 0 FROM json_each('[11,12,13,14,15,16,17,18]')`;
    const clicks = [11, 12, 13, 14, 15, 16, 17, 18].map((id) => event("clicked", id, TUESDAY - id * MINUTE));
    const shown = keys(MARTA, eight, ...clicks, event("clicked", 18));
    expect(shown).toHaveLength(6);
    expect(shown).toContain("warm:18");
    expect(shown).not.toContain("warm:17");
  });

  it("is sixty long, and counts the rest", () => {
    inCopy(
      Array.from({ length: 65 }, () => reminder()),
      (app) => {
        const { items, more } = todoList(app, MARTA);
        expect([items.length, more]).toEqual([60, 5]);
      },
    );
  });
});

describe("beside a call", () => {
  it("stand the person, the last notes, what happened, and the letters to and fro, the newest first", () => {
    const changes = [
      "INSERT INTO notes (prospect_id, user_id, text, at) VALUES (2, 1, 'Met in Porto', 1), (2, 1, 'Rang', 2)",
      reply(2),
      answered("sent", TUESDAY),
      event("opened"),
      event("journey_started"),
    ];
    inCopy(changes, (app) => {
      const sheet = callSheet(app, 2);
      expect(sheet).toMatchObject({ person: { name: "bia" }, owner: "Marta Quintela" });
      expect(sheet?.notes.map(({ text, by }) => [text, by])).toEqual([
        ["Rang", "Marta Quintela"],
        ["Met in Porto", "Marta Quintela"],
      ]);
      expect(sheet?.events.map(({ kind }) => kind)).toEqual(["opened"]);
      expect(sheet?.letters.map(({ from }) => from)).toEqual(["us", "them"]);
      expect(sheet?.bestAt).toMatch(/^\d\d:\d\d$/);
    });
  });

  it("stands nothing of somebody who is gone, and no hour where nobody knows theirs", () => {
    inCopy(["UPDATE prospects SET time_zone = NULL"], (app) =>
      expect(callSheet(app, 2)).toMatchObject({ bestAt: null }),
    );
    inCopy(["UPDATE prospects SET erased_at = 1"], (app) => expect(callSheet(app, 2)).toBeNull());
  });
});
