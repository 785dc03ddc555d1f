/** Since when a rate is no longer what it was: cumulated sums (E. S. Page, 1954), weighted as likelihoods (S. H. Steiner and others, 2000). */
import type { Counts } from "./beta.ts";

export interface DriftSettings {
  /** The rate as it was, and how many times its odds one wants to hear of. */
  usual: number;
  oddsTimes: number;
  /** How much has to come together: the higher, the rarer a false alarm. */
  threshold: number;
}

export interface Drift {
  /** The highest that has come together, and after which of the counts it went over the threshold; null while it did not. */
  highest: number;
  alarmAt: number | null;
  /** Where that rise began. */
  since: number | null;
}

/** The weight of one that went wrong, and of one that did not. */
export function weightsOf({ usual, oddsTimes }: Pick<DriftSettings, "usual" | "oddsTimes">): {
  wrong: number;
  right: number;
} {
  const either = 1 - usual + oddsTimes * usual;
  return { wrong: Math.log(oddsTimes / either), right: -Math.log(either) };
}

/** Over counts in the order of time, such as a day's each; `usual` of one: where that day was to have another rate. */
export function driftOf(counts: readonly (Counts & { usual?: number })[], settings: DriftSettings): Drift {
  let sum = 0;
  let began = 0;
  const drift: Drift = { highest: 0, alarmAt: null, since: null };
  for (const [index, { part, whole, usual = settings.usual }] of counts.entries()) {
    const { wrong, right } = weightsOf({ ...settings, usual });
    if (sum === 0) began = index;
    sum = Math.max(0, sum + part * wrong + (whole - part) * right);
    drift.highest = Math.max(drift.highest, sum);
    if (sum <= settings.threshold || drift.alarmAt !== null) continue;
    drift.alarmAt = index;
    drift.since = began;
  }
  return drift;
}
