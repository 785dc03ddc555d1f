/**
 * All sums over calendars and time zones. The rest of the product adds and compares plain
 * instants: epoch milliseconds, UTC. Zones are IANA names.
 */
import { DateTime, IANAZone } from "luxon";

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

export function isZone(name: string): boolean {
  return IANAZone.isValidZone(name);
}

/** The local calendar day of an instant, "2026-06-09". */
export function dayOf(at: number, zone: string): string {
  return DateTime.fromMillis(at, { zone }).toISODate() ?? "";
}

export function startOfDay(at: number, zone: string): number {
  return DateTime.fromMillis(at, { zone }).startOf("day").toMillis();
}

export function startOfNextDay(at: number, zone: string): number {
  return DateTime.fromMillis(at, { zone }).plus({ days: 1 }).startOf("day").toMillis();
}

/** ISO weekday of an instant where the zone is: 1 = Monday … 7 = Sunday. */
export function weekdayOf(at: number, zone: string): number {
  return DateTime.fromMillis(at, { zone }).weekday;
}

/** The instant of a local time ("HH:mm") on a local day ("YYYY-MM-DD"). */
export function instantOn(day: string, time: string, zone: string): number {
  return DateTime.fromISO(`${day}T${time}`, { zone }).toMillis();
}

/** The local day that lies `count` working days after the day of `at`; 0 gives the first working day from `at` on. */
export function workingDayAfter(
  at: number,
  count: number,
  days: readonly number[],
  zone: string,
): string {
  let day = DateTime.fromMillis(at, { zone }).startOf("day");
  const toWorkingDay = () => {
    while (!days.includes(day.weekday)) day = day.plus({ days: 1 });
  };
  toWorkingDay();
  for (let left = count; left > 0; left--) {
    day = day.plus({ days: 1 });
    toWorkingDay();
  }
  return day.toISODate() ?? "";
}

/** How many working days lie between two local days; 0 for the same day. */
export function workingDaysBetween(
  from: string,
  to: string,
  days: readonly number[] = [1, 2, 3, 4, 5],
): number {
  let day = DateTime.fromISO(from, { zone: "utc" });
  const end = DateTime.fromISO(to, { zone: "utc" });
  let count = 0;
  while (day < end) {
    day = day.plus({ days: 1 });
    if (days.includes(day.weekday)) count++;
  }
  return count;
}

/**
 * The openings of some sending hours in one zone, computed once and kept, because a plan asks for
 * the same few weeks thousands of times.
 */
export class OpenHours {
  private readonly windows: OpenWindow[] = [];
  private nextDay: DateTime;

  constructor(
    private readonly hours: SendingHours,
    private readonly zone: string,
    from: number,
  ) {
    if (hours.days.length === 0) throw new RangeError("Sending hours need at least one weekday.");
    this.nextDay = DateTime.fromMillis(from, { zone }).startOf("day");
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
    while (!this.hours.days.includes(this.nextDay.weekday))
      this.nextDay = this.nextDay.plus({ days: 1 });
    const day = this.nextDay.toISODate() ?? "";
    const window = {
      opens: instantOn(day, this.hours.opens, this.zone),
      closes: instantOn(day, this.hours.closes, this.zone),
    };
    this.windows.push(window);
    this.nextDay = this.nextDay.plus({ days: 1 });
    return window;
  }
}
