/** People whom a colleague's answer held, and who go on. */
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { letGo, liftHold } from "../db/holds.ts";
import { transact } from "../db/open.ts";
import { done, type Outcome } from "../errors.ts";

/** Lets the people of a company go on whom a colleague's answer held: one of them, or all. */
export function releaseCompany(
  app: App,
  by: By,
  companyId: number,
  prospectId: number | null = null,
): Outcome<null> {
  const no = mayNot(app, by, "company.release", companyId);
  if (no) return no;
  const at = app.clock.now();
  return transact(app, ({ db }): Outcome<null> => {
    if (prospectId === null)
      liftHold(db, { scope: "company", scopeId: companyId, reason: "colleague_replied" }, at);
    else letGo(db, { companyId, prospectId, at });
    return done(null);
  });
}
