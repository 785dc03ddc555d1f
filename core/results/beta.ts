/**
 * What is believed of a rate after so many of so many: Beta distributions on one grid, from which every question about
 * them is answered by sums. Exact enough for counts from none to millions, the same on every machine, without drawing lots.
 */

export interface Counts {
  part: number;
  whole: number;
}

export interface Belief {
  mean: number;
  /** Between these the true rate lies in 19 of 20 cases. */
  low: number;
  high: number;
}

/** Nothing is known before: every rate is as likely (T. Bayes, 1763). */
const PRIOR = { part: 1, rest: 1 };
const POINTS = 512;
/** Beyond so many standard deviations there is nothing to sum. */
const REACH = 9;

interface Grid {
  /** Centres of the cells, and how wide each is. */
  at: Float64Array;
  width: number;
  /** By rate: the share of belief within each cell; each sums up to 1. */
  mass: Float64Array[];
}

function gridOf(arms: readonly Counts[]): Grid {
  const shapes = arms.map(({ part, whole }) => ({ a: part + PRIOR.part, b: whole - part + PRIOR.rest }));
  const spans = shapes.map(({ a, b }) => {
    const mean = a / (a + b);
    const sd = Math.sqrt((mean * (1 - mean)) / (a + b + 1));
    return [Math.max(0, mean - REACH * sd), Math.min(1, mean + REACH * sd)] as const;
  });
  const from = Math.min(...spans.map(([low]) => low));
  const to = Math.max(...spans.map(([, high]) => high));
  const width = (to - from) / POINTS;
  const at = Float64Array.from({ length: POINTS }, (_, index) => from + (index + 0.5) * width);
  return { at, width, mass: shapes.map(({ a, b }) => massOf(at, a, b)) };
}

function massOf(at: Float64Array, a: number, b: number): Float64Array {
  const logs = at.map((x) => (a - 1) * Math.log(x) + (b - 1) * Math.log1p(-x));
  const top = logs.reduce((most, each) => Math.max(most, each), Number.NEGATIVE_INFINITY);
  const mass = logs.map((each) => Math.exp(each - top));
  const sum = mass.reduce((total, each) => total + each, 0);
  return mass.map((each) => each / sum);
}

/** What is believed of one rate. */
export function beliefOf(counts: Counts): Belief {
  const { part, whole } = counts;
  const { at, width, mass } = gridOf([counts]);
  const [own = new Float64Array()] = mass;
  return {
    mean: (part + PRIOR.part) / (whole + PRIOR.part + PRIOR.rest),
    low: quantileOf(at, width, own, 0.025),
    high: quantileOf(at, width, own, 0.975),
  };
}

function quantileOf(at: Float64Array, width: number, mass: Float64Array, share: number): number {
  let below = 0;
  for (const [index, each] of mass.entries()) {
    if (below + each >= share) return (at[index] ?? 0) + width * ((share - below) / each - 0.5);
    below += each;
  }
  return at.at(-1) ?? 1;
}

export interface Compared {
  /** How likely it has the highest rate of all. */
  isBest: number;
  /** What choosing it now costs against the best one, on the average: a difference of rates. */
  loss: number;
}

/**
 * Of several rates, which is the highest: by the belief in each, taken as independent. Within a cell of the grid all are taken
 * as equal, and share it.
 */
export function compareRates(arms: readonly Counts[]): Compared[] {
  const { at, mass } = gridOf(arms);
  const below = mass.map((own) => {
    let sum = 0;
    return own.map((each) => {
      sum += each;
      return sum - each / 2;
    });
  });
  // The highest of all lies below a cell's centre if each of them does.
  let best = 0;
  let before = 0;
  for (let cell = 0; cell < POINTS; cell++) {
    const end = mass.reduce((all, own, arm) => all * ((below[arm]?.[cell] ?? 0) + (own[cell] ?? 0) / 2), 1);
    best += (end - before) * (at[cell] ?? 0);
    before = end;
  }
  return arms.map(({ part, whole }, arm) => {
    let isBest = 0;
    for (let cell = 0; cell < POINTS; cell++) {
      const others = below.reduce((all, each, index) => (index === arm ? all : all * (each[cell] ?? 0)), 1);
      isBest += (mass[arm]?.[cell] ?? 0) * others;
    }
    const mean = (part + PRIOR.part) / (whole + PRIOR.part + PRIOR.rest);
    return { isBest, loss: Math.max(0, best - mean) };
  });
}

/**
 * How many times more likely the counts are if each has a rate of its own than if all have the same (H. Jeffreys, 1935, for
 * two rates). However often it is looked at, it comes above x by chance in at most one of x cases (J. Ville, 1939).
 */
export function oddsOfDifference(arms: readonly Counts[]): number {
  const all = arms.reduce((sum, { part, whole }) => ({ part: sum.part + part, whole: sum.whole + whole }), {
    part: 0,
    whole: 0,
  });
  const apart = arms.reduce((sum, each) => sum + logEvidence(each), 0);
  return Math.exp(apart - logEvidence(all));
}

/** Most of what is written is not answered: about one in ten, which is less than is known of any one text. */
const RARE = { part: 1, rest: 9 };

/** Of a sequence of answers with these counts, by a rate of which no more was known. */
const logEvidence = ({ part, whole }: Counts): number =>
  logBeta(part + RARE.part, whole - part + RARE.rest) - logBeta(RARE.part, RARE.rest);

const logBeta = (a: number, b: number): number => logGamma(a) + logGamma(b) - logGamma(a + b);

const SMALL = 12;
/** ln Γ(x) for x > 0, to twelve digits (J. Stirling, 1730; three terms beyond twelve). */
export function logGamma(x: number): number {
  let shift = 0;
  let y = x;
  for (; y < SMALL; y++) shift -= Math.log(y);
  const inverse = 1 / (y * y);
  const series = (1 / 12 - inverse * (1 / 360 - inverse * (1 / 1260 - inverse / 1680))) / y;
  return shift + (y - 0.5) * Math.log(y) - y + Math.log(2 * Math.PI) / 2 + series;
}
