/** What a new version does to the people under way: they are moved to it, or finish on theirs. */

import { stepDueAt } from "../../core/sequence/advance.ts";
import { movePlace } from "../../core/sequence/move-place.ts";
import { isTouch, type Path, spotsOf } from "../../core/sequence/path.ts";
import type { App, AppTx } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { pausesOf } from "../db/pauses.ts";
import { pathOfVersion, type Sequence, sequenceById } from "../db/sequences.ts";
import { recordPathDecision } from "./consider.ts";
import { begunSteps, calendarFor } from "./walk.ts";

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
  sql(
    db,
    `SELECT id, version, place_id AS placeId FROM journeys
     WHERE sequence_id = @sequenceId AND state = 'active' ORDER BY id`,
  ).all<Standing>({ sequenceId });

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
    // Whose step is still there stays before it; only of the others it matters what they had.
    const begun = there.has(journey.placeId) ? NOTHING : new Set(begunSteps(db, journey.id).keys());
    const moved = movePlace(from, to, journey.placeId, begun);
    if (moved.kind === "lost") return { ...journey, to: null, outcome: "lost" };
    if (moved.kind === "moves") return { ...journey, to: moved.nodeId, outcome: "moved" };
    const [before, after] = [spotsOf(from).get(moved.nodeId)?.node, there.get(moved.nodeId)?.node];
    const isSame = JSON.stringify(timingOf(before)) === JSON.stringify(timingOf(after));
    return { ...journey, to: moved.nodeId, outcome: isSame ? "stay" : "recounted" };
  });
}

const NOTHING: ReadonlySet<string> = new Set();

const timingOf = (node: Path[number] | undefined): unknown =>
  node && isTouch(node) ? [node.wait, node.bestHour ?? null] : node?.kind === "fork" ? node.patience : null;

/** What saving a path would do to the people under way. */
export function moveConsequences({ db }: App, sequenceId: number, to: Path): MoveConsequences {
  const counts: MoveConsequences = { stay: 0, recounted: 0, moved: 0, lost: 0 };
  for (const { outcome } of movesTo(db, sequenceId, to)) counts[outcome]++;
  return counts;
}

/** Moves everybody under way to a new version, before that version is the latest. */
export function moveJourneys(
  app: AppTx,
  { id, version, path }: Pick<Sequence, "id" | "version" | "path">,
  now: number,
): void {
  const { db } = app;
  const recount: number[] = [];
  const moving = movesTo(db, id, path);
  sql(db, "UPDATE journeys SET version = @version WHERE sequence_id = @id AND state = 'active'").run({
    id,
    version,
  });
  for (const journey of moving) {
    if (journey.outcome === "stay") continue;
    recount.push(journey.id);
    if (journey.outcome === "moved" || journey.outcome === "lost") {
      sql(db, "UPDATE journeys SET place_id = @to WHERE id = @id").run({
        id: journey.id,
        to: journey.to,
      });
      // A draft or a task of a step that is gone would be answered for nothing.
      sql(
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
  }
  recountDue(db, id, recount, now);
}

/** Counts everybody's due date anew, after the hours, the zone or the holidays changed. */
export function recountJourneys({ db }: AppTx, sequenceId: number, now: number): void {
  recountDue(
    db,
    sequenceId,
    underWay(db, sequenceId).map(({ id }) => id),
    now,
  );
}

interface Waiting {
  id: number;
  version: number;
  placeId: string | null;
  since: number;
  zone: string | null;
  country: string;
  isBegun: 0 | 1;
}

/**
 * Where an email that goes by itself comes next, its date is counted here; whatever asks for more is left to the engine, which
 * walks them at its next look, so that a save of a long sequence answers soon.
 */
function recountDue(db: Db, sequenceId: number, ids: readonly number[], now: number): void {
  const sequence = sequenceById(db, sequenceId);
  if (!sequence || ids.length === 0) return;
  const rows = sql(
    db,
    `SELECT j.id, j.version, j.place_id AS placeId, j.since, p.time_zone AS zone, p.country,
       EXISTS (SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.step_id = j.place_id) AS isBegun
     FROM journeys j JOIN prospects p ON p.id = j.prospect_id
     WHERE j.sequence_id = @sequenceId AND j.state = 'active' AND j.id IN (SELECT value FROM json_each(@ids))`,
  ).all<Waiting>({ sequenceId, ids: JSON.stringify(ids) });
  const due = sql(db, "UPDATE journeys SET due_at = ?, wait_reason = NULL, next_at = NULL WHERE id = ?");
  const walk = sql(db, "INSERT OR IGNORE INTO reconsider VALUES (?)");
  const open = sql(db, "UPDATE journeys SET due_at = 0 WHERE id = ?");
  const paths = new Map<number, Path>();
  for (const { id, version, placeId, since, zone, country, isBegun } of rows) {
    const path = paths.get(version) ?? pathOfVersion(db, sequenceId, version);
    paths.set(version, path);
    const node = spotsOf(path).get(placeId ?? "")?.node;
    const isPlain =
      node?.kind === "email" &&
      isBegun === 0 &&
      !node.onlyIf &&
      !node.bestHour &&
      sequence.settings.approval === "none";
    if (isPlain) {
      const calendar = calendarFor(sequence, zone, country, now);
      due.run([
        stepDueAt(
          {
            path,
            calendar,
            seed: id,
            begun: new Map(),
            pauses: pausesOf(db, { id, sequenceId, mailboxId: null }, now),
          },
          node,
          since,
        ),
        id,
      ]);
    } else {
      open.run([id]);
      walk.run([id]);
    }
  }
}
