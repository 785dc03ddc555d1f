import { everyStep } from "../../core/sequence/path.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { allSequences, stepsEver } from "../db/sequences.ts";

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
  steps: StepResult[];
}

/**
 * By sequence and step: emails sent, and how many people did what in answer to that step. Everything
 * is counted from the events; a person counts once for each step and kind.
 */
export function results(app: App, by: By): SequenceResult[] {
  const { db } = app;
  const hidden = hiddenFrom(app, by, "sequence.see");
  return allSequences(db)
    .filter(({ id }) => !hidden.has(id))
    .map((sequence) => {
      const rows = sql<{ id: number }, Omit<StepResult, "name" | "isRemoved">>(
        db,
        `SELECT t.step_id AS stepId, coalesce(sum(t.state = 'sent'), 0) AS sent,
           coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.touch_id = t.id AND e.kind = 'opened')), 0) AS opened,
           coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.touch_id = t.id AND e.kind = 'clicked')), 0) AS clicked,
           coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.touch_id = t.id AND e.kind = 'replied')), 0) AS replied,
           coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.touch_id = t.id AND e.kind = 'booked')), 0) AS booked,
           coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.touch_id = t.id AND e.kind = 'bounced')), 0) AS bounced,
           coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.touch_id = t.id AND e.kind = 'opted_out')), 0) AS optedOut
         FROM touches t JOIN journeys j ON j.id = t.journey_id
         WHERE j.sequence_id = @id AND t.state IN ('sent', 'refused') GROUP BY t.step_id`,
      ).all({ id: sequence.id });
      const people = sql<{ id: number }, { people: number; written: number; replied: number }>(
        db,
        `SELECT count(*) AS people,
           coalesce(sum(EXISTS (SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.state = 'sent')), 0) AS written,
           coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.journey_id = j.id AND e.kind = 'replied')), 0) AS replied
         FROM journeys j WHERE j.sequence_id = @id`,
      ).get({ id: sequence.id }) as { people: number; written: number; replied: number };
      const ever = stepsEver(db, sequence.id);
      const current = everyStep(sequence.path).map(({ id }) => id);
      const removed = rows.map(({ stepId }) => stepId).filter((id) => !current.includes(id));
      const steps = [...current, ...removed].map((id): StepResult => {
        const row = rows.find(({ stepId }) => stepId === id);
        const name = ever.get(id)?.name ?? "A step";
        return {
          ...(row ?? { sent: 0, opened: 0, clicked: 0, replied: 0, booked: 0, bounced: 0, optedOut: 0 }),
          stepId: id,
          name,
          isRemoved: removed.includes(id),
        };
      });
      return { id: sequence.id, name: sequence.name, ...people, steps };
    })
    .filter(({ people }) => people > 0);
}
