/** A sequence's own pace, over all its senders. */
import { HOUR, MINUTE } from "../calendar.ts";
import { RollingBudget } from "./budget.ts";

/** What a sequence says about its pace. Journeys that share the object share its budgets. */
export interface Pace {
  /** People who get their first touch on one day; null: as many as the senders carry. */
  newADay: number | null;
  begunToday: number;
  /** The most within any sixty minutes, over all senders. */
  perHour: number | null;
  /** Minutes at least between two of its touches, over all senders. */
  minutesBetween: number | null;
  /** When it sent in the last hours; needed with one of the two. */
  sentLately: readonly number[];
  /** Where its days are counted. */
  zone: string;
}

/** What of a pace is no matter of days, with what it has spent. */
export function pacesOf({ perHour, minutesBetween, sentLately }: Pace): RollingBudget[] {
  return [
    ...(perHour === null ? [] : [new RollingBudget(perHour, HOUR, sentLately)]),
    ...(minutesBetween === null ? [] : [new RollingBudget(1, minutesBetween * MINUTE, sentLately)]),
  ];
}
