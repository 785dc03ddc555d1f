import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { dayNumberFrom, HOUR, instantOn } from "../calendar.ts";
import { publicHolidays } from "../holidays.ts";
import { lisbon } from "./test-paths.ts";
import { dueAt, type Wait } from "./wait.ts";

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
