import { describe, expect, it } from "vitest";
import { HOUR } from "../calendar.ts";
import { freeTimes } from "./free-times.ts";

const FRIDAY = Date.parse("2026-06-12T15:10:00+01:00");

describe("free half-hours", () => {
  const free = freeTimes(FRIDAY, "Europe/Lisbon", new Set());

  it("begin with two hours' notice, on the half-hour, in working time", () => {
    // 17:10 leaves no half-hour on Friday, so the first is on Monday.
    expect(new Date(free[0] as number).toISOString()).toBe("2026-06-15T08:00:00.000Z");
    expect(free[0] as number).toBeGreaterThanOrEqual(FRIDAY + 2 * HOUR);
    expect(free.every((at) => at % (HOUR / 2) === 0)).toBe(true);
  });

  it("leave out what is booked", () => {
    const booked = free[3] as number;
    expect(freeTimes(FRIDAY, "Europe/Lisbon", new Set([booked]))).toEqual(free.filter((at) => at !== booked));
  });
});
