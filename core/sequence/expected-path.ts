/** What somebody has ahead, as a plan expects it: forks on events take "no" after their patience, others are answered. */
import type { Place, Walker } from "./advance.ts";
import { isStanding } from "./condition.ts";
import { answerSince, type Facts, holds } from "./holds.ts";
import { branchStart, isEmail, type PathNode, spotsOf, type TouchStep } from "./path.ts";
import { isNoWait, type Wait } from "./wait.ts";

export interface ExpectedStep {
  step: TouchStep;
  /** What is waited for, one after the other, since the step before; for the first, since `since` of the place. */
  waits: Wait[];
}

/** From a place on. What only a rep can do is expected to be done on the day it comes up. */
export function expectedSteps(
  { path, begun }: Pick<Walker, "path" | "begun">,
  place: Place,
  facts: Facts,
): ExpectedStep[] {
  const spots = spotsOf(path);
  const steps: ExpectedStep[] = [];
  let waits: Wait[] = [];
  const wait = (each: Wait) => {
    if (!isNoWait(each)) waits.push(each);
  };
  let node: PathNode | null = place.nodeId === null ? null : (spots.get(place.nodeId)?.node ?? null);
  while (node !== null && node.kind !== "end") {
    if (node.kind === "fork") {
      const at = { since: place.since, deadline: place.since, now: place.since };
      const standing = isStanding(node.ask);
      const yes = standing ? answerSince(node.ask, facts, at)?.yes === true : node.ask.not === true;
      if (!standing) wait(node.patience);
      node = branchStart(node, yes ? "yes" : "no", path);
      continue;
    }
    const isMade =
      node.onlyIf === undefined || !isStanding(node.onlyIf) || holds(node.onlyIf, facts, place.since);
    if (!begun.has(node.id)) {
      wait(node.wait);
      if (isMade) {
        steps.push({ step: node, waits });
        waits = [];
      }
    } else if (!isEmail(node) && node.skipAfter !== null) wait({ days: node.skipAfter, working: true });
    node = spots.get(node.id)?.next ?? null;
  }
  return steps;
}

export interface ExpectedEmail {
  id: string;
  /** As of a step, but since the email before. */
  waits: Wait[];
}

/** Of the expected steps the emails. */
export function expectedEmails(
  walker: Pick<Walker, "path" | "begun">,
  place: Place,
  facts: Facts,
): ExpectedEmail[] {
  const emails: ExpectedEmail[] = [];
  let waits: Wait[] = [];
  for (const { step, waits: own } of expectedSteps(walker, place, facts)) {
    waits.push(...own);
    if (!isEmail(step)) continue;
    emails.push({ id: step.id, waits });
    waits = [];
  }
  return emails;
}
