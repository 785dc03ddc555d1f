/**
 * All sums over calendars and time zones. The rest of the product adds and compares plain
 * instants: epoch milliseconds, UTC. Zones are IANA names.
 */
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

/** When a prospect can be reached: where they are, on which days and hours, and their public holidays as days without a zone. */
export interface Calendar {
  zone: string;
  hours: SendingHours;
  holidays: ReadonlySet<DayNumber>;
}

export const NO_HOLIDAYS: ReadonlySet<DayNumber> = new Set();

const AT_ANY_HOUR: SendingHours = { days: [1, 2, 3, 4, 5, 6, 7], opens: "00:00", closes: "23:59" };
/** The same place, open at any hour of any day. */
export const alwaysOpen = ({ zone }: Calendar): Calendar => ({
  zone,
  hours: AT_ANY_HOUR,
  holidays: NO_HOLIDAYS,
});

/** One opening of the sending hours, as instants; `closes` is the first instant outside. */
export interface OpenWindow {
  opens: number;
  closes: number;
}

const zones = new Kept<boolean>();

export function isZone(name: string): boolean {
  return zones.get(name, () => clockOf(name) !== null);
}

/** Zones change their offset on a quarter of an hour, if at all; so one look serves all of it. */
const QUARTER = 15 * MINUTE;

/** What is known of one zone: offsets by day (UTC) and by quarter of an hour, instants by minute of local time. */
interface KnownZone {
  /** Tells the local time; null for a zone that is none. */
  clock: Intl.DateTimeFormat | null;
  /** Null: it changes on that day. */
  offsetsOfDays: Map<number, number | null>;
  offsets: Map<number, number>;
  instants: Map<number, number>;
}
const known = new Map<string, KnownZone>();
const MOST_KEPT = 50_000;

function knownZone(name: string): KnownZone {
  let found = known.get(name);
  if (!found) {
    found = { clock: clockOf(name), offsetsOfDays: new Map(), offsets: new Map(), instants: new Map() };
    known.set(name, found);
  }
  return found;
}

/** The runtime's own clock of a zone. A library's would bring all of it to every page of the browser. */
function clockOf(zone: string): Intl.DateTimeFormat | null {
  if (zone === "") return null;
  try {
    return new Intl.DateTimeFormat("en-US", {
      ...{ timeZone: zone, hourCycle: "h23", era: "short" },
      ...{
        year: "numeric",
        month: "2-digit",
        day: "2-digit",
        hour: "2-digit",
        minute: "2-digit",
        second: "2-digit",
      },
    } as Intl.DateTimeFormatOptions);
  } catch {
    return null;
  }
}

function offsetBy(clock: Intl.DateTimeFormat, at: number): number {
  const part = new Map(clock.formatToParts(at).map(({ type, value }) => [type, value]));
  const of = (type: Intl.DateTimeFormatPartTypes) => Number(part.get(type));
  const year = part.get("era") === "BC" ? 1 - of("year") : of("year");
  const local = new Date(0);
  local.setUTCFullYear(year, of("month") - 1, of("day"));
  local.setUTCHours(of("hour"), of("minute"), of("second"));
  return local.getTime() - at;
}

/** Milliseconds by which local time is ahead of UTC. On nearly every day it is one number from its first to its last instant. */
function offsetAt(at: number, zone: string): number {
  const known = knownZone(zone);
  const day = Math.floor(at / DAY);
  let offset = known.offsetsOfDays.get(day);
  if (offset === undefined) {
    if (known.offsetsOfDays.size >= MOST_KEPT) known.offsetsOfDays.clear();
    const first = offsetOfQuarter(known, day * DAY);
    offset = Object.is(first, offsetOfQuarter(known, (day + 1) * DAY)) ? first : null;
    known.offsetsOfDays.set(day, offset);
  }
  return offset ?? offsetOfQuarter(known, at);
}

function offsetOfQuarter({ clock, offsets }: KnownZone, at: number): number {
  const quarter = Math.floor(at / QUARTER);
  let offset = offsets.get(quarter);
  if (offset === undefined) {
    if (offsets.size >= MOST_KEPT) offsets.clear();
    offset = clock === null ? Number.NaN : offsetBy(clock, quarter * QUARTER);
    offsets.set(quarter, offset);
  }
  return offset;
}

/**
 * A local calendar day as a number: days since 1 January 1970, which have no zone. The planner adds and compares
 * these a million times; text is for what people read.
 */
export type DayNumber = number;

export const dayNumberOf = (at: number, zone: string): DayNumber =>
  Math.floor((at + offsetAt(at, zone)) / DAY);
/** 1 = Monday … 7 = Sunday; the first of January 1970 was a Thursday. */
export const weekdayOn = (day: DayNumber): number => ((((day + 3) % 7) + 7) % 7) + 1;
export const textOfDay = (day: DayNumber): string => new Date(day * DAY).toISOString().slice(0, 10);
export const dayNumberFrom = (day: string): DayNumber => Math.floor(Date.parse(day) / DAY);
/** When reps begin, and what is for a day comes up. */
export const MORNING = "08:30";

/** "08:30" is 510. */
export const minutesOf = (time: string): number => Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));

/** The start of the day that lies so many days after an instant's, where the zone is. */
export const afterDays = (at: number, days: number, zone: string): number =>
  instantOnDay(dayNumberOf(at, zone) + days, 0, zone);

/** The instant of a minute on a local day; in the hour that a clock change leaves out, an hour later. */
export function instantOnDay(day: DayNumber, minutes: number, zone: string): number {
  const { instants } = knownZone(zone);
  const local = day * 1440 + minutes;
  let at = instants.get(local);
  if (at === undefined) {
    if (instants.size >= MOST_KEPT) instants.clear();
    // RFC 5545 3.3.5: of two such instants the first; where there is none, by the offset before the change.
    const asUtc = local * MINUTE;
    const before = asUtc - offsetAt(asUtc - DAY, zone);
    const after = asUtc - offsetAt(asUtc + DAY, zone);
    at =
      before + offsetAt(before, zone) === asUtc
        ? before
        : after + offsetAt(after, zone) === asUtc
          ? after
          : before;
    instants.set(local, at);
  }
  return at;
}

/** Milliseconds since the local day's midnight, as a clock on the wall tells them. */
const sinceMidnight = (at: number, zone: string): number => {
  const local = (at + offsetAt(at, zone)) % DAY;
  return local < 0 ? local + DAY : local;
};

/** The hour of the local day, its minutes as a fraction: 13.5 is half past one. */
export const hourOf = (at: number, zone: string): number => sinceMidnight(at, zone) / HOUR;

/** Weekday (1 = Monday) and hour (0 to 23) of an instant, where the zone is. */
export function weekdayAndHour(at: number, zone: string): { weekday: number; hour: number } {
  const local = at + offsetAt(at, zone);
  const day = Math.floor(local / DAY);
  return { weekday: weekdayOn(day), hour: Math.floor((local - day * DAY) / HOUR) };
}

/** The local time of an instant, "10:36". */
export function timeOf(at: number, zone: string): string {
  const minutes = Math.floor(sinceMidnight(at, zone) / MINUTE);
  return `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
}

/** The local calendar day of an instant, "2026-06-09". */
export function dayOf(at: number, zone: string): string {
  return textOfDay(dayNumberOf(at, zone));
}

export function startOfDay(at: number, zone: string): number {
  return instantOnDay(dayNumberOf(at, zone), 0, zone);
}

export function startOfNextDay(at: number, zone: string): number {
  return instantOnDay(dayNumberOf(at, zone) + 1, 0, zone);
}

/** ISO weekday of an instant where the zone is: 1 = Monday … 7 = Sunday. */
export function weekdayOf(at: number, zone: string): number {
  return weekdayOn(dayNumberOf(at, zone));
}

/** The instant of a local time ("HH:mm") on a local day ("YYYY-MM-DD"). */
export function instantOn(day: string, time: string, zone: string): number {
  return instantOnDay(dayNumberFrom(day), minutesOf(time), zone);
}

/** The local day that lies `count` working days after the day of `at`; 0 gives the first working day from `at` on. */
export function workingDayAfter(at: number, count: number, days: readonly number[], zone: string): string {
  return textOfDay(workingDayNumberAfter(at, count, days, zone));
}

export function workingDayNumberAfter(
  at: number,
  count: number,
  days: readonly number[],
  zone: string,
  holidays: ReadonlySet<DayNumber> = NO_HOLIDAYS,
): DayNumber {
  let day = workingDayFrom(dayNumberOf(at, zone), days, holidays);
  for (let left = count; left > 0; left--) day = workingDayFrom(day + 1, days, holidays);
  return day;
}

/** A calendar that has no free day for a year is none; the holidays give way then. */
const LONGEST_LEAVE = 366;

/** The first of these weekdays from `day` on that is no holiday. */
export function workingDayFrom(
  day: DayNumber,
  days: readonly number[],
  holidays: ReadonlySet<DayNumber> = NO_HOLIDAYS,
): DayNumber {
  if (days.length === 0) throw new RangeError("Sending hours need at least one weekday.");
  for (let each = day; each < day + LONGEST_LEAVE; each++)
    if (days.includes(weekdayOn(each)) && !holidays.has(each)) return each;
  return holidays.size === 0 ? day : workingDayFrom(day, days);
}

/** How many working days lie between two local days; 0 for the same day. */
export function workingDaysBetween(
  from: string,
  to: string,
  days: readonly number[] = [1, 2, 3, 4, 5],
): number {
  let count = 0;
  for (let day = dayNumberFrom(from) + 1; day <= dayNumberFrom(to); day++)
    if (days.includes(weekdayOn(day))) count++;
  return count;
}

/** The openings of some sending hours in one zone, in order, computed as far as somebody asked. */
export class OpenHours {
  private readonly windows: OpenWindow[] = [];
  private nextDay: DayNumber;
  private readonly opens: number;
  private readonly closes: number;

  constructor(
    private readonly hours: SendingHours,
    private readonly zone: string,
    readonly from: number,
    private readonly holidays: ReadonlySet<DayNumber> = NO_HOLIDAYS,
  ) {
    if (hours.days.length === 0) throw new RangeError("Sending hours need at least one weekday.");
    this.nextDay = dayNumberOf(from, zone);
    this.opens = minutesOf(hours.opens);
    this.closes = minutesOf(hours.closes);
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
    this.nextDay = workingDayFrom(this.nextDay, this.hours.days, this.holidays);
    const window = {
      opens: instantOnDay(this.nextDay, this.opens, this.zone),
      closes: instantOnDay(this.nextDay, this.closes, this.zone),
    };
    this.windows.push(window);
    this.nextDay++;
    return window;
  }
}
