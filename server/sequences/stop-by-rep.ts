import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { remember } from "../consequences/remember.ts";
import { ofProspect } from "../consequences/scopes.ts";
import { fullName, prospectById } from "../db/prospects.ts";

/** Stops whatever is planned for somebody, on a rep's word. Returns the id by which it is undone. */
export function stopByRep({ db, clock }: App, prospectId: number, userId: number | null = null): number {
  return db
    .transaction(() => {
      const prospect = prospectById(db, prospectId);
      const what = `The follow-ups for ${prospect ? fullName(prospect) : "somebody"} were stopped`;
      const about = { kind: "stop" as const, prospectId, userId, what, at: clock.now() };
      return remember(db, about, ofProspect(db, prospectId), () =>
        apply(db, { kind: "stopped_by_rep" }, { at: clock.now(), prospectId }),
      );
    })
    .immediate();
}
