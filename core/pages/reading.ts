/** What the seconds for which pages of a file were before somebody come to. */

/** Seconds by page, counted from 1; a page that was never seen is left out. */
export type SecondsByPage = Readonly<Record<string, number>>;

/** A page that was passed quicker was not looked at. */
const LOOKED_AT = 2;

export interface Reading {
  /** How many pages the file has, and how many of them were looked at. */
  pages: number;
  seen: number;
  /** In all. */
  seconds: number;
  /** The page that was before them longest, where there is more than one; else null. */
  longest: number | null;
  /** Its last page was looked at. */
  isToTheEnd: boolean;
}

const looked = (seconds: SecondsByPage): [page: number, seconds: number][] =>
  Object.entries(seconds)
    .map(([page, each]): [number, number] => [Number(page), each])
    .filter(([, each]) => each >= LOOKED_AT);

export function readingOf(pages: number, seconds: SecondsByPage): Reading {
  const all = looked(seconds);
  const longest = all.toSorted(([a, one], [b, other]) => other - one || a - b)[0];
  return {
    pages,
    seen: all.length,
    seconds: Object.values(seconds).reduce((sum, each) => sum + each, 0),
    longest: pages > 1 && longest ? longest[0] : null,
    isToTheEnd: all.some(([page]) => page === pages),
  };
}

export interface PageReading {
  page: number;
  /** How many looked at it, and the seconds of the one in the middle of them. */
  readers: number;
  seconds: number;
}

/** The same by page, over everybody who looked at the file; every page has a row. */
export function byPage(pages: number, all: readonly SecondsByPage[]): PageReading[] {
  const seconds = new Map<number, number[]>();
  for (const each of all)
    for (const [page, of] of looked(each)) {
      const known = seconds.get(page);
      if (known) known.push(of);
      else seconds.set(page, [of]);
    }
  return Array.from({ length: pages }, (_, nth) => {
    const of = seconds.get(nth + 1) ?? [];
    return { page: nth + 1, readers: of.length, seconds: median(of) };
  });
}

/** The one in the middle, of an even number the lower; 0 of none. */
export const median = (values: readonly number[]): number =>
  values.toSorted((a, b) => a - b)[Math.floor((values.length - 1) / 2)] ?? 0;
