/**
 * The hour at which somebody is best reached, from when they answered, clicked and (weakly) opened. Few people did so often
 * enough to tell; so each pattern is drawn toward a wider one: a person's toward that of their role, a role's toward their
 * country's, a country's toward that of their zone, and a zone's toward an even day.
 *
 * Source: the Dirichlet-multinomial model with a hierarchical prior (Gelman et al., Bayesian Data Analysis, 3rd ed., 2013,
 * 3.4 and 5.1): with counts c, their sum n, a prior pattern q and its strength k the pattern is (c + k q) / (n + k).
 */

export const HOURS = 24;

/** What was done at which instant; an open is weak evidence, since programs open too. */
export const WEIGHTS = { replied: 1, clicked: 0.6, opened: 0.15 } as const;
export type Evidence = keyof typeof WEIGHTS;

/** Weighted counts by hour of the local day. */
export type HourCounts = readonly number[];

/** How many weighted signals of one's own weigh as much as the wider pattern. */
const STRENGTH = 6;
/** Neighbouring hours speak for each other. */
const NEIGHBOUR = 0.5;

export interface BestHour {
  /** Minutes after midnight, where they are: the middle of the best hour. */
  minute: number;
  /** Weighted signals of their own. */
  own: number;
  /** The part of the answer that is their own, 0 to 1; the rest is drawn from people like them. */
  certainty: number;
}

const sum = (counts: HourCounts): number => counts.reduce((a, b) => a + b, 0);

/** A pattern drawn toward a wider one. */
export function shrink(counts: HourCounts, wider: HourCounts): number[] {
  const n = sum(counts);
  return wider.map((share, hour) => ((counts[hour] ?? 0) + STRENGTH * share) / (n + STRENGTH));
}

const EVEN: HourCounts = Array<number>(HOURS).fill(1 / HOURS);

/**
 * Null where nothing at all is known. `from` the widest `to` the narrowest: zone, country, role, then the person's own
 * counts. `opens` and `closes`: minutes after midnight between which mail may go.
 */
export function bestHour(
  patterns: readonly HourCounts[],
  own: HourCounts,
  { opens, closes }: { opens: number; closes: number },
): BestHour | null {
  const known = sum(own);
  if (known === 0 && patterns.every((counts) => sum(counts) === 0)) return null;
  const wider = patterns.reduce<HourCounts>((prior, counts) => shrink(counts, prior), EVEN);
  const pattern = shrink(own, wider);
  const smooth = pattern.map(
    (share, hour) =>
      share + NEIGHBOUR * ((pattern[(hour + 1) % HOURS] ?? 0) + (pattern[(hour + HOURS - 1) % HOURS] ?? 0)),
  );
  let best: number | null = null;
  for (let hour = 0; hour < HOURS; hour++) {
    const middle = hour * 60 + 30;
    if (middle < opens || middle >= closes) continue;
    if (best === null || (smooth[hour] as number) > (smooth[best] as number)) best = hour;
  }
  if (best === null) return null;
  return { minute: best * 60 + 30, own: known, certainty: known / (known + STRENGTH) };
}
