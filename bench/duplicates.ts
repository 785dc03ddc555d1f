/** The search for duplicates with ten times the people, against itself. */
import { findDuplicates, type PersonKey } from "../core/prospects/duplicates.ts";
import { type Figure, median } from "./figure.ts";
import { inventRows } from "./people.ts";

const FEW = 10_000;
const ROUNDS = 5;

function people(count: number): PersonKey[] {
  return inventRows(count).flatMap(({ first, last, email, website }, nth): PersonKey[] => {
    const person = {
      id: 2 * nth,
      email,
      firstName: first,
      lastName: last,
      domain: website.slice(12),
      profile: "",
    };
    // One in twenty is there twice, with a slip.
    return nth % 20 === 0
      ? [person, { ...person, id: 2 * nth + 1, email: null, lastName: `${last}e` }]
      : [person];
  });
}

function time(all: PersonKey[]): number {
  const began = performance.now();
  const found = findDuplicates(all);
  if (found.length < all.length / 25) throw new Error("duplicates were missed");
  return performance.now() - began;
}

export async function benchDuplicates(): Promise<Figure> {
  const few = people(FEW);
  const many = people(10 * FEW);
  const short: number[] = [];
  const long: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    short.push(time(few));
    long.push(time(many));
  }
  return {
    bench: "duplicates",
    ratio: Number((median(long) / median(short)).toFixed(2)),
    limit: 13,
    kind: "most",
    people: 10 * FEW,
    ms: Math.round(median(long)),
    baselineMs: Math.round(median(short)),
  };
}
