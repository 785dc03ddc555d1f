/** What the people of all sequences wait for. */

import type { WaitReason } from "../../core/sending/reasons.ts";
import type { App } from "../app.ts";
import { numbersIn } from "../db/json.ts";
import { sql } from "../db/open.ts";

export interface Waiting {
  reason: WaitReason;
  /** A merge field's name, where that is what is missing. */
  detail: string | null;
  people: number;
  sequenceIds: number[];
}

/** Everybody who is on the way in one of these sequences, by what they wait for, the most first. */
export function whatHolds({ db }: App, sequenceIds: readonly number[]): Waiting[] {
  return sql(
    db,
    `SELECT wait_reason AS reason, CASE wait_reason WHEN 'merge_field_empty' THEN wait_detail END AS detail,
       count(*) AS people, json_group_array(DISTINCT sequence_id) AS sequences
     FROM journeys WHERE state = 'active' AND wait_reason IS NOT NULL
       AND sequence_id IN (SELECT value FROM json_each(@ids)) GROUP BY 1, 2 ORDER BY 3 DESC`,
  )
    .all<Omit<Waiting, "sequenceIds"> & { sequences: string }>({ ids: JSON.stringify(sequenceIds) })
    .map(({ sequences, ...row }) => ({ ...row, sequenceIds: numbersIn(sequences) }));
}
