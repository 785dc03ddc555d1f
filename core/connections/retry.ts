/** When something that another program did not take is tried again. */
import { DAY, HOUR, MINUTE } from "../calendar.ts";

/** Between one try and the next; the last one goes on for as long as it is tried. */
const WAITS = [
  5_000,
  30_000,
  2 * MINUTE,
  10 * MINUTE,
  30 * MINUTE,
  HOUR,
  2 * HOUR,
  4 * HOUR,
  8 * HOUR,
  12 * HOUR,
];
/** So long it is tried; then a person has to look. */
export const TRIED_FOR = 3 * DAY;
/** What a receiver may ask for at most: longer would be a way of never being asked. */
const LONGEST_ASKED = DAY;

/** The wait after so many tries that failed (1 or more), in ms; longer where the receiver asked for it. */
export function waitAfter(tries: number, askedFor = 0): number {
  const usual = WAITS[Math.min(Math.max(tries, 1), WAITS.length) - 1] as number;
  return Math.max(usual, Math.min(askedFor, LONGEST_ASKED));
}

/** "Retry-After" as ms from `wall`: seconds or a date (RFC 9110 10.2.3); 0 where it says neither. */
export function retryAfter(header: string | undefined, wall: number): number {
  const text = (header ?? "").trim();
  if (/^\d{1,9}$/.test(text)) return Number(text) * 1_000;
  const date = text === "" ? Number.NaN : Date.parse(text);
  return Number.isNaN(date) ? 0 : Math.max(0, date - wall);
}
