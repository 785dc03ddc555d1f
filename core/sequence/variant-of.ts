/** Which wording of an email a prospect gets. */
import { seeded } from "../random.ts";
import type { Variant } from "./path.ts";

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
