import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { bestHour, HOURS, type HourCounts } from "./best-hour.ts";

const at = (hours: Record<number, number>): HourCounts =>
  Array.from({ length: HOURS }, (_, hour) => hours[hour] ?? 0);
const NOTHING = at({});
const OFFICE = { opens: 8 * 60 + 30, closes: 17 * 60 };

describe("the best hour", () => {
  it("is not known where nobody ever did anything", () => {
    expect(bestHour([NOTHING, NOTHING], NOTHING, OFFICE)).toBeNull();
  });

  it("follows people like them, as long as they themselves did nothing", () => {
    expect(bestHour([at({ 9: 40, 15: 10 }), at({ 15: 30 })], NOTHING, OFFICE)).toEqual({
      minute: 15 * 60 + 30,
      own: 0,
      certainty: 0,
    });
  });

  it("is their own once they answered some times, and says how much of it is", () => {
    const known = bestHour([at({ 9: 400 })], at({ 14: 12 }), OFFICE);
    expect(known?.minute).toBe(14 * 60 + 30);
    expect(known?.certainty).toBeCloseTo(12 / 18);
    // One open does not outweigh everybody.
    expect(bestHour([at({ 9: 400 })], at({ 14: 0.15 }), OFFICE)?.minute).toBe(9 * 60 + 30);
  });

  it("lies within the hours in which mail may go, whatever people do at night", () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 50, noNaN: true }), { minLength: HOURS, maxLength: HOURS }),
        fc.integer({ min: 0, max: 20 }),
        fc.integer({ min: 2, max: 6 }),
        (own, from, hours) => {
          const between = { opens: from * 60, closes: Math.min(1440, (from + hours) * 60) };
          const found = bestHour([NOTHING], own, between);
          if (!found) return;
          expect(found.minute).toBeGreaterThanOrEqual(between.opens);
          expect(found.minute).toBeLessThan(between.closes);
        },
      ),
    );
  });

  it("lets neighbouring hours speak for each other, around midnight too", () => {
    // Ten has more than eleven, but eleven has twelve beside it, of the same weight.
    expect(bestHour([NOTHING], at({ 10: 5, 12: 4, 13: 4 }), { opens: 0, closes: 1440 })?.minute).toBe(
      12 * 60 + 30,
    );
    expect(bestHour([NOTHING], at({ 5: 5, 23: 4, 0: 4 }), { opens: 0, closes: 1440 })?.minute).toBe(30);
    expect(bestHour([NOTHING], at({ 5: 5, 22: 4, 23: 4.5 }), { opens: 0, closes: 1440 })?.minute).toBe(
      23 * 60 + 30,
    );
  });

  it("is the middle of an hour that begins with the hours and ends before they close, the earlier of two alike", () => {
    const own = at({ 8: 9, 9: 9, 17: 9 });
    expect(bestHour([NOTHING], own, { opens: 8 * 60 + 30, closes: 9 * 60 + 30 })?.minute).toBe(8 * 60 + 30);
    expect(bestHour([NOTHING], own, { opens: 8 * 60 + 31, closes: 9 * 60 + 30 })).toBeNull();
    expect(bestHour([NOTHING], at({ 9: 3, 15: 3 }), OFFICE)?.minute).toBe(9 * 60 + 30);
  });

  it("is known where anybody did anything, they or people like them", () => {
    expect(bestHour([NOTHING, at({ 9: 1 })], NOTHING, OFFICE)).not.toBeNull();
    expect(bestHour([], at({ 9: 1 }), OFFICE)?.own).toBe(1);
    expect(bestHour([], NOTHING, OFFICE)).toBeNull();
  });
});
