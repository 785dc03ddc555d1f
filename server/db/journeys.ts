/** Journeys: where each prospect stands in a sequence, and the recorded decision about what comes next. */
import type { Verdict } from "../../core/prospects/verdict.ts";
import type { StopReason, Wait, WaitReason } from "../../core/sending/reasons.ts";
import { recordEvent } from "./events.ts";
import { type Db, sql } from "./open.ts";

export interface ActiveJourney {
  id: number;
  sequenceId: number;
  prospectId: number;
  mailboxId: number | null;
  prospectZone: string | null;
  /** Null: no address is known. */
  email: string | null;
  verdict: Verdict | null;
  dueAt: number;
  nextAt: number | null;
  nextStepId: string | null;
  nextMailboxId: number | null;
  waitReason: WaitReason | null;
  waitDetail: string | null;
  /** 1 while an email of it is claimed and not settled, 2 if nobody can tell whether it left. */
  settling: 0 | 1 | 2;
  /** The ids of the steps in the ledger, as a JSON array. */
  doneIds: string;
}

const SELECT = `SELECT j.id, j.sequence_id AS sequenceId, j.prospect_id AS prospectId, j.mailbox_id AS mailboxId,
    p.time_zone AS prospectZone, p.email, p.verdict, j.due_at AS dueAt, j.next_at AS nextAt, j.next_step_id AS nextStepId,
    j.next_mailbox_id AS nextMailboxId, j.wait_reason AS waitReason, j.wait_detail AS waitDetail,
    coalesce((SELECT CASE WHEN t.undecided_at IS NULL THEN 1 ELSE 2 END
      FROM touches t WHERE t.journey_id = j.id AND t.state = 'claimed'), 0) AS settling,
    (SELECT json_group_array(step_id) FROM touches t WHERE t.journey_id = j.id) AS doneIds
  FROM journeys j JOIN prospects p ON p.id = j.prospect_id
  WHERE j.state = 'active'`;

/** Every journey that has not ended, of sequences in any state. */
export function activeJourneys(db: Db): ActiveJourney[] {
  return sql<[], ActiveJourney>(db, SELECT).all([]);
}

export function activeJourney(db: Db, id: number): ActiveJourney | undefined {
  return sql<{ id: number }, ActiveJourney>(db, `${SELECT} AND j.id = @id`).get({ id });
}

export interface Decision {
  id: number;
  stepId: string | null;
  at: number | null;
  mailboxId: number | null;
  wait: Wait | null;
}

/** Records when and from where a journey goes on, or why it waits. */
export function recordDecision(db: Db, { id, stepId, at, mailboxId, wait }: Decision): void {
  sql<Record<string, unknown>>(
    db,
    `UPDATE journeys SET next_step_id = @stepId, next_at = @at, next_mailbox_id = @mailboxId,
       wait_reason = @reason, wait_detail = @detail
     WHERE id = @id AND state = 'active'`,
  ).run({ id, stepId, at, mailboxId, reason: wait?.reason ?? null, detail: wait?.detail ?? null });
}

/** Holds what goes on for a prospect until a person has decided. */
export function holdJourneys(db: Db, prospectId: number, reason: WaitReason): void {
  sql<Record<string, unknown>>(
    db,
    `UPDATE journeys SET wait_reason = @reason, wait_detail = NULL, next_at = NULL
     WHERE prospect_id = @prospectId AND state = 'active'`,
  ).run({ prospectId, reason });
}

/**
 * Ends everything that is still planned for a prospect. Returns the ids of the journeys it ended;
 * none if nothing was going on.
 */
export function stopJourneys(
  db: Db,
  prospectId: number,
  reason: StopReason,
  detail: string | null,
  now: number,
): number[] {
  const stopped = sql<Record<string, unknown>, { id: number }>(
    db,
    `UPDATE journeys SET state = 'stopped', stop_reason = @reason, stop_detail = @detail, ended_at = @now,
       next_at = NULL, next_mailbox_id = NULL, wait_reason = NULL, wait_detail = NULL
     WHERE prospect_id = @prospectId AND state = 'active' RETURNING id`,
  ).all({ prospectId, reason, detail, now });
  for (const { id } of stopped)
    recordEvent(db, { at: now, kind: "journey_stopped", prospectId, journeyId: id, detail: reason });
  return stopped.map(({ id }) => id);
}

/** Ends a journey that has no step ahead any more. */
export function finishJourney(db: Db, id: number, mailboxId: number | null, now: number): void {
  const finished = sql<Record<string, unknown>, { prospectId: number }>(
    db,
    `UPDATE journeys SET state = 'finished', mailbox_id = @mailboxId, ended_at = @now, next_step_id = NULL,
       next_at = NULL, next_mailbox_id = NULL, wait_reason = NULL, wait_detail = NULL
     WHERE id = @id AND state = 'active' RETURNING prospect_id AS prospectId`,
  ).get({ id, mailboxId, now });
  if (finished)
    recordEvent(db, { at: now, kind: "journey_finished", prospectId: finished.prospectId, journeyId: id });
}

export const STAGES = ["new", "contacted", "in_conversation", "meeting_booked", "won", "lost"] as const;
export type Stage = (typeof STAGES)[number];

/** Moves a prospect forward to a stage; never back. */
export function raiseStage(db: Db, prospectId: number, stage: Stage): void {
  const earlier = STAGES.slice(0, STAGES.indexOf(stage));
  sql<{ prospectId: number; stage: string; earlier: string }>(
    db,
    `UPDATE prospects SET stage = @stage
     WHERE id = @prospectId AND stage IN (SELECT value FROM json_each(@earlier))`,
  ).run({ prospectId, stage, earlier: JSON.stringify(earlier) });
}
