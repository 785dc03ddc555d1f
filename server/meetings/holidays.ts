/** Public holidays, from the package date-holidays. */
import Holidays from "date-holidays";

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

/** ISO codes of the countries whose holidays are known. */
export function holidayCountries(): string[] {
  return Object.keys(new Holidays().getCountries()).sort();
}
