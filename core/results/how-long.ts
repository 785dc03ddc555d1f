/** How long to go on: who has not answered after so many touches, what each touch brought, and after which hardly anything comes. */
import { creditOf, GREEN_AT, type Green, type Made, type Start } from "./credit.ts";
import { shareOf } from "./share.ts";
import { type SurvivalStep, survivalOf } from "./survival.ts";

export interface TouchNumber {
  /** The first touch is 1. */
  nth: number;
  made: number;
  brought: number;
}

export interface HowLong {
  /** The share that nothing has come of after the nth touch; who is still on the way counts as long as they were watched. */
  silent: SurvivalStep[];
  touches: TouchNumber[];
  /** After this touch hardly anything comes: what followed, and what it brought. Null while that cannot be said. */
  enough: { after: number; made: number; brought: number } | null;
}

/**
 * What comes later is hardly anything if it surely brings less than this part of what the touches before brought for each, and
 * of all that came no more than this: many touches that each bring little can be half of a season.
 */
const HARDLY = 1 / 3;
const HARDLY_OF_ALL = 0.15;
const LEAST_MADE = 60;

export function howLong(
  starts: readonly Start[],
  byStart: ReadonlyMap<number, readonly Made[]>,
  green: Green,
): HowLong {
  const numbers = new Map<number, TouchNumber>();
  const of = (nth: number): TouchNumber => {
    const known = numbers.get(nth) ?? { nth, made: 0, brought: 0 };
    numbers.set(nth, known);
    return known;
  };
  const waited: { at: number; answered: boolean }[] = [];
  for (const start of starts) {
    const own = byStart.get(start.id) ?? [];
    for (const [index] of own.entries()) of(index + 1).made++;
    const [owed] = creditOf(start, own, green, "answered");
    if (owed) of(own.indexOf(owed.touch) + 1).brought++;
    if (own.length > 0) {
      const at = start[GREEN_AT[green]];
      const before = at === null ? own.length : own.filter((touch) => touch.at <= at).length;
      waited.push({ at: Math.max(1, before), answered: at !== null });
    }
  }
  const sorted = [...numbers.values()].sort((a, b) => a.nth - b.nth);
  return { silent: survivalOf(waited), touches: sorted, enough: enoughAfter(sorted) };
}

/** The earliest touch after which everything together brings hardly anything. */
function enoughAfter(touches: readonly TouchNumber[]): HowLong["enough"] {
  const sum = (some: readonly TouchNumber[]) => ({
    made: some.reduce((all, { made }) => all + made, 0),
    brought: some.reduce((all, { brought }) => all + brought, 0),
  });
  for (let after = 1; after < touches.length; after++) {
    const before = sum(touches.slice(0, after));
    const rest = sum(touches.slice(after));
    if (rest.made < LEAST_MADE) return null;
    const isSmall = rest.brought <= HARDLY_OF_ALL * (before.brought + rest.brought);
    if (isSmall && shareOf(rest.brought, rest.made).high < HARDLY * (before.brought / before.made))
      return { after, ...rest };
  }
  return null;
}
