import { describe, expect, it } from "vitest";
import { type Calendar, DAY, HOUR, NO_HOLIDAYS } from "../calendar.ts";
import { outlook } from "./outlook.ts";
import type { PlanInput, PlanJourney, PlannedTouch } from "./plan-parts.ts";
import type { Sender } from "./sender.ts";

const LISBON = "Europe/Lisbon";
/** Thursday, 11 June 2026, 10:00 in Lisbon. */
const NOW = Date.parse("2026-06-11T10:00:00+01:00");
const at = (day: string, time = "11:00") => Date.parse(`2026-06-${day}T${time}:00+01:00`);
const calendar: Calendar = {
  zone: LISBON,
  hours: { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" },
  holidays: NO_HOLIDAYS,
};
const sender = (id: number, change: Partial<Sender> = {}): Sender => ({
  id,
  dailyLimit: 2,
  gapMinutes: { least: 5, most: 9 },
  zone: LISBON,
  sentToday: 0,
  lastSentAt: null,
  restsUntil: null,
  ...change,
});
const journey = (id: number, change: Partial<PlanJourney> = {}): PlanJourney => ({
  id,
  calendar,
  senderIds: [1],
  followUp: false,
  dueAt: NOW,
  ahead: [{ id: "a", waits: [] }],
  ...change,
});
const touch = (journeyId: number, instant: number, change: Partial<PlannedTouch> = {}): PlannedTouch => ({
  journeyId,
  stepId: "a",
  senderId: 1,
  at: instant,
  followUp: false,
  ...change,
});
const seen = (touches: PlannedTouch[], change: Partial<PlanInput> = {}, shown = 4) =>
  outlook(
    { now: NOW, until: NOW + 30 * DAY, senders: [sender(1)], journeys: [], ...change },
    { touches, blocks: new Map() },
    LISBON,
    shown,
  );

describe("the days of an outlook", () => {
  it("are today and the working days after it", () => {
    expect(seen([]).days).toEqual(["2026-06-11", "2026-06-12", "2026-06-15", "2026-06-16"]);
    expect(seen([], {}, 12).days).toHaveLength(12);
  });

  it("have a weekend where something goes on it, or where it is today", () => {
    expect(seen([touch(1, at("13"))]).days).toEqual(["2026-06-11", "2026-06-12", "2026-06-13", "2026-06-15"]);
    expect(seen([], { now: at("14") }).days[0]).toBe("2026-06-14");
  });

  it("begin where the reader is", () => {
    // 23:30 in Lisbon is the next day in Tokyo.
    const late = outlook(
      { now: at("11", "23:30"), until: NOW + DAY, senders: [], journeys: [] },
      { touches: [], blocks: new Map() },
      "Asia/Tokyo",
    );
    expect(late.days[0]).toBe("2026-06-12");
  });
});

it("the last of a what-if's people is told of besides those who wait already", () => {
  const journeys = [1, -1, -2, -3].map((id) => journey(id));
  const all = seen([touch(1, at("11")), touch(-1, at("12")), touch(-2, at("15"))], { journeys });
  expect(all).toMatchObject({ lastNewAt: at("15"), newBeyondPlan: 1 });
  expect(seen([touch(1, at("11"))])).toMatchObject({ lastNewAt: null, newBeyondPlan: 0 });
});

describe("a cell", () => {
  it("has what is planned there, and the most that day", () => {
    const { cells } = seen(
      [touch(1, at("11")), touch(2, at("11", "12:00")), touch(3, at("12"), { senderId: 2 })],
      {
        senders: [sender(1), sender(2, { dailyLimit: 9 })],
      },
    );
    expect(cells[1]).toEqual([2, 0, 0, 0].map((planned) => ({ planned, limit: 2 })));
    expect(cells[2]).toEqual([0, 1, 0, 0].map((planned) => ({ planned, limit: 9 })));
  });

  it("rises by the days on which it sends, today among them if it has", () => {
    const ramp = { start: 1, step: 2, daysSoFar: 0 };
    const limits = (touches: PlannedTouch[], sentToday: number) =>
      seen(touches, { senders: [sender(1, { dailyLimit: 6, ramp, sentToday })] }).cells[1]?.map(
        ({ limit }) => limit,
      );
    expect(limits([], 0)).toEqual([1, 1, 1, 1]);
    expect(limits([], 1)).toEqual([1, 3, 3, 3]);
    expect(limits([touch(1, at("12")), touch(2, at("15"))], 0)).toEqual([1, 1, 3, 5]);
    expect(limits([touch(1, at("11")), touch(1, at("12")), touch(2, at("15"))], 0)).toEqual([1, 3, 5, 6]);
  });

  it("has nothing to give while the mailbox rests", () => {
    const { cells } = seen([], { senders: [sender(1, { restsUntil: at("15", "08:00") })] });
    expect(cells[1]?.map(({ limit }) => limit)).toEqual([0, 0, 2, 2]);
  });
});

describe("what an outlook counts", () => {
  it("is emails by day and kind, and today's", () => {
    const found = seen(
      [touch(2, at("12")), touch(1, at("11")), touch(3, at("11"), { followUp: true, senderId: 2 })],
      {
        senders: [sender(1), sender(2)],
      },
    );
    expect(found.perDay).toEqual([
      { day: "2026-06-11", firsts: 1, followUps: 1 },
      { day: "2026-06-12", firsts: 1, followUps: 0 },
    ]);
    expect(found).toMatchObject({ total: 3, today: 2 });
    expect(seen([])).toMatchObject({ total: 0, today: 0, perDay: [], lastFirstAt: null });
  });

  it("is when the last first email goes, and for whom there is no day", () => {
    const journeys = [journey(1), journey(2), journey(3), journey(4, { followUp: true })];
    const found = seen([touch(1, at("11")), touch(2, at("12")), touch(4, at("15"), { followUp: true })], {
      journeys,
    });
    expect(found).toMatchObject({ lastFirstAt: at("12"), waitingForFirst: 3, beyondPlan: 1 });
    expect(seen([touch(1, at("11")), touch(9, at("12"))], { journeys: [journey(1)] }).beyondPlan).toBe(0);
  });

  it("is who is late by a day or more of those who fell due", () => {
    const due = (hours: number) => journey(1, { followUp: true, dueAt: at("15") - hours * HOUR });
    const late = (hours: number, stepId = "a") =>
      seen([touch(1, at("15"), { followUp: true, stepId })], { journeys: [due(hours)] }).lateFollowUps;
    expect([late(23.9), late(24)]).toEqual([0, 1]);
    // Of a later step it is not known when it was due.
    expect(late(240, "b")).toBe(0);
    expect(seen([touch(1, at("15"))], { journeys: [due(240)] }).lateFollowUps).toBe(0);
  });

  it("is whose thread lies where nothing sends", () => {
    const journeys = [
      journey(1, { followUp: true, senderIds: [7] }),
      journey(2, { followUp: true, senderIds: [7, 1] }),
      journey(3, { senderIds: [7] }),
    ];
    expect(seen([], { journeys }).waitingThreads).toBe(1);
  });

  it("is the first day on which somebody has room", () => {
    const full = [touch(1, at("11")), touch(2, at("11")), touch(3, at("12")), touch(4, at("12"))];
    expect(seen(full).roomOn).toBe("2026-06-15");
    expect(seen(full.slice(0, 1)).roomOn).toBe("2026-06-11");
    // What has gone today takes its part of today alone.
    expect(seen(full.slice(0, 1), { senders: [sender(1, { sentToday: 1 })] }).roomOn).toBe("2026-06-12");
    expect(seen(full, { senders: [sender(1), sender(2)] }).roomOn).toBe("2026-06-11");
    expect(seen([], { senders: [] }).roomOn).toBeNull();
  });
});
