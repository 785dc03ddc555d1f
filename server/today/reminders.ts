/** Reminders that reps set, or that follow from labels, calls and hand-overs. */

import { z } from "zod";
import {
  dayNumberOf,
  instantOnDay,
  MORNING,
  minutesOf,
  textOfDay,
  workingDayNumberAfter,
} from "../../core/calendar.ts";
import { daySchema } from "../../core/day-and-time.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { recordEvent } from "../db/events.ts";
import { sql, transact } from "../db/open.ts";
import { addReminder, REMINDER_KINDS } from "../db/reminders.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

const form = z.object({
  prospectId: z.coerce.number().int(),
  replyId: z.coerce.number().int().nullable().default(null),
  kind: z.enum(REMINDER_KINDS).default("reminder"),
  text: z.string().trim().min(1, "Write what it is about.").max(300),
  day: daySchema.nullable().default(null),
});

/** Everybody may remind themselves of anybody. */
export function remindMe(app: App, user: User, input: unknown): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const no = mayNot(app, user.id, "prospect.see", read.data.prospectId);
  if (no) return no;
  const { db, clock } = app;
  return transact(app, (): Outcome<number> => {
    const id = addReminder(db, { ...read.data, userId: user.id, at: clock.now() });
    return id > 0 ? done(id) : refused({ form: "This person is no longer here." });
  });
}

/** Ends a reminder, or puts it off by working days. */
export function endReminder(
  app: App,
  user: User,
  id: number,
  how: "done" | "skipped" | { days: number },
): Outcome<null> {
  const { db, clock } = app;
  const no = mayNot(app, user.id, "reminder.change", id);
  if (no) return no;
  const now = clock.now();
  if (typeof how === "object") {
    const days = Math.max(1, Math.min(60, how.days));
    const at = instantOnDay(
      workingDayNumberAfter(now, days, [1, 2, 3, 4, 5], user.zone),
      minutesOf(MORNING),
      user.zone,
    );
    const moved = sql(db, "UPDATE reminders SET due_at = @at WHERE id = @id AND ended_at IS NULL").run({
      id,
      at,
    }).changes;
    return moved === 1 ? done(null) : refused({ form: "This is no longer open." });
  }
  return transact(app, (): Outcome<null> => {
    const ended = sql(
      db,
      `UPDATE reminders SET ended_at = @now, how = @how WHERE id = @id AND ended_at IS NULL
         RETURNING prospect_id AS prospectId, text`,
    ).get<{ prospectId: number; text: string }>({ id, now, how });
    if (!ended) return refused({ form: "This is no longer open." });
    recordEvent(db, {
      at: now,
      kind: how === "done" ? "touch_done" : "touch_skipped",
      prospectId: ended.prospectId,
      userId: user.id,
      detail: ended.text,
    });
    return done(null);
  });
}

/** A next step with somebody in conversation, so many days from now. */
export function planNext(app: App, user: User, prospectId: number, days: number): Outcome<number> {
  const no = mayNot(app, user.id, "prospect.change", prospectId);
  if (no) return no;
  const day = textOfDay(dayNumberOf(app.clock.now(), user.zone) + Math.max(1, Math.min(90, days)));
  return remindMe(app, user, { prospectId, kind: "next_step", text: "Take the conversation on.", day });
}

/** Somebody who is looking at our emails just now was rung up, or is left in peace for today. */
export function settleWarm(app: App, user: User, prospectId: number, rang: boolean): Outcome<null> {
  const { db, clock } = app;
  const no = mayNot(app, user.id, "prospect.change", prospectId);
  if (no) return no;
  recordEvent(db, {
    at: clock.now(),
    kind: rang ? "touch_done" : "touch_skipped",
    prospectId,
    userId: user.id,
    detail: rang ? "Rang them up while they looked at the email." : null,
  });
  return done(null);
}
