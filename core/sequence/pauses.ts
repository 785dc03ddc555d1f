/** Pauses: what somebody paused keeps its time, and everything that was waited for takes so much longer. */

/** An instant span in which nothing runs; of one that is still on, `to` is now. */
export interface Pause {
  from: number;
  to: number;
}

/** When a wait that began at `since` and would be over at `end` is over, with the pauses left out of it. */
export function stretched(end: number, since: number, pauses: readonly Pause[]): number {
  let over = end;
  // Two that overlap, a sequence's and a person's, are one.
  let until = since;
  for (const { from, to } of [...pauses].sort((one, other) => one.from - other.from)) {
    if (from >= over) break;
    if (to <= until) continue;
    over += to - Math.max(from, until);
    until = to;
  }
  return over;
}
