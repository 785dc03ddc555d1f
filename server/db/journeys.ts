/** Journeys: where each prospect stands in a sequence, and the recorded decision about what comes next. */
import { STAGES, type Stage } from "../../core/prospects/stages.ts";
import type { AddressState } from "../../core/prospects/verdict.ts";
import type { StopReason, Wait, WaitReason } from "../../core/sending/reasons.ts";
import { STATE_OF } from "./address-state.ts";
import { recordEvent } from "./events.ts";
import type { TouchState } from "./ledger.ts";
import { type Db, sql } from "./open.ts";

export interface ActiveJourney {
  id: number;
  sequenceId: number;
  prospectId: number;
  mailboxId: number | null;
  prospectZone: string | null;
  /** Null: no address is known. */
  email: string | null;
  addressState: AddressState;
  dueAt: number;
  nextAt: number | null;
  version: number;
  /** The step, fork or end they stand before; null: the path is over. */
  placeId: string | null;
  /** The instant from which its wait counts. */
  since: number;
  wakeAt: number | null;
  /** What became so far of the step at which they stand. */
  placeState: TouchState | null;
  /** The social account that carries it out; null: the rep does, or it is an email. */
  placeAccountId: number | null;
  prospectCountry: string;
  hasProfile: 0 | 1;
  nextMailboxId: number | null;
  waitReason: WaitReason | null;
  waitDetail: string | null;
  /** 1 while an email of it is claimed and not settled, 2 if nobody can tell whether it left. */
  settling: 0 | 1 | 2;
  held: { reason: WaitReason; detail: string | null; until: number | null } | null;
  /** When anybody in the team last touched them. */
  lastTouchAt: number | null;
}

type JourneyRow = Omit<ActiveJourney, "held"> & { held: string | null };
const journeyOf = ({ held, ...row }: JourneyRow): ActiveJourney => ({
  ...row,
  held: held === null ? null : (JSON.parse(held) as ActiveJourney["held"]),
});

/** Whether a company's hold `h` is one of the person `p`: not of who answered, nor of whom somebody let go on. */
export const HOLDS_COLLEAGUE = `h.scope = 'company' AND h.scope_id = p.company_id AND h.cause_prospect_id IS NOT p.id
  AND NOT EXISTS (SELECT 1 FROM let_go g WHERE g.hold_id = h.id AND g.prospect_id = p.id)`;

const SELECT = `SELECT j.id, j.sequence_id AS sequenceId, j.prospect_id AS prospectId, j.mailbox_id AS mailboxId,
    p.time_zone AS prospectZone, p.email, ${STATE_OF} AS addressState, j.due_at AS dueAt, j.next_at AS nextAt,
    j.version, j.place_id AS placeId, j.since, j.wake_at AS wakeAt, p.country AS prospectCountry, p.profile != '' AS hasProfile,
    j.next_mailbox_id AS nextMailboxId, j.wait_reason AS waitReason, j.wait_detail AS waitDetail,
    coalesce((SELECT CASE WHEN t.undecided_at IS NULL THEN 1 ELSE 2 END
      FROM touches t WHERE t.journey_id = j.id AND t.state = 'claimed'), 0) AS settling,
    (SELECT state FROM touches t WHERE t.journey_id = j.id AND t.step_id = j.place_id) AS placeState,
    (SELECT account_id FROM touches t WHERE t.journey_id = j.id AND t.step_id = j.place_id) AS placeAccountId,
    (SELECT max(coalesce(t.sent_at, t.ended_at)) FROM touches t
      WHERE t.prospect_id = p.id AND t.state IN ('sent', 'done') AND t.kind != 'test') AS lastTouchAt,
    (SELECT json_object('reason', h.reason, 'detail', h.detail, 'until', h.until) FROM holds h
      WHERE ((h.scope = 'journey' AND h.scope_id = j.id) OR (h.scope = 'prospect' AND h.scope_id = p.id)
        OR (${HOLDS_COLLEAGUE}))
      ORDER BY h.until IS NOT NULL, h.until DESC LIMIT 1) AS held
  FROM journeys j JOIN prospects p ON p.id = j.prospect_id
  WHERE j.state = 'active'`;

/** Every journey that has not ended, of sequences in any state. */
export function activeJourneys(db: Db): ActiveJourney[] {
  return sql(db, SELECT).all<JourneyRow>([]).map(journeyOf);
}

/** Those of these journeys that have not ended. */
export function activeJourneysAmong(db: Db, ids: readonly number[]): ActiveJourney[] {
  return sql(db, `${SELECT} AND j.id IN (SELECT value FROM json_each(@ids))`)
    .all<JourneyRow>({ ids: JSON.stringify(ids) })
    .map(journeyOf);
}

/** Those of one sequence. */
export function activeJourneysOf(db: Db, sequenceId: number): ActiveJourney[] {
  return sql(db, `${SELECT} AND j.sequence_id = @sequenceId`).all<JourneyRow>({ sequenceId }).map(journeyOf);
}

/** The journeys of which something changed that the plan goes by, as far as nobody took them yet. */
export function takeChanged(db: Db): number[] {
  return sql(db, "DELETE FROM replan RETURNING journey_id AS id")
    .all<{ id: number }>([])
    .map(({ id }) => id);
}

export function activeJourney(db: Db, id: number): ActiveJourney | undefined {
  const row = sql(db, `${SELECT} AND j.id = @id`).get<JourneyRow>({ id });
  return row && journeyOf(row);
}

export interface Decision {
  id: number;
  at: number | null;
  mailboxId: number | null;
  wait: Wait | null;
}

/** Reasons that time alone brings and takes, and holds, which are written down where they are set: no record of them here. */
const PASSING: readonly WaitReason[] = [
  "wait_days",
  "outside_hours",
  "in_line",
  "settling",
  "paused_by_rep",
  "colleague_replied",
  "away",
  "came_back_twice",
  "challenged",
  "refused_by_host",
  "after_restore",
];

/** Records when and from where a journey goes on, or why it waits. */
export function recordDecision(db: Db, { id, at, mailboxId, wait }: Decision, now: number): void {
  if (wait && !PASSING.includes(wait.reason))
    sql(
      db,
      `INSERT INTO decisions (journey_id, at, node_id, kind, outcome, inputs)
       SELECT id, @now, coalesce(place_id, ''), 'wait', @reason, json_object('until', @at, 'mailbox', @mailboxId)
       FROM journeys WHERE id = @id AND state = 'active' AND wait_reason IS NOT @reason`,
    ).run({ id, now, reason: wait.reason, at, mailboxId });
  sql(
    db,
    `UPDATE journeys SET next_at = @at, next_mailbox_id = @mailboxId,
       wait_reason = @reason, wait_detail = @detail
     WHERE id = @id AND state = 'active'`,
  ).run({ id, at, mailboxId, reason: wait?.reason ?? null, detail: wait?.detail ?? null });
}

/** Holds what goes on for a prospect until a person has decided. */
export function holdJourneys(db: Db, prospectId: number, reason: WaitReason): void {
  sql(
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
  const stopped = sql(
    db,
    `UPDATE journeys SET state = 'stopped', stop_reason = @reason, stop_detail = @detail, ended_at = @now,
       next_at = NULL, next_mailbox_id = NULL, wait_reason = NULL, wait_detail = NULL
     WHERE prospect_id = @prospectId AND state = 'active' RETURNING id`,
  ).all<{ id: number }>({ prospectId, reason, detail, now });
  for (const { id } of stopped) closeTouches(db, id, now);
  dropLaterAnswers(db, prospectId, now);
  for (const { id } of stopped)
    recordEvent(db, { at: now, kind: "journey_stopped", prospectId, journeyId: id, detail: reason });
  return stopped.map(({ id }) => id);
}

/** An answer that was to go later goes no more: what it was to say has been overtaken. */
export function dropLaterAnswers(db: Db, prospectId: number, now: number): void {
  sql(
    db,
    `UPDATE touches SET state = 'skipped', ended_at = @now
     WHERE prospect_id = @prospectId AND state = 'queued' AND due_at > @now`,
  ).run({ prospectId, now });
}

/**
 * A journey that was stopped for a reason goes on where it stood, with what its stop closed. `again`: its step falls due at
 * once. False if it did not stop for that, or if they are on another sequence by now.
 */
export function resumeJourney(
  db: Db,
  id: number,
  { from, again, now }: { from: StopReason; again: boolean; now: number },
): boolean {
  const stopped = sql(
    db,
    `SELECT prospect_id AS prospectId, ended_at AS endedAt FROM journeys
     WHERE id = @id AND state = 'stopped' AND stop_reason = @from
       AND NOT EXISTS (SELECT 1 FROM journeys o WHERE o.prospect_id = journeys.prospect_id AND o.state = 'active')`,
  ).get<{ prospectId: number; endedAt: number | null }>({ id, from });
  if (!stopped) return false;
  sql(
    db,
    `UPDATE journeys SET state = 'active', stop_reason = NULL, stop_detail = NULL, ended_at = NULL, wait_reason = NULL,
       due_at = iif(@again, @now, due_at) WHERE id = @id`,
  ).run({ id, now, again: again ? 1 : 0 });
  sql(
    db,
    `UPDATE touches SET state = CASE kind WHEN 'approved_email' THEN 'draft' WHEN 'email' THEN 'draft' ELSE 'open' END, ended_at = NULL
     WHERE journey_id = @id AND state = 'skipped' AND outcome IS NULL AND ended_at IS @endedAt`,
  ).run({ id, endedAt: stopped.endedAt });
  recordEvent(db, { at: now, kind: "journey_resumed", prospectId: stopped.prospectId, journeyId: id });
  sql(db, "INSERT OR IGNORE INTO reconsider VALUES (@id)").run({ id });
  return true;
}

/** The step id of what is left to do once somebody has answered: it outlives the stop. */
export const AFTER_THE_END = "then";

/** A stop ends every channel: what still waits for a person goes. */
function closeTouches(db: Db, journeyId: number, now: number): void {
  sql(
    db,
    `UPDATE touches SET state = 'skipped', ended_at = @now
     WHERE journey_id = @journeyId AND state IN ('draft', 'approved', 'open') AND step_id != '${AFTER_THE_END}'`,
  ).run({ journeyId, now });
}

/** Ends a journey that has no step ahead any more. */
export function finishJourney(db: Db, id: number, mailboxId: number | null, now: number): void {
  const finished = sql(
    db,
    `UPDATE journeys SET state = 'finished', mailbox_id = @mailboxId, ended_at = @now, place_id = NULL,
       next_at = NULL, next_mailbox_id = NULL, wait_reason = NULL, wait_detail = NULL
     WHERE id = @id AND state = 'active' RETURNING prospect_id AS prospectId`,
  ).get<{ prospectId: number }>({ id, mailboxId, now });
  if (finished)
    recordEvent(db, { at: now, kind: "journey_finished", prospectId: finished.prospectId, journeyId: id });
}

/** Moves a prospect to a stage, also back, and records it. False if they were there. */
export function setStage(
  db: Db,
  prospectId: number,
  stage: Stage,
  { at, userId = null }: { at: number; userId?: number | null },
): boolean {
  const moved =
    sql(db, "UPDATE prospects SET stage = @stage WHERE id = @prospectId AND stage != @stage").run({
      prospectId,
      stage,
    }).changes === 1;
  if (moved) recordEvent(db, { at, kind: "stage_set", prospectId, userId, detail: stage });
  return moved;
}

/** Moves a prospect forward to a stage; never back. */
export function raiseStage(db: Db, prospectId: number, stage: Stage): void {
  const earlier = STAGES.slice(0, STAGES.indexOf(stage));
  sql(
    db,
    `UPDATE prospects SET stage = @stage
     WHERE id = @prospectId AND stage IN (SELECT value FROM json_each(@earlier))`,
  ).run({ prospectId, stage, earlier: JSON.stringify(earlier) });
}
