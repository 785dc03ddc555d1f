import { describe, expect, it } from "vitest";
import { dayNumberFrom, MINUTE } from "../calendar.ts";
import { DailyBudget, placeIn, RollingBudget } from "./budget.ts";
import { limitAfter, limitToday, momentsOf, ownHours, type Sender } from "./sender.ts";

const TUESDAY = dayNumberFrom("2026-06-09");
const at = (time: string, zone = "+01:00") => Date.parse(`2026-06-09T${time}:00${zone}`);
const sender = (change: Partial<Sender> = {}): Sender => ({
  id: 1,
  dailyLimit: 30,
  gapMinutes: { least: 8, most: 14 },
  zone: "Europe/Lisbon",
  sentToday: 0,
  lastSentAt: null,
  restsUntil: null,
  ...change,
});

describe("a mailbox's limit", () => {
  it("rises with each day on which it sends, up to its own", () => {
    const young = sender({ ramp: { start: 5, step: 3, daysSoFar: 2 } });
    expect([0, 1, 8, 9].map((days) => limitAfter(young, days))).toEqual([5, 8, 29, 30]);
    expect(limitToday(young)).toBe(11);
    expect(limitToday(sender())).toBe(30);
    expect(limitAfter(sender({ ramp: null }), 0)).toBe(30);
  });
});

describe("the moments of a day", () => {
  const moments = momentsOf(sender(), TUESDAY) as number[];
  const gaps = moments.slice(1).map((each, nth) => (each - (moments[nth] as number)) / MINUTE);

  it("fill it, no closer and no further apart than the gap allows", () => {
    expect(moments[0]).toBeGreaterThanOrEqual(at("00:00") - 3 * MINUTE);
    expect(moments.at(-1)).toBeLessThan(at("00:00") + 24 * 60 * MINUTE);
    expect(Math.min(...gaps)).toBeGreaterThanOrEqual(8 - 1e-3);
    expect(Math.max(...gaps)).toBeLessThanOrEqual(14 + 1e-3);
    expect(Math.max(...gaps) - Math.min(...gaps)).toBeGreaterThan(2);
    expect(moments.length).toBeGreaterThan((24 * 60) / 11 - 3);
  });

  it("are the same for one mailbox and day, and others for another", () => {
    expect(momentsOf(sender(), TUESDAY)).toEqual(moments);
    expect(momentsOf(sender({ id: 2 }), TUESDAY)).not.toEqual(moments);
    expect(momentsOf(sender(), TUESDAY + 1)?.[0]).not.toBe((moments[0] as number) + 24 * 60 * MINUTE);
  });

  it("are any where there is no gap", () => {
    expect(momentsOf(sender({ gapMinutes: { least: 0, most: 0 } }), TUESDAY)).toBeNull();
    expect(momentsOf(sender({ gapMinutes: { least: 0, most: 2 } }), TUESDAY)).not.toBeNull();
  });
});

describe("a mailbox's own hours", () => {
  it("are the whole day where it has none", () => {
    expect(ownHours(sender(), TUESDAY)).toEqual({
      opens: at("00:00"),
      closes: at("00:00") + 24 * 60 * MINUTE,
    });
  });

  it("are those of its zone, on its days alone", () => {
    const own = sender({ zone: "Asia/Tokyo", hours: { days: [2], opens: "09:00", closes: "12:30" } });
    expect(ownHours(own, TUESDAY)).toEqual({ opens: at("09:00", "+09:00"), closes: at("12:30", "+09:00") });
    expect(ownHours(own, TUESDAY + 1)).toBeNull();
  });
});

describe("a budget", () => {
  it("takes no more than its most within any span, before, after and around", () => {
    const budget = new RollingBudget(2, 60, [100, 130]);
    expect([159, 160, 71, 70, 115, 191].map((each) => budget.fits(each))).toEqual([
      false,
      true,
      false,
      true,
      false,
      true,
    ]);
    budget.spend(160);
    expect([189, 190].map((each) => budget.fits(each))).toEqual([false, true]);
    budget.giveBack(160);
    budget.giveBack(999);
    expect(budget.fits(160)).toBe(true);
    expect(new RollingBudget(0, 60).fits(5)).toBe(false);
    expect(new RollingBudget(1, 60).fits(5)).toBe(true);
    expect(new RollingBudget(1, 60, [9, 200, 100]).fits(150)).toBe(false);
  });

  it("of a day is that day's alone, and can be given back", () => {
    const budget = new DailyBudget(3);
    budget.spend(7);
    budget.spend(7, 2);
    expect([budget.left(7), budget.left(8)]).toEqual([0, 3]);
    budget.spend(7, -1);
    expect(budget.left(7)).toBe(1);
  });

  it("keeps its instants in order", () => {
    expect([0, 1, 2, 3, 4].map((each) => placeIn([1, 3], each))).toEqual([0, 0, 1, 1, 2]);
    expect(placeIn([], 4)).toBe(0);
  });
});
