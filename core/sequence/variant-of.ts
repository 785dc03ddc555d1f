/** Which wording of an email a prospect gets, and what share of whoever comes each takes. */
import { seeded } from "../random.ts";
import type { EmailStep, Variant } from "./path.ts";

/**
 * Weighted rendezvous hashing (Thaler and Ravishankar 1998; weights by Schindelhauer and Schomaker 2005): stable for a
 * journey, and a new or heavier variant takes only those it wins. Weights of 0 take nobody; if all are, the first serves.
 */
export function variantOf(stepId: string, variants: readonly Variant[], journeyId: number | string): Variant {
  let best = variants[0] as Variant;
  if (variants.length === 1) return best;
  let highest = Number.NEGATIVE_INFINITY;
  for (const variant of variants) {
    if (variant.weight === 0) continue;
    const drawn = seeded("variant", stepId, variant.id, journeyId)();
    const score = variant.weight / -Math.log(Math.max(drawn, Number.MIN_VALUE));
    if (score > highest) {
      highest = score;
      best = variant;
    }
  }
  return best;
}

/** By wording its weight, out of a hundred: what was decided for a day. */
export type Shares = ReadonlyMap<string, number>;

/**
 * The step with the weights that were decided for it. A wording that came since takes an equal part; one that is to take nobody
 * takes nobody.
 */
export function withShares(step: EmailStep, shares: Shares | null): EmailStep {
  if (!step.favoursBetter || !shares) return step;
  const taking = step.variants.filter(({ weight }) => weight > 0);
  const equal = Math.round(100 / Math.max(1, taking.length));
  return {
    ...step,
    variants: step.variants.map((variant) =>
      variant.weight === 0 ? variant : { ...variant, weight: shares.get(variant.id) ?? equal },
    ),
  };
}
