/** What a new version does to the people under way: they are moved to it, or finish on theirs. */
import { movePlace } from "../../core/sequence/move-place.ts";
import { isTouch, type Path, spotsOf } from "../../core/sequence/path.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { pathOfVersion, type Sequence } from "../db/sequences.ts";
import { considerJourney, recordPathDecision } from "./consider.ts";
import { begunSteps } from "./walk.ts";

interface Standing {
  id: number;
  version: number;
  placeId: string | null;
}

/** What moving would mean, in people. */
export interface MoveConsequences {
  /** They stand before the same step, whose wait did not change. */
  stay: number;
  /** The same step, but its wait is counted anew. */
  recounted: number;
  /** Their step is gone; they stand before another. */
  moved: number;
  /** Nothing that they had ahead is left: they end. */
  lost: number;
}

const underWay = (db: Db, sequenceId: number): Standing[] =>
  sql<{ sequenceId: number }, Standing>(
    db,
    `SELECT id, version, place_id AS placeId FROM journeys
     WHERE sequence_id = @sequenceId AND state = 'active' ORDER BY id`,
  ).all({ sequenceId });

export const underWayCount = ({ db }: App, sequenceId: number): number => underWay(db, sequenceId).length;

interface Moving extends Standing {
  to: string | null;
  outcome: keyof MoveConsequences;
}

function movesTo(db: Db, sequenceId: number, to: Path): Moving[] {
  const paths = new Map<number, Path>();
  const there = spotsOf(to);
  return underWay(db, sequenceId).map((journey) => {
    let from = paths.get(journey.version);
    if (!from) {
      from = pathOfVersion(db, sequenceId, journey.version);
      paths.set(journey.version, from);
    }
    if (journey.placeId === null) return { ...journey, to: null, outcome: "stay" };
    const moved = movePlace(from, to, journey.placeId, new Set(begunSteps(db, journey.id).keys()));
    if (moved.kind === "lost") return { ...journey, to: null, outcome: "lost" };
    if (moved.kind === "moves") return { ...journey, to: moved.nodeId, outcome: "moved" };
    const [before, after] = [spotsOf(from).get(moved.nodeId)?.node, there.get(moved.nodeId)?.node];
    const isSame = JSON.stringify(timingOf(before)) === JSON.stringify(timingOf(after));
    return { ...journey, to: moved.nodeId, outcome: isSame ? "stay" : "recounted" };
  });
}

const timingOf = (node: Path[number] | undefined): unknown =>
  node && isTouch(node) ? [node.wait, node.bestHour ?? null] : node?.kind === "fork" ? node.patience : null;

/** What saving a path would do to the people under way. */
export function moveConsequences({ db }: App, sequenceId: number, to: Path): MoveConsequences {
  const counts: MoveConsequences = { stay: 0, recounted: 0, moved: 0, lost: 0 };
  for (const { outcome } of movesTo(db, sequenceId, to)) counts[outcome]++;
  return counts;
}

/** Moves everybody under way to a new version. Run it in a transaction, before that version is the latest. */
export function moveJourneys(
  app: App,
  { id, version, path }: Pick<Sequence, "id" | "version" | "path">,
  now: number,
): void {
  const { db } = app;
  for (const journey of movesTo(db, id, path)) {
    const isSame = journey.outcome === "stay";
    sql<Record<string, unknown>>(
      db,
      `UPDATE journeys SET version = @version, place_id = @to, due_at = CASE WHEN @isSame THEN due_at ELSE 0 END
       WHERE id = @id`,
    ).run({ id: journey.id, version, to: journey.to, isSame: isSame ? 1 : 0 });
    if (journey.outcome === "moved" || journey.outcome === "lost") {
      // A draft or a task of a step that is gone would be answered for nothing.
      sql<Record<string, unknown>>(
        db,
        `UPDATE touches SET state = 'skipped', ended_at = @now
         WHERE journey_id = @id AND step_id = @placeId AND state IN ('draft', 'approved', 'open')`,
      ).run({ id: journey.id, placeId: journey.placeId, now });
      recordPathDecision(db, {
        journeyId: journey.id,
        at: now,
        nodeId: journey.placeId ?? "",
        kind: "move",
        outcome: journey.outcome,
        inputs: { version, to: journey.to },
      });
    }
    if (!isSame) considerJourney(app, journey.id, now);
  }
}

/** Counts everybody's due date anew, after the hours, the zone or the holidays changed. Run it in a transaction. */
export function recountJourneys(app: App, sequenceId: number, now: number): void {
  for (const { id } of underWay(app.db, sequenceId)) {
    sql<{ id: number }>(app.db, "UPDATE journeys SET due_at = 0 WHERE id = @id").run({ id });
    considerJourney(app, id, now);
  }
}
