/** A task that a rep ends: done, with how a call went and what they want to do next, or skipped. */
import { z } from "zod";
import { daySchema } from "../../core/day-and-time.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { recordChange } from "../db/changes.ts";
import { recordEvent } from "../db/events.ts";
import { sql, transact } from "../db/open.ts";
import { addReminder } from "../db/reminders.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

export const CALL_OUTCOMES = ["reached", "voicemail", "no_answer", "wrong_number"] as const;

const endForm = z.object({
  id: z.coerce.number().int(),
  outcome: z.enum(CALL_OUTCOMES).optional(),
  note: z.string().trim().max(2_000).default(""),
  /** What the rep wants to do next, and on which day; "" for nothing. */
  next: z.string().trim().max(300).default(""),
  nextDay: z.union([daySchema, z.literal("")]).default(""),
});

/** Ends an open task: done, with how a call went, or skipped. What follows counts from now. */
export function endTouch(app: App, user: User, input: unknown, how: "done" | "skipped"): Outcome<null> {
  const read = endForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, outcome = null, note, next, nextDay } = read.data;
  const no = mayNot(app, user.id, "touch.end", id);
  if (no) return no;
  const { clock } = app;
  const now = clock.now();
  return transact(app, ({ db }): Outcome<null> => {
    const touch = sql(
      db,
      `UPDATE touches SET state = @how, ended_at = @now, outcome = @outcome, note = @note, user_id = @userId
         WHERE id = @id AND state = 'open' RETURNING prospect_id AS prospectId, journey_id AS journeyId`,
    ).get<{ prospectId: number; journeyId: number }>({ id, how, now, outcome, note, userId: user.id });
    if (!touch) return refused({ form: "This is no longer open: it was done, or a stop took it away." });
    recordEvent(db, {
      at: now,
      kind: how === "done" ? "touch_done" : "touch_skipped",
      ...touch,
      touchId: id,
      userId: user.id,
      detail: [outcome?.replaceAll("_", " "), note].filter(Boolean).join(": ") || null,
    });
    const about = { prospectId: touch.prospectId, replyId: null, userId: user.id, at: now };
    if (outcome === "wrong_number") {
      forgetNumber(db, touch.prospectId, user.id, now);
      addReminder(db, {
        ...about,
        kind: "errand",
        text: "Find another number: the one we had is wrong.",
        day: null,
      });
    }
    if (outcome === "reached")
      apply(db, { kind: "talked" }, { at: now, prospectId: touch.prospectId, touchId: id, userId: user.id });
    if (next !== "") addReminder(db, { ...about, kind: "reminder", text: next, day: nextDay || null });
    return done(null);
  });
}

/** A number that leads to somebody else helps nobody; the prospect's history keeps it. */
function forgetNumber(db: App["db"], prospectId: number, userId: number, at: number): void {
  const before = sql(db, "SELECT phone FROM prospects WHERE id = @prospectId").get<{ phone: string }>({
    prospectId,
  })?.phone;
  if (!before) return;
  sql(db, "UPDATE prospects SET phone = '' WHERE id = @prospectId").run({
    prospectId,
  });
  recordChange(db, {
    prospectId,
    field: "phone",
    before,
    after: "",
    source: "edit",
    sourceId: null,
    userId,
    at,
  });
}
