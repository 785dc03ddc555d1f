/** What a text brought so far, and which of several stands first where one writes. Opens count for nothing. */
import { shareOf } from "./share.ts";

export interface Brought {
  /** Whom it got through to. */
  reached: number;
  /** Of those: who answered it, and who wants to talk. */
  answered: number;
  positive: number;
}

export const NOTHING_BROUGHT: Brought = { reached: 0, answered: 0, positive: 0 };

/** Of fewer nothing is said. */
export const LEAST_REACHED = 20;

export const broughtTogether = (all: Iterable<{ brought: Brought }>): Brought => {
  const sum = { ...NOTHING_BROUGHT };
  for (const {
    brought: { reached, answered, positive },
  } of all) {
    sum.reached += reached;
    sum.answered += answered;
    sum.positive += positive;
  }
  return sum;
};

/** The least that its true share is likely to be, so that three of four do not stand above thirty of a hundred. */
const surely = (part: number, { reached }: Brought) =>
  reached < LEAST_REACHED || part === 0 ? 0 : shareOf(part, reached).low;

/** Those that surely brought most who want to talk first, then most answers; all others stay as they come. */
export function bestFirst<T extends { brought: Brought }>(texts: readonly T[]): T[] {
  return texts.toSorted(
    ({ brought: a }, { brought: b }) =>
      surely(b.positive, b) - surely(a.positive, a) || surely(b.answered, b) - surely(a.answered, a),
  );
}
