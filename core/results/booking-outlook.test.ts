import { describe, expect, it } from "vitest";
import { seeded } from "../random.ts";
import { bookingOutlook, rangeOf } from "./booking-outlook.ts";

const DAYS = 84;
const AHEAD = 4;

/** A season: each email leads to a call with this chance, some days after it; then the days ahead. */
function season(rate: number, aDay: number, draw: () => number) {
  const sent = Array.from({ length: DAYS }, (_, ago) => (ago === 0 ? 0 : aDay));
  const planned = Array.from({ length: AHEAD }, () => aDay);
  const booked: { sentAgo: number; after: number }[] = [];
  let came = 0;
  for (let ago = DAYS - 1; ago > -AHEAD; ago--)
    for (let email = 0; email < aDay; email++) {
      if (draw() >= rate) continue;
      const after = Math.floor(-3 * Math.log(1 - draw()));
      const day = after - ago;
      if (ago > 0 && day < 0) booked.push({ sentAgo: ago, after });
      // What comes before the days ahead are over; of those that went before today, from tomorrow on.
      else if (day < AHEAD && (ago <= 0 || day > 0) && after < 21) came++;
    }
  return { record: { sent, planned, booked }, came };
}

describe("the outlook of a week's calls", () => {
  it("is what a plain sum says where everybody books on the day of the email", () => {
    const sent = [0, 100, 100, 100, 100];
    const booked = Array.from({ length: 20 }, (_, nth) => ({ sentAgo: 1 + (nth % 4), after: 0 }));
    expect(bookingOutlook({ sent, booked, planned: [40, 60] })?.expected).toBeCloseTo(100 * (20 / 400), 6);
  });

  it("counts what the emails of the last days still lead to", () => {
    const sent = [50, 0, 0, 0, 200];
    // Of those four days ago, ten were booked after two days: one in twenty.
    const booked = Array.from({ length: 10 }, () => ({ sentAgo: 4, after: 2 }));
    const until = (days: number) =>
      bookingOutlook({ sent, booked, planned: Array.from({ length: days }, () => 0) })?.expected;
    expect(until(2)).toBe(0);
    expect(until(3)).toBeCloseTo(50 / 20, 6);
  });

  it("says nothing from a handful", () => {
    const booked = Array.from({ length: 4 }, () => ({ sentAgo: 5, after: 1 }));
    expect(bookingOutlook({ sent: [9, 9, 9, 9, 9, 900], booked, planned: [90] })).toBeNull();
  });

  it("holds what came in about four of five weeks, whatever the rate", () => {
    const draw = seeded("weeks of calls");
    for (const [rate, aDay] of [
      [0.02, 40],
      [0.05, 30],
      [0.01, 200],
    ] as const) {
      const weeks = Array.from({ length: 1_500 }, () => season(rate, aDay, draw));
      const outlooks = weeks.map(({ record, came }) => ({ came, said: bookingOutlook(record) }));
      const within = outlooks.filter(({ came, said }) => said && came >= said.low && came <= said.high);
      // Of whole calls the range can only be wider.
      expect(within.length / weeks.length).toBeGreaterThan(0.78);
      expect(within.length / weeks.length).toBeLessThan(0.94);
      const mean = (of: (each: (typeof outlooks)[number]) => number) =>
        outlooks.reduce((sum, each) => sum + of(each), 0) / outlooks.length;
      expect(mean(({ said }) => said?.expected ?? 0) / mean(({ came }) => came)).toBeCloseTo(1, 1);
    }
  });
});

it("is wider than a Poisson count where the rate was seen seldom", () => {
  // Poisson with mean 10: 10 % below 6, 90 % up to 14.
  expect(rangeOf(10, 1_000_000)).toEqual({ low: 6, high: 14 });
  const seldom = rangeOf(10, 5);
  expect(seldom.low).toBeLessThan(6);
  expect(seldom.high).toBeGreaterThan(14);
});
