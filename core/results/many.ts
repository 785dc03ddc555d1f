/** Groups that differ from the rest, when many are looked at. */
import { type Counts, logGamma } from "./beta.ts";

const logChoose = (n: number, k: number): number => logGamma(n + 1) - logGamma(k + 1) - logGamma(n - k + 1);

/** Two tables are as likely if they differ by no more than what arithmetic leaves. */
const AS_LIKELY = 1 + 1e-7;

/** Of what is called different among many, one in twenty may be chance. */
export const FALSE_SHARE = 0.05;

/** How likely counts at least as far apart are if both groups have the same rate: two-sided, exact (R. A. Fisher, 1935). */
export function chanceOfSuch(one: Counts, other: Counts): number {
  const part = one.part + other.part;
  const whole = one.whole + other.whole;
  const from = Math.max(0, part - other.whole);
  const to = Math.min(part, one.whole);
  const logAll = logChoose(whole, part);
  const likely = (k: number) => Math.exp(logChoose(one.whole, k) + logChoose(other.whole, part - k) - logAll);
  const seen = likely(one.part) * AS_LIKELY;
  let sum = 0;
  for (let k = from; k <= to; k++) {
    const each = likely(k);
    if (each <= seen) sum += each;
  }
  return Math.min(1, sum);
}

/**
 * For each p the share of false ones among those that are called different if it is the last of them (Y. Benjamini and
 * Y. Hochberg, 1995). In the order that was given.
 */
export function falseShares(p: readonly number[]): number[] {
  const order = p.map((_, index) => index).sort((one, other) => (p[other] ?? 1) - (p[one] ?? 1));
  const shares = new Array<number>(p.length).fill(1);
  let least = 1;
  for (const [nth, index] of order.entries()) {
    least = Math.min(least, ((p[index] ?? 1) * p.length) / (p.length - nth));
    shares[index] = least;
  }
  return shares;
}
