import { daysOfPath } from "../../core/sequence/lay-out-path.ts";
import { everyStep } from "../../core/sequence/path.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { allSequences, type Sequence } from "../db/sequences.ts";

export interface SequenceSummary {
  id: number;
  name: string;
  ownerName: string;
  state: Sequence["state"];
  version: number;
  steps: number;
  days: number;
  people: number;
  active: number;
  written: number;
  replied: number;
  booked: number;
}

/** Every sequence with what came of it so far; people are counted once each. */
export function listSequences({ db }: App): SequenceSummary[] {
  return allSequences(db).map((sequence) => ({
    id: sequence.id,
    name: sequence.name,
    ownerName: sequence.ownerName,
    state: sequence.state,
    version: sequence.version,
    steps: everyStep(sequence.path).length,
    days: daysOfPath(sequence.path),
    ...(sql<{ id: number }, Pick<SequenceSummary, "people" | "active" | "written" | "replied" | "booked">>(
      db,
      `SELECT count(*) AS people, coalesce(sum(j.state = 'active'), 0) AS active,
         coalesce(sum(EXISTS (SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.state = 'sent')), 0) AS written,
         coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.journey_id = j.id AND e.kind = 'replied')), 0) AS replied,
         coalesce(sum(EXISTS (SELECT 1 FROM events e WHERE e.journey_id = j.id AND e.kind = 'booked')), 0) AS booked
       FROM journeys j WHERE j.sequence_id = @id`,
    ).get({ id: sequence.id }) as Pick<
      SequenceSummary,
      "people" | "active" | "written" | "replied" | "booked"
    >),
  }));
}
