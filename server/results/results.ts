import { everyStep } from "../../core/sequence/path.ts";
import type { Goal } from "../../core/sequence/settings.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { anyTruth, keptCount } from "../db/kept-counts.ts";
import { type Db, sql } from "../db/open.ts";
import { allSequences, stepsEver } from "../db/sequences.ts";
import { listSequences } from "../sequences/list-sequences.ts";

export interface StepResult {
  stepId: string;
  name: string;
  /** It is in the sequence no longer. */
  isRemoved: boolean;
  /** Emails that a server took. */
  sent: number;
  opened: number;
  clicked: number;
  replied: number;
  booked: number;
  bounced: number;
  optedOut: number;
}

export interface SequenceResult {
  id: number;
  name: string;
  people: number;
  written: number;
  replied: number;
  /** What it calls success, and how many came to it. */
  goal: Goal;
  reached: number;
  steps: StepResult[];
}

const NOTHING = { sent: 0, opened: 0, clicked: 0, replied: 0, booked: 0, bounced: 0, optedOut: 0 };

/**
 * By sequence and step: emails sent, and how many people did what in answer to that step. Everything
 * is counted from the events; a person counts once for each step and kind.
 */
export function results(app: App, by: By): SequenceResult[] {
  const { db } = app;
  const hidden = hiddenFrom(app, by, "sequence.see");
  const reached = new Map(listSequences(app, by).map((each) => [each.id, each.reached]));
  return allSequences(db)
    .filter(({ id, kind }) => kind === "shared" && !hidden.has(id))
    .map((sequence) => {
      const { steps: rows, ...people } = keptCount(db, `results ${sequence.id}`, anyTruth(db), () =>
        countResults(db, sequence.id),
      );
      const ever = stepsEver(db, sequence.id);
      const current = everyStep(sequence.path).map(({ id }) => id);
      const removed = [...rows.keys()].filter((id) => !current.includes(id));
      const steps = [...current, ...removed].map(
        (stepId): StepResult => ({
          ...NOTHING,
          ...rows.get(stepId),
          stepId,
          name: ever.get(stepId)?.name ?? "A step",
          isRemoved: removed.includes(stepId),
        }),
      );
      return {
        id: sequence.id,
        name: sequence.name,
        ...people,
        goal: sequence.settings.goal,
        reached: reached.get(sequence.id) ?? 0,
        steps,
      };
    })
    .filter(({ people }) => people > 0);
}

interface Counted {
  people: number;
  written: number;
  replied: number;
  steps: Map<string, typeof NOTHING>;
}

function countResults(db: Db, id: number): Counted {
  const did = (kind: string) => `count(DISTINCT CASE WHEN e.kind = '${kind}' THEN t.id END)`;
  const steps = sql(
    db,
    `SELECT t.step_id AS stepId, count(DISTINCT CASE WHEN t.state = 'sent' THEN t.id END) AS sent, ${did("opened")} AS opened,
       ${did("clicked")} AS clicked, ${did("replied")} AS replied, ${did("booked")} AS booked, ${did("bounced")} AS bounced,
       ${did("opted_out")} AS optedOut
     FROM journeys j JOIN touches t ON t.journey_id = j.id LEFT JOIN events e ON e.touch_id = t.id
     WHERE j.sequence_id = @id AND t.state IN ('sent', 'refused') GROUP BY t.step_id`,
  ).all<typeof NOTHING & { stepId: string }>({ id });
  const people = sql(
    db,
    `SELECT count(*) AS people,
       coalesce(sum(EXISTS (SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.state = 'sent')), 0) AS written,
       coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.journey_id = j.id AND e.kind = 'replied')), 0) AS replied
     FROM journeys j WHERE j.sequence_id = @id`,
  ).get<Omit<Counted, "steps">>({ id }) as Omit<Counted, "steps">;
  return { ...people, steps: new Map(steps.map(({ stepId, ...row }) => [stepId, row])) };
}
