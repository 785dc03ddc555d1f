import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { liftHold } from "../db/holds.ts";
import { sql } from "../db/open.ts";
import { done, type Outcome } from "../errors.ts";
import { markRead } from "./list-replies.ts";

/** The rep has confirmed to a server that a person wrote: what waited for it goes on. */
export function liftChallenge(app: App, by: By, replyId: number): Outcome<null> {
  const no = mayNot(app, by, "reply.change", replyId);
  if (no) return no;
  const { db, clock } = app;
  const reply = sql(
    db,
    "SELECT prospect_id AS prospectId FROM replies WHERE id = @replyId AND kind = 'challenge' AND prospect_id IS NOT NULL",
  ).get<{ prospectId: number }>({ replyId });
  if (!reply) return done(null);
  db.transaction(() => {
    liftHold(db, { scope: "prospect", scopeId: reply.prospectId, reason: "challenged" }, clock.now());
    markRead(app, by, replyId, true);
  }).immediate();
  return done(null);
}
