import fc from "fast-check";
import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import {
  dayOf,
  hourOf,
  instantOn,
  OpenHours,
  startOfDay,
  startOfNextDay,
  weekdayOf,
  workingDayAfter,
  workingDaysBetween,
} from "./calendar.ts";

const WEEK = [1, 2, 3, 4, 5];
const zones = [
  "Europe/Lisbon",
  "America/New_York",
  "Asia/Kolkata",
  "Asia/Kathmandu",
  "Australia/Lord_Howe",
  "Pacific/Apia",
];
const instant = fc.integer({ min: Date.parse("2024-01-01"), max: Date.parse("2030-01-01") });

describe("the calendar", () => {
  it("agrees with luxon on days, their bounds and weekdays, in any zone, clock changes included", () => {
    fc.assert(
      fc.property(instant, fc.constantFrom(...zones), (at, zone) => {
        const local = DateTime.fromMillis(at, { zone });
        expect(Math.floor(hourOf(at, zone) * 60 + 1e-6)).toBe(local.hour * 60 + local.minute);
        expect(dayOf(at, zone)).toBe(local.toISODate());
        expect(weekdayOf(at, zone)).toBe(local.weekday);
        expect(startOfDay(at, zone)).toBe(local.startOf("day").toMillis());
        expect(startOfNextDay(at, zone)).toBe(local.plus({ days: 1 }).startOf("day").toMillis());
      }),
      { numRuns: 500 },
    );
  });

  it("counts working days over weekends", () => {
    const friday = Date.parse("2026-06-12T12:00:00Z");
    expect(workingDayAfter(friday, 1, WEEK, "Europe/Lisbon")).toBe("2026-06-15");
    expect(workingDayAfter(friday, 0, [6, 7], "Europe/Lisbon")).toBe("2026-06-13");
    expect(workingDaysBetween("2026-06-12", "2026-06-16")).toBe(2);
  });

  it("keeps local hours when the clocks change", () => {
    expect(instantOn("2026-03-27", "08:30", "Europe/Lisbon")).toBe(Date.parse("2026-03-27T08:30:00Z"));
    expect(instantOn("2026-03-30", "08:30", "Europe/Lisbon")).toBe(Date.parse("2026-03-30T07:30:00Z"));
  });

  it("finds the opening that contains an instant, or the next", () => {
    const hours = new OpenHours(
      { days: WEEK, opens: "08:30", closes: "17:00" },
      "Europe/Lisbon",
      Date.parse("2026-06-12T00:00:00Z"),
    );
    const monday = hours.windowFrom(Date.parse("2026-06-12T16:00:00Z"));
    expect(new Date(monday.opens).toISOString()).toBe("2026-06-15T07:30:00.000Z");
    expect(hours.windowFrom(monday.opens + 1)).toEqual(monday);
  });
});
