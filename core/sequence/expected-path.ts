/** The emails somebody has ahead, as a plan expects them: forks on events take "no" after their patience, others are answered. */
import type { Advance, Walker } from "./advance.ts";
import { answerSince, type Facts, holds, isStanding } from "./condition.ts";
import { branchStart, isEmail, type PathNode, spotsOf } from "./path.ts";
import { isNoWait, type Wait } from "./wait.ts";

export interface ExpectedEmail {
  id: string;
  /** What is waited for one after the other since the email before; for the first, since `since` of the place. */
  waits: Wait[];
}

/**
 * From the place of an advance on. What only a rep can do is expected to be done on the day it comes up; an open one that the
 * journey waits for without a deadline ends what can be planned.
 */
export function expectedPath(walker: Walker, { place, move }: Advance, facts: Facts): ExpectedEmail[] {
  if (move.kind === "wait" && move.for === "touch" && move.until === null) return [];
  const { path } = walker;
  const spots = spotsOf(path);
  const emails: ExpectedEmail[] = [];
  let waits: Wait[] = [];
  let node: PathNode | null = place.nodeId === null ? null : (spots.get(place.nodeId)?.node ?? null);
  while (node !== null && node.kind !== "end") {
    if (node.kind === "fork") {
      const at = { since: place.since, deadline: place.since, now: place.since };
      const standing = isStanding(node.ask);
      const yes = standing ? answerSince(node.ask, facts, at)?.yes === true : node.ask.not === true;
      if (!standing && !isNoWait(node.patience)) waits.push(node.patience);
      node = branchStart(node, yes ? "yes" : "no", path);
      continue;
    }
    const isMade: boolean =
      node.onlyIf === undefined || !isStanding(node.onlyIf) || holds(node.onlyIf, facts, place.since);
    const isBegun = walker.begun.has(node.id);
    if (!isBegun && !isNoWait(node.wait)) waits.push(node.wait);
    if (isEmail(node) && isMade && !isBegun) {
      emails.push({ id: node.id, waits });
      waits = [];
    } else if (!isEmail(node) && isBegun && node.skipAfter !== null)
      waits.push({ days: node.skipAfter, working: true });
    node = spots.get(node.id)?.next ?? null;
  }
  return emails;
}
