/** What the worker thread does: reads one calendar's busy times. */
import { type BusyTimes, busyTimes } from "../../core/meetings/calendar-events.ts";

export interface CalendarToRead {
  text: string;
  window: { from: number; to: number };
  zone: string;
}

export default ({ text, window, zone }: CalendarToRead): BusyTimes => busyTimes(text, window, zone);
