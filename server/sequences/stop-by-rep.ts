import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";

/** Ends what is planned for a prospect because a rep says so. */
export function stopByRep({ db, clock }: App, prospectId: number): void {
  db.transaction(() => apply(db, { kind: "stopped_by_rep" }, { at: clock.now(), prospectId })).immediate();
}
