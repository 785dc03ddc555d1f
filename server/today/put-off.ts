/** A task that is put off by some days. */
import { instantOnDay, MORNING, minutesOf, workingDayNumberAfter } from "../../core/calendar.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";

/** Puts a task off by so many working days, from its morning on. */
export function putOff(app: App, user: User, id: number, days: number): Outcome<null> {
  const { db, clock } = app;
  const no = mayNot(app, user.id, "touch.end", id);
  if (no) return no;
  const at = instantOnDay(
    workingDayNumberAfter(clock.now(), Math.max(1, Math.min(30, days)), [1, 2, 3, 4, 5], user.zone),
    minutesOf(MORNING),
    user.zone,
  );
  const changed = sql(db, "UPDATE touches SET due_at = @at WHERE id = @id AND state = 'open'").run({
    id,
    at,
  }).changes;
  return changed === 1 ? done(null) : refused({ form: "This is no longer open." });
}
