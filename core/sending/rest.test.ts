import { describe, expect, it } from "vitest";
import { DEFAULT_REST, healthOf, needsRest, restRulesSchema, returnRamp, type SentCounts } from "./rest.ts";

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

describe("at the border", () => {
  it("so many emails are enough to tell, and what passes its limit is named", () => {
    expect(needsRest(counts(25, 3))).toEqual({ sent: 25, bounced: 3, of: "bounced" });
    expect(needsRest(counts(25, 2))).toBeNull();
    expect(needsRest(counts(1_000, 0, 3))).toEqual({
      sent: 1_000,
      bounced: 0,
      of: "complained",
      complained: 3,
    });
    expect(healthOf(counts(25, 0), false)).toBe("good");
    expect(healthOf(counts(24, 0), false)).toBe("unknown");
  });

  it("complaints are watched from half of what they may be, whatever came back", () => {
    expect(healthOf(counts(2_000, 0, 3), false)).toBe("watch");
    expect(healthOf(counts(2_000, 0, 2), false)).toBe("good");
  });

  it("a mailbox comes back on a part of its limit and rises by a sixth of it a day", () => {
    expect(returnRamp(30, DEFAULT_REST)).toEqual({ start: 12, step: 5 });
    expect(returnRamp(1, DEFAULT_REST)).toEqual({ start: 1, step: 1 });
    expect(returnRamp(200, { ...DEFAULT_REST, returnPercent: 5 })).toEqual({ start: 10, step: 33 });
  });

  it.each<[keyof typeof DEFAULT_REST, number, number]>([
    ["windowDays", 1, 30],
    ["fewestSent", 1, 1_000],
    ["bouncePercent", 0.5, 50],
    ["complaintPercent", 0.05, 10],
    ["restDays", 1, 60],
    ["returnPercent", 5, 100],
  ])("%s lies between %d and %d", (name, least, most) => {
    const fits = (value: number) => restRulesSchema.safeParse({ ...DEFAULT_REST, [name]: value }).success;
    expect([least, most].map(fits)).toEqual([true, true]);
    expect([least - 0.01, most + 0.01].map(fits)).toEqual([false, false]);
  });
});
