/** Mail that is no touch: invitations to meetings, hand-overs, and notices to ourselves. */
import { type Db, sql } from "./open.ts";

export interface ServiceMail {
  id: number;
  kind: "invitation" | "meeting_reminder" | "notice" | "hand_over";
  mailboxId: number;
  recipient: string;
  recipientName: string;
  subject: string;
  body: string;
  /** An iCalendar object, and its method; "" for none. */
  calendar: string;
  method: string;
  meetingId: number | null;
  prospectId: number | null;
  messageId: string;
  dueAt: number;
}

type New = Omit<ServiceMail, "id" | "calendar" | "method"> &
  Partial<Pick<ServiceMail, "calendar" | "method">>;

export function queueServiceMail(db: Db, mail: New): void {
  sql(
    db,
    `INSERT INTO service_mails (kind, mailbox_id, recipient, recipient_name, subject, body, calendar, method, meeting_id,
       prospect_id, message_id, due_at)
     VALUES (@kind, @mailboxId, @recipient, @recipientName, @subject, @body, @calendar, @method, @meetingId,
       @prospectId, @messageId, @dueAt)`,
  ).run({ calendar: "", method: "", ...mail });
}

/** What is due from a mailbox, oldest first. */
export function dueServiceMails(db: Db, mailboxId: number, now: number, most: number): ServiceMail[] {
  return sql(
    db,
    `SELECT id, kind, mailbox_id AS mailboxId, recipient, recipient_name AS recipientName, subject, body, calendar, method,
       meeting_id AS meetingId, prospect_id AS prospectId, message_id AS messageId, due_at AS dueAt
     FROM service_mails WHERE state = 'queued' AND mailbox_id = @mailboxId AND due_at <= @now ORDER BY due_at, id LIMIT @most`,
  ).all<ServiceMail>({ mailboxId, now, most });
}

export function nextServiceMailAt(db: Db, now: number): number | null {
  return (
    sql(db, "SELECT min(due_at) AS at FROM service_mails WHERE state = 'queued' AND due_at > @now").get<{
      at: number | null;
    }>({ now })?.at ?? null
  );
}

/** False if somebody else took it. */
export const claimServiceMail = (db: Db, id: number): boolean =>
  sql(db, "UPDATE service_mails SET state = 'claimed' WHERE id = @id AND state = 'queued'").run({ id })
    .changes === 1;

export function settleServiceMail(
  db: Db,
  id: number,
  state: "sent" | "refused" | "queued" | "dropped",
  { at, trouble = null, dueAt }: { at: number; trouble?: string | null; dueAt?: number },
): void {
  sql(
    db,
    `UPDATE service_mails SET state = @state, sent_at = CASE @state WHEN 'sent' THEN @at END, trouble = @trouble,
       due_at = coalesce(@dueAt, due_at) WHERE id = @id`,
  ).run({ id, state, at, trouble, dueAt: dueAt ?? null });
}
