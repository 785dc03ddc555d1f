import type { App } from "../app.ts";
import { stopJourneys } from "../db/journeys.ts";

/** Ends what is planned for a prospect because a rep says so. */
export function stopByRep({ db, clock }: App, prospectId: number): void {
  db.transaction(() => stopJourneys(db, prospectId, "stopped_by_rep", null, clock.now())).immediate();
}
