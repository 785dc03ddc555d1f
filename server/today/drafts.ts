/** Emails that wait for a yes: said, with another text, or left out. */
import { z } from "zod";
import { MAX_BODY, MAX_SUBJECT } from "../../core/sequence/limits.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { recordEvent } from "../db/events.ts";
import { sql, transact } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

/** Says yes to drafts: each goes in its turn. Returns to how many. */
export function approveDrafts(app: App, user: User, ids: readonly number[]): Outcome<number> {
  const now = app.clock.now();
  return transact(app, (app): Outcome<number> => {
    const { db } = app;
    const no = mayNot(app, user.id, "touch.end", ids);
    if (no) return no;
    const approved = sql(
      db,
      `UPDATE touches SET state = 'approved', user_id = @userId
         WHERE state = 'draft' AND id IN (SELECT value FROM json_each(@ids))
         RETURNING id, prospect_id AS prospectId, journey_id AS journeyId`,
    ).all<{ id: number; prospectId: number; journeyId: number }>({
      ids: JSON.stringify(ids),
      userId: user.id,
    });
    for (const { id, prospectId, journeyId } of approved)
      recordEvent(db, { at: now, kind: "approved", prospectId, journeyId, touchId: id, userId: user.id });
    return done(approved.length);
  });
}

const draftForm = z.object({
  id: z.coerce.number().int(),
  subject: z.string().trim().min(1, "The email needs a subject.").max(MAX_SUBJECT),
  body: z.string().trim().min(1, "The email needs a text.").max(MAX_BODY),
});

/** Keeps another text for one draft. */
export function editDraft(app: App, by: By, input: unknown): Outcome<null> {
  const { db } = app;
  const read = draftForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const no = mayNot(app, by, "touch.end", read.data.id);
  if (no) return no;
  const changed = sql(
    db,
    "UPDATE touches SET subject = @subject, body = @body, markup = NULL WHERE id = @id AND state = 'draft'",
  ).run(read.data).changes;
  return changed === 1 ? done(null) : refused({ form: "This draft is no longer open." });
}

/** Leaves a draft out: the sequence goes on with the next step. */
export function dropDraft(app: App, user: User, id: number): Outcome<null> {
  const no = mayNot(app, user.id, "touch.end", id);
  if (no) return no;
  const now = app.clock.now();
  return transact(app, ({ db }): Outcome<null> => {
    const touch = sql(
      db,
      `UPDATE touches SET state = 'skipped', ended_at = @now, user_id = @userId WHERE id = @id AND state = 'draft'
       RETURNING prospect_id AS prospectId, journey_id AS journeyId`,
    ).get<{ prospectId: number; journeyId: number }>({ id, now, userId: user.id });
    if (!touch) return refused({ form: "This draft is no longer open." });
    recordEvent(db, { at: now, kind: "touch_skipped", ...touch, touchId: id, userId: user.id });
    return done(null);
  });
}
