/** A call that is put off to the time at which they asked to be rung up. */
import { z } from "zod";
import { instantOn } from "../../core/calendar.ts";
import { timeSchema } from "../../core/day-and-time.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { sql, transact } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

const callBack = z.object({
  id: z.coerce.number().int(),
  date: z.iso.date("Choose the day."),
  time: timeSchema,
  note: z.string().trim().max(2_000).default(""),
});

/** They asked to be rung up again: the call comes up at that time, in the rep's zone, and stays open until then. */
export function callBackAt(app: App, user: User, input: unknown): Outcome<null> {
  const { clock } = app;
  const read = callBack.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, date, time, note } = read.data;
  const no = mayNot(app, user.id, "touch.end", id);
  if (no) return no;
  const at = instantOn(date, time, user.zone);
  if (at <= clock.now()) return refused({ date: "Choose a time that lies ahead." });
  return transact(app, ({ db }): Outcome<null> => {
    const touch = sql(
      db,
      `UPDATE touches SET due_at = @at, outcome = 'call_back', note = @note WHERE id = @id AND kind = 'call' AND state = 'open'
         RETURNING prospect_id AS prospectId`,
    ).get<{ prospectId: number }>({ id, at, note });
    if (!touch) return refused({ form: "This is no longer open." });
    if (note !== "")
      sql(
        db,
        "INSERT INTO notes (prospect_id, user_id, text, at) VALUES (@prospectId, @userId, @note, @now)",
      ).run({ ...touch, userId: user.id, note, now: clock.now() });
    return done(null);
  });
}
