/** Which touch an answer is owed to: the one they answered, the first, or all that went before. */
import type { Course } from "./figures.ts";

/** Somebody's start on a sequence, and what came of it. */
export interface Start extends Course {
  /** Of the journey. */
  id: number;
  /** The version they are on, or ended on. */
  version: number;
}

/** A touch that was made: sent, refused by a server, or done by a rep. Instants in ms, null: not so far. */
export interface Made {
  journeyId: number;
  touchId: number;
  stepId: string;
  /** Null: of a time before versions were noted. */
  version: number | null;
  variantId: string | null;
  kind: string;
  at: number;
  isReached: boolean;
  isBounced: boolean;
  isOpened: boolean;
  isClicked: boolean;
  /** What they wrote answers this touch; of a call, they talked. */
  answeredAt: number | null;
  positiveAt: number | null;
}

export const CREDITS = ["answered", "first", "shared"] as const;
export type Credit = (typeof CREDITS)[number];

/** What is counted where something came of a start. */
export const GREENS = ["answered", "positive", "booked"] as const;
export type Green = (typeof GREENS)[number];
export const GREEN_AT = {
  answered: "answeredAt",
  positive: "positiveAt",
  booked: "bookedAt",
} as const satisfies Record<Green, keyof Course>;

/** Shared by position: so much for the first and for the last touch each, the rest in equal parts for those between. */
const AT_THE_ENDS = 0.4;

/**
 * The touches of one start that share in what came of it, the shares adding up to 1; none if nothing came of it, or nothing
 * went before. `touches` in the order in which they were made.
 */
export function creditOf(
  start: Start,
  touches: readonly Made[],
  green: Green,
  credit: Credit,
): { touch: Made; share: number }[] {
  const at = start[GREEN_AT[green]];
  if (at === null) return [];
  const before = touches.filter((touch) => touch.at <= at);
  const first = before[0];
  const last = before.at(-1);
  if (!first || !last) return [];
  switch (credit) {
    case "first":
      return [{ touch: first, share: 1 }];
    case "answered":
      return [{ touch: before.find((touch) => namedBy(touch, green) === at) ?? last, share: 1 }];
    case "shared": {
      if (before.length <= 2) return before.map((touch) => ({ touch, share: 1 / before.length }));
      const between = (1 - 2 * AT_THE_ENDS) / (before.length - 2);
      return before.map((touch) => ({
        touch,
        share: touch === first || touch === last ? AT_THE_ENDS : between,
      }));
    }
  }
}

/** When they answered this very touch; a booking names none. */
const namedBy = (touch: Made, green: Green): number | null =>
  green === "answered" ? touch.answeredAt : green === "positive" ? touch.positiveAt : null;

/** Touches by start, each in the order in which they were made. */
export function touchesByStart(touches: readonly Made[]): Map<number, Made[]> {
  const byStart = new Map<number, Made[]>();
  for (const touch of touches) {
    const own = byStart.get(touch.journeyId);
    if (own) own.push(touch);
    else byStart.set(touch.journeyId, [touch]);
  }
  for (const own of byStart.values())
    if (own.some((touch, nth) => nth > 0 && touch.at < (own[nth - 1] as Made).at))
      own.sort((a, b) => a.at - b.at || a.touchId - b.touchId);
  return byStart;
}
