/** The starts behind a number, so that each number opens its people. */
import { type Credit, creditOf, GREENS, type Green, type Made, type Start } from "./credit.ts";
import { counts, FIGURE_NAMES, type Figure } from "./figures.ts";

/** Of a step: they came to it, or it was the last before they left; of a step or the whole: a figure. */
export const PICKS = ["came", "gone", ...FIGURE_NAMES] as const;
export type Pick = (typeof PICKS)[number];

const isGreen = (pick: Pick): pick is Green => (GREENS as readonly string[]).includes(pick);

/** Whether they left before the path was over, without an answer. */
export const isGone = (start: Start): boolean =>
  counts("optedOut", start) || counts("bounced", start) || counts("left", start);

/** `stepId`: null for the whole sequence, where "came" is everybody. What is credited to a step only in part counts. */
export function whoDid(
  starts: readonly Start[],
  byStart: ReadonlyMap<number, readonly Made[]>,
  pick: Pick,
  stepId: string | null,
  credit: Credit,
): Start[] {
  if (stepId === null)
    return starts.filter(
      (start) => pick === "came" || (pick === "gone" ? isGone(start) : counts(pick as Figure, start)),
    );
  return starts.filter((start) => {
    const own = byStart.get(start.id) ?? [];
    if (pick === "gone") return own.at(-1)?.stepId === stepId && isGone(start);
    if (isGreen(pick)) return creditOf(start, own, pick, credit).some(({ touch }) => touch.stepId === stepId);
    const touch = own.find((each) => each.stepId === stepId);
    if (!touch) return false;
    switch (pick) {
      case "reached":
        return touch.isReached;
      case "bounced":
        return touch.isBounced;
      case "opened":
        return touch.isOpened;
      case "clicked":
        return touch.isClicked;
      default:
        return pick === "came" || counts(pick, start);
    }
  });
}
