/** Each day, what share every wording takes of those who come, in steps that give the better one more. */
import { dayOf } from "../../core/calendar.ts";
import { sharesByLikelihood } from "../../core/results/wordings.ts";
import { type Brought, NOTHING_BROUGHT } from "../../core/results/worked.ts";
import { everyStep, isEmail } from "../../core/sequence/path.ts";
import type { App } from "../app.ts";
import { outcomeRevisions } from "../db/outcomes.ts";
import { allSequences, type Sequence } from "../db/sequences.ts";
import { decidedShares, keepShares } from "../db/wording-shares.ts";
import { broughtByStep } from "./brought.ts";

/** By "step wording": what it brought since it says what it says, and its share of today if days decide. */
export type WordingsSoFar = Record<string, { brought: Brought; share: number | null }>;

export function wordingsSoFar({ db }: App, { id, path }: Pick<Sequence, "id" | "path">): WordingsSoFar {
  if (!outcomeRevisions(db).has(id)) return {};
  const shares = new Map<string, number>(
    everyStep(path)
      .filter(isEmail)
      .filter(({ favoursBetter }) => favoursBetter === true)
      .flatMap((step) =>
        (decidedShares(db, id, step.id)[0]?.shares ?? []).map((each): [string, number] => [
          `${step.id} ${each.id}`,
          each.weight,
        ]),
      ),
  );
  return Object.fromEntries(
    [...broughtByStep(db, id, path)].map(([key, brought]) => [
      key,
      { brought, share: shares.get(key) ?? null },
    ]),
  );
}

/** Decides where nothing was decided for the day, of running sequences. Returns how many steps. */
export function shareWordings({ db, clock }: App): number {
  const now = clock.now();
  let decided = 0;
  const due = allSequences(db)
    .filter(({ state }) => state === "running")
    .flatMap((sequence) => {
      const day = dayOf(now, sequence.zone);
      return everyStep(sequence.path)
        .filter(isEmail)
        .filter(({ favoursBetter }) => favoursBetter === true)
        .filter(({ id }) => decidedShares(db, sequence.id, id)[0]?.day !== day)
        .map((step) => ({ sequence, day, step }));
    });
  if (due.length > 0) outcomeRevisions(db);
  for (const { sequence, day, step } of due) {
    const brought = broughtByStep(db, sequence.id, sequence.path);
    const counts = step.variants
      .filter(({ weight }) => weight > 0)
      .map(({ id }) => {
        const { positive, reached } = brought.get(`${step.id} ${id}`) ?? NOTHING_BROUGHT;
        return { id, part: positive, whole: reached };
      });
    if (counts.length < 2) continue;
    const weights = sharesByLikelihood(counts).map((share) => Math.round(100 * share));
    const shares = counts.map((each, nth) => ({ ...each, weight: weights[nth] ?? 0 }));
    keepShares(db, { sequenceId: sequence.id, stepId: step.id, day, shares, at: now });
    decided++;
  }
  return decided;
}
