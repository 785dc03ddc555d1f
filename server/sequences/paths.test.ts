/** Journeys over several channels, walked by the engine's own functions against a real database; no mail server is needed. */
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import { effectsOf } from "../../core/replies/label-effects.ts";
import type { Path, RepStep } from "../../core/sequence/path.ts";
import { setDemoClock } from "../clock.ts";
import { apply } from "../consequences/apply.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import { keepFile } from "../mail/files.ts";
import { createTemplate } from "../pages/templates.ts";
import { saveProspect } from "../prospects/people/save-prospect.ts";
import { planAhead, planAndRecord } from "../sending/plan.ts";
import { addPeople, addSequence, createWorld, email, rows, TUESDAY, type World } from "../tests/world.ts";
import { approveDrafts, editDraft } from "../today/drafts.ts";
import { endTouch } from "../today/end-touch.ts";
import { markAccepted } from "../today/mark-accepted.ts";
import { draftsToApprove, heldCompanies, ownTouches } from "../today/own-touches.ts";
import { putOff } from "../today/put-off.ts";
import { releaseCompany } from "../today/release-company.ts";
import { draftsWaiting } from "../today/what-waits.ts";
import { addToSequence } from "./add-people.ts";
import { approveBefore, sendTest, writeOwnText } from "./before-start.ts";
import {
  archiveSequence,
  createFrom,
  deleteSequence,
  duplicateSequence,
  exportSequence,
  importSequence,
  putOnShelf,
  restoreSequence,
  startingPoints,
  takeOffShelf,
} from "./keep-sequences.ts";
import { listSequences } from "./list-sequences.ts";
import { moveConsequences } from "./move-journeys.ts";
import { detachFollowUps, openOneEmail, reviseOneEmail, writeOneEmail } from "./one-email.ts";
import { sequenceForm } from "./open-sequence.ts";
import { previewFor } from "./preview-step.ts";
import { saveSequence } from "./save-sequence.ts";
import { changePeople, sequencePeople } from "./sequence-people.ts";
import { startCheck, startPeople } from "./start-check.ts";
import { startSequence } from "./start-sequence.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  world.app.db.exec(
    `INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port,
       imap_security, username, password_sealed, daily_limit, gap_least, gap_most, connected_wall, created_at)
     VALUES (1, ${world.userId}, 'marta@quillwater.example', 'Marta Quintela', 'h', 1, 'none', 'h', 1, 'none', 'u', '', 30, 9, 14, 1, 0)`,
  );
});
afterEach(() => world.close());

const task = (id: string, kind: RepStep["kind"], days: number, more: Partial<RepStep> = {}): RepStep => ({
  id,
  kind,
  name: id,
  note: "",
  wait: { days, working: true },
  text: "Hello {{ first_name }}",
  journey: "waits",
  skipAfter: null,
  asNote: false,
  ...more,
});

function started(path: Path, names = ["ana"], change: Record<string, unknown> = {}): number {
  const id = addSequence(world, addPeople(world, names), [1], { path, ...change });
  const outcome = startSequence(world.app, world.userId, id);
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.errors));
  return id;
}
/** The engine's look at the world at an instant, sent emails aside. */
function at(now: number) {
  setDemoClock(world.app.db, now, false);
  return planAndRecord(world.app, now);
}
const places = () =>
  rows<{ place: string | null }>(world, "SELECT place_id AS place FROM journeys ORDER BY id").map(
    ({ place }) => place,
  );
const decided = () =>
  rows(
    world,
    "SELECT node_id AS node, kind, outcome FROM decisions WHERE kind IN ('fork', 'skip', 'lapse', 'move') ORDER BY id",
  );
const open = () => ownTouches(world.app, world.user).shown;
const accepted = { about: "accepted" } as const;

describe("what only the rep can do", () => {
  it("comes up on Today with its words, and the journey goes on from when it is done", () => {
    started([task("ring", "call", 1), email("mail", 1, { subject: "As discussed" })]);
    at(TUESDAY);
    expect(open()).toEqual([]);
    at(TUESDAY + DAY);
    expect(open()).toMatchObject([{ kind: "call", stepName: "ring", text: "Hello ana" }]);
    setDemoClock(world.app.db, TUESDAY + 2 * DAY, false);
    endTouch(world.app, world.user, { id: open()[0]?.id, outcome: "voicemail", note: "Ask again" }, "done");
    const [planned] = at(TUESDAY + 2 * DAY);
    expect(places()).toEqual(["mail"]);
    expect(new Date(planned?.at ?? 0).toISOString().slice(0, 10)).toBe("2026-06-12");
    expect(rows(world, "SELECT kind, detail FROM events WHERE kind = 'touch_done'")).toEqual([
      { kind: "touch_done", detail: "voicemail: Ask again" },
    ]);
  });

  it("is skipped after its days, put off until a morning, and gone after a stop", () => {
    started([task("ring", "call", 0, { skipAfter: 2 }), task("look", "errand", 1)]);
    at(TUESDAY);
    const [ring] = open();
    putOff(world.app, world.user, ring?.id ?? 0, 1);
    expect(open()).toEqual([]);
    at(TUESDAY + 2 * DAY + HOUR);
    expect(decided()).toMatchObject([{ node: "ring", kind: "lapse" }]);
    expect(rows(world, "SELECT state, outcome FROM touches")).toEqual([
      { state: "skipped", outcome: "lapsed" },
    ]);
    at(TUESDAY + 3 * DAY);
    expect(open()).toMatchObject([{ stepName: "look" }]);
    apply(world.app.db, { kind: "replied" }, { at: TUESDAY + 3 * DAY, prospectId: 1 });
    expect(open()).toEqual([]);
    expect(endTouch(world.app, world.user, { id: 2 }, "done")).toMatchObject({ ok: false });
  });

  it("an errand that the sequence asks for outlives the stop, and comes only with a label that it is for", () => {
    started([email("mail", 0, { subject: "S" })], ["ana"], { settings: { thenErrand: "Send the sheet" } });
    apply(world.app.db, { kind: "replied" }, { at: TUESDAY, prospectId: 1 });
    const labelled = (label: string) =>
      apply(
        world.app.db,
        { kind: "labelled", label, name: label, effects: effectsOf(label, {}), day: null },
        { at: TUESDAY, prospectId: 1, journeyId: 1 },
      );
    labelled("not_interested");
    expect(open()).toEqual([]);
    labelled("interested");
    expect(open()).toMatchObject([{ kind: "errand", text: "Send the sheet" }]);
  });
});

describe("a fork", () => {
  const path: Path = [
    task("invite", "invitation", 0),
    {
      id: "fork",
      kind: "fork",
      name: "",
      ask: accepted,
      patience: { days: 3, working: true },
      yes: [task("message", "social_message", 1)],
      no: [email("mail", 1, { subject: "S" })],
    },
    email("close", 2, { subject: "T" }),
  ];

  it("goes one way when they accept, the other when they do not in time, and says which and why", () => {
    started(path, ["ana", "bia"]);
    at(TUESDAY);
    for (const { id } of open()) endTouch(world.app, world.user, { id }, "done");
    at(TUESDAY + HOUR);
    expect(places()).toEqual(["fork", "fork"]);
    setDemoClock(world.app.db, TUESDAY + DAY, false);
    markAccepted(world.app, world.user, 1);
    at(TUESDAY + DAY);
    expect(places()).toEqual(["message", "fork"]);
    at(TUESDAY + 7 * DAY);
    expect(places()).toEqual(["message", "mail"]);
    expect(decided()).toEqual([
      { node: "fork", kind: "fork", outcome: "yes" },
      { node: "fork", kind: "fork", outcome: "no" },
    ]);
  });

  it("on who somebody is sends each their way at once, and a field filled in later counts only where it is not decided yet", () => {
    const byCity: Path = [
      {
        id: "f",
        kind: "fork",
        name: "",
        ask: { about: "field", field: "city", op: "is", value: "Porto" },
        patience: { days: 0, working: true },
        yes: [task("visit", "errand", 0)],
        no: [task("ring", "call", 0)],
      },
    ];
    world.app.db.exec("SELECT 1");
    const id = addSequence(world, addPeople(world, ["ana", "bia"]), [1], { path: byCity });
    world.app.db.exec("UPDATE prospects SET city = 'PORTO' WHERE id = 1");
    startSequence(world.app, world.userId, id);
    expect(places()).toEqual(["visit", "ring"]);
    saveProspect(world.app, world.userId, { id: 2, city: "Porto" });
    at(TUESDAY + HOUR);
    expect(places()).toEqual(["visit", "ring"]);
  });
});

describe("an email that waits for a yes", () => {
  const approved: Path = [
    { ...email("mail", 0, { subject: "Loans", body: "Hello {{ first_name }}" }), kind: "approved_email" },
  ];

  it("is a draft first, may be changed, and goes only after the yes", () => {
    started(approved);
    expect(at(TUESDAY)).toEqual([]);
    const { shown } = draftsToApprove(world.app, world.user);
    expect(shown).toMatchObject([{ name: "ana", subject: "Loans" }]);
    expect(shown[0]?.body).toMatch(/^Hello ana/);
    expect(rows(world, "SELECT wait_reason AS reason FROM journeys")).toEqual([{ reason: "draft_open" }]);
    expect(editDraft(world.app, null, { id: shown[0]?.id, subject: "", body: "x" })).toMatchObject({
      ok: false,
    });
    editDraft(world.app, null, { id: shown[0]?.id, subject: "Your loans", body: "Dear Ana" });
    expect(approveDrafts(world.app, world.user, [shown[0]?.id ?? 0])).toMatchObject({ value: 1 });
    expect(at(TUESDAY + HOUR)).toMatchObject([{ stepId: "mail" }]);
    expect(rows(world, "SELECT state, body FROM touches")).toEqual([{ state: "approved", body: "Dear Ana" }]);
  });

  it("waits for a missing field, and comes up once it is filled in", () => {
    const list = addPeople(world, ["ana"]);
    world.app.db.exec("UPDATE prospects SET first_name = '' WHERE id = 1");
    startSequence(world.app, world.userId, addSequence(world, list, [1], { path: approved }));
    at(TUESDAY);
    expect(draftsToApprove(world.app, world.user).total).toBe(0);
    expect(rows(world, "SELECT wait_reason AS reason, wait_detail AS detail FROM journeys")).toEqual([
      { reason: "merge_field_empty", detail: "first_name" },
    ]);
    saveProspect(world.app, world.userId, { id: 1, firstName: "Ana" });
    at(TUESDAY + HOUR);
    expect(draftsToApprove(world.app, world.user).total).toBe(1);
  });

  it("for the first people by hand, holds the others until those are decided", () => {
    const plain: Path = [email("mail", 0, { subject: "Loans" })];
    started(plain, ["ana", "bia", "caio"], { settings: { approval: "first", approveFirst: 1 } });
    expect(at(TUESDAY)).toEqual([]);
    expect(rows(world, "SELECT wait_reason AS reason FROM journeys ORDER BY id")).toEqual([
      { reason: "draft_open" },
      { reason: "first_ones" },
      { reason: "first_ones" },
    ]);
    approveDrafts(
      world.app,
      world.user,
      draftsToApprove(world.app, world.user).shown.map(({ id }) => id),
    );
    expect(at(TUESDAY + HOUR)).toHaveLength(3);
  });
});

describe("the first ones to be approved", () => {
  it("one whose field is missing holds nobody else: the next takes the place, and Today says how many wait behind", () => {
    const list = addPeople(world, ["ana", "bia", "caio", "dora"]);
    world.app.db.exec("UPDATE prospects SET first_name = '' WHERE id = 1");
    const plain: Path = [email("mail", 0, { subject: "Loans", body: "Hello {{ first_name }}" })];
    const id = addSequence(world, list, [1], {
      path: plain,
      settings: { approval: "first", approveFirst: 2 },
    });
    startSequence(world.app, world.userId, id);
    at(TUESDAY);
    expect(draftsToApprove(world.app, world.user).shown.map(({ name }) => name)).toEqual(["bia"]);
    expect(draftsWaiting(world.app.db, world.user)).toMatchObject({ count: 1, behind: 2 });
    approveDrafts(
      world.app,
      world.user,
      draftsToApprove(world.app, world.user).shown.map((draft) => draft.id),
    );
    expect(at(TUESDAY + HOUR)).toHaveLength(3);
    expect(draftsWaiting(world.app.db, world.user)).toMatchObject({ count: 0, behind: 0 });
  });
});

describe("a reply", () => {
  it("holds the people of the company until somebody lets them go on, but nobody at a free-mail domain", () => {
    const list = addPeople(world, ["ana", "bia", "caio"]);
    world.app.db.exec(
      "UPDATE prospects SET company_id = (SELECT company_id FROM prospects WHERE id = 1) WHERE id = 2",
    );
    const id = addSequence(world, list, [1], { settings: { holdsCompany: true } });
    startSequence(world.app, world.userId, id);
    apply(world.app.db, { kind: "replied" }, { at: TUESDAY, prospectId: 1 });
    at(TUESDAY + HOUR);
    expect(
      rows(world, "SELECT state, wait_reason = 'colleague_replied' AS held FROM journeys ORDER BY id"),
    ).toEqual([
      { state: "stopped", held: null },
      { state: "active", held: 1 },
      { state: "active", held: 0 },
    ]);
    const [company] = heldCompanies(world.app, world.user);
    expect(company).toMatchObject({ waiting: 1, who: "ana", people: [{ prospectId: 2 }] });
    releaseCompany(world.app, null, company?.companyId ?? 0);
    expect(at(TUESDAY + 2 * HOUR).map(({ journeyId }) => journeyId)).toContain(2);
  });

  it("stops nobody in a sequence that goes on after one, and a click stops where it is to", () => {
    started([email("mail", 0, { subject: "S" })], ["ana"], {
      settings: { stops: { reply: false, click: true }, tracksClicks: true },
    });
    const state = () => rows(world, "SELECT state, stop_reason AS reason FROM journeys");
    apply(world.app.db, { kind: "replied" }, { at: TUESDAY, prospectId: 1 });
    expect(state()).toEqual([{ state: "active", reason: null }]);
    apply(world.app.db, { kind: "clicked", url: "https://x.example" }, { at: TUESDAY, prospectId: 1 });
    expect(state()).toEqual([{ state: "stopped", reason: "clicked" }]);
  });

  it("by machine leaves them alone for some working days", () => {
    started([email("mail", 0, { subject: "S" })], ["ana"], { settings: { awayDays: 3 } });
    apply(world.app.db, { kind: "away", because: "header" }, { at: TUESDAY, prospectId: 1 });
    expect(at(TUESDAY + DAY)).toEqual([]);
    expect(rows(world, "SELECT wait_reason AS reason FROM journeys")).toEqual([{ reason: "away" }]);
    expect(at(TUESDAY + 3 * DAY)).toHaveLength(1);
  });
});

describe("a new version", () => {
  const three: Path = [task("one", "errand", 0), task("two", "call", 2), task("three", "errand", 2)];

  it("says first what it does to whom, then does it", () => {
    const id = started(three, ["ana", "bia"]);
    at(TUESDAY);
    endTouch(world.app, world.user, { id: open()[0]?.id }, "done");
    at(TUESDAY + HOUR);
    expect(places()).toEqual(["two", "one"]);
    const to: Path = [task("one", "errand", 0), task("three", "errand", 5)];
    expect(moveConsequences(world.app, id, to)).toEqual({ stay: 1, recounted: 0, moved: 1, lost: 0 });
    const form = { ...sequenceForm(sequenceById(world.app.db, id) as never), path: to };
    expect(saveSequence(world.app, form, world.userId)).toEqual({ ok: true, value: 2 });
    expect(places()).toEqual(["three", "one"]);
    expect(rows(world, "SELECT outcome FROM decisions WHERE kind = 'move'")).toEqual([{ outcome: "moved" }]);
  });

  it("or lets those under way finish on theirs", () => {
    const id = started(three);
    const form = { ...sequenceForm(sequenceById(world.app.db, id) as never), path: three.slice(2) };
    saveSequence(world.app, { ...form, underWay: "finish" }, world.userId);
    expect(rows(world, "SELECT version, place_id AS place FROM journeys")).toEqual([
      { version: 1, place: "one" },
    ]);
  });

  it("from an older form is refused, and nothing is overwritten", () => {
    const id = started(three);
    const form = sequenceForm(sequenceById(world.app.db, id) as never);
    expect(saveSequence(world.app, { ...form, name: "Mine" })).toMatchObject({ ok: true });
    expect(saveSequence(world.app, { ...form, name: "Theirs" })).toMatchObject({
      ok: false,
      errors: { revision: expect.any(String) },
    });
    expect(sequenceById(world.app.db, id)?.name).toBe("Mine");
  });
});

describe("people in a sequence", () => {
  it("are marked as having accepted once they are invited, once, and by nobody whose they are not", () => {
    const id = started([task("invite", "invitation", 0), task("ring", "call", 5)]);
    const sequence = sequenceById(world.app.db, id);
    if (!sequence) throw new Error("gone");
    const accept = (userId = world.userId) =>
      changePeople(world.app, userId, sequence, [1], { do: "accepted" });
    expect(accept()).toMatchObject({ ok: true, value: { changed: 0 } });
    at(TUESDAY);
    world.app.db.exec("UPDATE touches SET state = 'done' WHERE kind = 'invitation'");
    world.app.db.exec(
      "INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, created_at, role) VALUES (2, 'r@q.example', 'Rui', 'x', 'UTC', 'r', 0, 'rep')",
    );
    expect(accept(2)).toMatchObject({ ok: false });
    expect(accept()).toMatchObject({ ok: true, value: { changed: 1 } });
    expect(accept()).toMatchObject({ ok: true, value: { changed: 0 } });
    expect(rows(world, "SELECT 1 FROM events WHERE kind = 'accepted'")).toHaveLength(1);
  });

  it("are paused, let go on, moved, taken out and started again, each once", () => {
    const id = started([email("a", 0, { subject: "S" }), task("ring", "call", 1)]);
    const sequence = sequenceById(world.app.db, id);
    if (!sequence) throw new Error("gone");
    const act = (action: Parameters<typeof changePeople>[4], ids = [1]) => {
      const outcome = changePeople(world.app, world.userId, sequence, ids, action);
      return outcome.ok ? outcome.value.changed : outcome.errors;
    };
    expect(act({ do: "pause" })).toBe(1);
    expect(at(TUESDAY)).toEqual([]);
    expect(act({ do: "resume" })).toBe(1);
    expect(act({ do: "resume" })).toBe(0);
    expect(at(TUESDAY)).toHaveLength(1);
    expect(act({ do: "move", to: "ring" })).toBe(1);
    at(TUESDAY + DAY);
    expect(open()).toHaveLength(1);
    expect(act({ do: "start_again" })).toBe(0);
    expect(act({ do: "take_out" })).toBe(1);
    expect(open()).toEqual([]);
    expect(act({ do: "start_again" })).toBe(1);
    expect(at(TUESDAY + 2 * DAY)).toMatchObject([{ stepId: "a" }]);
    const filter = { standing: "active", placeId: "a", search: "AN" };
    expect(sequencePeople(world.app, id, filter, 0)).toMatchObject({ total: 1, rows: [{ name: "ana" }] });
  });
});

describe("one email to one person", () => {
  const email1 = {
    prospectId: 1,
    subject: "The sheet",
    body: "Hello {{ first_name }}, here it is.",
    when: "now",
    followUps: [{ id: "two", days: 3, body: "Did it reach you?", unless: "answered" }],
    remindAfter: 5,
  };
  const write = (change: Record<string, unknown> = {}) =>
    writeOneEmail(world.app, world.user, { ...email1, ...change });

  it("is refused with the reason where it would not go, and leaves nothing behind", () => {
    addPeople(world, ["ana"]);
    const refusals = {
      "verdict = 'bad'": /address is bad.*Edit/,
      "verdict = NULL, email = NULL": /No address is known/,
      "email = 'ana@harbour.example', merged_into = 1": /merged/,
    };
    for (const [change, words] of Object.entries(refusals)) {
      world.app.db.exec(`UPDATE prospects SET ${change} WHERE id = 1`);
      expect(write()).toMatchObject({ ok: false, errors: { form: expect.stringMatching(words) } });
    }
    expect(rows(world, "SELECT 1 FROM sequences")).toEqual([]);
  });

  it("is a sequence of its own, goes at once, and its follow-up can be taken off until it leaves", () => {
    addPeople(world, ["ana"]);
    const made = write();
    if (!made.ok) throw new Error(JSON.stringify(made.errors));
    const ahead = () => planAhead(world.app.db, TUESDAY, TUESDAY + 30 * DAY).touches;
    expect(ahead().map(({ stepId }) => stepId)).toEqual(["one", "two"]);
    expect(listSequences(world.app, world.userId)).toEqual([]);
    detachFollowUps(world.app, world.userId, made.value.sequenceId);
    expect(at(TUESDAY + HOUR).map(({ stepId }) => stepId)).toEqual(["one"]);
  });

  it("leads to a page of theirs, and its files go as links: by choice, which stays", async () => {
    addPeople(world, ["ana"]);
    const page = createTemplate(world.app, world.userId, { name: "A page" });
    const file = await keepFile(world.app, world.userId, {
      ...{ name: "sheet.txt", bytes: Buffer.from("x"), as: "attachment" },
    });
    if (!page.ok || !file.ok) throw new Error("no page or file");
    const chosen = { pageId: page.value, attachments: [file.value.id], linksFiles: true };
    const made = write({ ...chosen, body: "See {{ page_link }}" });
    if (!made.ok) throw new Error(JSON.stringify(made.errors));
    const { sequenceId } = made.value;
    expect(openOneEmail(world.app, world.user, sequenceId)?.email).toMatchObject(chosen);
    const seen = previewFor(world.app, sequenceById(world.app.db, sequenceId) as Sequence, "one", 1);
    expect(seen?.rendered?.ok && seen.rendered.body).toMatch(
      /^See https?:\S+\/for\/\S+\n\n\[sheet\.txt\]\(https?:\S+\/look\/\S+\)/,
    );
    expect(
      reviseOneEmail(world.app, world.user, sequenceId, { ...email1, ...chosen, pageId: 99 }),
    ).toMatchObject({
      ok: false,
    });
    expect(reviseOneEmail(world.app, world.user, sequenceId, email1).ok).toBe(true);
    expect(openOneEmail(world.app, world.user, sequenceId)?.email).toMatchObject({
      pageId: null,
      linksFiles: false,
    });
  });

  it("waits for its time where they are", () => {
    addPeople(world, ["ana"]);
    world.app.db.exec("UPDATE prospects SET time_zone = 'Asia/Tokyo'");
    expect(
      write({ when: "at", date: "2026-06-15", time: "08:00", followUps: [], remindAfter: null }),
    ).toMatchObject({ ok: true });
    const [planned] = planAhead(world.app.db, TUESDAY, TUESDAY + 30 * DAY).touches;
    expect(Math.abs((planned?.at ?? 0) - Date.parse("2026-06-15T08:00:00+09:00"))).toBeLessThan(20 * 60_000);
  });

  it("at a named time goes at that time, be it a Saturday night; what follows keeps days and hours where they are", () => {
    addPeople(world, ["ana"]);
    world.app.db.exec("UPDATE prospects SET time_zone = 'Asia/Tokyo'");
    expect(write({ when: "at", date: "2026-06-13", time: "23:30" })).toMatchObject({ ok: true });
    const named = Date.parse("2026-06-13T23:30:00+09:00");
    const [first, second] = planAhead(world.app.db, TUESDAY, TUESDAY + 30 * DAY).touches;
    expect(Math.abs((first?.at ?? 0) - named)).toBeLessThan(20 * 60_000);
    const where = new Date((second?.at ?? 0) + 9 * HOUR);
    expect([0, 6]).not.toContain(where.getUTCDay());
    expect(where.getUTCHours()).toBeGreaterThanOrEqual(8);
    expect(where.getUTCHours()).toBeLessThan(18);
    expect(at(named + HOUR).map(({ stepId }) => stepId)).toEqual(["one"]);
  });

  it("at the best hour keeps days and hours where they are from the first on", () => {
    addPeople(world, ["ana"]);
    world.app.db.exec("UPDATE prospects SET time_zone = 'America/Los_Angeles'");
    expect(write({ when: "best" })).toMatchObject({ ok: true });
    const touches = planAhead(world.app.db, TUESDAY, TUESDAY + 30 * DAY).touches;
    expect(touches).toHaveLength(2);
    for (const touch of touches) {
      const where = new Date(touch.at - 7 * HOUR);
      expect([0, 6]).not.toContain(where.getUTCDay());
      expect(where.getUTCHours()).toBeGreaterThanOrEqual(8);
      expect(where.getUTCHours()).toBeLessThan(18);
    }
  });

  it.each<[string, Record<string, unknown>, string]>([
    ["without a text", { body: " " }, "Write the text"],
    ["at a time that is not said", { when: "at" }, "Say when"],
    ["with a field that does not exist", { body: "Hi {{ frist_name }}" }, "Did you mean"],
    ["to somebody who is gone", { prospectId: 99 }, "no longer here"],
  ])("%s is refused with what to do, and leaves nothing behind", (_, change, words) => {
    addPeople(world, ["ana"]);
    const outcome = write(change);
    expect(outcome.ok ? "" : Object.values(outcome.errors).join()).toContain(words);
    expect(rows(world, "SELECT 1 FROM sequences")).toEqual([]);
  });

  it("to somebody on another sequence is refused, and says on which", () => {
    started([email("a", 0, { subject: "S" })]);
    const outcome = write();
    expect(outcome.ok ? "" : outcome.errors.form).toContain("They are on “Loans”");
  });

  it("to somebody on another sequence stops that where the rep says so, and can be taken back", () => {
    started([email("a", 3, { subject: "S" })]);
    const made = write({ meanwhile: "stop" });
    if (!made.ok) throw new Error(JSON.stringify(made.errors));
    const states = () =>
      rows<{ state: string }>(world, "SELECT state FROM journeys WHERE prospect_id = 1 ORDER BY id").map(
        ({ state }) => state,
      );
    expect(states()).toEqual(["stopped", "active"]);
    expect(made.value.undoStop).not.toBeNull();
  });

  it("has a series behind it, each by its own condition, of which one is taken off and one changed until they leave", () => {
    addPeople(world, ["ana"]);
    const followUp = (id: string, more: object = {}) => ({
      id,
      days: 2,
      body: `This is ${id}`,
      unless: "answered",
      ...more,
    });
    const made = write({
      followUps: [followUp("f1"), followUp("f2", { unless: "opened" }), followUp("f3")],
      remindAfter: 3,
    });
    if (!made.ok) throw new Error(JSON.stringify(made.errors));
    const id = made.value.sequenceId;
    world.app.db.exec(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, recipient, state, message_id, subject, body)
      SELECT 'email', id, 'one', 1, 1, 'a@b.example', 'claimed', '<one@b.example>', 'S', 'B' FROM journeys`);
    const opened = openOneEmail(world.app, world.user, id);
    expect(opened).toMatchObject({
      gone: ["one"],
      email: { subject: "The sheet", remindAfter: 3, mailboxId: 1 },
    });
    expect(opened?.email.followUps.map(({ unless }) => unless)).toEqual(["answered", "opened", "answered"]);
    const [first, , third] = opened?.email.followUps ?? [];
    const revised = reviseOneEmail(world.app, world.user, id, {
      ...opened?.email,
      subject: "Too late to change",
      followUps: [{ ...first, body: "Did it reach you, {{ first_name }}?" }, third],
    });
    expect(revised).toMatchObject({ ok: true });
    expect(openOneEmail(world.app, world.user, id)?.email).toMatchObject({
      subject: "The sheet",
      followUps: [{ id: "f1", body: "Did it reach you, {{ first_name }}?" }, { id: "f3" }],
    });
    expect(sequenceById(world.app.db, id)?.path.map((node) => node.id)).toEqual([
      "one",
      "f1",
      "f3",
      "remind",
    ]);
    const broken = reviseOneEmail(world.app, world.user, id, {
      ...opened?.email,
      followUps: [{ ...first, body: "{{ frist_name }}" }],
    });
    expect(broken).toMatchObject({ errors: { "followUps.0.body": expect.stringContaining("Did you mean") } });
  });
});

describe("whole sequences", () => {
  it("are copied with ids of their own, put away, deleted and brought back with those who were under way", () => {
    const id = started([task("ring", "call", 0), email("mail", 1, { subject: "S" })], ["ana", "bia"]);
    at(TUESDAY);
    const copy = duplicateSequence(world.app, world.userId, id);
    if (!copy.ok) throw new Error("no copy");
    const ids = (sequence: number) => sequenceById(world.app.db, sequence)?.path.map((node) => node.id) ?? [];
    expect(ids(copy.value)).toHaveLength(2);
    expect(ids(copy.value).filter((each) => ids(id).includes(each))).toEqual([]);
    archiveSequence(world.app, null, copy.value, true);
    expect(listSequences(world.app, world.userId).map(({ isArchived }) => isArchived)).toEqual([false, true]);
    const gone = deleteSequence(world.app, world.userId, id);
    if (!gone.ok) throw new Error("not deleted");
    const deleted = gone.value;
    expect(deleted.stopped).toHaveLength(2);
    expect(open()).toEqual([]);
    expect(at(TUESDAY + HOUR)).toEqual([]);
    restoreSequence(world.app, null, id, deleted.stopped);
    at(TUESDAY + 2 * HOUR);
    expect(open().map(({ stepName }) => stepName)).toEqual(["ring", "ring"]);
  });

  it("go on the shelf and into a file, and come back from both", () => {
    const id = started([email("mail", 0, { subject: "Loans" })]);
    putOnShelf(world.app, world.userId, id, "For loans");
    const own = startingPoints(world.app).filter((point) => point.own);
    expect(own).toMatchObject([{ name: "Loans", about: "For loans" }]);
    expect(createFrom(world.app, world.userId, own[0]?.id ?? "", "Another")).toMatchObject({ ok: true });
    takeOffShelf(world.app, null, own[0]?.id ?? "");
    expect(startingPoints(world.app).some((point) => point.own)).toBe(false);
    const file = exportSequence(world.app, null, id);
    if (!file.ok) throw new Error("no file");
    expect(file.value.fileName).toBe("loans.json");
    expect(importSequence(world.app, world.userId, file.value.text)).toMatchObject({ ok: true });
    expect(importSequence(world.app, world.userId, '{"format":"other"}')).toMatchObject({ ok: false });
    // Of another installation, whose file 1 is not ours.
    const foreign = file.value.text.replace('"attachments": []', '"attachments": [1]');
    const imported = importSequence(world.app, world.userId, foreign);
    expect(imported.ok && sequenceById(world.app.db, imported.value)?.path[0]).toMatchObject({
      attachments: [],
    });
  });
});

describe("before a start", () => {
  it("everybody of the list stands somewhere, for the first reason that is true, and the count is the start's own", () => {
    const list = addPeople(world, ["ana", "bia", "caio", "dora", "eva"]);
    world.app.db.exec(`UPDATE prospects SET email = NULL WHERE id = 1; UPDATE prospects SET verdict = 'bad' WHERE id = 2;
      UPDATE prospects SET first_name = '' WHERE id = 3;
      INSERT INTO block_list (kind, value, reason, at) SELECT 'address', email, 'opted_out', 0 FROM prospects WHERE id = 4;`);
    const id = addSequence(world, list, [1]);
    const sequence = sequenceById(world.app.db, id);
    if (!sequence) throw new Error("gone");
    const { counts, lacking } = startCheck(world.app, sequence);
    expect(counts).toMatchObject({ no_address: 1, address_bad: 1, lacks_field: 1, blocked: 1, ready: 1 });
    expect(lacking).toEqual([{ field: "first_name", count: 1 }]);
    expect(
      startPeople(world.app, sequence, null, 0)
        .map(({ standing }) => standing)
        .slice(0, 3),
    ).toEqual(["lacks_field", "no_address", "ready"]);
    expect(startSequence(world.app, world.userId, id)).toMatchObject({ ok: true, value: { started: 3 } });
  });

  it("one prospect's email is written by hand and said yes to, and a test goes to oneself and counts nowhere", () => {
    const id = addSequence(world, addPeople(world, ["ana"]), [1], { settings: { approval: "all" } });
    const sequence = sequenceById(world.app.db, id);
    if (!sequence) throw new Error("gone");
    expect(
      writeOwnText(world.app, world.userId, id, {
        stepId: "one",
        prospectId: 1,
        subject: "Ana",
        body: "Hi {{ nme }}",
      }),
    ).toMatchObject({ ok: false });
    writeOwnText(world.app, world.userId, id, {
      stepId: "one",
      prospectId: 1,
      subject: "For you",
      body: "Only for {{ first_name }}",
    });
    expect(approveBefore(world.app, world.userId, sequence, "all")).toMatchObject({ value: 1 });
    expect(sendTest(world.app, world.user, sequence, "one", 1)).toEqual({
      ok: true,
      value: world.user.email,
    });
    expect(rows(world, "SELECT kind, recipient, subject FROM touches")).toEqual([
      { kind: "test", recipient: world.user.email, subject: "[Test] For you" },
    ]);
    startSequence(world.app, world.userId, id);
    expect(at(TUESDAY).map(({ stepId }) => stepId)).toContain("one");
    expect(draftsToApprove(world.app, world.user).total).toBe(0);
  });
});

describe("people who are brought onto a sequence", () => {
  it("start at once where it runs, and are put on its list where it does not; who may not be written to is left out", () => {
    const running = started([email("a", 0, { subject: "S" })], ["ana"]);
    addPeople(world, ["bia", "caio"], "Others");
    world.app.db.exec(
      "INSERT INTO block_list (kind, value, reason, at) SELECT 'address', email, 'opted_out', 0 FROM prospects WHERE id = 3",
    );
    expect(addToSequence(world.app, world.user, running, [1, 2, 3])).toMatchObject({
      ok: true,
      value: { started: [expect.any(Number)], leftOut: 2 },
    });
    const made = createFrom(world.app, world.userId, "blank", "Later");
    if (!made.ok) throw new Error("not made");
    expect(addToSequence(world.app, world.user, made.value, [2, 3])).toMatchObject({
      ok: true,
      value: { started: [], listed: [expect.any(Number), expect.any(Number)] },
    });
    expect(sequenceById(world.app.db, made.value)?.listId).not.toBeNull();
    expect(addToSequence(world.app, world.user, 99, [1])).toMatchObject({ ok: false });
  });
});
