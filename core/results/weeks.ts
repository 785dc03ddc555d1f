/** Weeks as results are told in them: from Monday, so many back. */
import { type DayNumber, weekdayOn } from "../calendar.ts";

export const WEEKS_SHOWN = 12;

/** The Monday of a day's week. */
export const mondayOf = (day: DayNumber): DayNumber => day - (weekdayOn(day) - 1);
