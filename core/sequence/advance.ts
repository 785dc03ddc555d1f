/**
 * The walk over a path: from the step somebody stands before, and what is known of them, to what happens next. Passes
 * forks and steps that are not to be made, and says so. Asked again with the same facts it decides the same, however
 * late: what happened after an instant does not count for what was decided then.
 */
import { alwaysOpen, DAY } from "../calendar.ts";
import type { Condition } from "./condition.ts";
import { answerSince, type Facts, holds, knownBy } from "./holds.ts";
import {
  branchStart,
  type Fork,
  isEmail,
  type Path,
  type PathNode,
  spotsOf,
  type TouchStep,
} from "./path.ts";
import { type Pause, stretched } from "./pauses.ts";
import { dueAt, type Moment, openFrom, type Wait } from "./wait.ts";

/** Where somebody stands: before this step, fork or end; null: the path is over. */
export interface Place {
  nodeId: string | null;
  /** The instant from which its wait counts. */
  since: number;
}

/** What became of a step that was begun. */
export interface Begun {
  /** When it came up. */
  at: number;
  /** When it was sent, done, skipped or refused; null while it is open. */
  endedAt: number | null;
}

export interface Walker {
  path: Path;
  calendar: Moment["calendar"];
  bestMinute?: number | null;
  /** What moments and variants are drawn from: the journey. */
  seed: number | string;
  /** By step. */
  begun: ReadonlyMap<string, Begun>;
  /** When nothing ran: every wait takes so much longer. */
  pauses?: readonly Pause[];
}

export type Move =
  /** `step` is due then; before that nothing happens. */
  | { kind: "wait"; for: "step"; step: TouchStep; until: number }
  /** Nothing but the fact itself or the deadline goes on. */
  | { kind: "wait"; for: "fork"; fork: Fork; until: number }
  /** A step that was begun is not over; null: only a person ends it. */
  | { kind: "wait"; for: "touch"; step: TouchStep; until: number | null }
  | { kind: "act"; step: TouchStep; due: number }
  | { kind: "finish" };

export type PathDecision =
  | { kind: "fork"; forkId: string; branch: "yes" | "no"; at: number; ask: Condition }
  | { kind: "skip"; stepId: string; at: number; because: Condition }
  /** Left undone for too long. */
  | { kind: "lapse"; stepId: string; at: number };

export interface Advance {
  place: Place;
  move: Move;
  decisions: PathDecision[];
}

/** A draft is shown a day before it would go, so that there is time to say yes. */
export const DRAFT_LEAD = DAY;

/** When a step falls due for somebody who stands before it. Emails are spread over the morning; a rep's own touches come up as the day opens. */
export function stepDueAt(walker: Walker, step: TouchStep, since: number): number {
  const { seed } = walker;
  const calendar = step.anyHour ? alwaysOpen(walker.calendar) : walker.calendar;
  const due = dueAt(step.wait, since, {
    calendar,
    // A time that was named is that time, and not spread over the morning.
    ...(isEmail(step) && !step.anyHour ? { seed: [seed, step.id] } : {}),
    bestMinute: step.bestHour ? (walker.bestMinute ?? null) : null,
  });
  return pausedUntil(walker, step.wait, due, since, calendar);
}

/** How long an answer is waited for at a fork, from the arrival on. */
export const forkDeadline = (walker: Walker, fork: Fork, since: number): number =>
  pausedUntil(
    walker,
    fork.patience,
    dueAt(fork.patience, since, { calendar: walker.calendar }),
    since,
    walker.calendar,
  );

/** The end of a wait with the pauses in it; a date or a weekday that was named stays what it is. */
function pausedUntil(
  { pauses = [] }: Walker,
  wait: Wait,
  end: number,
  since: number,
  calendar: Walker["calendar"],
): number {
  if (pauses.length === 0 || "date" in wait || "weekday" in wait) return end;
  const over = stretched(end, since, pauses);
  return over === end ? end : openFrom(over, calendar);
}

export function advance(walker: Walker, start: Place, facts: Facts, now: number): Advance {
  const { path } = walker;
  const spots = spotsOf(path);
  const decisions: PathDecision[] = [];
  let { since } = start;
  let node: PathNode | null = start.nodeId === null ? null : (spots.get(start.nodeId)?.node ?? null);
  const stay = (move: Move): Advance => ({ place: { nodeId: node?.id ?? null, since }, move, decisions });
  const goOn = (to: PathNode | null, at: number): void => {
    node = to;
    since = at;
  };

  // Each turn leaves a node behind that is not met again, so that the walk ends.
  while (node !== null && node.kind !== "end") {
    if (node.kind === "fork") {
      const fork: Fork = node;
      const deadline = forkDeadline(walker, fork, since);
      const answer = answerSince(fork.ask, facts, { since, deadline, now });
      if (!answer) return stay({ kind: "wait", for: "fork", fork, until: knownBy(fork.ask, deadline) });
      const branch = answer.yes ? "yes" : "no";
      decisions.push({ kind: "fork", forkId: fork.id, branch, at: answer.at, ask: fork.ask });
      goOn(branchStart(fork, branch, path), answer.at);
      continue;
    }
    const step: TouchStep = node;
    const next: PathNode | null = spots.get(step.id)?.next ?? null;
    const begun = walker.begun.get(step.id);
    if (begun) {
      const over = endOf(walker, step, begun, now);
      if (over.at === null) return stay({ kind: "wait", for: "touch", step, until: over.until });
      if (over.lapsed) decisions.push({ kind: "lapse", stepId: step.id, at: over.at });
      goOn(next, Math.max(over.at, since));
      continue;
    }
    const due = stepDueAt(walker, step, since);
    const sure = knownBy(step.onlyIf, due);
    if (sure > now) {
      // A draft comes up before it is due.
      const comesUp = step.kind === "approved_email" ? Math.max(since, due - DRAFT_LEAD) : sure;
      if (comesUp > now || (step.onlyIf && !holds(step.onlyIf, facts, now)))
        return stay({ kind: "wait", for: "step", step, until: comesUp > now ? comesUp : sure });
      return stay({ kind: "act", step, due });
    }
    if (step.onlyIf && !holds(step.onlyIf, facts, due)) {
      decisions.push({ kind: "skip", stepId: step.id, at: due, because: step.onlyIf });
      goOn(next, due);
      continue;
    }
    return stay({ kind: "act", step, due });
  }
  return stay({ kind: "finish" });
}

/** When a begun step is over for the journey: ended, come up already where the journey does not wait, or left for too long. */
function endOf(
  walker: Walker,
  step: TouchStep,
  begun: Begun,
  now: number,
): { at: number; lapsed: boolean } | { at: null; until: number | null } {
  if (begun.endedAt !== null) {
    const at = !isEmail(step) && step.journey === "goes_on" ? begun.at : begun.endedAt;
    return { at, lapsed: false };
  }
  if (isEmail(step)) return { at: null, until: null };
  if (step.journey === "goes_on") return { at: begun.at, lapsed: false };
  if (step.skipAfter === null) return { at: null, until: null };
  const { calendar } = walker;
  const left: Wait = { days: step.skipAfter, working: true };
  const until = pausedUntil(walker, left, dueAt(left, begun.at, { calendar }), begun.at, calendar);
  return until <= now ? { at: until, lapsed: true } : { at: null, until };
}
