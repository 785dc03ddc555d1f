/** What came of each step: how many came to it, what it brought, and how many left after it. */
import { type Credit, creditOf, GREENS, type Green, type Made, type Start } from "./credit.ts";
import { isGone } from "./who-did.ts";

export interface StepFigures {
  stepId: string;
  /** Touches made: emails that a server took or refused, and what a rep did. */
  made: number;
  reached: number;
  bounced: number;
  opened: number;
  clicked: number;
  /** As far as they are owed to it: shares of a start, so with fractions if credit is shared. */
  brought: Record<Green, number>;
  /** From the touch to an answer that names it: the middle one, in days; null if there was none. */
  daysToAnswer: number | null;
  /** It was the last before they opted out, all came back, or they left otherwise without an answer. */
  gone: number;
}

const DAY = 86_400_000;

export const noStepFigures = (stepId: string): StepFigures => ({
  stepId,
  made: 0,
  reached: 0,
  bounced: 0,
  opened: 0,
  clicked: 0,
  brought: { answered: 0, positive: 0, booked: 0 },
  daysToAnswer: null,
  gone: 0,
});

/** By step, in the order in which they first occur. Each start counts once for each step. */
export function stepFigures(
  starts: readonly Start[],
  byStart: ReadonlyMap<number, readonly Made[]>,
  credit: Credit,
): Map<string, StepFigures> {
  const figures = new Map<string, StepFigures>();
  const days = new Map<string, number[]>();
  const of = (stepId: string): StepFigures => {
    const known = figures.get(stepId);
    if (known) return known;
    const none = noStepFigures(stepId);
    figures.set(stepId, none);
    return none;
  };
  const count = (touch: Made) => {
    const step = of(touch.stepId);
    step.made++;
    if (touch.isReached) step.reached++;
    if (touch.isBounced) step.bounced++;
    if (touch.isOpened) step.opened++;
    if (touch.isClicked) step.clicked++;
    if (touch.answeredAt === null) return;
    const known = days.get(touch.stepId);
    const waited = (touch.answeredAt - touch.at) / DAY;
    if (known) known.push(waited);
    else days.set(touch.stepId, [waited]);
  };
  for (const own of byStart.values()) for (const touch of own) count(touch);
  for (const start of starts) {
    const own = byStart.get(start.id) ?? [];
    for (const green of GREENS)
      for (const { touch, share } of creditOf(start, own, green, credit))
        of(touch.stepId).brought[green] += share;
    const last = own.at(-1);
    if (last && isGone(start)) of(last.stepId).gone++;
  }
  for (const [stepId, all] of days) of(stepId).daysToAnswer = middleOf(all);
  return figures;
}

function middleOf(values: readonly number[]): number {
  const sorted = values.toSorted((a, b) => a - b);
  const half = sorted.length / 2;
  return sorted.length % 2 === 1
    ? (sorted[Math.floor(half)] as number)
    : ((sorted[half - 1] as number) + (sorted[half] as number)) / 2;
}
