/** People whom a colleague's answer held, and who go on. */
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { liftHold } from "../db/holds.ts";
import { done, type Outcome } from "../errors.ts";

/** Lets the people of a company go on whom a colleague's answer held. */
export function releaseCompany(app: App, by: By, companyId: number): Outcome<null> {
  const no = mayNot(app, by, "company.release", companyId);
  if (no) return no;
  liftHold(app.db, { scope: "company", scopeId: companyId, reason: "colleague_replied" }, app.clock.now());
  return done(null);
}
