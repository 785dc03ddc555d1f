import fc from "fast-check";
import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { HOUR, MINUTE } from "../calendar.ts";
import { type BookingRules, freeTimes } from "./free-times.ts";

const FRIDAY = Date.parse("2026-06-12T15:10:00+01:00");
const RULES: BookingRules = {
  hours: { days: [1, 2, 3, 4, 5], opens: "09:00", closes: "17:30" },
  length: 30,
  buffer: 0,
  notice: 2,
  daysAhead: 14,
  mostADay: 0,
};
const call = (startsAt: number, minutes = 30) => ({ startsAt, endsAt: startsAt + minutes * MINUTE });
const lisbon = (change: Partial<BookingRules> = {}, busy: { startsAt: number; endsAt: number }[] = []) =>
  freeTimes(FRIDAY, "Europe/Lisbon", { ...RULES, ...change }, busy);

describe("free times", () => {
  const free = lisbon();

  it("begin with two hours' notice, on the half-hour, in working time", () => {
    // 17:10 leaves no half-hour on Friday, so the first is on Monday.
    expect(new Date(free[0] as number).toISOString()).toBe("2026-06-15T08:00:00.000Z");
    expect(free.every((at) => at % (HOUR / 2) === 0)).toBe(true);
  });

  it("leave out what is booked, the minutes around it, holidays, and full days", () => {
    const booked = free[3] as number;
    expect(lisbon({}, [call(booked)])).toEqual(free.filter((at) => at !== booked));
    expect(lisbon({ buffer: 10 }, [call(booked)])).toEqual(
      free.filter((at) => Math.abs(at - booked) > 30 * MINUTE),
    );
    const monday = free.filter((at) => at < Date.parse("2026-06-16"));
    expect(lisbon({ mostADay: 1 }, [call(booked)])).toEqual(free.filter((at) => !monday.includes(at)));
    const withoutMonday = freeTimes(FRIDAY, "Europe/Lisbon", RULES, [], (day) => day === "2026-06-15");
    expect(withoutMonday).toEqual(free.filter((at) => !monday.includes(at)));
  });

  it("fit the call's whole length between what is booked", () => {
    const [first, second] = free as [number, number];
    expect(lisbon({ length: 60 }, [call(second)])).not.toContain(first);
    expect(lisbon({ length: 15 })).toContain(first + 15 * MINUTE);
  });

  it("are all that working time has, of whatever zone and day, changes of the clocks included, and nothing else", () => {
    const zones = [
      "Europe/Lisbon",
      "America/St_Johns",
      "Asia/Kathmandu",
      "Australia/Lord_Howe",
      "Pacific/Apia",
      "UTC",
    ];
    fc.assert(
      fc.property(
        fc.integer({ min: Date.parse("2026-01-01"), max: Date.parse("2028-01-01") }),
        fc.constantFrom(...zones),
        fc.array(fc.nat({ max: 200 }), { maxLength: 20 }),
        (now, zone, taken) => {
          const all = freeTimes(now, zone, RULES, []);
          const busy = new Set(taken.map((nth) => all[nth % all.length] as number));
          const free = freeTimes(
            now,
            zone,
            RULES,
            [...busy].map((at) => call(at)),
          );
          expect(free).toEqual(all.filter((at) => !busy.has(at)));
          for (const at of all) {
            const begins = DateTime.fromMillis(at, { zone });
            expect(begins.weekday).toBeLessThanOrEqual(5);
            expect(begins.toFormat("HH:mm") >= "09:00" && begins.toFormat("HH:mm") <= "17:00").toBe(true);
            expect(begins.minute % 30).toBe(0);
            expect(at - now).toBeGreaterThanOrEqual(2 * HOUR);
          }
          // Every whole working day between has its seventeen.
          const perDay = new Map<string | null, number>();
          for (const at of all) {
            const day = DateTime.fromMillis(at, { zone }).toISODate();
            perDay.set(day, (perDay.get(day) ?? 0) + 1);
          }
          const whole = [...perDay.values()].slice(1, -1);
          expect(whole.length).toBeGreaterThanOrEqual(8);
          expect(new Set(whole)).toEqual(new Set([17]));
        },
      ),
    );
  });
});
