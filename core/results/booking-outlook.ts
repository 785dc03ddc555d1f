/** How many calls will be booked until a week is over: what the emails that went and those that are planned lead to, as a range. */
import { logGamma } from "./beta.ts";

export interface BookingRecord {
  /** Emails by how many days ago they went, today's first. */
  sent: readonly number[];
  /** Of each booking: how many days ago the email went that it is owed to, and after how many days it came. */
  booked: readonly { sentAgo: number; after: number }[];
  /** Emails that are still to go, by day, the rest of today first; as many days as are looked ahead. */
  planned: readonly number[];
}

export interface BookingOutlook {
  expected: number;
  /** In four of five weeks that look like this, so many at least and at most. */
  low: number;
  high: number;
}

/** Hardly anybody books later after an email. */
const DELAYS = 21;
/** From fewer bookings no rate is told. */
const ENOUGH = 5;
const TAIL = 0.1;

/** Null while too few were booked to tell. */
export function bookingOutlook({ sent, booked, planned }: BookingRecord): BookingOutlook | null {
  // A life table: on the day d after an email, how many of those that had that day behind them were booked on it.
  const over = booked.filter(
    ({ sentAgo, after }) => after < DELAYS && after < sentAgo && sentAgo < sent.length,
  );
  if (over.length < ENOUGH) return null;
  const rates = Array.from({ length: DELAYS }, (_, day) => {
    const lived = sent.slice(day + 1).reduce((sum, many) => sum + many, 0);
    return lived === 0 ? 0 : over.filter(({ after }) => after === day).length / lived;
  });
  const within = (from: number, until: number) =>
    rates.slice(Math.max(0, from), Math.max(0, until)).reduce((sum, rate) => sum + rate, 0);
  const days = planned.length;
  const expected =
    sent.reduce((sum, many, ago) => sum + many * within(ago + 1, ago + days), 0) +
    planned.reduce((sum, many, day) => sum + many * within(0, days - day), 0);
  return { expected, ...rangeOf(expected, over.length) };
}

/**
 * Between which counts the middle eight tenths lie, if the rate itself is known from so many: negative binomial, a Poisson count
 * whose mean is believed to be gamma distributed (M. Greenwood and G. U. Yule, 1920).
 */
export function rangeOf(mean: number, seen: number): { low: number; high: number } {
  if (mean === 0) return { low: 0, high: 0 };
  const p = seen / (seen + mean);
  let below = 0;
  let low: number | null = null;
  for (let count = 0; ; count++) {
    below += Math.exp(
      logGamma(count + seen) -
        logGamma(seen) -
        logGamma(count + 1) +
        seen * Math.log(p) +
        count * Math.log(1 - p),
    );
    if (low === null && below > TAIL) low = count;
    if (below >= 1 - TAIL || count > 100 * (mean + 1)) return { low: low ?? count, high: count };
  }
}
