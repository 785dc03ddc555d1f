/** Mailboxes: the rows, and what they have sent today. */
import { startOfDay } from "../../core/calendar.ts";
import type { PlanMailbox } from "../../core/sending/plan.ts";
import { type Db, sql } from "./open.ts";

export type Security = "tls" | "starttls" | "none";
export type MailboxState = "active" | "paused" | "resting";

export interface Mailbox {
  id: number;
  userId: number;
  address: string;
  senderName: string;
  signature: string;
  smtpHost: string;
  smtpPort: number;
  smtpSecurity: Security;
  imapHost: string;
  imapPort: number;
  imapSecurity: Security;
  username: string;
  passwordSealed: string;
  dailyLimit: number;
  gapLeast: number;
  gapMost: number;
  state: MailboxState;
  restReason: string | null;
  restUntil: number | null;
  /** Why its inbox cannot be read. */
  trouble: string | null;
  /** Why it cannot send, and when that is tried again. */
  smtpTrouble: string | null;
  smtpRetryAt: number | null;
  uidValidity: number | null;
  lastUid: number;
  /** Its owner's time zone. */
  zone: string;
  ownerName: string;
}

const COLUMNS = `m.id, m.user_id AS userId, m.address, m.sender_name AS senderName, m.signature,
  m.smtp_host AS smtpHost, m.smtp_port AS smtpPort, m.smtp_security AS smtpSecurity,
  m.imap_host AS imapHost, m.imap_port AS imapPort, m.imap_security AS imapSecurity,
  m.username, m.password_sealed AS passwordSealed, m.daily_limit AS dailyLimit,
  m.gap_least AS gapLeast, m.gap_most AS gapMost, m.state, m.rest_reason AS restReason, m.rest_until AS restUntil, m.trouble,
  m.smtp_trouble AS smtpTrouble, m.smtp_retry_at AS smtpRetryAt,
  m.uid_validity AS uidValidity, m.last_uid AS lastUid, u.time_zone AS zone, u.name AS ownerName`;

export function allMailboxes(db: Db): Mailbox[] {
  return sql<[], Mailbox>(
    db,
    `SELECT ${COLUMNS} FROM mailboxes m JOIN users u ON u.id = m.user_id ORDER BY m.id`,
  ).all([]);
}

export function mailboxById(db: Db, id: number): Mailbox | undefined {
  return sql<{ id: number }, Mailbox>(
    db,
    `SELECT ${COLUMNS} FROM mailboxes m JOIN users u ON u.id = m.user_id WHERE m.id = @id`,
  ).get({ id });
}

/** Emails claimed or sent on the mailbox's own day, answers included, and the latest of all. */
export function sentToday(db: Db, mailbox: Mailbox, now: number): { count: number; lastAt: number | null } {
  const from = startOfDay(now, mailbox.zone);
  return sql<{ id: number; from: number }, { count: number; lastAt: number | null }>(
    db,
    `SELECT
       (SELECT count(*) FROM touches WHERE mailbox_id = @id AND sent_at >= @from)
       + (SELECT count(*) FROM touches WHERE state = 'claimed' AND mailbox_id = @id) AS count,
       max(
         coalesce((SELECT max(sent_at) FROM touches WHERE mailbox_id = @id), 0),
         coalesce((SELECT max(claimed_at) FROM touches WHERE state = 'claimed' AND mailbox_id = @id), 0)
       ) AS lastAt`,
  ).get({ id: mailbox.id, from }) as { count: number; lastAt: number | null };
}

export function planMailbox(db: Db, mailbox: Mailbox, now: number): PlanMailbox {
  const { count, lastAt } = sentToday(db, mailbox, now);
  return {
    id: mailbox.id,
    dailyLimit: mailbox.dailyLimit,
    gapMinutes: { least: mailbox.gapLeast, most: mailbox.gapMost },
    zone: mailbox.zone,
    sentToday: count,
    lastSentAt: lastAt || null,
    restsUntil: mailbox.state === "resting" ? mailbox.restUntil : null,
  };
}

/** Notes that a mailbox cannot send for now, or (null) that it can again. */
export function setSmtpTrouble(db: Db, id: number, trouble: { words: string; retryAt: number } | null): void {
  sql<Record<string, unknown>>(
    db,
    "UPDATE mailboxes SET smtp_trouble = @words, smtp_retry_at = @retryAt WHERE id = @id",
  ).run({ id, words: trouble?.words ?? null, retryAt: trouble?.retryAt ?? null });
}

export function setTrouble(db: Db, id: number, trouble: string | null): void {
  sql<{ id: number; trouble: string | null }>(
    db,
    "UPDATE mailboxes SET trouble = @trouble WHERE id = @id AND trouble IS NOT @trouble",
  ).run({ id, trouble });
}
