/** The times at which a rep can be booked. */
import { DAY, dayOf, HOUR, MINUTE, OpenHours, type SendingHours } from "../calendar.ts";

export interface BookingRules {
  hours: SendingHours;
  /** Minutes that the call takes. */
  length: number;
  /** Free minutes before and after each call. */
  buffer: number;
  /** Hours from now before which nothing begins: nobody wants a call in five minutes. */
  notice: number;
  daysAhead: number;
  /** Calls on one day; 0 for as many as fit. */
  mostADay: number;
}

export interface Busy {
  startsAt: number;
  endsAt: number;
}

/** Calls begin on the half-hour; shorter ones on the quarter too. */
const gridOf = (length: number) => (length < 30 ? 15 : 30) * MINUTE;

/**
 * Starts of free times in order, in the rep's working time where the rep is. `calls` are those booked here, which count
 * towards a day's most; `busy` is what other calendars hold. `isHoliday` is asked about local days.
 */
export function freeTimes(
  now: number,
  zone: string,
  rules: BookingRules,
  calls: readonly Busy[],
  isHoliday: (day: string) => boolean = () => false,
  busy: readonly Busy[] = [],
): number[] {
  const open = new OpenHours(rules.hours, zone, now);
  const earliest = now + rules.notice * HOUR;
  const latest = now + rules.daysAhead * DAY;
  const length = rules.length * MINUTE;
  const buffer = rules.buffer * MINUTE;
  const perDay = new Map<string, number>();
  for (const { startsAt } of calls) {
    const day = dayOf(startsAt, zone);
    perDay.set(day, (perDay.get(day) ?? 0) + 1);
  }
  const taken = merged([...calls, ...busy]);
  const free: number[] = [];
  let next = 0;
  for (
    let window = open.windowFrom(earliest);
    window.opens < latest;
    window = open.windowFrom(window.closes)
  ) {
    const day = dayOf(window.opens, zone);
    if (isHoliday(day) || (rules.mostADay > 0 && (perDay.get(day) ?? 0) >= rules.mostADay)) continue;
    for (let at = window.opens; at + length <= window.closes; at += gridOf(rules.length)) {
      // Both run forward: what ended before this time has ended for all later ones.
      while (next < taken.length && (taken[next] as Busy).endsAt + buffer <= at) next++;
      const following = taken[next];
      if (at >= earliest && !(following && following.startsAt < at + length + buffer)) free.push(at);
    }
  }
  return free;
}

/** Without overlaps, in order. */
function merged(times: readonly Busy[]): Busy[] {
  const result: Busy[] = [];
  for (const { startsAt, endsAt } of times.toSorted((a, b) => a.startsAt - b.startsAt)) {
    const last = result.at(-1);
    if (last && startsAt <= last.endsAt) last.endsAt = Math.max(last.endsAt, endsAt);
    else result.push({ startsAt, endsAt });
  }
  return result;
}
