import fc from "fast-check";
import { expect, it } from "vitest";
import { shareOf } from "./share.ts";

it("is as in the worked examples of the method", () => {
  // R. G. Newcombe, Two-sided confidence intervals for the single proportion (1998), table I, method 3.
  for (const [part, whole, low, high] of [
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ] as const) {
    expect(shareOf(part, whole).low).toBeCloseTo(low, 4);
    expect(shareOf(part, whole).high).toBeCloseTo(high, 4);
  }
});

it("holds the share, lies within 0 and 1, and narrows with the number of people", () => {
  fc.assert(
    fc.property(fc.nat({ max: 500 }), fc.integer({ min: 1, max: 500 }), (some, whole) => {
      const part = Math.min(some, whole);
      const { low, high } = shareOf(part, whole);
      expect(low).toBeGreaterThanOrEqual(0);
      expect(high).toBeLessThanOrEqual(1);
      expect(low - 1e-9).toBeLessThanOrEqual(part / whole);
      expect(high + 1e-9).toBeGreaterThanOrEqual(part / whole);
      const more = shareOf(part * 4, whole * 4);
      expect(more.high - more.low).toBeLessThan(high - low);
    }),
  );
});
