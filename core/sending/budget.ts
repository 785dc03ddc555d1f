/** Budgets: how many may go within a time, whoever sends them. The plan spends from them; the claim asks them once more. */
import type { DayNumber } from "../calendar.ts";

/** At most `most` within any `span` ms: an hour of a mailbox, a week of an account, the pace of a sequence. */
export class RollingBudget {
  private readonly spent: number[];

  /** `spent`: instants of what went before, in any order. */
  constructor(
    readonly most: number,
    readonly span: number,
    spent: readonly number[] = [],
  ) {
    this.spent = spent.toSorted((a, b) => a - b);
  }

  /** Whether one more at `at` leaves every span of time within its most. */
  fits(at: number): boolean {
    if (this.most <= 0) return false;
    const { spent, most, span } = this;
    const place = placeIn(spent, at);
    // With `at` put in at `place`, a run of most + 1 around it must not lie within one span.
    for (let first = Math.max(0, place - most); first <= place; first++) {
      const last = first + most;
      if (last > spent.length) break;
      const from = first === place ? at : (spent[first] as number);
      const to = last === place ? at : (spent[last - 1] as number);
      if (to - from < span) return false;
    }
    return true;
  }

  spend(at: number): void {
    this.spent.splice(placeIn(this.spent, at), 0, at);
  }

  giveBack(at: number): void {
    const place = placeIn(this.spent, at);
    if (this.spent[place] === at) this.spent.splice(place, 1);
  }
}

/** At most `most` on each day. */
export class DailyBudget {
  private readonly spent = new Map<DayNumber, number>();

  constructor(readonly most: number) {}

  left(day: DayNumber): number {
    return this.most - (this.spent.get(day) ?? 0);
  }

  /** A negative number gives back. */
  spend(day: DayNumber, number = 1): void {
    this.spent.set(day, (this.spent.get(day) ?? 0) + number);
  }
}

/** Where `at` belongs among sorted instants: before the first that is not smaller. */
export function placeIn(sorted: readonly number[], at: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((sorted[middle] as number) < at) low = middle + 1;
    else high = middle;
  }
  return low;
}
