/** The half-hours in which a rep can be booked. */
import { DAY, MINUTE, OpenHours, type SendingHours } from "../calendar.ts";

export const MEETING_LENGTH = 30 * MINUTE;
/** Nobody wants a call that begins in five minutes. */
export const SHORTEST_NOTICE = 2 * 60 * MINUTE;
export const DAYS_AHEAD = 14;

/** Working time of a rep, for booking. */
export const WORKING_TIME: SendingHours = { days: [1, 2, 3, 4, 5], opens: "09:00", closes: "17:30" };

/** Starts of free half-hours in the coming two weeks, in the rep's working time; `busy` are starts of booked meetings. */
export function freeTimes(now: number, zone: string, busy: ReadonlySet<number>): number[] {
  const open = new OpenHours(WORKING_TIME, zone, now);
  const earliest = now + SHORTEST_NOTICE;
  const latest = now + DAYS_AHEAD * DAY;
  const free: number[] = [];
  let window = open.windowFrom(earliest);
  while (window.opens < latest) {
    for (let at = window.opens; at + MEETING_LENGTH <= window.closes; at += MEETING_LENGTH)
      if (at >= earliest && !busy.has(at)) free.push(at);
    window = open.windowFrom(window.closes);
  }
  return free;
}
