/** Public holidays, from the package date-holidays. */
import Holidays from "date-holidays";
import { type DayNumber, dayNumberFrom, NO_HOLIDAYS } from "./calendar.ts";

const calendars = new Map<string, Holidays>();
const days = new Map<string, ReadonlySet<string>>();

function calendarOf(country: string): Holidays {
  let calendar = calendars.get(country);
  if (!calendar) {
    calendar = new Holidays(country);
    calendars.set(country, calendar);
  }
  return calendar;
}

/** Whether a local day ("2026-06-10") is a national public holiday of a country; "" has none. */
export function isPublicHoliday(country: string, day: string): boolean {
  if (country === "") return false;
  const year = day.slice(0, 4);
  const key = `${country} ${year}`;
  let known = days.get(key);
  if (!known) {
    const all = calendarOf(country).getHolidays(Number(year)) ?? [];
    known = new Set(all.filter(({ type }) => type === "public").map(({ date }) => date.slice(0, 10)));
    days.set(key, known);
  }
  return known.has(day);
}

const numbers = new Map<string, ReadonlySet<DayNumber>>();

/** A country's national public holidays from `year` to the end of the year after, as days; "" and unknown ones have none. */
export function publicHolidays(country: string, year: number): ReadonlySet<DayNumber> {
  if (country === "") return NO_HOLIDAYS;
  const key = `${country} ${year}`;
  let known = numbers.get(key);
  if (!known) {
    isPublicHoliday(country, `${year}-01-01`);
    isPublicHoliday(country, `${year + 1}-01-01`);
    known = new Set(
      [year, year + 1].flatMap((each) => [...(days.get(`${country} ${each}`) ?? [])].map(dayNumberFrom)),
    );
    numbers.set(key, known);
  }
  return known;
}

/** ISO codes of the countries whose holidays are known. */
export function holidayCountries(): string[] {
  return Object.keys(new Holidays().getCountries()).sort();
}
