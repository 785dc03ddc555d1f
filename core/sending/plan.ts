/**
 * The plan: who gets which email when, from which mailbox. One function serves the engine (what
 * is due now), the day line (the rest of today) and the forecast (the coming weeks).
 *
 * It replays the future mailbox by mailbox: the one that is free soonest takes, from the queues it
 * may serve, the email that matters most. Follow-ups go before first emails, because a thread that
 * goes cold costs more than a later start; then the window that closes first, then the longest due.
 */
import TinyQueue from "tinyqueue";
import { type Calendar, MINUTE, OpenHours, type OpenWindow, startOfNextDay } from "../calendar.ts";
import { between } from "../random.ts";
import type { ExpectedEmail } from "../sequence/expected-path.ts";
import { dueAt, type Wait as StepWait } from "../sequence/wait.ts";
import type { Wait } from "./reasons.ts";

export interface PlanMailbox {
  id: number;
  dailyLimit: number;
  /** Minutes between two emails, drawn anew for each. */
  gapMinutes: { least: number; most: number };
  /** Where its owner is: its limit counts this zone's days. */
  zone: string;
  sentToday: number;
  lastSentAt: number | null;
  /** It rests until then; null if it does not. */
  restsUntil: number | null;
}

export interface PlanJourney {
  id: number;
  /** When they can be reached. Journeys that share the object are known for alike. */
  calendar: Calendar;
  /** The mailboxes that may send it; exactly one once a thread has begun. */
  mailboxIds: readonly number[];
  followUp: boolean;
  dueAt: number;
  ahead: readonly ExpectedEmail[];
}

export interface PlannedTouch {
  journeyId: number;
  stepId: string;
  mailboxId: number;
  at: number;
  followUp: boolean;
}

/** When an email falls due after the waits that lie before it, one after the other. */
export function dueAfter(
  from: number,
  waits: readonly StepWait[],
  calendar: Calendar,
  ...seed: (string | number)[]
): number {
  return waits.reduce((at, wait) => dueAt(wait, at, { calendar, seed }), from);
}

/** The first instant, not before `now`, at which a mailbox may send. */
function freeFrom(mailbox: PlanMailbox, now: number): number {
  const rested = Math.max(now, mailbox.restsUntil ?? now);
  return mailbox.lastSentAt === null
    ? rested
    : Math.max(rested, mailbox.lastSentAt + gapAfter(mailbox, mailbox.lastSentAt));
}

function gapAfter({ id, gapMinutes }: PlanMailbox, sentAt: number): number {
  return Math.round(between(gapMinutes.least, gapMinutes.most, "gap", id, sentAt) * MINUTE);
}

/** Mailboxes do not all start on the stroke of the opening: each has its own first minutes. */
function firstMinutes({ id, gapMinutes }: PlanMailbox, window: OpenWindow): number {
  return Math.round(between(0, gapMinutes.most, "first", id, window.opens) * MINUTE);
}

interface Queued {
  journey: PlanJourney;
  dueAt: number;
  ahead: PlanJourney["ahead"];
}

/** Journeys that are alike in when and from where they may go. */
interface Queue {
  openHours: OpenHours;
  followUp: boolean;
  line: TinyQueue<Queued>;
}

/**
 * Every touch planned in [now, until], in order of time, later steps included as if nobody answered.
 * The same input gives the same plan. Journeys without a mailbox are left out.
 */
export function planTouches(input: {
  now: number;
  until: number;
  mailboxes: readonly PlanMailbox[];
  journeys: readonly PlanJourney[];
}): PlannedTouch[] {
  const { now, until } = input;
  const queues = new Map<string, Queue>();
  const queuesOf = new Map<number, Queue[]>(input.mailboxes.map(({ id }) => [id, []]));
  // Journeys of a sequence share their array of mailboxes.
  const poolKeys = new Map<readonly number[], string>();
  const poolKey = (ids: readonly number[]): string => {
    if (ids.length === 1) return String(ids[0]);
    const key = poolKeys.get(ids) ?? ids.join();
    poolKeys.set(ids, key);
    return key;
  };
  const calendarIds = new Map<Calendar, number>();
  const calendarId = (calendar: Calendar): number => {
    const id = calendarIds.get(calendar) ?? calendarIds.size;
    calendarIds.set(calendar, id);
    return id;
  };

  const enqueue = (item: Queued, mailboxIds: readonly number[], followUp: boolean) => {
    const { hours, zone, holidays } = item.journey.calendar;
    const key = `${followUp}|${poolKey(mailboxIds)}|${calendarId(item.journey.calendar)}`;
    let queue = queues.get(key);
    if (!queue) {
      queue = {
        openHours: new OpenHours(hours, zone, now, holidays),
        followUp,
        line: new TinyQueue<Queued>([], (a, b) => a.dueAt - b.dueAt || a.journey.id - b.journey.id),
      };
      queues.set(key, queue);
      for (const id of mailboxIds) queuesOf.get(id)?.push(queue);
    }
    queue.line.push(item);
  };
  for (const journey of input.journeys)
    if (journey.ahead.length > 0)
      enqueue({ journey, dueAt: journey.dueAt, ahead: journey.ahead }, journey.mailboxIds, journey.followUp);

  const turns = new TinyQueue(
    input.mailboxes.map((mailbox) => ({
      mailbox,
      at: freeFrom(mailbox, now),
      sent: mailbox.sentToday,
      dayEnds: startOfNextDay(now, mailbox.zone),
    })),
    // Whoever is free first; of several, the one that has used less of its day.
    (a, b) =>
      a.at - b.at ||
      a.sent / a.mailbox.dailyLimit - b.sent / b.mailbox.dailyLimit ||
      a.mailbox.id - b.mailbox.id,
  );

  const planned: PlannedTouch[] = [];
  for (let turn = turns.pop(); turn && turn.at <= until; turn = turns.pop()) {
    const { mailbox } = turn;
    while (turn.at >= turn.dayEnds) {
      turn.sent = 0;
      turn.dayEnds = startOfNextDay(turn.dayEnds, mailbox.zone);
    }
    if (turn.sent >= mailbox.dailyLimit) {
      turns.push({ ...turn, at: turn.dayEnds });
      continue;
    }

    let best: { queue: Queue; closes: number; dueAt: number } | null = null;
    let soonest = Number.POSITIVE_INFINITY;
    for (const queue of queuesOf.get(mailbox.id) ?? []) {
      const head = queue.line.peek();
      if (!head) continue;
      const slot = firstSlot(queue.openHours, Math.max(head.dueAt, turn.at), mailbox);
      if (slot.at > turn.at) soonest = Math.min(soonest, slot.at);
      else if (!best || goesBefore(queue, slot.closes, head.dueAt, best))
        best = { queue, closes: slot.closes, dueAt: head.dueAt };
    }

    if (best) {
      const { journey, ahead } = best.queue.line.pop() as Queued;
      const [step, ...later] = ahead as [ExpectedEmail, ...ExpectedEmail[]];
      planned.push({
        journeyId: journey.id,
        stepId: step.id,
        mailboxId: mailbox.id,
        at: turn.at,
        followUp: best.queue.followUp,
      });
      const next = later[0];
      if (next)
        enqueue(
          {
            journey,
            dueAt: dueAfter(turn.at, next.waits, journey.calendar, journey.id, next.id),
            ahead: later,
          },
          [mailbox.id],
          true,
        );
      turns.push({ ...turn, sent: turn.sent + 1, at: turn.at + gapAfter(mailbox, turn.at) });
    } else if (soonest <= until) {
      turns.push({ ...turn, at: soonest });
    }
  }
  return planned;
}

function firstSlot(openHours: OpenHours, from: number, mailbox: PlanMailbox): { at: number; closes: number } {
  let window = openHours.windowFrom(from);
  let at = Math.max(from, window.opens + firstMinutes(mailbox, window));
  if (at >= window.closes) {
    window = openHours.windowFrom(window.closes);
    at = Math.min(window.opens + firstMinutes(mailbox, window), window.closes - 1);
  }
  return { at, closes: window.closes };
}

function goesBefore(
  queue: Queue,
  closes: number,
  dueAt: number,
  other: { queue: Queue; closes: number; dueAt: number },
): boolean {
  if (queue.followUp !== other.queue.followUp) return queue.followUp;
  return closes - other.closes < 0 || (closes === other.closes && dueAt < other.dueAt);
}

/** Why a journey that nothing holds does not go right now, given its place in the plan (`plannedAt`, if it has one). */
export function whyWaiting(
  journey: PlanJourney,
  plannedAt: number | null,
  now: number,
  mailboxDayEnds: number,
): Wait {
  const wait = (reason: Wait["reason"]): Wait => ({ reason, until: plannedAt, detail: null });
  if (journey.dueAt > now) return wait("wait_days");
  const { hours, zone, holidays } = journey.calendar;
  if (new OpenHours(hours, zone, now, holidays).windowFrom(now).opens > now) return wait("outside_hours");
  return wait(plannedAt === null || plannedAt >= mailboxDayEnds ? "mailbox_limit" : "in_line");
}
