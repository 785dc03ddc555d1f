/** What happened within a time to starts of whatever time: people for whom it was the first time. */
import type { Instant } from "./figures.ts";

/** Each by the instant of a course that falls within the time, and its name in a report; in the order in which it stands there. */
export const HAPPENED = {
  started: ["startedAt", "Started"],
  written: ["writtenAt", "Written to for the first time"],
  answered: ["answeredAt", "Answered"],
  positive: ["positiveAt", "Want to talk"],
  booked: ["bookedAt", "Booked a call"],
  optedOut: ["optedOutAt", "Opted out"],
  bounced: ["bouncedAt", "Came back"],
} as const satisfies Record<string, readonly [at: Instant, name: string]>;

export type Happened = Record<keyof typeof HAPPENED, number>;

export const HAPPENED_NAMES = Object.keys(HAPPENED) as (keyof Happened)[];

export function happenedTogether(all: Iterable<Happened>): Happened {
  const sum = { started: 0, written: 0, answered: 0, positive: 0, booked: 0, optedOut: 0, bounced: 0 };
  for (const each of all) for (const name of HAPPENED_NAMES) sum[name] += each[name];
  return sum;
}
