import { describe, expect, it } from "vitest";
import { chanceOfSuch, falseShares } from "./many.ts";

describe("a difference by chance", () => {
  it("is that of the lady tasting tea, and of the twins of convicts", () => {
    // R. A. Fisher, The Design of Experiments (1935): 3 of 4 cups; one-sided 17/70, two-sided twice that.
    expect(chanceOfSuch({ part: 3, whole: 4 }, { part: 1, whole: 4 })).toBeCloseTo(34 / 70, 10);
    // R. A. Fisher, The logic of inductive inference (1935): 10 of 13 against 2 of 17; two-sided 0.000537 as R's fisher.test says.
    expect(chanceOfSuch({ part: 10, whole: 13 }, { part: 2, whole: 17 })).toBeCloseTo(0.000_536_7, 6);
  });

  it("is certain where nothing is known", () => {
    expect(chanceOfSuch({ part: 0, whole: 0 }, { part: 3, whole: 9 })).toBeCloseTo(1, 10);
    expect(chanceOfSuch({ part: 500, whole: 10_000 }, { part: 500, whole: 10_000 })).toBeCloseTo(1, 8);
  });
});

describe("many looked at", () => {
  it("calls the first four of the fifteen different at 0.05", () => {
    // The example of Benjamini and Hochberg (1995), section 4.1.
    const p = [
      0.0001, 0.0004, 0.0019, 0.0095, 0.0201, 0.0278, 0.0298, 0.0344, 0.0459, 0.324, 0.4262, 0.5719, 0.6528,
      0.759, 1,
    ];
    const shares = falseShares(p);
    expect(shares.filter((share) => share <= 0.05)).toHaveLength(4);
    expect(shares[3]).toBeCloseTo((0.0095 * 15) / 4, 10);
  });

  it("keeps the order that was given, and is never higher for a lower one", () => {
    expect(falseShares([0.9, 0.01, 0.04])).toEqual([0.9, expect.closeTo(0.03, 10), expect.closeTo(0.06, 10)]);
    expect(falseShares([0.04, 0.041])).toEqual([expect.closeTo(0.041, 10), expect.closeTo(0.041, 10)]);
    expect(falseShares([])).toEqual([]);
  });
});
