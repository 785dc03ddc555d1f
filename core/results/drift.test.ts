import { describe, expect, it } from "vitest";
import { driftOf, weightsOf } from "./drift.ts";

describe("a rate that drifts", () => {
  it("is weighed as in the example of the surgeons", () => {
    // Steiner, Cook, Farewell and Treasure (2000), section 2.1: a risk of one half, odds twice as high; 0.29 and -0.41.
    const { wrong, right } = weightsOf({ usual: 0.5, oddsTimes: 2 });
    expect(wrong).toBeCloseTo(Math.log(4 / 3), 10);
    expect(right).toBeCloseTo(-0.405, 3);
  });

  it("is told with the day since which, and not before", () => {
    const days = [
      ...Array.from({ length: 30 }, () => ({ part: 2, whole: 100 })),
      ...Array.from({ length: 10 }, () => ({ part: 8, whole: 100 })),
    ];
    const drift = driftOf(days, { usual: 0.02, oddsTimes: 2.5, threshold: 5 });
    expect(drift.since).toBe(30);
    expect(drift.alarmAt).toBeGreaterThanOrEqual(30);
    expect(drift.alarmAt).toBeLessThan(34);
    expect(driftOf(days.slice(0, 30), { usual: 0.02, oddsTimes: 2.5, threshold: 5 }).alarmAt).toBeNull();
  });
});
