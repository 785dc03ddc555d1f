import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { dayNumberFrom, HOUR, instantOn } from "../calendar.ts";
import { publicHolidays } from "../holidays.ts";
import { lisbon } from "./test-paths.ts";
import { dueAt, isNoWait, usualDays, type Wait } from "./wait.ts";

const tuesday = instantOn("2026-06-09", "10:36", "Europe/Lisbon");
const at = (wait: Wait, calendar = lisbon) =>
  new Date(dueAt(wait, tuesday, { calendar }))
    .toLocaleString("sv", { timeZone: "Europe/Lisbon" })
    .slice(0, 16);

describe("a wait is over", () => {
  it.each<[string, Wait, string]>([
    ["no days: at once", { days: 0, working: true }, "2026-06-09 10:36"],
    ["three working days: on Friday", { days: 3, working: true }, "2026-06-12 09:00"],
    ["four working days: after the weekend", { days: 4, working: true }, "2026-06-15 09:00"],
    ["four days of the calendar: Saturday, so Monday", { days: 4, working: false }, "2026-06-15 09:00"],
    ["two hours: today", { hours: 2 }, "2026-06-09 12:36"],
    ["ten hours: in the evening, so tomorrow", { hours: 10 }, "2026-06-10 09:00"],
    ["until Monday 10:00", { weekday: 1, time: "10:00" }, "2026-06-15 10:00"],
    ["until Tuesday 10:00, which is over today", { weekday: 2, time: "10:00" }, "2026-06-16 10:00"],
    ["until Tuesday 11:00, which is today", { weekday: 2, time: "11:00" }, "2026-06-09 11:00"],
    ["until a date on a Sunday", { date: "2026-06-21", time: "10:00" }, "2026-06-22 09:00"],
    ["until a date that is over: at once", { date: "2026-06-01", time: "10:00" }, "2026-06-09 10:36"],
  ])("%s", (_, wait, expected) => expect(at(wait)).toBe(expected));

  it.each<[string, Wait, string]>([
    ["no hours: at once", { hours: 0 }, "2026-06-09 10:36"],
    ["a Monday that lies behind in the week", { weekday: 1, time: "09:00" }, "2026-06-15 09:00"],
    ["a Sunday, which is free", { weekday: 7, time: "10:00" }, "2026-06-15 09:00"],
    ["a weekday's time at this very moment: a week later", { weekday: 2, time: "10:36" }, "2026-06-16 10:36"],
  ])("%s", (_, wait, expected) => expect(at(wait)).toBe(expected));

  it("in the evening of a weekday's time: at the next opening", () => {
    expect(at({ weekday: 3, time: "20:00" })).toBe("2026-06-11 09:00");
  });

  it("at the opening of the day, or within its first four tenths, drawn by who it is", () => {
    const due = (seed?: readonly string[]) =>
      dueAt({ days: 1, working: true }, tuesday, {
        calendar: lisbon,
        bestMinute: null,
        ...(seed && { seed }),
      });
    const opens = instantOn("2026-06-10", "09:00", "Europe/Lisbon");
    expect(due()).toBe(opens);
    const drawn = Array.from({ length: 60 }, (_, index) => due([`person ${index}`]) - opens);
    expect(Math.max(...drawn)).toBeLessThanOrEqual(0.4 * 8 * HOUR);
    expect(Math.max(...drawn)).toBeGreaterThan(0.3 * 8 * HOUR);
    expect(Math.min(...drawn)).toBeGreaterThanOrEqual(0);
    expect(due(["one"])).toBe(due(["one"]));
  });

  it("not on a public holiday where the prospect is", () => {
    // 10 June is Portugal's national day.
    const portugal = { ...lisbon, holidays: publicHolidays("PT", 2026) };
    expect(at({ days: 1, working: true }, portugal)).toBe("2026-06-11 09:00");
    expect(at({ hours: 10 }, portugal)).toBe("2026-06-11 09:00");
  });

  it("at their best hour, within the hours of the sequence", () => {
    const best = (bestMinute: number) =>
      dueAt({ days: 1, working: true }, tuesday, { calendar: lisbon, bestMinute });
    expect(best(14 * 60)).toBe(instantOn("2026-06-10", "14:00", "Europe/Lisbon"));
    expect(best(22 * 60)).toBe(instantOn("2026-06-10", "16:45", "Europe/Lisbon"));
  });

  it("in open hours and never before it began, whatever is waited for", () => {
    const waits: fc.Arbitrary<Wait> = fc.oneof(
      fc.record({ days: fc.integer({ min: 1, max: 60 }), working: fc.boolean() }),
      fc.record({ hours: fc.integer({ min: 1, max: 700 }) }),
      fc.record({
        weekday: fc.integer({ min: 1, max: 7 }),
        time: fc.constantFrom("00:00", "12:00", "23:59"),
      }),
    );
    const holidays = new Set([dayNumberFrom("2026-06-10"), dayNumberFrom("2026-06-15")]);
    fc.assert(
      fc.property(waits, fc.integer({ min: 0, max: 24 * 40 }), (wait, hours) => {
        const from = tuesday + hours * HOUR;
        const due = dueAt(wait, from, { calendar: { ...lisbon, holidays }, seed: [1] });
        expect(due).toBeGreaterThanOrEqual(from);
        const local = new Date(due).toLocaleString("sv", { timeZone: "Europe/Lisbon" });
        expect(local.slice(11, 16) >= "09:00" && local.slice(11, 16) < "17:00").toBe(true);
        expect(holidays.has(dayNumberFrom(local.slice(0, 10)))).toBe(false);
      }),
    );
  });
});

describe("a wait without a date", () => {
  it.each<[Wait, number, boolean]>([
    [{ days: 0, working: true }, 0, true],
    [{ days: 0, working: false }, 0, true],
    [{ days: 4, working: true }, 4, false],
    [{ days: 7, working: false }, 5, false],
    [{ days: 10, working: false }, 7, false],
    [{ hours: 0 }, 0, true],
    [{ hours: 11 }, 0, false],
    [{ hours: 48 }, 2, false],
    [{ weekday: 2, time: "10:00" }, 3, false],
    [{ date: "2026-07-01", time: "10:00" }, 5, false],
  ])("%j takes %i working days", (wait, usual, none) => {
    expect(usualDays(wait)).toBe(usual);
    expect(isNoWait(wait)).toBe(none);
  });
});

describe("without a wait an email for their best hour", () => {
  const on = (day: string, time: string) => instantOn(`2026-06-${day}`, time, "Europe/Lisbon");
  it.each([
    ["09", "10:00", "09", "15:30", "comes later the same day"],
    ["09", "15:40", "09", "15:40", "goes within that hour at once"],
    ["09", "16:30", "10", "15:30", "comes tomorrow when it is over"],
    ["12", "16:30", "15", "15:30", "comes after the weekend"],
    ["13", "10:00", "15", "15:30", "does not come on a free day"],
  ])("from June %s, %s on is due on June %s, %s: it %s", (day, time, dueDay, dueTime) => {
    expect(
      dueAt({ days: 0, working: true }, on(day, time), { calendar: lisbon, bestMinute: 15 * 60 + 30 }),
    ).toBe(on(dueDay, dueTime));
  });
  it("goes at once where none is known", () => {
    const now = on("09", "10:00");
    expect(dueAt({ days: 0, working: true }, now, { calendar: lisbon, bestMinute: null })).toBe(now);
  });
});
