/** Days and numbers in words, the same on a page and in a mail. */
import { DAY, type DayNumber, dayNumberFrom, weekdayOn } from "./calendar.ts";

// Spelt here: a browser's own names may differ from the server's, and a page is drawn by both.
/** From Monday on; ISO 8601 counts them from 1. */
export const WEEKDAYS = [
  "Monday",
  "Tuesday",
  "Wednesday",
  "Thursday",
  "Friday",
  "Saturday",
  "Sunday",
] as const;
export const SHORT_WEEKDAYS = WEEKDAYS.map((name) => name.slice(0, 3));
export const weekday = (iso: number): string => WEEKDAYS[iso - 1] ?? "";
export const shortWeekday = (iso: number): string => SHORT_WEEKDAYS[iso - 1] ?? "";

const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];
const monthDay = (number: DayNumber) => new Date(number * DAY).getUTCDate();
const month = (number: DayNumber) => MONTHS[new Date(number * DAY).getUTCMonth()] ?? "";
/** "Tue 9 June" */
export const dayWords = (number: DayNumber) => `${shortDayWords(number)} ${month(number)}`;
const shortDayWords = (number: DayNumber) => `${shortWeekday(weekdayOn(number))} ${monthDay(number)}`;

/** "Tue 9 June" of a local day "2026-06-09" */
export const longDay = (localDay: string) => dayWords(dayNumberFrom(localDay));
/** "Tue 9" of it */
export const shortDay = (localDay: string) => shortDayWords(dayNumberFrom(localDay));
/** "9 Jun" of it */
export const dayOfMonth = (localDay: string) =>
  `${monthDay(dayNumberFrom(localDay))} ${month(dayNumberFrom(localDay)).slice(0, 3)}`;

/** "1 reply", "7 replies" */
export function count(number: number, one: string, many = `${one}s`): string {
  return `${number.toLocaleString("en-GB")} ${number === 1 ? one : many}`;
}
