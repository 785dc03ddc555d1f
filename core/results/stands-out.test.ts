import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type StepFigures, shareOf, whatStandsOut } from "./stands-out.ts";

const step = (change: Partial<StepFigures>): StepFigures => ({
  sequence: "Loans",
  step: "Opening",
  isFirst: true,
  sent: 100,
  replied: 10,
  bounced: 0,
  optedOut: 0,
  ...change,
});
const kinds = (steps: StepFigures[]) => whatStandsOut(steps).map(({ kind }) => kind);

it("a share's interval holds the share, lies within 0 and 1, and narrows with the number of people", () => {
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
  // The worked example of the method: 15 of 148.
  expect(shareOf(15, 148).low).toBeCloseTo(0.0624, 3);
  expect(shareOf(15, 148).high).toBeCloseTo(0.1605, 3);
});

describe("what stands out", () => {
  it("is nothing while the figures are small", () => {
    expect(kinds([step({ sent: 19, replied: 9, bounced: 5, optedOut: 5 })])).toEqual([]);
  });

  it("is the best step, surely only if chance does not explain it", () => {
    const best = (others: Partial<StepFigures>) =>
      whatStandsOut([step({ sent: 200, replied: 60 }), step({ step: "Other", ...others })])[0];
    expect(best({ sent: 200, replied: 10 })).toMatchObject({ kind: "best_step", isSure: true });
    expect(best({ sent: 200, replied: 55 })).toMatchObject({ kind: "best_step", isSure: false });
  });

  it("is how much the follow-ups bring, and which of them nobody answers", () => {
    const steps = [step({ replied: 30 }), step({ step: "Again", isFirst: false, replied: 10 })];
    expect(whatStandsOut(steps)[1]).toMatchObject({ kind: "follow_ups", share: { part: 10, whole: 40 } });
    expect(kinds([...steps, step({ step: "Last", isFirst: false, sent: 80, replied: 0 })])).toContain(
      "silent_step",
    );
  });

  it("is what harms a mailbox's name", () => {
    expect(kinds([step({ bounced: 4 })])).toContain("bounces");
    expect(kinds([step({ bounced: 3 })])).not.toContain("bounces");
    expect(kinds([step({ optedOut: 3 })])).toContain("opt_outs");
  });
});
