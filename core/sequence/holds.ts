/** Whether a condition holds, by what is known of somebody. */
import { matchesText } from "../prospects/text-match.ts";
import type { Label } from "../replies/labels.ts";
import { SETTLES } from "../replies/loads.ts";
import { type Condition, isStanding } from "./condition.ts";

/** What is known of one prospect on one journey. Instants, so that a late look decides as a punctual one would. */
export interface Facts {
  hasAddress: boolean;
  hasProfile: boolean;
  /** The value of a merge field, "" if there is none. */
  fieldValue: (field: string) => string;
  acceptedAt: number | null;
  /** The first time, by step. */
  openedAt: ReadonlyMap<string, number>;
  clickedAt: ReadonlyMap<string, number>;
  visitedAt: number | null;
  /** The first time, by share of the film in hundredths. */
  watchedAt: ReadonlyMap<number, number>;
  /** Labels of their replies, the oldest first. */
  labels: readonly { label: Label; at: number }[];
}

/** Whether a condition holds as of an instant: what happened later does not count. */
export function holds(condition: Condition, facts: Facts, asOf: number): boolean {
  return isMet(condition, facts, asOf) !== (condition.not === true);
}

function isMet(condition: Condition, facts: Facts, asOf: number): boolean {
  switch (condition.about) {
    case "address":
      return facts.hasAddress;
    case "profile":
      return facts.hasProfile;
    case "field": {
      const { field, op, value } = condition;
      return matchesText(op, facts.fieldValue(field), value, field === "country");
    }
    case "label":
      return facts.labels.findLast(({ at }) => at <= asOf)?.label === condition.is;
    default: {
      const at = happenedAt(condition, facts);
      return at !== null && at <= asOf;
    }
  }
}

type Happening = Extract<Condition, { about: "accepted" | "opened" | "clicked" | "visited" | "watched" }>;

function happenedAt(condition: Happening, facts: Facts): number | null {
  switch (condition.about) {
    case "accepted":
      return facts.acceptedAt;
    case "visited":
      return facts.visitedAt;
    case "watched":
      return facts.watchedAt.get(condition.share) ?? null;
    default:
      return (condition.about === "opened" ? facts.openedAt : facts.clickedAt).get(condition.stepId) ?? null;
  }
}

/** By when it is known, at the latest, whether something happened by an instant: a load is judged a little later. */
export const knownBy = (condition: Condition | undefined, at: number): number =>
  condition?.about === "opened" || condition?.about === "clicked" || condition?.about === "visited"
    ? at + SETTLES
    : at;

export interface Answer {
  yes: boolean;
  /** When it was decided. */
  at: number;
}

/**
 * The answer to a fork at which somebody arrived at `since`: yes or no at once if it asks how somebody is; yes at the
 * instant of what it asks for, no as of the deadline once all is known of it, and no at once when another label comes. Null
 * while it is open.
 */
export function answerSince(
  condition: Condition,
  facts: Facts,
  { since, deadline, now }: { since: number; deadline: number; now: number },
): Answer | null {
  const turned = (met: boolean, at: number): Answer => ({ yes: met !== (condition.not === true), at });
  if (isStanding(condition)) return turned(isMet(condition, facts, since), since);
  if (condition.about === "label") {
    const known = facts.labels.findLast(({ at }) => at <= since) ?? facts.labels.find(({ at }) => at > since);
    if (known && Math.max(known.at, since) <= Math.min(now, deadline))
      return turned(known.label === condition.is, Math.max(known.at, since));
  } else {
    const at = happenedAt(condition as Happening, facts);
    if (at !== null && at <= Math.min(now, Math.max(deadline, since)))
      return turned(true, Math.max(at, since));
  }
  return now >= knownBy(condition, deadline) ? turned(false, Math.max(deadline, since)) : null;
}
