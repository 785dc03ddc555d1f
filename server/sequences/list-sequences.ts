import { daysOfPath } from "../../core/sequence/lay-out-path.ts";
import { everyStep } from "../../core/sequence/path.ts";
import type { Goal } from "../../core/sequence/settings.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { anyTruth, keptCount } from "../db/kept-counts.ts";
import { type Db, sql } from "../db/open.ts";
import { allSequences, type Sequence } from "../db/sequences.ts";
import { type GoalCounts, goalCounts, reachedOf } from "./goal.ts";
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
  people: number;
  active: number;
  written: number;
  replied: number;
  booked: number;
  opened: number;
  clicked: number;
  optedOut: number;
  /** How many came to what it calls success. */
  reached: number;
  /** When its next email goes; null if none is planned. */
  nextAt: number | null;
}

type Counts = Pick<
  SequenceSummary,
  "people" | "active" | "written" | "replied" | "booked" | "opened" | "clicked" | "optedOut" | "nextAt"
>;

const NOBODY: Counts = {
  people: 0,
  active: 0,
  written: 0,
  replied: 0,
  booked: 0,
  opened: 0,
  clicked: 0,
  optedOut: 0,
  nextAt: null,
};

const NO_GOALS: GoalCounts = { interested: 0, won: 0 };

/** Every shared sequence that a user may see, with what came of it so far; people are counted once each. */
export function listSequences(app: App, by: By): SequenceSummary[] {
  const { db } = app;
  const visible = new Set(visibleSequences(app, by).map(({ id }) => id));
  const counts = keptCount(db, "sequences", anyTruth(db), () => countSequences(db));
  const goals = keptCount(db, "goals", anyTruth(db), () => goalCounts(db));
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
      ...(counts.get(sequence.id) ?? NOBODY),
      reached: reachedOf(sequence.settings.goal, {
        ...(counts.get(sequence.id) ?? NOBODY),
        ...(goals.get(sequence.id) ?? NO_GOALS),
      }),
    }));
}

function countSequences(db: Db): Map<number, Counts> {
  const did = (kind: string) =>
    `coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.journey_id = j.id AND e.kind = '${kind}')), 0)`;
  return new Map(
    sql(
      db,
      `SELECT j.sequence_id AS id, count(*) AS people, coalesce(sum(j.state = 'active'), 0) AS active,
         coalesce(sum(EXISTS (SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.state = 'sent')), 0) AS written,
         ${did("replied")} AS replied, ${did("booked")} AS booked, ${did("opened")} AS opened, ${did("clicked")} AS clicked,
         coalesce(sum(j.stop_reason = 'opted_out'), 0) AS optedOut, min(CASE WHEN j.state = 'active' THEN j.next_at END) AS nextAt
       FROM journeys j WHERE j.round = 0 GROUP BY j.sequence_id`,
    )
      .all<Counts & { id: number }>([])
      .map(({ id, ...row }) => [id, row]),
  );
}
