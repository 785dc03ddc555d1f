import { describe, expect, it } from "vitest";
import { DEFAULT_REST, healthOf, needsRest, type SentCounts } from "./rest.ts";

const counts = (sent: number, bounced: number, complained = 0): SentCounts => ({
  sent,
  bounced,
  complained,
  optedOut: 0,
});

describe("a mailbox rests", () => {
  it("when one email in 25 bounces, and not after a single bad address", () => {
    expect(needsRest(counts(75, 3))).toMatchObject({ sent: 75, bounced: 3 });
    expect(needsRest(counts(76, 3))).toBeNull();
    expect(needsRest(counts(10, 2))).toBeNull();
    expect(needsRest(counts(24, 24))).toBeNull();
  });

  it("when two of some hundred are reported, and not for one angry reader", () => {
    expect(needsRest(counts(300, 0, 2))).toMatchObject({ of: "complained" });
    expect(needsRest(counts(300, 0, 1))).toBeNull();
    expect(needsRest(counts(2_000, 0, 2))).toBeNull();
  });

  it("by the limits that somebody set", () => {
    expect(needsRest(counts(100, 4), { ...DEFAULT_REST, bouncePercent: 10 })).toBeNull();
    expect(needsRest(counts(10, 3), { ...DEFAULT_REST, fewestSent: 5 })).not.toBeNull();
  });
});

it("health is to be watched from half of what would have a mailbox rest, and unknown at first", () => {
  expect(healthOf(counts(10, 5), false)).toBe("unknown");
  expect(healthOf(counts(100, 1), false)).toBe("good");
  expect(healthOf(counts(100, 2), false)).toBe("watch");
  expect(healthOf(counts(100, 0), true)).toBe("resting");
});
