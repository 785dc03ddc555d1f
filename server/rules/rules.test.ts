/** Rules as a team uses them: they act once, in order, as their owner, say why, hold where they cannot, and are taken back. */
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import type { Rule } from "../../core/rules/rule.ts";
import { setDemoClock } from "../clock.ts";
import { apply } from "../consequences/apply.ts";
import { formOfList, saveForm, takeEntry } from "../prospects/forms/forms.ts";
import { bulkEdit } from "../prospects/people/bulk-edit.ts";
import { saveProspect } from "../prospects/people/save-prospect.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { addPeople, addSequence, createWorld, rows, TUESDAY, type World } from "../tests/world.ts";
import { followRules } from "./follow-rules.ts";
import {
  allRules,
  callRule,
  rehearseRule,
  removeRule,
  rulesSeenBy,
  runsOf,
  runsWith,
  saveRule,
  switchRule,
  takeBackRun,
} from "./rules.ts";
import { takeCall } from "./take-call.ts";

let world: World;
let listId: number;
let now: number;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  now = TUESDAY;
  listId = addPeople(world, ["ana", "bia", "caio"]);
  world.app.db.exec(`UPDATE users SET role = 'rep' WHERE id = 1;
    INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at) VALUES
      (2, 'rui@q.example', 'Rui Abrantes', '', 'Europe/Lisbon', 'rui-2', 'rep', 0),
      (3, 'helga@q.example', 'Helga Lund', '', 'Europe/Oslo', 'helga-3', 'manager', 0)`);
});
afterEach(() => world.close());

const later = (ms: number) => {
  now += ms;
  setDemoClock(world.app.db, now, false);
};
const NOW = { kind: "now" } as const;
const rule = (when: Rule["when"], ...acts: Rule["steps"][number]["act"][]): Rule => ({
  ...{ when, filter: "", isOnce: false },
  steps: acts.map((act) => ({ after: NOW, act })),
});
function add(name: string, of: Rule, by = 1): number {
  const saved = saveRule(world.app, by, null, { name, rule: of });
  if (!saved.ok) throw new Error(JSON.stringify(saved.errors));
  return saved.value;
}
function on(name: string, of: Rule, by = 1): number {
  const id = add(name, of, by);
  const switched = switchRule(world.app, by, id, true);
  if (!switched.ok) throw new Error(JSON.stringify(switched.errors));
  return id;
}
const follow = () => followRules(world.app);
const stageOf = (id: number) =>
  (rows(world, `SELECT stage FROM prospects WHERE id = ${id}`) as { stage: string }[])[0]?.stage;
const setStage = (id: number, stage: string) => saveProspect(world.app, 1, { id, stage });
const saidOf = (id: number) => runsOf(world.app, id).flatMap(({ acts }) => acts.map(({ said }) => said));

/** A sequence of Marta's that runs, with nobody on it. */
function running(name = "Welcome"): number {
  const id = addSequence(world, addPeople(world, [], name), [], { name, mailboxIds: [] });
  world.app.db.exec(`UPDATE sequences SET state = 'running' WHERE id = ${id}`);
  return id;
}

describe("a rule", () => {
  it("starts a welcome when a form arrives, and stops it at “won”", () => {
    const sequenceId = running();
    saveForm(world.app, 1, { listId });
    on("Welcome", rule({ kind: "form", listId }, { kind: "start", sequenceId }));
    on("Enough", rule({ kind: "stage", to: "won" }, { kind: "stop" }));
    const token = formOfList(world.app, null, listId)?.token ?? "";
    expect(takeEntry(world.app, token, { email: "nova@quay.example", first_name: "Nova" }).ok).toBe(true);
    follow();
    const [journey] = rows(world, "SELECT prospect_id AS id, state FROM journeys") as {
      id: number;
      state: string;
    }[];
    expect(journey?.state).toBe("active");
    setStage(journey?.id ?? 0, "won");
    follow();
    expect(rows(world, "SELECT state FROM journeys")).toEqual([{ state: "stopped" }]);
    expect(runsWith(world.app, journey?.id ?? 0).map(({ ruleName, because }) => [ruleName, because])).toEqual(
      [
        ["Enough", "they came to “Won”"],
        ["Welcome", "they filled in the form of “Museums”"],
      ],
    );
  });

  it("acts only for whom its filter fits, and once for each person where it says so", () => {
    saveProspect(world.app, 1, { id: 1, city: "Faro" });
    const filter = JSON.stringify({
      match: "all",
      groups: [{ match: "all", conditions: [{ field: "city", op: "is", value: "faro" }] }],
    });
    const each = on(
      "Each time",
      rule(
        { kind: "stage", to: "contacted" },
        { kind: "notify", userId: null, text: "{{first_name}} again" },
      ),
    );
    const once = on("Once", {
      ...rule({ kind: "stage", to: "contacted" }, { kind: "stop" }),
      isOnce: true,
      filter,
    });
    for (let round = 0; round < 3; round++)
      for (const id of [1, 2]) {
        setStage(id, "contacted");
        follow();
        setStage(id, "in_conversation");
        follow();
      }
    expect(runsOf(world.app, each)).toHaveLength(6);
    expect(runsOf(world.app, once).map(({ prospectId }) => prospectId)).toEqual([1]);
    expect(new Set(saidOf(each))).toEqual(
      new Set(["told Marta Quintela: ana again", "told Marta Quintela: bia again"]),
    );
  });

  it("does its acts in order, each when it is due, where the person is", () => {
    saveProspect(world.app, 1, { id: 1, timeZone: "Asia/Tokyo" });
    const id = on("Slowly", {
      ...rule({ kind: "stage", to: "won" }),
      steps: [
        { after: NOW, act: { kind: "set", field: "custom:seller", value: "Rui" } },
        {
          after: { kind: "wait", amount: 90, unit: "minutes" },
          act: { kind: "list", listId: addPeople(world, [], "Customers"), isOn: true },
        },
        {
          after: { kind: "at", time: "09:00" },
          act: { kind: "remind", what: "call", text: "Thank {{first_name}}", inDays: 0 },
        },
      ],
    });
    setStage(1, "won");
    const next = follow();
    expect(saidOf(id)).toEqual(["changed", "", ""]);
    expect(next).toBe(now + 90 * MINUTE);
    later(90 * MINUTE);
    expect(follow()).toBe(Date.parse("2026-06-10T09:00:00+09:00"));
    expect(saidOf(id)).toEqual(["changed", "put on “Customers”", ""]);
    later(20 * HOUR);
    expect(follow()).toBeNull();
    expect(saidOf(id)[2]).toBe("put on Today: Thank ana");
    expect(rows(world, "SELECT text FROM reminders")).toEqual([{ text: "Call: Thank ana" }]);
    expect(runsOf(world.app, id)).toMatchObject([{ state: "done" }]);
  });

  it("acts once for a happening, however often it is looked at, and not for what was before it was switched on", () => {
    setStage(1, "won");
    const id = on("Won", rule({ kind: "stage", to: "won" }, { kind: "notify", userId: 2, text: "Won" }));
    follow();
    expect(runsOf(world.app, id)).toEqual([]);
    setStage(2, "won");
    world.app.db.exec("SAVEPOINT look");
    follow();
    world.app.db.exec("ROLLBACK TO look; RELEASE look");
    follow();
    // As after a death behind the act and before the mark.
    world.app.db.exec("UPDATE rules SET seen_happening = 0");
    follow();
    expect(runsOf(world.app, id)).toHaveLength(1);
    expect(rows(world, "SELECT count(*) AS n FROM notices WHERE user_id = 2")).toEqual([{ n: 1 }]);
  });

  it("gives people to colleagues by turns, and leaves out who is gone", () => {
    const id = on(
      "Turns",
      rule({ kind: "stage", to: "in_conversation" }, { kind: "owner", userIds: [1, 2, 3] }),
    );
    for (const each of [1, 2, 3]) {
      setStage(each, "in_conversation");
      follow();
    }
    expect(rows(world, "SELECT owner_id AS o FROM prospects ORDER BY id")).toEqual([
      { o: 1 },
      { o: 2 },
      { o: 3 },
    ]);
    expect(saidOf(id)).toEqual(["given to Helga Lund", "given to Rui Abrantes", "given to Marta Quintela"]);
  });

  it("does nothing while a restored copy does not know yet who answered since, and then what is left to do", () => {
    const id = on("Won", rule({ kind: "stage", to: "won" }, { kind: "notify", userId: null, text: "x" }));
    setStage(1, "won");
    world.app.db.exec("INSERT INTO recoveries (reason, since, until) VALUES ('restored', 0, 1)");
    expect(follow()).toBeNull();
    expect(runsOf(world.app, id)).toEqual([]);
    world.app.db.exec("UPDATE recoveries SET ended_at = 1");
    follow();
    expect(runsOf(world.app, id)).toHaveLength(1);
  });

  it("sees lists as its owner does: one that a colleague keeps to themselves has nobody on it", () => {
    world.app.db.exec(`UPDATE lists SET owner_id = 2, sharing = 'mine' WHERE id = ${listId}`);
    const filter = JSON.stringify({
      match: "all",
      groups: [{ match: "all", conditions: [{ field: "list", op: "is", value: String(listId) }] }],
    });
    const of = { ...rule({ kind: "stage", to: "won" }, { kind: "notify", userId: null, text: "x" }), filter };
    const [mine, managers] = [on("Mine", of), on("The manager's", of, 3)];
    setStage(1, "won");
    follow();
    expect([mine, managers].map((id) => runsOf(world.app, id).length)).toEqual([0, 1]);
    later(HOUR);
    expect([1, 3].map((by) => rehearseRule(world.app, by, of))).toMatchObject([
      { value: { times: 0 } },
      { value: { times: 1 } },
    ]);
  });

  it("acts as its owner: what they may not, it does not, and says so", () => {
    world.app.db.exec("UPDATE prospects SET owner_id = 2 WHERE id = 1");
    const id = on("Mine", rule({ kind: "stage", to: "won" }, { kind: "stop" }));
    world.app.db.exec(
      `INSERT INTO sequences (id, name, user_id, time_zone, state, created_at) VALUES (9, 'Ruis', 2, 'UTC', 'running', 0)`,
    );
    world.app.db.exec("UPDATE prospects SET stage = 'won' WHERE id = 1");
    follow();
    expect(runsOf(world.app, id)[0]?.acts).toMatchObject([
      { state: "refused", said: expect.stringContaining("Rui Abrantes") },
    ]);
    expect(
      saveRule(world.app, 1, null, {
        name: "Theirs",
        rule: rule({ kind: "booked" }, { kind: "start", sequenceId: 9 }),
      }),
    ).toMatchObject({ code: "not_yours" });
    for (const no of [
      saveRule(world.app, 2, id, { name: "X", rule: rule({ kind: "booked" }, { kind: "stop" }) }),
      switchRule(world.app, 2, id, false),
      removeRule(world.app, 2, id),
      takeBackRun(world.app, { ...world.user, id: 2 }, runsOf(world.app, id)[0]?.id ?? 0),
    ])
      expect(no).toMatchObject({ ok: false, code: "not_yours" });
  });
});

describe("a rule that cannot act", () => {
  it("holds with a word to its owner, keeps what it had in mind, and goes on once it is switched on again", () => {
    const sequenceId = running();
    const id = on("Welcome", rule({ kind: "stage", to: "contacted" }, { kind: "start", sequenceId }));
    world.app.db.exec(`UPDATE sequences SET user_id = 2 WHERE id = ${sequenceId}`);
    setStage(1, "contacted");
    follow();
    expect(allRules(world.app)).toMatchObject([
      { state: "held", heldBecause: expect.stringContaining("Rui Abrantes") },
    ]);
    expect(rows(world, "SELECT user_id AS who, path FROM notices")).toEqual([
      { who: 1, path: `/connections/rules/${id}` },
    ]);
    expect(switchRule(world.app, 1, id, true)).toMatchObject({ ok: false });
    world.app.db.exec(`UPDATE sequences SET user_id = 1 WHERE id = ${sequenceId}`);
    expect(switchRule(world.app, 1, id, true).ok).toBe(true);
    follow();
    expect(rows(world, "SELECT prospect_id AS id FROM journeys")).toEqual([{ id: 1 }]);
  });

  it("stays with what is about one person: the others are started", () => {
    const sequenceId = running();
    const id = on("Welcome", rule({ kind: "stage", to: "contacted" }, { kind: "start", sequenceId }));
    bulkEdit(world.app, world.user, { ids: [1], action: { kind: "block" } });
    for (const each of [1, 2]) setStage(each, "contacted");
    follow();
    expect(runsOf(world.app, id).map(({ prospectId, acts }) => [prospectId, acts[0]?.state])).toEqual([
      [2, "done"],
      [1, "refused"],
    ]);
    expect(allRules(world.app)).toMatchObject([{ state: "on" }]);
  });
});

describe("rules that set each other off", () => {
  const back = () => rule({ kind: "stage", to: "won" }, { kind: "stage", to: "contacted" });
  const forth = () => rule({ kind: "stage", to: "contacted" }, { kind: "stage", to: "won" });

  it("are found when the last of them is switched on, unless one acts once for each person", () => {
    on("Back", back());
    const id = add("Forth", forth());
    expect(switchRule(world.app, 1, id, true)).toMatchObject({
      ok: false,
      errors: { form: expect.stringMatching(/“Forth”, then “Back”, then “Forth”/) },
    });
    saveRule(world.app, 1, id, { name: "Forth", rule: { ...forth(), isOnce: true } });
    expect(switchRule(world.app, 1, id, true).ok).toBe(true);
    setStage(1, "won");
    for (let round = 0; round < 10; round++) follow();
    expect(rows(world, "SELECT count(*) AS n FROM rule_runs WHERE state != 'stopped'")).toEqual([{ n: 2 }]);
    // One that sets off itself is a circle as well.
    const own = add(
      "Own",
      rule({ kind: "field", field: "city", to: "" }, { kind: "set", field: "city", value: "Faro" }),
    );
    expect(switchRule(world.app, 1, own, true)).toMatchObject({ ok: false });
  });

  it("are stopped where they were not found: by a text of a colleague's that sets a field", () => {
    const [one, two] = [add("Back", back()), add("Forth", forth())];
    world.app.db.exec("UPDATE rules SET state = 'on'");
    world.app.db.exec("INSERT OR IGNORE INTO listeners VALUES ('prospect.stage_changed')");
    setStage(1, "won");
    for (let round = 0; round < 20; round++) follow();
    const runs = [...runsOf(world.app, one), ...runsOf(world.app, two)];
    expect(runs.length).toBeLessThanOrEqual(4);
    expect(runs.filter(({ state }) => state === "stopped").length).toBeGreaterThan(0);
    expect(stageOf(1)).toBeDefined();
  });
});

it("what a rule did is taken back as a whole, for a day", () => {
  const sequenceId = running();
  const customers = addPeople(world, [], "Customers");
  const id = on(
    "Won",
    rule(
      { kind: "stage", to: "won" },
      { kind: "set", field: "city", value: "Porto" },
      { kind: "list", listId: customers, isOn: true },
      { kind: "start", sequenceId },
      { kind: "remind", what: "errand", text: "Send the contract", inDays: 1 },
    ),
  );
  setStage(1, "won");
  setStage(2, "won");
  follow();
  const [of2, of1] = runsOf(world.app, id);
  expect(of1?.acts.map(({ state }) => state)).toEqual(["done", "done", "done", "done"]);
  expect(takeBackRun(world.app, world.user, of1?.id ?? 0)).toMatchObject({ ok: true, value: 4 });
  expect(rows(world, "SELECT city FROM prospects WHERE id IN (1, 2) ORDER BY id")).toEqual([
    { city: "" },
    { city: "Porto" },
  ]);
  expect(rows(world, `SELECT prospect_id AS id FROM list_prospects WHERE list_id = ${customers}`)).toEqual([
    { id: 2 },
  ]);
  expect(rows(world, "SELECT prospect_id AS id, state FROM journeys ORDER BY 1")).toEqual([
    { id: 1, state: "stopped" },
    { id: 2, state: "active" },
  ]);
  expect(rows(world, "SELECT prospect_id AS id FROM reminders WHERE ended_at IS NULL")).toEqual([{ id: 2 }]);
  expect(takeBackRun(world.app, world.user, of1?.id ?? 0)).toMatchObject({ ok: false });
  later(DAY);
  expect(takeBackRun(world.app, world.user, of2?.id ?? 0)).toMatchObject({
    ok: false,
    errors: { form: expect.stringContaining("longer than a day") },
  });
});

describe("before it is switched on", () => {
  it("says how often it would have acted in the last 30 days, and on whom: as often as it then does", () => {
    const would = rule({ kind: "stage", to: "contacted" }, { kind: "notify", userId: 2, text: "x" });
    const id = on("Same", would);
    for (const each of [1, 2, 3]) setStage(each, "contacted");
    setStage(1, "won");
    setStage(1, "contacted");
    follow();
    later(HOUR);
    const rehearsed = rehearseRule(world.app, 1, would);
    expect(rehearsed).toMatchObject({ ok: true, value: { times: runsOf(world.app, id).length, people: 3 } });
    expect(rehearseRule(world.app, 1, { ...would, isOnce: true })).toMatchObject({
      value: { times: 3, people: 3 },
    });
    const none = JSON.stringify({
      match: "all",
      groups: [{ match: "all", conditions: [{ field: "city", op: "is", value: "nowhere" }] }],
    });
    expect(rehearseRule(world.app, 1, { ...would, filter: none })).toMatchObject({
      value: { times: 0, named: [] },
    });
    later(31 * DAY);
    expect(rehearseRule(world.app, 1, would)).toMatchObject({ value: { times: 0 } });
  });

  it("for every kind of beginning", () => {
    const whens: Rule["when"][] = [
      ...([
        { kind: "form", listId },
        { kind: "listed", listId },
        { kind: "field", field: "city", to: "" },
        { kind: "owner" },
      ] as const),
      ...([
        { kind: "label", label: "interested" },
        { kind: "answered" },
        { kind: "opened", times: 3 },
        { kind: "clicked", contains: "price" },
      ] as const),
      ...([
        { kind: "booked" },
        { kind: "missed" },
        { kind: "silent", days: 3 },
        { kind: "date", field: "custom:renewal", days: 14 },
      ] as const),
    ];
    for (const when of whens)
      expect(rehearseRule(world.app, 1, rule(when, { kind: "stop" })), when.kind).toMatchObject({
        ok: true,
        value: { times: expect.any(Number) },
      });
    expect(
      rehearseRule(world.app, 1, rule({ kind: "called", list: "", mapping: {} }, { kind: "stop" })),
    ).toMatchObject({ value: { times: null } });
  });
});

describe("time", () => {
  it("sets a rule off so many days before a date, once, though nobody looks for days", () => {
    saveProspect(world.app, 1, { id: 1, "custom:renewal": "2026-06-25" });
    saveProspect(world.app, 1, { id: 2, "custom:renewal": "2026-07-25 (yearly)" });
    saveProspect(world.app, 1, { id: 3, "custom:renewal": "soon" });
    const id = on(
      "Renewal",
      rule(
        { kind: "date", field: "custom:renewal", days: 14 },
        { kind: "remind", what: "call", text: "Renewal", inDays: 0 },
      ),
    );
    follow();
    expect(runsOf(world.app, id)).toEqual([]);
    later(5 * DAY);
    follow();
    later(HOUR);
    follow();
    expect(runsOf(world.app, id).map(({ prospectId }) => prospectId)).toEqual([1]);
    later(30 * DAY);
    follow();
    expect(runsOf(world.app, id).map(({ prospectId }) => prospectId)).toEqual([2, 1]);
  });

  it("sets one off for who was silent so long after the last email, and for nobody who answered", () => {
    const id = on(
      "Silent",
      rule({ kind: "silent", days: 3 }, { kind: "remind", what: "call", text: "Ring them", inDays: 0 }),
    );
    world.app.db.exec(`INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port, imap_security,
      username, password_sealed, daily_limit, gap_least, gap_most, created_at) VALUES (1, 1, 'm@q.example', 'M', 'h', 9, 'none', 'h', 9, 'none', 'u', '', 30, 9, 14, 0)`);
    for (const [nth, person] of [1, 2, 3].entries())
      world.app.db.exec(
        `INSERT INTO touches (kind, prospect_id, mailbox_id, recipient, state, message_id, sent_at) VALUES ('answer', ${person}, 1, 'x', 'sent', '<${nth}@q>', ${TUESDAY + 1})`,
      );
    world.app.db.exec(`INSERT INTO events (at, kind, prospect_id) VALUES (${TUESDAY + DAY}, 'replied', 2)`);
    world.app.db.exec(
      `INSERT INTO touches (kind, prospect_id, mailbox_id, recipient, state, message_id, sent_at) VALUES ('answer', 3, 1, 'x', 'sent', '<9@q>', ${TUESDAY + 2 * DAY})`,
    );
    later(3 * DAY + HOUR);
    follow();
    expect(runsOf(world.app, id).map(({ prospectId }) => prospectId)).toEqual([1]);
    later(3 * DAY);
    follow();
    expect(runsOf(world.app, id).map(({ prospectId }) => prospectId)).toEqual([3, 1]);
  });

  it("counts the opens of one email, and knows the link that was followed", () => {
    const opened = on(
      "Opened",
      rule({ kind: "opened", times: 3 }, { kind: "notify", userId: null, text: "hot" }),
    );
    const clicked = on(
      "Price",
      rule({ kind: "clicked", contains: "/price" }, { kind: "notify", userId: null, text: "price" }),
    );
    startSequence(world.app, 1, addSequence(world, listId, [], { mailboxIds: [] }));
    world.app.db.exec(`INSERT INTO journeys (id, sequence_id, prospect_id, due_at, started_at) VALUES (50, 1, 1, 0, 0);
      INSERT INTO touches (id, kind, journey_id, step_id, prospect_id, recipient, state) VALUES (70, 'errand', 50, 'x', 1, '', 'done'), (71, 'errand', 50, 'y', 1, '', 'done')`);
    const load = (touchId: number) =>
      apply(world.app.db, { kind: "opened" }, { at: now, prospectId: 1, touchId });
    for (const touch of [70, 71, 70]) load(touch);
    follow();
    expect(runsOf(world.app, opened)).toHaveLength(0);
    load(70);
    follow();
    load(70);
    follow();
    expect(runsOf(world.app, opened)).toHaveLength(1);
    for (const url of ["https://q.example/about", "https://q.example/PRICEs"])
      apply(world.app.db, { kind: "clicked", url }, { at: now, prospectId: 1 });
    follow();
    expect(runsOf(world.app, clicked)).toHaveLength(1);
  });
});

describe("another program", () => {
  const called = () =>
    on(
      "Trial began",
      rule(
        {
          kind: "called",
          list: "Trials",
          mapping: { email: "user.email", firstName: "user.name.0", "custom:plan": "plan" },
        },
        { kind: "stage", to: "in_conversation" },
      ),
    );

  it("calls a rule at its address with JSON of its own, for somebody known or new", () => {
    const id = called();
    const { address } = allRules(world.app).find((each) => each.id === id) ?? {};
    const call = (body: unknown) => takeCall(world.app, address ?? "", body);
    const fresh = call({
      user: { email: "Zoe@trial.example", name: ["Zoe", "Z"] },
      plan: "gold",
      __proto__: { x: 1 },
    });
    expect(fresh).toMatchObject({ ok: true });
    expect(call({ user: { email: "ana@ana-museum.example" }, plan: "tin" })).toMatchObject({
      value: { prospectId: 1 },
    });
    follow();
    expect(
      rows(
        world,
        "SELECT email, first_name AS f, stage, custom FROM prospects WHERE stage = 'in_conversation' ORDER BY id",
      ),
    ).toEqual([
      { email: "ana@ana-museum.example", f: "ana", stage: "in_conversation", custom: '{"plan":"tin"}' },
      { email: "zoe@trial.example", f: "Zoe", stage: "in_conversation", custom: '{"plan":"gold"}' },
    ]);
    for (const nonsense of [null, "text", [], { user: null }, { user: { email: "nobody" } }, {}])
      expect(call(nonsense), JSON.stringify(nonsense)).toMatchObject({ ok: false });
    expect(takeCall(world.app, "nothing", {})).toMatchObject({ ok: false, code: "not_found" });
    switchRule(world.app, 1, id, false);
    expect(call({ user: { email: "late@trial.example" } })).toMatchObject({ ok: false });
  });

  it("calls one by the API for somebody, if its key's user may", () => {
    const id = called();
    expect(callRule(world.app, 2, id, 1)).toMatchObject({ code: "not_yours" });
    expect(callRule(world.app, 1, id, 1)).toMatchObject({ ok: true });
    expect(callRule(world.app, 1, id, 999)).toMatchObject({ ok: false });
    follow();
    expect(stageOf(1)).toBe("in_conversation");
  });

  it("finds the address only with who may change the rule", () => {
    const id = called();
    const address = (by: number) =>
      rulesSeenBy(world.app, by).find((each) => each.id === id)?.address ?? null;
    expect([address(1), address(3), address(2)]).toEqual([expect.any(String), expect.any(String), null]);
  });
});
