/** Gathers what the plan needs, makes it, and records the decision of every journey. */
import { DAY, startOfNextDay } from "../../core/calendar.ts";
import { journeyHold, mailboxHold } from "../../core/sending/hold.ts";
import { type PlanJourney, type PlannedTouch, planTouches, whyWaiting } from "../../core/sending/plan.ts";
import type { Wait } from "../../core/sending/reasons.ts";
import { stepsAhead } from "../../core/sequence/steps.ts";
import { type ActiveJourney, activeJourneys, finishJourney, recordDecision } from "../db/journeys.ts";
import { allMailboxes, type Mailbox, planMailbox } from "../db/mailboxes.ts";
import type { Db } from "../db/open.ts";
import { allSequences, type Sequence } from "../db/sequences.ts";

/** How far the plan looks ahead. */
export const HORIZON = 28 * DAY;

export interface Situation {
  mailboxes: Mailbox[];
  sequences: Map<number, Sequence>;
  rows: ActiveJourney[];
  /** Journeys that may go, with what the plan asks of them. */
  ready: PlanJourney[];
  /** Journeys that may not, and why. */
  held: Map<number, Wait>;
}

/** What the plan is made from, as the database stands. */
export function readSituation(db: Db, now: number): Situation {
  const mailboxes = allMailboxes(db);
  const byId = new Map(mailboxes.map((mailbox) => [mailbox.id, mailbox]));
  const sequences = new Map(allSequences(db).map((sequence) => [sequence.id, sequence]));
  const rows = activeJourneys(db);
  const ready: PlanJourney[] = [];
  const held = new Map<number, Wait>();
  // One array for the journeys of a sequence: the plan puts alike journeys into one queue by it.
  const pools = new Map<number, { usable: number[]; hold: Wait | null }>();
  for (const sequence of sequences.values()) {
    const usable = sequence.mailboxIds.filter((id) => mailboxHold(byId.get(id), now) === null);
    const first = sequence.mailboxIds[0];
    pools.set(sequence.id, {
      usable,
      hold: usable.length > 0 ? null : mailboxHold(first === undefined ? undefined : byId.get(first), now),
    });
  }

  for (const row of rows) {
    const sequence = sequences.get(row.sequenceId) as Sequence;
    const done = row.doneIds === "[]" ? new Set<string>() : new Set<string>(JSON.parse(row.doneIds));
    const ahead = stepsAhead(sequence.steps, done);
    const pool = pools.get(sequence.id) as { usable: number[]; hold: Wait | null };
    const wait =
      journeyHold(row, sequence) ??
      (row.mailboxId !== null ? mailboxHold(byId.get(row.mailboxId), now) : pool.hold);
    if (wait) held.set(row.id, wait);
    else
      ready.push({
        id: row.id,
        zone: row.prospectZone ?? sequence.zone,
        hours: sequence.hours,
        mailboxIds: row.mailboxId === null ? pool.usable : [row.mailboxId],
        followUp: row.mailboxId !== null,
        dueAt: row.dueAt,
        ahead,
      });
  }
  return { mailboxes, sequences, rows, ready, held };
}

/** The plan from `now` to `until`, as the database stands. */
export function planAhead(db: Db, situation: Situation, now: number, until: number): PlannedTouch[] {
  return planTouches({
    now,
    until,
    mailboxes: situation.mailboxes.map((mailbox) => planMailbox(db, mailbox, now)),
    journeys: situation.ready,
  });
}

/** Makes the plan and records each journey's decision where it changed. */
export function planAndRecord(db: Db, now: number): PlannedTouch[] {
  const situation = readSituation(db, now);
  const planned = planAhead(db, situation, now, now + HORIZON);
  const next = new Map<number, PlannedTouch>();
  for (const touch of planned) if (!next.has(touch.journeyId)) next.set(touch.journeyId, touch);
  const ready = new Map(situation.ready.map((journey) => [journey.id, journey]));
  const zoneOf = new Map(situation.mailboxes.map(({ id, zone }) => [id, zone]));
  const resting = new Map(
    situation.mailboxes.filter(({ state }) => state === "resting").map(({ id, address }) => [id, address]),
  );

  db.transaction(() => {
    for (const row of situation.rows) {
      const touch = next.get(row.id);
      const journey = ready.get(row.id);
      if (journey?.ahead.length === 0) {
        finishJourney(db, row.id, row.mailboxId, now);
        continue;
      }
      const mailboxId = touch?.mailboxId ?? row.mailboxId;
      const zone = zoneOf.get(mailboxId ?? -1) ?? journey?.zone ?? "UTC";
      const wait = journey
        ? (keepRefusal(row, now) ??
          restingWait(journey, touch?.at ?? null, now, resting) ??
          whyWaiting(journey, touch?.at ?? null, now, startOfNextDay(now, zone)))
        : (situation.held.get(row.id) ?? null);
      const stepId = touch?.stepId ?? journey?.ahead[0]?.id ?? row.nextStepId;
      const same =
        row.nextAt === (touch?.at ?? null) &&
        row.waitReason === (wait?.reason ?? null) &&
        row.waitDetail === (wait?.detail ?? null) &&
        row.nextStepId === stepId &&
        row.nextMailboxId === mailboxId;
      if (!same) recordDecision(db, { id: row.id, stepId, at: touch?.at ?? null, mailboxId, wait });
    }
  }).immediate();
  return planned;
}

/** A journey that is due and may go from nowhere but resting mailboxes waits for them. */
function restingWait(
  journey: PlanJourney,
  plannedAt: number | null,
  now: number,
  resting: Map<number, string>,
): Wait | null {
  const isDue = journey.dueAt <= now;
  return isDue && journey.mailboxIds.every((id) => resting.has(id))
    ? { reason: "mailbox_resting", until: plannedAt, detail: resting.get(journey.mailboxIds[0] ?? 0) ?? null }
    : null;
}

/** A server's "later" stays the reason until the new try is due. */
function keepRefusal(row: ActiveJourney, now: number): Wait | null {
  return row.waitReason === "refused_for_now" && row.dueAt > now
    ? { reason: "refused_for_now", until: row.dueAt, detail: row.waitDetail }
    : null;
}
