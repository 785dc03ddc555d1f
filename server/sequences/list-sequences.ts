import { type Figures, NO_FIGURES } from "../../core/results/figures.ts";
import { daysOfPath } from "../../core/sequence/lay-out-path.ts";
import { everyStep } from "../../core/sequence/path.ts";
import type { Goal } from "../../core/sequence/settings.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { anyTruth, keptCount } from "../db/kept-counts.ts";
import { type Db, sql } from "../db/open.ts";
import { figuresBySequence } from "../db/outcomes.ts";
import { allSequences, type Sequence } from "../db/sequences.ts";
import { cameTo, wonCounts } from "./goal.ts";
import { visibleSequences } from "./visible-sequences.ts";

export interface SequenceSummary {
  id: number;
  name: string;
  ownerName: string;
  state: Sequence["state"];
  isPersonal: boolean;
  isArchived: boolean;
  tags: string[];
  goal: Goal;
  version: number;
  steps: number;
  days: number;
  figures: Figures;
  /** How many came to what it calls success. */
  cameTo: number;
  /** When its next email goes; null if none is planned. */
  nextAt: number | null;
}

/** Every shared sequence that a user may see, with what came of it so far. */
export function listSequences(app: App, by: By): SequenceSummary[] {
  const { db } = app;
  const visible = new Set(visibleSequences(app, by).map(({ id }) => id));
  const figures = figuresBySequence(db);
  const won = keptCount(db, "won", anyTruth(db), () => wonCounts(db));
  const next = keptCount(db, "next touches", anyTruth(db), () => nextTouches(db));
  return allSequences(db)
    .filter(({ id }) => visible.has(id))
    .map((sequence) => ({
      id: sequence.id,
      name: sequence.name,
      ownerName: sequence.ownerName,
      state: sequence.state,
      isPersonal: sequence.isPersonal,
      isArchived: sequence.archivedAt !== null,
      tags: sequence.settings.tags,
      goal: sequence.settings.goal,
      version: sequence.version,
      steps: everyStep(sequence.path).length,
      days: daysOfPath(sequence.path),
      figures: figures.get(sequence.id) ?? NO_FIGURES,
      cameTo: cameTo(
        sequence.settings.goal,
        figures.get(sequence.id) ?? NO_FIGURES,
        won.get(sequence.id) ?? 0,
      ),
      nextAt: next.get(sequence.id) ?? null,
    }));
}

const nextTouches = (db: Db): Map<number, number> =>
  new Map(
    sql(
      db,
      `SELECT s.id, (SELECT min(j.next_at) FROM journeys j
         WHERE j.sequence_id = s.id AND j.state = 'active' AND j.next_at IS NOT NULL) AS at FROM sequences s`,
    )
      .all<{ id: number; at: number | null }>([])
      .flatMap(({ id, at }) => (at === null ? [] : [[id, at] as const])),
  );
