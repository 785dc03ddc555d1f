import { describe, expect, it } from "vitest";
import { beliefOf, compareRates, logGamma, oddsOfDifference } from "./beta.ts";

describe("what is believed of a rate", () => {
  it("is that of the births with placenta praevia", () => {
    // Gelman and others, Bayesian Data Analysis (2013), section 2.4: 437 girls of 980, so 0.446, and 0.415 to 0.477.
    const belief = beliefOf({ part: 437, whole: 980 });
    expect(belief.mean).toBeCloseTo(0.446, 3);
    expect(belief.low).toBeCloseTo(0.415, 3);
    expect(belief.high).toBeCloseTo(0.477, 3);
  });

  it("is anything while nothing is known, and holds for none and for all", () => {
    expect(beliefOf({ part: 0, whole: 0 })).toEqual({
      mean: 0.5,
      low: expect.closeTo(0.025, 6),
      high: expect.closeTo(0.975, 6),
    });
    // 1 - 0.025^(1/(n+1)) and its mirror.
    expect(beliefOf({ part: 0, whole: 20 }).high).toBeCloseTo(1 - 0.025 ** (1 / 21), 4);
    expect(beliefOf({ part: 20, whole: 20 }).low).toBeCloseTo(0.025 ** (1 / 21), 4);
    expect(beliefOf({ part: 40_000, whole: 1_000_000 }).low).toBeCloseTo(
      0.04 - 1.96 * Math.sqrt(0.04 * 0.96e-6),
      5,
    );
  });
});

/** P(θ₂ > θ₁) by the closed sum for whole numbers. */
function chanceOfMore(one: { part: number; whole: number }, two: { part: number; whole: number }): number {
  const logBeta = (x: number, y: number) => logGamma(x) + logGamma(y) - logGamma(x + y);
  const [a1, b1] = [one.part + 1, one.whole - one.part + 1];
  const [a2, b2] = [two.part + 1, two.whole - two.part + 1];
  let sum = 0;
  for (let i = 0; i < a2; i++)
    sum += Math.exp(logBeta(a1 + i, b1 + b2) - Math.log(b2 + i) - logBeta(1 + i, b2) - logBeta(a1, b1));
  return sum;
}

describe("of several rates", () => {
  it("says the same as the closed sum for two (W. R. Thompson, 1933)", () => {
    const pairs = [
      [
        { part: 9, whole: 71 },
        { part: 14, whole: 70 },
      ],
      [
        { part: 0, whole: 5 },
        { part: 3, whole: 400 },
      ],
      [
        { part: 40, whole: 2000 },
        { part: 55, whole: 2000 },
      ],
    ] as const;
    for (const [one, two] of pairs) {
      const [first, second] = compareRates([one, two]);
      expect(second?.isBest).toBeCloseTo(chanceOfMore(one, two), 4);
      expect((first?.isBest ?? 0) + (second?.isBest ?? 0)).toBeCloseTo(1, 4);
    }
  });

  it("loses nothing by the sure best, and by another the difference", () => {
    const [bad, good] = compareRates([
      { part: 100, whole: 10_000 },
      { part: 900, whole: 10_000 },
    ]);
    expect(good?.loss).toBeCloseTo(0, 8);
    expect(bad?.loss).toBeCloseTo(0.08, 4);
    const equal = compareRates(Array.from({ length: 3 }, () => ({ part: 0, whole: 0 })));
    // The highest of three evenly drawn is 3/4 on the average.
    for (const { isBest, loss } of equal) {
      expect(isBest).toBeCloseTo(1 / 3, 3);
      expect(loss).toBeCloseTo(0.25, 3);
    }
  });

  it("has odds for a difference that follow from the counts", () => {
    expect(
      oddsOfDifference([
        { part: 1, whole: 1 },
        { part: 0, whole: 1 },
      ]),
    ).toBeCloseTo(((1 / 10) * (9 / 10)) / ((1 / 10) * (9 / 11)), 10);
    expect(
      oddsOfDifference([
        { part: 50, whole: 500 },
        { part: 51, whole: 500 },
      ]),
    ).toBeLessThan(0.2);
    expect(
      oddsOfDifference([
        { part: 20, whole: 500 },
        { part: 60, whole: 500 },
      ]),
    ).toBeGreaterThan(1_000);
  });
});

it("knows the logarithm of a factorial", () => {
  expect(logGamma(1)).toBeCloseTo(0, 11);
  expect(logGamma(0.5)).toBeCloseTo(Math.log(Math.PI) / 2, 11);
  expect(logGamma(11)).toBeCloseTo(Math.log(3_628_800), 10);
});
