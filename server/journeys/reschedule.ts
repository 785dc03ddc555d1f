import { dueAfter } from "../../core/sending/plan.ts";
import { stepsAhead } from "../../core/sequence/steps.ts";
import { touchesOfJourney } from "../db/ledger.ts";
import { type Db, sql } from "../db/open.ts";
import type { Sequence } from "../db/sequences.ts";

/** Counts the waits of everybody on their way anew, after a sequence's steps or hours were changed. */
export function rescheduleJourneys(db: Db, { id, steps, hours, zone }: Sequence): void {
  const journeys = sql<{ id: number }, { id: number; startedAt: number; zone: string | null }>(
    db,
    `SELECT j.id, j.started_at AS startedAt, p.time_zone AS zone
     FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE j.sequence_id = @id AND j.state = 'active'`,
  ).all({ id });
  for (const journey of journeys) {
    const touches = touchesOfJourney(db, journey.id);
    const [next] = stepsAhead(steps, new Set(touches.map(({ stepId }) => stepId ?? "")));
    if (!next) continue;
    const from = touches.at(-1)?.sentAt ?? journey.startedAt;
    sql<Record<string, unknown>>(db, "UPDATE journeys SET due_at = @dueAt WHERE id = @id").run({
      id: journey.id,
      dueAt: dueAfter(from, next.waitDays, hours, journey.zone ?? zone, journey.id, next.id),
    });
  }
}
