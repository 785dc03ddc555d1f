import { dueAfter } from "../../core/sending/plan.ts";
import { type Step, stepsAhead } from "../../core/sequence/steps.ts";
import { type Db, sql } from "../db/open.ts";
import type { Sequence } from "../db/sequences.ts";

type Timing = Pick<Sequence, "steps" | "hours" | "zone">;

/**
 * Counts the waits of those on their way anew, after a sequence was saved: of everybody if its hours changed, else of
 * those who stand before a step whose wait changed, or before another step than they did. The others keep their date.
 */
export function rescheduleJourneys(db: Db, before: Timing, { id, steps, hours, zone }: Sequence): void {
  const sameHours = JSON.stringify([before.hours, before.zone]) === JSON.stringify([hours, zone]);
  const waitBefore = new Map(before.steps.map((step) => [step.id, step.waitDays]));
  const isSame = (step: Step) => sameHours && waitBefore.get(step.id) === step.waitDays;
  const sameOrder = before.steps.map((step) => step.id).join() === steps.map((step) => step.id).join();
  if (sameOrder && steps.every(isSame)) return;

  const journeys = sql<
    { id: number },
    {
      id: number;
      startedAt: number;
      zone: string | null;
      nextStepId: string | null;
      doneIds: string;
      lastAt: number | null;
    }
  >(
    db,
    `SELECT j.id, j.started_at AS startedAt, p.time_zone AS zone, j.next_step_id AS nextStepId,
       (SELECT json_group_array(step_id) FROM touches t WHERE t.journey_id = j.id) AS doneIds,
       (SELECT max(sent_at) FROM touches t WHERE t.journey_id = j.id) AS lastAt
     FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE j.sequence_id = @id AND j.state = 'active'`,
  ).all({ id });
  const update = sql<[number, string, number]>(
    db,
    "UPDATE journeys SET due_at = ?, next_step_id = ? WHERE id = ?",
  );
  for (const journey of journeys) {
    const [next] = stepsAhead(steps, new Set<string>(JSON.parse(journey.doneIds)));
    if (!next || (isSame(next) && next.id === journey.nextStepId)) continue;
    const from = journey.lastAt ?? journey.startedAt;
    const dueAt = dueAfter(from, next.waitDays, hours, journey.zone ?? zone, journey.id, next.id);
    update.run([dueAt, next.id, journey.id]);
  }
}
