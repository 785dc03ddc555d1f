/** Reminders: what a rep is to do for somebody on a day. */
import { instantOn, MORNING } from "../../core/calendar.ts";
import { type Db, sql } from "./open.ts";

export const REMINDER_KINDS = ["reminder", "errand", "come_back", "next_step", "thanks"] as const;
export type ReminderKind = (typeof REMINDER_KINDS)[number];

interface NewReminder {
  prospectId: number;
  replyId: number | null;
  /** Null: whoever they belong to, else whoever wrote to them last. */
  userId: number | null;
  kind: ReminderKind;
  text: string;
  at: number;
  /** "YYYY-MM-DD", where the rep is; null: now. */
  day: string | null;
}

/** Nobody is reminded twice of the same; of two days the later counts. */
export function addReminder(db: Db, reminder: NewReminder): number {
  const user = sql(
    db,
    `SELECT u.id, u.time_zone AS zone FROM users u WHERE u.id = coalesce(@userId,
       (SELECT owner_id FROM prospects WHERE id = @prospectId),
       (SELECT m.user_id FROM touches t JOIN mailboxes m ON m.id = t.mailbox_id WHERE t.prospect_id = @prospectId ORDER BY t.id DESC LIMIT 1),
       (SELECT min(id) FROM users WHERE removed_at IS NULL))`,
  ).get<{ id: number; zone: string }>({ userId: reminder.userId, prospectId: reminder.prospectId });
  if (!user) return 0;
  const { prospectId, replyId, kind, text, at, day } = reminder;
  const dueAt = day === null ? at : instantOn(day, MORNING, user.zone);
  const known = sql(
    db,
    `UPDATE reminders SET due_at = @dueAt, text = @text
     WHERE prospect_id = @prospectId AND user_id = @userId AND kind = @kind AND ended_at IS NULL
       AND (text = @text OR kind = 'come_back') RETURNING id`,
  ).get<{ id: number }>({ prospectId, userId: user.id, kind, text, dueAt });
  if (known) return known.id;
  return Number(
    sql(
      db,
      `INSERT INTO reminders (user_id, prospect_id, reply_id, kind, text, due_at, at)
       VALUES (@userId, @prospectId, @replyId, @kind, @text, @dueAt, @at)`,
    ).run({ userId: user.id, prospectId, replyId, kind, text, dueAt, at }).lastInsertRowid,
  );
}
