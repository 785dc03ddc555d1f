/** Everybody at a glance: how many stand at each stage, and how sure their addresses are. */

import { STAGES, type Stage } from "../../../core/prospects/stages.ts";
import { ADDRESS_STATES, type AddressState } from "../../../core/prospects/verdict.ts";
import type { App } from "../../app.ts";
import { STATE_OF } from "../../db/address-state.ts";
import { keptCount, listTruth } from "../../db/kept-counts.ts";
import { sql } from "../../db/open.ts";

export interface Overview {
  stages: Record<Stage, number>;
  addresses: Record<AddressState, number>;
}

export function overviewOf({ db }: App): Overview {
  return keptCount(db, "overview", listTruth(db, null), () => {
    const overview: Overview = {
      stages: Object.fromEntries(STAGES.map((stage) => [stage, 0])) as Record<Stage, number>,
      addresses: Object.fromEntries(ADDRESS_STATES.map((state) => [state, 0])) as Record<
        AddressState,
        number
      >,
    };
    const rows = sql(
      db,
      `SELECT p.stage, ${STATE_OF} AS state, count(*) AS count FROM prospects p NOT INDEXED WHERE p.live = 1 GROUP BY 1, 2`,
    ).all<{ stage: Stage; state: AddressState; count: number }>([]);
    for (const { stage, state, count } of rows) {
      overview.stages[stage] += count;
      overview.addresses[state] += count;
    }
    return overview;
  });
}
