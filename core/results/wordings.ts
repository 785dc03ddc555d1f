/** Wordings of one text against each other: which is better, how sure that is, and what would settle it. */
import { type Counts, compareRates, oddsOfDifference } from "./beta.ts";

export type Verdict =
  /** It brings more, and one may decide for it. */
  | { state: "better"; best: number }
  /** Whichever is taken, next to nothing is lost. */
  | { state: "alike" }
  /** `best`: what leads so far. */
  | { state: "open"; best: number };

/** A difference of less than this part of the rate is not worth waiting for. */
const WORTH = 0.1;
/** Nor is less than one more in a thousand. */
const LEAST_WORTH = 0.001;
/** Odds against chance, which looking every day does not make up: at most 1 of 20 comparisons without a difference ends in one. */
const ODDS = 20;

/**
 * Decides by what deciding now would cost on the average. That a wording is better is said only if the counts speak for a
 * difference at all: otherwise each look would be one more chance for a false one.
 */
export function verdictOf(counts: readonly Counts[]): Verdict {
  const best = counts.reduce(
    (most, each, index) => (meanOf(each) > meanOf(counts[most] as Counts) ? index : most),
    0,
  );
  const part = counts.reduce((sum, each) => sum + each.part, 0);
  const whole = counts.reduce((sum, each) => sum + each.whole, 0);
  if (whole === 0) return { state: "open", best };
  const worth = Math.max(LEAST_WORTH, (WORTH * part) / whole);
  const differ = oddsOfDifference(counts) >= ODDS;
  if (!differ && !canBeAlike(counts, worth)) return { state: "open", best };
  const losses = compareRates(counts).map(({ loss }) => loss);
  if (differ && (losses[best] ?? 1) <= worth) return { state: "better", best };
  return losses.every((loss) => loss <= worth) ? { state: "alike" } : { state: "open", best };
}

const meanOf = ({ part, whole }: Counts): number => (part + 1) / (whole + 2);

/**
 * Spares the sums where they cannot end in "alike": of two that are believed the same, either loses 0.56 of a standard
 * deviation on the average, and of more or of unequal ones the worst loses more.
 */
function canBeAlike(counts: readonly Counts[], worth: number): boolean {
  const spreads = counts.map((each) => Math.sqrt((meanOf(each) * (1 - meanOf(each))) / (each.whole + 3)));
  return 0.5 * Math.min(...spreads) <= worth;
}

/** No wording that takes anybody gets less than this, so that what was bad luck can still show. */
const LEAST_SHARE = 0.1;

/**
 * What share of a day's people each gets, adding up to 1, if the better ones are to get more: as much as it is likely to be
 * the best (W. R. Thompson, 1933).
 */
export function sharesByLikelihood(counts: readonly Counts[]): number[] {
  const compared = compareRates(counts);
  const rest = Math.max(0, 1 - LEAST_SHARE * counts.length);
  const sum = compared.reduce((total, { isBest }) => total + isBest, 0);
  return compared.map(({ isBest }) => (1 - rest) / counts.length + (rest * isBest) / sum);
}

/** Nobody waits for more than this. */
const MOST = 200_000;

/** How many more people, shared as so far and answering as so far, would settle it; 0 if it is settled, null if more than anybody has. */
export function moreToSettle(counts: readonly Counts[]): number | null {
  const whole = counts.reduce((sum, each) => sum + each.whole, 0);
  if (whole === 0) return null;
  const isSettledBy = (more: number) =>
    verdictOf(
      counts.map((each) => ({
        part: Math.round((each.part * (whole + more)) / whole),
        whole: Math.round((each.whole * (whole + more)) / whole),
      })),
    ).state !== "open";
  if (isSettledBy(0)) return 0;
  let open = 0;
  let settled = Math.max(10, whole);
  while (!isSettledBy(settled)) {
    open = settled;
    settled *= 2;
    if (settled > MOST) return null;
  }
  while (settled - open > Math.max(5, settled / 50)) {
    const middle = Math.round((open + settled) / 2);
    if (isSettledBy(middle)) settled = middle;
    else open = middle;
  }
  return settled;
}
