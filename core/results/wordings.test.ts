import { describe, expect, it } from "vitest";
import { seeded } from "../random.ts";
import { moreToSettle, verdictOf } from "./wordings.ts";

/** Looks every evening for as long as it is not settled; what it ends in. */
function run(rates: readonly number[], aDay: number, days: number, draw: () => number): string {
  const counts = rates.map(() => ({ part: 0, whole: 0 }));
  for (let day = 0; day < days; day++) {
    for (let person = 0; person < aDay; person++) {
      const arm = Math.floor(draw() * rates.length);
      const count = counts[arm];
      if (!count) continue;
      count.whole++;
      if (draw() < (rates[arm] ?? 0)) count.part++;
    }
    const verdict = verdictOf(counts);
    if (verdict.state === "better") return `better ${String(verdict.best)}`;
    if (verdict.state === "alike") return "alike";
  }
  return "open";
}

describe("two wordings", () => {
  it("makes no false winners though one looks every day", () => {
    const draw = seeded("no difference");
    let better = 0;
    for (let nth = 0; nth < 2_000; nth++) {
      const rate = [0.03, 0.08, 0.15, 0.3][nth % 4] ?? 0;
      if (run([rate, rate], 40, 20, draw).startsWith("better")) better++;
    }
    expect(better / 2_000).toBeLessThanOrEqual(0.05);
  });

  it("finds a true one, and hardly ever the wrong one", () => {
    const draw = seeded("a difference");
    const ends = Array.from({ length: 200 }, () => run([0.06, 0.12], 40, 60, draw));
    expect(ends.filter((end) => end === "better 1").length).toBeGreaterThan(140);
    expect(ends.filter((end) => end === "better 0").length).toBeLessThanOrEqual(2);
  });

  it("is open at first, alike after many, better after enough", () => {
    expect(
      verdictOf([
        { part: 0, whole: 0 },
        { part: 0, whole: 0 },
      ]).state,
    ).toBe("open");
    expect(
      verdictOf([
        { part: 9, whole: 71 },
        { part: 9, whole: 71 },
      ]).state,
    ).toBe("open");
    expect(
      verdictOf([
        { part: 4_000, whole: 40_000 },
        { part: 4_010, whole: 40_000 },
      ]),
    ).toEqual({ state: "alike" });
    expect(
      verdictOf([
        { part: 30, whole: 600 },
        { part: 80, whole: 600 },
      ]),
    ).toEqual({ state: "better", best: 1 });
  });

  it("tells how many more would settle it", () => {
    expect(
      moreToSettle([
        { part: 30, whole: 600 },
        { part: 80, whole: 600 },
      ]),
    ).toBe(0);
    expect(
      moreToSettle([
        { part: 0, whole: 0 },
        { part: 0, whole: 0 },
      ]),
    ).toBeNull();
    const near =
      moreToSettle([
        { part: 6, whole: 71 },
        { part: 12, whole: 71 },
      ]) ?? 0;
    const far =
      moreToSettle([
        { part: 3, whole: 71 },
        { part: 12, whole: 71 },
      ]) ?? 0;
    expect(far).toBeGreaterThan(0);
    expect(near).toBeGreaterThan(far);
  });
});
