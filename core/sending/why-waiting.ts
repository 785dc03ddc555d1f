/** Why somebody whom nothing holds does not go right now: read from their due date, their hours and what the plan met. */
import { type Calendar, dayNumberOf, OpenHours } from "../calendar.ts";
import type { Block, PlanJourney } from "./plan-parts.ts";
import type { Wait } from "./reasons.ts";

export interface Standing {
  /** When the plan has them go; null if not within its reach. */
  plannedAt: number | null;
  /** What kept them from going on the first day on which they could have. */
  block: Block | undefined;
  /** The end of the day on which the plan begins, where the sender is. */
  dayEnds: number;
  /** How far the plan reaches. */
  until: number;
}

export function whyWaiting(
  journey: Pick<PlanJourney, "dueAt" | "calendar">,
  { plannedAt, block, dayEnds, until: reach }: Standing,
  now: number,
): Wait {
  const wait = (reason: Wait["reason"], until = plannedAt): Wait => ({ reason, until, detail: null });
  if (journey.dueAt > now) {
    if (plannedAt === null && block) return wait(block);
    // Beyond the plan they go on the day that they are due, as far as is known.
    return wait("wait_days", plannedAt ?? (journey.dueAt > reach ? journey.dueAt : null));
  }
  if (block === "touched_lately") return wait(block);
  if (plannedAt === null || plannedAt >= dayEnds) {
    if (block) return wait(block);
    if (journey.calendar.holidays.has(dayNumberOf(now, journey.calendar.zone))) return wait("holiday");
  }
  if (!isOpen(journey.calendar, now)) return wait("outside_hours");
  return wait(plannedAt === null || plannedAt >= dayEnds ? "mailbox_limit" : "in_line");
}

/** Many people share a calendar, and are asked about at the same instant. */
const lastAsked = new WeakMap<Calendar, { now: number; isOpen: boolean }>();

function isOpen(calendar: Calendar, now: number): boolean {
  const known = lastAsked.get(calendar);
  if (known?.now === now) return known.isOpen;
  const { hours, zone, holidays } = calendar;
  const open = new OpenHours(hours, zone, now, holidays).windowFrom(now).opens <= now;
  lastAsked.set(calendar, { now, isOpen: open });
  return open;
}
