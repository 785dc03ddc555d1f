/** Waits: how long a journey rests between two steps, and the instant at which that is over. */
import {
  type Calendar,
  type DayNumber,
  dayNumberFrom,
  dayNumberOf,
  HOUR,
  instantOnDay,
  MINUTE,
  minutesOf,
  OpenHours,
  weekdayOn,
  workingDayFrom,
  workingDayNumberAfter,
} from "../calendar.ts";
import { between } from "../random.ts";
import type { Wait } from "./path-schema.ts";

export type { Wait };

export const NO_WAIT: Wait = { days: 0, working: true };

export const isNoWait = (wait: Wait): boolean =>
  ("days" in wait && wait.days === 0) || ("hours" in wait && wait.hours === 0);

/** The part of the sending hours over which due emails are spread, so that they do not all fall due at the opening. */
const SPREAD_OF_HOURS = 0.4;

export interface Moment {
  calendar: Calendar;
  /** What the moment within the day is drawn from; left out, it is the opening of the day. */
  seed?: readonly (string | number)[];
  /** Minutes after midnight at which this prospect is best reached, if that is wished for and known. */
  bestMinute?: number | null;
}

/**
 * The instant at which a wait that began at `from` is over. Days count by date where the prospect is; one that falls on a
 * free day moves to the next working day. Hours are elapsed hours, then the next open hour. Never before `from`.
 */
export function dueAt(wait: Wait, from: number, moment: Moment): number {
  const { calendar } = moment;
  const { zone, hours, holidays } = calendar;
  if (isNoWait(wait)) return nextBest(from, moment);
  if ("hours" in wait) return openFrom(from + wait.hours * HOUR, calendar);
  if ("days" in wait) {
    const day = wait.working
      ? workingDayNumberAfter(from, wait.days, hours.days, zone, holidays)
      : workingDayFrom(dayNumberOf(from, zone) + wait.days, hours.days, holidays);
    return momentOn(day, moment);
  }
  if ("date" in wait) return Math.max(from, atOrNext(dayNumberFrom(wait.date), wait.time, calendar));
  const today = dayNumberOf(from, zone);
  const ahead = (wait.weekday - weekdayOn(today) + 7) % 7;
  const at = atOrNext(today + ahead, wait.time, calendar);
  // On that weekday, but after its time: a week later.
  return at > from ? at : atOrNext(today + ahead + 7, wait.time, calendar);
}

/** A day's moment: the best one known, else a seeded one in the early hours, else the opening. */
function momentOn(day: DayNumber, { calendar, seed, bestMinute }: Moment): number {
  const { zone, hours } = calendar;
  const opens = instantOnDay(day, minutesOf(hours.opens), zone);
  const closes = instantOnDay(day, minutesOf(hours.closes), zone);
  if (bestMinute !== undefined && bestMinute !== null) {
    // A quarter of an hour before the close there is still time to go out.
    const best = instantOnDay(day, bestMinute, zone);
    return Math.max(opens, Math.min(best, closes - 15 * MINUTE));
  }
  return seed ? Math.round(opens + between(0, (closes - opens) * SPREAD_OF_HOURS, "due", ...seed)) : opens;
}

/** Without a wait: their next best hour, the one that has begun among them; at once where none is wished or known. */
function nextBest(from: number, moment: Moment): number {
  const { bestMinute, calendar } = moment;
  if (bestMinute === undefined || bestMinute === null) return from;
  const { zone, hours, holidays } = calendar;
  const today = workingDayFrom(dayNumberOf(from, zone), hours.days, holidays);
  const best = momentOn(today, moment);
  return best + HOUR / 2 > from
    ? Math.max(from, best)
    : momentOn(workingDayFrom(today + 1, hours.days, holidays), moment);
}

/** That time on that day; on a free day, or outside the hours, the next open moment. */
function atOrNext(day: DayNumber, time: string, calendar: Calendar): number {
  return openFrom(instantOnDay(day, minutesOf(time), calendar.zone), calendar);
}

/** `at` itself within open hours, else the next opening. */
export function openFrom(at: number, { zone, hours, holidays }: Calendar): number {
  return Math.max(at, new OpenHours(hours, zone, at, holidays).windowFrom(at).opens);
}

/**
 * How many working days a wait usually takes, for a drawing that has no date: five of seven days are working days, and
 * a weekday is half a week away.
 */
export function usualDays(wait: Wait): number {
  if ("days" in wait) return wait.working ? wait.days : Math.round((wait.days * 5) / 7);
  if ("hours" in wait) return Math.round(wait.hours / 24);
  return "weekday" in wait ? 3 : 5;
}
