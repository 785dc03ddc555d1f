import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { remember } from "../consequences/remember.ts";
import { ofProspect } from "../consequences/scopes.ts";
import { transact } from "../db/open.ts";
import { fullName, prospectById } from "../db/prospects.ts";
import { done, type Outcome } from "../errors.ts";

/** Stops whatever is planned for somebody, on a rep's word. Returns the id by which it is undone. */
export function stopByRep(app: App, prospectId: number, userId: By = null): Outcome<number> {
  const { clock } = app;
  return transact(app, (app): Outcome<number> => {
    const { db } = app;
    const no = mayNot(app, userId, "journey.stop", prospectId);
    if (no) return no;
    const prospect = prospectById(db, prospectId);
    const what = `The follow-ups for ${prospect ? fullName(prospect) : "somebody"} were stopped`;
    const about = { kind: "stop" as const, prospectId, userId, what, at: clock.now() };
    const undoId = remember(db, about, ofProspect(db, prospectId), () =>
      apply(db, { kind: "stopped_by_rep" }, { at: clock.now(), prospectId }),
    );
    return done(undoId);
  });
}
