/** What only the rep can do: how it is listed, and what each press does, once. */
import { beforeAll, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import type { User } from "../accounts/session.ts";
import type { App, AppTx } from "../app.ts";
import type { Outcome } from "../errors.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { addPeople, addSequence, addUnasked, createWorld, inCopyOf, TUESDAY } from "../tests/world.ts";
import { callBackAt } from "./call-back.ts";
import { approveDrafts, dropDraft, editDraft } from "./drafts.ts";
import { endTouch } from "./end-touch.ts";
import { markAccepted } from "./mark-accepted.ts";
import { draftsToApprove, heldCompanies, ownTouches } from "./own-touches.ts";
import { putOff } from "./put-off.ts";
import { releaseCompany } from "./release-company.ts";

const CALL = 1;
const DRAFT = 2;
let image: Buffer;
let marta: User;

/** Ana with an open call and a draft; Bia of the same house, held by Ana's answer. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const { app, userId } = world;
  marta = world.user;
  startSequence(app, userId, addSequence(world, addPeople(world, ["ana", "bia"]), [addUnasked(world)]));
  app.db.exec(`UPDATE prospects SET phone = '+351 21 000 00 00', stage = 'contacted';
    UPDATE prospects SET company_id = 1 WHERE id = 2;
    INSERT INTO touches (id, kind, journey_id, step_id, prospect_id, user_id, state, due_at, subject, body) VALUES
      (${CALL}, 'call', 1, 'ring', 1, 1, 'open', ${TUESDAY - HOUR}, '', 'Ring'),
      (${DRAFT}, 'email', 2, 'one', 2, 1, 'draft', ${TUESDAY}, 'Loans', 'Hello'),
      (3, 'errand', 1, 'later', 1, 1, 'open', ${TUESDAY + DAY}, '', 'Tomorrow');
    INSERT INTO holds (scope, scope_id, reason, detail, since, cause_prospect_id) VALUES ('company', 1, 'colleague_replied', 'Ana', 1, 1)`);
  image = app.db.serialize();
  await world.close();
});

const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);
const touch = (app: App, id: number) =>
  app.db
    .prepare("SELECT state, outcome, note, due_at AS dueAt, ended_at AS endedAt FROM touches WHERE id = ?")
    .get(id) as {
    state: string;
    outcome: string | null;
    note: string;
    dueAt: number;
    endedAt: number | null;
  };
const events = (app: App) =>
  app.db
    .prepare(
      "SELECT kind || coalesce(' ' || detail, '') FROM events WHERE kind != 'journey_started' ORDER BY id",
    )
    .pluck()
    .all();
const reminders = (app: App) =>
  app.db.prepare("SELECT kind || ': ' || text FROM reminders ORDER BY id").pluck().all();
const words = (outcome: Outcome<unknown>) =>
  outcome.ok ? "done" : Object.entries(outcome.errors).map(([field, error]) => `${field}: ${error}`)[0];

it("lists what is due by the end of the day, the longest due first, and asks for nothing of a paused sequence", () => {
  inCopy((app) => {
    expect(ownTouches(app, marta)).toMatchObject({
      total: 1,
      shown: [{ id: CALL, name: "ana", text: "Ring" }],
    });
    expect(draftsToApprove(app, marta)).toMatchObject({
      total: 1,
      shown: [{ id: DRAFT, recipient: "bia@bia-museum.example" }],
    });
    app.db.exec("UPDATE sequences SET state = 'paused', revision = revision + 1");
    expect([ownTouches(app, marta).total, draftsToApprove(app, marta).total]).toEqual([0, 0]);
  });
});

describe("a call", () => {
  it("that reached them raises their stage, with how it went and what comes next", () => {
    inCopy((app) => {
      const form = {
        id: CALL,
        outcome: "reached",
        note: "Likes it",
        next: "Send the sheet",
        nextDay: "2026-06-12",
      };
      expect(words(endTouch(app, marta, form, "done"))).toBe("done");
      expect(touch(app, CALL)).toMatchObject({
        state: "done",
        outcome: "reached",
        note: "Likes it",
        endedAt: TUESDAY,
      });
      expect(events(app)).toEqual(["touch_done reached: Likes it"]);
      expect(reminders(app)).toEqual(["reminder: Send the sheet"]);
      expect(app.db.prepare("SELECT stage FROM prospects WHERE id = 1").pluck().get()).toBe(
        "in_conversation",
      );
    });
  });

  it("to a wrong number takes that off, keeps it in the history, and asks for another", () => {
    inCopy((app) => {
      endTouch(app, marta, { id: CALL, outcome: "wrong_number" }, "done");
      expect(app.db.prepare("SELECT phone FROM prospects WHERE id = 1").pluck().get()).toBe("");
      expect(app.db.prepare("SELECT before, after, source FROM changes WHERE field = 'phone'").all()).toEqual(
        [{ before: "+351 21 000 00 00", after: "", source: "edit" }],
      );
      expect(reminders(app)).toEqual(["errand: Find another number: the one we had is wrong."]);
    });
  });

  it("nobody took raises nothing; one that is skipped is told as that", () => {
    inCopy((app) => {
      endTouch(app, marta, { id: CALL, outcome: "no_answer" }, "done");
      expect(app.db.prepare("SELECT stage FROM prospects WHERE id = 1").pluck().get()).toBe("contacted");
      expect(reminders(app)).toEqual([]);
    });
    inCopy((app) => {
      endTouch(app, marta, { id: CALL }, "skipped");
      expect([touch(app, CALL).state, events(app)]).toEqual(["skipped", ["touch_skipped"]]);
    });
  });

  it("ends once: a second press, or one after a stop, says so and changes nothing", () => {
    inCopy((app) => {
      endTouch(app, marta, { id: CALL, outcome: "reached" }, "done");
      expect(words(endTouch(app, marta, { id: CALL, outcome: "wrong_number" }, "skipped"))).toContain(
        "no longer open",
      );
      expect(touch(app, CALL)).toMatchObject({ state: "done", outcome: "reached" });
      expect(words(putOff(app, marta, CALL, 1))).toContain("no longer open");
      expect(words(callBackAt(app, marta, { id: CALL, date: "2026-06-10", time: "09:00" }))).toContain(
        "no longer open",
      );
    });
  });

  it("comes back at the time that they named, where the rep is, and is due only then", () => {
    inCopy((app) => {
      expect(words(callBackAt(app, marta, { id: CALL, date: "2026-06-09", time: "10:00" }))).toContain(
        "lies ahead",
      );
      expect(words(callBackAt(app, marta, { id: CALL, date: "2026-06-10", time: "9:00" }))).toContain(
        "08:30",
      );
      expect(
        words(callBackAt(app, marta, { id: CALL, date: "2026-06-10", time: "09:00", note: "Busy" })),
      ).toBe("done");
      expect(touch(app, CALL)).toMatchObject({
        state: "open",
        outcome: "call_back",
        dueAt: Date.parse("2026-06-10T09:00:00+01:00"),
      });
      expect(app.db.prepare("SELECT text FROM notes").pluck().all()).toEqual(["Busy"]);
      expect(ownTouches(app, marta).total).toBe(0);
      expect(words(callBackAt(app, marta, { id: 3, date: "2026-06-10", time: "09:00" }))).toContain(
        "no longer open",
      );
    });
  });

  it("is put off by working days, to their morning: at least one, at most thirty", () => {
    inCopy((app) => {
      putOff(app, marta, CALL, 4);
      expect(touch(app, CALL).dueAt).toBe(Date.parse("2026-06-15T08:30:00+01:00"));
      putOff(app, marta, CALL, 0);
      expect(touch(app, CALL).dueAt).toBe(Date.parse("2026-06-10T08:30:00+01:00"));
      putOff(app, marta, CALL, 500);
      expect(touch(app, CALL).dueAt).toBe(Date.parse("2026-07-21T08:30:00+01:00"));
    });
  });
});

describe("a draft", () => {
  it("goes after a yes, said once", () => {
    inCopy((app) => {
      expect(approveDrafts(app, marta, [DRAFT])).toEqual({ ok: true, value: 1 });
      expect(approveDrafts(app, marta, [DRAFT])).toEqual({ ok: true, value: 0 });
      expect([touch(app, DRAFT).state, events(app)]).toEqual(["approved", ["approved"]]);
      expect(words(editDraft(app, 1, { id: DRAFT, subject: "x", body: "y" }))).toContain("no longer open");
      expect(words(dropDraft(app, marta, DRAFT))).toContain("no longer open");
    });
  });

  it("takes another text, and no empty one", () => {
    inCopy((app) => {
      expect(words(editDraft(app, 1, { id: DRAFT, subject: " ", body: "y" }))).toBe(
        "subject: The email needs a subject.",
      );
      expect(words(editDraft(app, 1, { id: DRAFT, subject: "Other", body: "Words" }))).toBe("done");
      expect(draftsToApprove(app, marta).shown).toMatchObject([{ subject: "Other", body: "Words" }]);
    });
  });

  it("is left out as one: with its event, or not at all", () => {
    inCopy((app) => {
      app.db.exec(
        "CREATE TRIGGER full BEFORE INSERT ON events BEGIN SELECT RAISE(ABORT, 'the disk is full'); END",
      );
      expect(() => dropDraft(app, marta, DRAFT)).toThrow("full");
      expect(touch(app, DRAFT).state).toBe("draft");
      app.db.exec("DROP TRIGGER full");
      expect(words(dropDraft(app, marta, DRAFT))).toBe("done");
      expect([touch(app, DRAFT), events(app)]).toMatchObject([
        { state: "skipped", endedAt: TUESDAY },
        ["touch_skipped"],
      ]);
    });
  });
});

it("a company that waits for an answer goes on when it is let, and is listed while somebody of it waits", () => {
  inCopy((app) => {
    expect(heldCompanies(app, marta)).toMatchObject([{ companyId: 1, who: "Ana", waiting: 1 }]);
    releaseCompany(app, 1, 1);
    expect(heldCompanies(app, marta)).toEqual([]);
    expect(app.db.prepare("SELECT outcome FROM decisions WHERE kind = 'release'").pluck().all()).toEqual([
      "colleague_replied",
    ]);
  });
  inCopy((app) => {
    app.db.exec("UPDATE journeys SET state = 'finished', ended_at = 1");
    expect(heldCompanies(app, marta)).toEqual([]);
  });
});

it("an invitation that was accepted is a fact of theirs from the mark on", () => {
  inCopy((app) => {
    expect(words(markAccepted(app, marta, 1))).toBe("done");
    expect(
      app.db.prepare("SELECT at, prospect_id AS id, user_id AS by FROM events WHERE kind = 'accepted'").all(),
    ).toEqual([{ at: TUESDAY, id: 1, by: 1 }]);
  });
});
