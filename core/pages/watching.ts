/** How much of a film somebody has seen, as it is written down: begun, a quarter, half, three quarters, the end. */

/** In hundredths; 0 is its beginning. */
export const SHARES = [0, 25, 50, 75, 100] as const;
export type Share = (typeof SHARES)[number];

/** The last seconds are a hand that reaches for the button: who saw all but them saw the end. */
const ALL = 0.97;

/** The share of what was played, each second counted once. `ranges`: from and to in seconds, as a player says them. */
export function shareOf(
  ranges: readonly (readonly [from: number, to: number])[],
  film: { from: number; to: number },
): Share {
  const length = film.to - film.from;
  if (!(length > 0)) return 0;
  let seen = 0;
  let until = film.from;
  for (const [from, to] of ranges.toSorted(([a], [b]) => a - b)) {
    const begins = Math.max(from, until);
    const ends = Math.min(to, film.to);
    if (ends <= begins) continue;
    seen += ends - begins;
    until = ends;
  }
  const share = seen / length;
  return share >= ALL ? 100 : (SHARES.findLast((each) => each < 100 && share * 100 >= each) ?? 0);
}

/** What is told of somebody who had seen `before`, and has now seen `share`: each step on the way once. */
export const sharesSince = (before: number | null, share: Share): Share[] =>
  SHARES.filter((each) => each <= share && (before === null || each > before));
