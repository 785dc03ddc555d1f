import { describe, expect, it } from "vitest";
import { dayNumberFrom, dayOf, HOUR, startOfDay } from "../calendar.ts";
import { exchangeADay, exchangeOn, YOUNG_DAYS } from "./exchange.ts";

const day = dayNumberFrom("2026-06-09");
const box = (id: number, address: string, age = 8) => ({ id, address, zone: "Europe/Lisbon", age });

describe("the ramp exchange", () => {
  it("rises slowly, and ends when a mailbox is young no more", () => {
    const days = Array.from({ length: YOUNG_DAYS + 1 }, (_, age) => exchangeADay(age));
    expect(days[0]).toBe(1);
    expect(Math.max(...days)).toBe(6);
    expect(days.at(-1)).toBe(0);
    for (let age = 1; age < YOUNG_DAYS; age++)
      expect(days[age]).toBeGreaterThanOrEqual(days[age - 1] as number);
  });

  it("writes by day, to others only, to other domains where there are any, and the same for the same day", () => {
    const boxes = [box(1, "a@one.example"), box(2, "b@one.example"), box(3, "c@two.example")];
    const mails = exchangeOn(day, boxes);
    expect(mails).toHaveLength(9);
    expect(exchangeOn(day, boxes)).toEqual(mails);
    for (const { fromId, toId, at, answerAt } of mails) {
      expect(fromId === 3 ? [1, 2] : [3]).toContain(toId);
      expect(dayOf(at, "Europe/Lisbon")).toBe("2026-06-09");
      expect(at - startOfDay(at, "Europe/Lisbon")).toBeGreaterThanOrEqual(9 * HOUR);
      if (answerAt !== null) expect(answerAt).toBeGreaterThan(at);
    }
    expect(exchangeOn(day, [box(1, "a@one.example")])).toEqual([]);
  });

  it("stays within one domain only where there is no other, and never writes to itself", () => {
    const boxes = [1, 2, 3].map((id) => box(id, `m${id}@one.example`, 40));
    const mails = [0, 1, 2, 3].flatMap((later) => exchangeOn(day + later, boxes));
    expect(mails.every(({ fromId, toId }) => fromId !== toId)).toBe(true);
    expect(new Set(mails.filter(({ fromId }) => fromId === 1).map(({ toId }) => toId))).toEqual(
      new Set([2, 3]),
    );
  });

  it("spreads over the day, and half of it is answered within three hours and a half", () => {
    const boxes = Array.from({ length: 60 }, (_, id) => box(id, `m@d${id}.example`, 30));
    const mails = exchangeOn(day, boxes);
    const hours = mails.map(({ at }) => (at - startOfDay(at, "Europe/Lisbon")) / HOUR);
    expect(Math.max(...hours)).toBeLessThan(16);
    expect(Math.max(...hours)).toBeGreaterThan(15);
    expect(Math.min(...hours)).toBeLessThan(10);
    const answers = mails.flatMap(({ at, answerAt }) => (answerAt === null ? [] : [(answerAt - at) / HOUR]));
    expect(answers.length / mails.length).toBeGreaterThan(0.4);
    expect(answers.length / mails.length).toBeLessThan(0.6);
    expect(Math.min(...answers)).toBeGreaterThanOrEqual(0.5);
    expect(Math.min(...answers)).toBeLessThan(0.8);
    expect(Math.max(...answers)).toBeLessThanOrEqual(3);
    expect(Math.max(...answers)).toBeGreaterThan(2.7);
    expect(exchangeOn(day + 1, boxes)[0]?.at).not.toBe((mails[0]?.at ?? 0) + 24 * HOUR);
  });
});
