import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { sql, transact } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";

/**
 * What the rep says of a reply that no id proves: `isAnswer` stops what it would have stopped, else the journey goes
 * on, unless another such reply still waits for a word.
 */
export function decideLikely(app: App, replyId: number, isAnswer: boolean, userId: By): Outcome<null> {
  const { clock } = app;
  const no = mayNot(app, userId, "reply.change", replyId);
  if (no) return no;
  return transact(app, ({ db }): Outcome<null> => {
    const reply = sql(
      db,
      `SELECT r.prospect_id AS prospectId, t.journey_id AS journeyId, t.id AS touchId, r.mailbox_id AS mailboxId
         FROM replies r JOIN touches t ON t.id = r.touch_id
         WHERE r.id = @replyId AND r.certainty = 'likely' AND r.prospect_id IS NOT NULL`,
    ).get<{ prospectId: number; journeyId: number | null; touchId: number; mailboxId: number }>({ replyId });
    if (!reply) return refused({ form: "This has been decided already." });
    sql(
      db,
      "UPDATE replies SET certainty = @certainty, read_at = coalesce(read_at, @now) WHERE id = @replyId",
    ).run({ replyId, certainty: isAnswer ? "sure" : "denied", now: clock.now() });
    if (isAnswer) apply(db, { kind: "replied" }, { ...reply, at: clock.now(), replyId, userId });
    else
      sql(
        db,
        `UPDATE journeys SET wait_reason = NULL
           WHERE prospect_id = @prospectId AND state = 'active' AND wait_reason = 'likely_reply'
             AND NOT EXISTS (SELECT 1 FROM replies WHERE prospect_id = @prospectId AND certainty = 'likely')`,
      ).run({ prospectId: reply.prospectId });
    return done(null);
  });
}
