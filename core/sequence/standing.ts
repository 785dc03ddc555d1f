/** How somebody of a list stands before a start: the rule that is against them, or ready. */
import { type RuleAt, rulesAt } from "../sending/may-go.ts";

export type Standing = RuleAt<"preview"> | "ready";

/** In the order in which the first that is true is said. */
export const STANDINGS: readonly Standing[] = [...rulesAt("preview"), "ready"];
/** Who does not start; the others that are not ready start and wait. */
export const LEFT_OUT: readonly Standing[] = rulesAt("start");
export const WAITING: readonly Standing[] = rulesAt("preview").filter((each) => !LEFT_OUT.includes(each));

/** How many a start takes: those who go now, and those who start and wait. */
export const startingOf = (counts: Record<Standing, number>): number =>
  STANDINGS.reduce((sum, each) => (LEFT_OUT.includes(each) ? sum : sum + counts[each]), 0);
