/** An invitation that was accepted, as the rep saw. */
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { transact } from "../db/open.ts";
import { done, type Outcome } from "../errors.ts";

/** The rep saw that an invitation was accepted: forks on it live from this mark. */
export function markAccepted(app: App, user: User, prospectId: number): Outcome<null> {
  const { clock } = app;
  const no = mayNot(app, user.id, "journey.mark", prospectId);
  if (no) return no;
  transact(app, ({ db }) =>
    apply(db, { kind: "accepted" }, { at: clock.now(), prospectId, userId: user.id }),
  );
  return done(null);
}
