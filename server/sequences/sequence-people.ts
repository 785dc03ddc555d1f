/** Who is where in a sequence, and what a rep does with them there. */
import type { StopReason, WaitReason } from "../../core/sending/reasons.ts";
import { spotsOf } from "../../core/sequence/path.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { App, AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { rememberPause } from "../consequences/pausing.ts";
import { recordEvent } from "../db/events.ts";
import { liftHold, setHold } from "../db/holds.ts";
import { nameSql } from "../db/names.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { notePause } from "../db/pauses.ts";
import type { Sequence } from "../db/sequences.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { considerJourney, recordPathDecision } from "./consider.ts";
import { startJourneys } from "./start-sequence.ts";

export interface SequencePerson {
  journeyId: number;
  prospectId: number;
  name: string;
  company: string;
  state: "active" | "finished" | "stopped";
  version: number;
  placeId: string | null;
  waitReason: WaitReason | null;
  waitDetail: string | null;
  nextAt: number | null;
  stopReason: StopReason | null;
  endedAt: number | null;
}

export interface PeopleFilter {
  /** A state, or "active:" with a wait reason, or "stopped:" with a stop reason. */
  standing: string;
  placeId: string | null;
  search: string;
}

const PAGE = 50;

const WHERE = `j.sequence_id = @id AND (@state = '' OR j.state = @state)
  AND (@reason = '' OR coalesce(j.wait_reason, j.stop_reason) = @reason)
  AND (@placeId IS NULL OR (j.state = 'active' AND j.place_id = @placeId))
  AND (@search = '' OR p.found_by LIKE '%' || fold(@search) || '%')`;

const valuesOf = (id: number, { standing, placeId, search }: PeopleFilter) => {
  const [state = "", reason = ""] = standing.split(":");
  return { id, state, reason, placeId, search: search.slice(0, 200).replace(/[%_]/g, "") };
};

/** One page of a sequence's people, and how many the filter finds. */
export function sequencePeople(
  { db }: App,
  id: number,
  filter: PeopleFilter,
  page: number,
): { rows: SequencePerson[]; total: number; pageSize: number } {
  const values = valuesOf(id, filter);
  const rows = sql(
    db,
    `SELECT j.id AS journeyId, p.id AS prospectId,
       ${nameSql()} AS name, p.company,
       j.state, j.version, j.place_id AS placeId, j.wait_reason AS waitReason, j.wait_detail AS waitDetail,
       j.next_at AS nextAt, j.stop_reason AS stopReason, j.ended_at AS endedAt
     FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE ${WHERE}
     ORDER BY j.state != 'active', j.id LIMIT ${PAGE} OFFSET @offset`,
  ).all<SequencePerson>({ ...values, offset: page * PAGE });
  const total =
    sql(
      db,
      `SELECT count(*) AS count FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE ${WHERE}`,
    ).get<{ count: number }>(values)?.count ?? 0;
  return { rows, total, pageSize: PAGE };
}

export interface Standings {
  /** By state and reason. */
  states: { state: string; reason: string | null; count: number }[];
  /** Of those under way, by the step they stand before. */
  places: { placeId: string; count: number }[];
}

export function standingsOf({ db }: App, id: number): Standings {
  return {
    states: sql(
      db,
      `SELECT state, coalesce(wait_reason, stop_reason) AS reason, count(*) AS count FROM journeys
       WHERE sequence_id = @id GROUP BY 1, 2 ORDER BY state != 'active', count(*) DESC`,
    ).all<Standings["states"][number]>({ id }),
    places: sql(
      db,
      `SELECT place_id AS placeId, count(*) AS count FROM journeys
       WHERE sequence_id = @id AND state = 'active' AND place_id IS NOT NULL GROUP BY place_id`,
    ).all<Standings["places"][number]>({ id }),
  };
}

export type PeopleAction =
  | { do: "pause" | "resume" | "take_out" | "start_again" | "accepted" }
  | { do: "move"; to: string };

export interface ChangedPeople {
  /** For how many it could be done. */
  changed: number;
  /** The id by which a pause, or going on, is undone; null for what cannot be. */
  undo: number | null;
}

/** Does something with some people of a sequence. */
export function changePeople(
  app: App,
  userId: number,
  sequence: Sequence,
  journeyIds: readonly number[],
  action: PeopleAction,
): Outcome<ChangedPeople> {
  const { db, clock } = app;
  const now = clock.now();
  const no = mayNot(app, userId, "sequence.change", sequence.id);
  if (no) return no;
  if (action.do === "move" && !spotsOf(sequence.path).has(action.to))
    return refused({ form: "This step is no longer in the sequence. Choose another." });
  const journeys = sql(
    db,
    `SELECT j.id, prospect_id AS prospectId, state, place_id AS placeId, ${nameSql()} AS name
     FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE sequence_id = @id AND j.id IN (SELECT value FROM json_each(@ids))`,
  ).all<{ id: number; prospectId: number; state: string; placeId: string | null; name: string }>({
    id: sequence.id,
    ids: JSON.stringify(journeyIds),
  });
  const mayMark =
    action.do === "accepted"
      ? mayNot(
          app,
          userId,
          "journey.mark",
          journeys.map(({ prospectId }) => prospectId),
        )
      : null;
  if (mayMark) return mayMark;
  return transact(app, (app): Outcome<ChangedPeople> => {
    const { db } = app;
    if (action.do !== "pause" && action.do !== "resume") return done({ changed: change(), undo: null });
    let changed = 0;
    const isPaused = action.do === "pause";
    const [only] = journeys;
    const name = journeys.length === 1 && only ? only.name : `${journeys.length} people of ${sequence.name}`;
    const what = {
      of: "journey",
      ids: journeys.map(({ id }) => id),
      isPaused,
      name,
      userId,
      at: now,
    } as const;
    const undo = rememberPause(db, what, () => {
      changed = change();
    });
    if (changed > 0) return done({ changed, undo });
    // Nothing that could be taken back.
    sql(db, "DELETE FROM undo_records WHERE id = @undo").run({ undo });
    return done({ changed, undo: null });

    function change(): number {
      let changed = 0;
      for (const journey of journeys) {
        const isActive = journey.state === "active";
        const hold = { scope: "journey" as const, scopeId: journey.id, reason: "paused_by_rep" as const };
        switch (action.do) {
          case "pause":
            if (!isActive) continue;
            setHold(db, { ...hold, detail: null, since: now, until: null, causeProspectId: null });
            notePause(db, "journey", journey.id, true, userId, now);
            break;
          case "resume":
            if (!isActive || !liftAll(db, journey.id, now)) continue;
            notePause(db, "journey", journey.id, false, userId, now);
            break;
          case "take_out":
            if (!isActive) continue;
            apply(db, { kind: "stopped_by_rep" }, { at: now, prospectId: journey.prospectId, userId });
            break;
          case "accepted":
            if (!isActive || !isInvited(db, journey.id)) continue;
            apply(db, { kind: "accepted" }, { at: now, prospectId: journey.prospectId, userId });
            break;
          case "move":
            if (!isActive || journey.placeId === action.to) continue;
            moveTo(app, journey, action.to, sequence.version, now);
            break;
          case "start_again":
            if (isActive || !startAgain(app, userId, sequence, journey, now)) continue;
            break;
        }
        changed++;
      }
      return changed;
    }
  });
}

/** Whether an invitation of a journey is out of which nobody has said yet that it was accepted. */
const isInvited = (db: Db, journeyId: number): boolean =>
  sql(
    db,
    `SELECT 1 FROM touches t WHERE t.journey_id = @journeyId AND t.kind = 'invitation' AND t.state IN ('done', 'sent')
       AND NOT EXISTS (SELECT 1 FROM events e WHERE e.prospect_id = t.prospect_id AND e.kind = 'accepted')`,
  ).get({ journeyId }) !== undefined;

/** What a person let wait, or has to decide about: "go on" is that decision. */
const LIFTED_BY_HAND = ["paused_by_rep", "refused_by_host", "after_restore"] as const;

function liftAll(db: Db, journeyId: number, now: number): boolean {
  const lifted = LIFTED_BY_HAND.filter((reason) =>
    liftHold(db, { scope: "journey", scopeId: journeyId, reason }, now),
  );
  return lifted.length > 0;
}

/** Puts somebody before another step; what was open at theirs is skipped, and no step they had comes again. */
function moveTo(
  app: AppTx,
  journey: { id: number; placeId: string | null },
  to: string,
  version: number,
  now: number,
): void {
  const { db } = app;
  sql(
    db,
    `UPDATE touches SET state = 'skipped', ended_at = @now
     WHERE journey_id = @id AND step_id = @placeId AND state IN ('draft', 'approved', 'open')`,
  ).run({ id: journey.id, placeId: journey.placeId, now });
  sql(
    db,
    `UPDATE journeys SET version = @version, place_id = @to, since = @now, due_at = 0, next_at = NULL, wait_reason = NULL
     WHERE id = @id`,
  ).run({ id: journey.id, version, to, now });
  recordPathDecision(db, {
    journeyId: journey.id,
    at: now,
    nodeId: journey.placeId ?? "",
    kind: "move",
    outcome: "by_rep",
    inputs: { to },
  });
  considerJourney(app, journey.id, now);
}

/** Begins anew for somebody who is through or was stopped: their earlier journey stays as it was, without its place in the sequence. */
function startAgain(
  app: AppTx,
  userId: number,
  sequence: Sequence,
  journey: { id: number; prospectId: number },
  now: number,
): boolean {
  const { db } = app;
  const state = sql(
    db,
    `SELECT EXISTS (SELECT 1 FROM journeys WHERE prospect_id = @id AND state = 'active') AS blocks`,
  ).get<{ blocks: number }>({ id: journey.prospectId });
  if (state?.blocks === 1) return false;
  sql(
    db,
    "UPDATE journeys SET round = (SELECT max(round) + 1 FROM journeys WHERE sequence_id = @sequenceId AND prospect_id = @prospectId) WHERE id = @id",
  ).run({ id: journey.id, sequenceId: sequence.id, prospectId: journey.prospectId });
  recordEvent(db, {
    at: now,
    kind: "journey_started",
    prospectId: journey.prospectId,
    userId,
    detail: "again",
  });
  return startJourneys(app, userId, sequence, [journey.prospectId], { again: true }).length === 1;
}
