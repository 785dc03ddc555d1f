/** Reminders: when they come up, how they end, and what a warm prospect's press leaves behind. */
import { beforeAll, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import type { User } from "../accounts/session.ts";
import type { AppTx } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import { addPeople, createWorld, inCopyOf, TUESDAY } from "../tests/world.ts";
import { daySoFar } from "./day-so-far.ts";
import { endReminder, planNext, remindMe, settleWarm } from "./reminders.ts";

let image: Buffer;
let marta: User;
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  marta = world.user;
  addPeople(world, ["ana", "bia"]);
  setDemoClock(world.app.db, TUESDAY, false);
  image = world.app.db.serialize();
  await world.close();
});

const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);
const all = (app: AppTx) =>
  app.db
    .prepare(
      "SELECT id, prospect_id AS prospectId, kind, text, due_at AS dueAt, ended_at AS endedAt, how FROM reminders ORDER BY id",
    )
    .all() as {
    id: number;
    prospectId: number;
    kind: string;
    text: string;
    dueAt: number;
    endedAt: number | null;
    how: string | null;
  }[];
const events = (app: AppTx) =>
  app.db.prepare("SELECT kind || coalesce(' ' || detail, '') FROM events ORDER BY id").pluck().all();
const lisbon = (instant: number) =>
  new Date(instant).toLocaleString("sv", { timeZone: "Europe/Lisbon" }).slice(0, 16);

describe("a reminder", () => {
  it("comes up on the morning of its day, or at once", () =>
    inCopy((app) => {
      expect(remindMe(app, marta, { prospectId: 1, text: " Ring her ", day: "2026-06-15" })).toEqual({
        ok: true,
        value: 1,
      });
      expect(remindMe(app, marta, { prospectId: 2, text: "Now", kind: "errand" })).toEqual({
        ok: true,
        value: 2,
      });
      const [later, now] = all(app);
      expect(later).toMatchObject({ kind: "reminder", text: "Ring her", endedAt: null });
      expect(lisbon(later?.dueAt ?? 0).slice(0, 10)).toBe("2026-06-15");
      expect(now).toMatchObject({ kind: "errand", dueAt: TUESDAY });
    }));

  it.each<[string, object, object]>([
    ["without words", { text: "  " }, { text: "Write what it is about." }],
    ["on a day that is none", { day: "15 June" }, { day: "Write the day as 2026-09-15." }],
    ["of a kind that is none", { kind: "party" }, {}],
    ["of more than three hundred letters", { text: "x".repeat(301) }, {}],
    ["of nobody", { prospectId: 99 }, {}],
  ])("%s is refused", (_, change, errors) =>
    inCopy((app) => {
      const outcome = remindMe(app, marta, { prospectId: 1, text: "Ring", ...change });
      expect(outcome).toMatchObject({ ok: false, errors });
      expect(all(app)).toEqual([]);
    }),
  );

  it.each([
    ["done", "touch_done Ring her"],
    ["skipped", "touch_skipped Ring her"],
  ] as const)("that is %s is over once, and stands in their story", (how, event) =>
    inCopy((app) => {
      remindMe(app, marta, { prospectId: 1, text: "Ring her" });
      expect(endReminder(app, marta, 1, how)).toEqual({ ok: true, value: null });
      expect(all(app)).toMatchObject([{ endedAt: TUESDAY, how }]);
      expect(events(app)).toEqual([event]);
      expect(endReminder(app, marta, 1, how)).toMatchObject({ errors: { form: "This is no longer open." } });
      expect(endReminder(app, marta, 1, { days: 1 })).toMatchObject({
        errors: { form: "This is no longer open." },
      });
      expect(events(app)).toHaveLength(1);
    }),
  );

  it.each([
    [1, "2026-06-10 08:30"],
    [4, "2026-06-15 08:30"],
    [0, "2026-06-10 08:30"],
    [999, "2026-09-01 08:30"],
  ])("put off by %i working days comes up again on %s", (days, due) =>
    inCopy((app) => {
      remindMe(app, marta, { prospectId: 1, text: "Ring her" });
      expect(endReminder(app, marta, 1, { days }).ok).toBe(true);
      expect(all(app).map(({ dueAt }) => lisbon(dueAt))).toEqual([due]);
      expect(events(app)).toEqual([]);
    }),
  );

  it("is a colleague's to end no more than another's", () =>
    inCopy((app) => {
      remindMe(app, marta, { prospectId: 1, text: "Ring her" });
      app.db.exec(
        "INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, created_at, role) VALUES (2, 'r@q.example', 'Rui', 'x', 'UTC', 'r', 0, 'rep')",
      );
      const rui: User = { ...marta, id: 2, role: "rep" };
      for (const how of ["done", { days: 2 }] as const)
        expect(endReminder(app, rui, 1, how)).toMatchObject({ ok: false, code: "not_yours" });
      expect(endReminder(app, marta, 99, "done").ok).toBe(false);
      expect(all(app)).toMatchObject([{ endedAt: null, dueAt: TUESDAY }]);
    }));
});

describe("a next step", () => {
  it.each([
    [3, "2026-06-12"],
    [0, "2026-06-10"],
    [500, "2026-09-07"],
  ])("in %i days is a reminder for %s", (days, day) =>
    inCopy((app) => {
      expect(planNext(app, marta, 1, days).ok).toBe(true);
      expect(all(app)).toMatchObject([
        { kind: "next_step", text: "Take the conversation on.", prospectId: 1 },
      ]);
      expect(lisbon(all(app)[0]?.dueAt ?? 0).slice(0, 10)).toBe(day);
    }),
  );

  it("is planned with nobody who is not there", () =>
    inCopy((app) => {
      expect(planNext(app, marta, 99, 3).ok).toBe(false);
      expect(settleWarm(app, marta, 99, true).ok).toBe(false);
      expect([all(app), events(app)]).toEqual([[], []]);
    }));
});

it("somebody who looks at an email was rung up, or left in peace", () =>
  inCopy((app) => {
    expect(settleWarm(app, marta, 1, true)).toEqual({ ok: true, value: null });
    expect(settleWarm(app, marta, 2, false)).toEqual({ ok: true, value: null });
    expect(events(app)).toEqual(["touch_done Rang them up while they looked at the email.", "touch_skipped"]);
  }));

it("the day so far counts what one did oneself, and what became of one's own people", () =>
  inCopy((app) => {
    const event = (kind: string, at: number, userId: number | null = 1, detail: string | null = null) =>
      app.db
        .prepare("INSERT INTO events (at, kind, prospect_id, user_id, detail) VALUES (?, ?, 1, ?, ?)")
        .run(at, kind, userId, detail);
    const midnight = TUESDAY - 10 * HOUR;
    event("touch_done", TUESDAY);
    event("touch_done", TUESDAY - DAY);
    event("stage_set", midnight, 1, "won");
    event("stage_set", midnight - 1, 1, "lost");
    event("stage_set", TUESDAY, null, "new");
    expect(daySoFar(app, marta)).toEqual({
      read: 0,
      touches: 1,
      calls: 0,
      booked: 0,
      moved: [{ name: "ana", stage: "won" }],
    });
    expect(daySoFar(app, { ...marta, id: 2 }).touches).toBe(0);
  }));
