/**
 * All sums over calendars and time zones. The rest of the product adds and compares plain
 * instants: epoch milliseconds, UTC. Zones are IANA names.
 */
import { DateTime, IANAZone } from "luxon";
import { Kept } from "./kept.ts";

export const MINUTE = 60_000;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;

/** When emails may leave: ISO weekdays (1 = Monday) and local times "HH:mm". */
export interface SendingHours {
  days: readonly number[];
  opens: string;
  closes: string;
}

/** One opening of the sending hours, as instants; `closes` is the first instant outside. */
export interface OpenWindow {
  opens: number;
  closes: number;
}

const zones = new Kept<boolean>();

export function isZone(name: string): boolean {
  return zones.get(name, () => IANAZone.isValidZone(name));
}

/** Zones change their offset on a quarter of an hour, if at all; so one look serves all of it. */
const QUARTER = 15 * MINUTE;
const offsets = new Kept<number>();

/** Milliseconds by which local time is ahead of UTC. */
function offsetAt(at: number, zone: string): number {
  const quarter = Math.floor(at / QUARTER);
  return offsets.get(`${zone} ${quarter}`, () => IANAZone.create(zone).offset(quarter * QUARTER) * MINUTE);
}

/** The local calendar day of an instant, "2026-06-09". */
export function dayOf(at: number, zone: string): string {
  return new Date(at + offsetAt(at, zone)).toISOString().slice(0, 10);
}

export function startOfDay(at: number, zone: string): number {
  return instantOn(dayOf(at, zone), "00:00", zone);
}

export function startOfNextDay(at: number, zone: string): number {
  return instantOn(dayAfter(dayOf(at, zone)), "00:00", zone);
}

/** ISO weekday of an instant where the zone is: 1 = Monday … 7 = Sunday. */
export function weekdayOf(at: number, zone: string): number {
  return weekday(dayOf(at, zone));
}

const instants = new Kept<number>();

/** The instant of a local time ("HH:mm") on a local day ("YYYY-MM-DD"); in the hour that a clock change leaves out, an hour later. */
export function instantOn(day: string, time: string, zone: string): number {
  return instants.get(`${zone} ${day} ${time}`, () =>
    DateTime.fromISO(`${day}T${time}`, { zone }).toMillis(),
  );
}

// Days as such have no zone; they are counted in UTC.
function dayAfter(day: string): string {
  return new Date(Date.parse(day) + DAY).toISOString().slice(0, 10);
}

function weekday(day: string): number {
  return new Date(day).getUTCDay() || 7;
}

/** The local day that lies `count` working days after the day of `at`; 0 gives the first working day from `at` on. */
export function workingDayAfter(at: number, count: number, days: readonly number[], zone: string): string {
  let day = dayOf(at, zone);
  while (!days.includes(weekday(day))) day = dayAfter(day);
  for (let left = count; left > 0; left--) {
    day = dayAfter(day);
    while (!days.includes(weekday(day))) day = dayAfter(day);
  }
  return day;
}

/** How many working days lie between two local days; 0 for the same day. */
export function workingDaysBetween(
  from: string,
  to: string,
  days: readonly number[] = [1, 2, 3, 4, 5],
): number {
  let count = 0;
  for (let day = from; day < to; ) {
    day = dayAfter(day);
    if (days.includes(weekday(day))) count++;
  }
  return count;
}

/** The openings of some sending hours in one zone, in order, computed as far as somebody asked. */
export class OpenHours {
  private readonly windows: OpenWindow[] = [];
  private nextDay: string;

  constructor(
    private readonly hours: SendingHours,
    private readonly zone: string,
    readonly from: number,
  ) {
    if (hours.days.length === 0) throw new RangeError("Sending hours need at least one weekday.");
    this.nextDay = dayOf(from, zone);
  }

  /** The window that contains `at`, or else the next one. `at` must not lie before `from`. */
  windowFrom(at: number): OpenWindow {
    let last = this.windows.at(-1);
    while (!last || last.closes <= at) last = this.addWindow();
    let low = 0;
    let high = this.windows.length - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((this.windows[middle] as OpenWindow).closes > at) high = middle;
      else low = middle + 1;
    }
    return this.windows[low] as OpenWindow;
  }

  private addWindow(): OpenWindow {
    while (!this.hours.days.includes(weekday(this.nextDay))) this.nextDay = dayAfter(this.nextDay);
    const window = {
      opens: instantOn(this.nextDay, this.hours.opens, this.zone),
      closes: instantOn(this.nextDay, this.hours.closes, this.zone),
    };
    this.windows.push(window);
    this.nextDay = dayAfter(this.nextDay);
    return window;
  }
}
