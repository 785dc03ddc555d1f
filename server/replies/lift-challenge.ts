import type { App } from "../app.ts";
import { liftHold } from "../db/holds.ts";
import { sql } from "../db/open.ts";
import { markRead } from "./list-replies.ts";

/** The rep has confirmed to a server that a person wrote: what waited for it goes on. */
export function liftChallenge(app: App, replyId: number): void {
  const { db, clock } = app;
  const reply = sql<{ replyId: number }, { prospectId: number }>(
    db,
    "SELECT prospect_id AS prospectId FROM replies WHERE id = @replyId AND kind = 'challenge' AND prospect_id IS NOT NULL",
  ).get({ replyId });
  if (!reply) return;
  db.transaction(() => {
    liftHold(db, { scope: "prospect", scopeId: reply.prospectId, reason: "challenged" }, clock.now());
    markRead(app, replyId, true);
  }).immediate();
}
