/** Mailboxes: the rows, what they have sent today, and how their servers behave. */

import { z } from "zod";
import { dayNumberOf, HOUR, type SendingHours, startOfDay } from "../../core/calendar.ts";
import type { Sender } from "../../core/sending/sender.ts";
import { jsonOf, wordsIn } from "./json.ts";
import { isClaimed } from "./ledger.ts";
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
  /** Another user name for reading; "" for the same. */
  imapUsername: string;
  /** The certificate authority of its servers, as PEM; "" for the well-known ones. */
  certificate: string;
  auth: "password" | "token";
  /** Where a refresh token is changed into access (RFC 6749 6); "" with a password. */
  tokenUrl: string;
  clientId: string;
  clientSecretSealed: string;
  /** The password, or the refresh token. */
  passwordSealed: string;
  dailyLimit: number;
  hourlyLimit: number | null;
  gapLeast: number;
  gapMost: number;
  /** A daily limit that rises from `rampStart` by `rampStep` with each day of sending since `rampSince`; null: it does not. */
  rampStart: number | null;
  rampStep: number;
  rampSince: number | null;
  /** Hours of its own; null: none. */
  hours: SendingHours | null;
  /** Where answers go, if not to the address; "" for the address. */
  replyTo: string;
  /** Where a blind copy of every email goes; "" for nowhere. */
  copyTo: string;
  tags: string[];
  /** The registrable domain of its mail exchanger; "" if unknown. */
  provider: string;
  removedAt: number | null;
  state: MailboxState;
  restReason: string | null;
  restUntil: number | null;
  /** Why its inbox cannot be read. */
  trouble: string | null;
  /** Why it cannot send, and when that is tried again. */
  smtpTrouble: string | null;
  smtpRetryAt: number | null;
  smtpFailures: number;
  /** 1: nothing goes until a person has looked at what the server said. */
  smtpStopped: 0 | 1;
  /** Folders read besides INBOX and Junk. */
  moreFolders: string[];
  /** Who puts copies of sent email into the Sent folder, as far as was seen; "none": there is no such folder. */
  copies: "unknown" | "server" | "app" | "none";
  /** Why copies cannot be stored there, and when that is tried again, by the machine's clock. */
  copyTrouble: string | null;
  copyRetryWall: number | null;
  revision: number;
  /** By the machine's clock: when it was first and last read to the end. */
  connectedWall: number | null;
  readWall: number | null;
  /** Its owner's time zone. */
  zone: string;
  ownerName: string;
}

const COLUMNS = `m.id, m.user_id AS userId, m.address, m.sender_name AS senderName, m.signature,
  m.smtp_host AS smtpHost, m.smtp_port AS smtpPort, m.smtp_security AS smtpSecurity,
  m.imap_host AS imapHost, m.imap_port AS imapPort, m.imap_security AS imapSecurity,
  m.username, m.imap_username AS imapUsername, m.certificate, m.auth, m.token_url AS tokenUrl,
  m.client_id AS clientId, m.client_secret_sealed AS clientSecretSealed,
  m.password_sealed AS passwordSealed, m.daily_limit AS dailyLimit,
  m.gap_least AS gapLeast, m.gap_most AS gapMost, m.state, m.rest_reason AS restReason, m.rest_until AS restUntil, m.trouble,
  m.smtp_trouble AS smtpTrouble, m.smtp_retry_at AS smtpRetryAt, m.smtp_failures AS smtpFailures,
  m.smtp_stopped AS smtpStopped, m.more_folders AS moreFolders, m.copies, m.copy_trouble AS copyTrouble, m.copy_retry_wall AS copyRetryWall, m.revision,
  m.hourly_limit AS hourlyLimit, m.ramp_start AS rampStart, m.ramp_step AS rampStep, m.ramp_since AS rampSince, m.hours,
  m.reply_to AS replyTo, m.copy_to AS copyTo, m.tags, m.provider, m.removed_at AS removedAt,
  m.connected_wall AS connectedWall, m.read_wall AS readWall, u.time_zone AS zone, u.name AS ownerName`;

type MailboxRow = Omit<Mailbox, "hours" | "tags" | "moreFolders"> & {
  hours: string | null;
  tags: string;
  moreFolders: string;
};
const hoursSchema = z.object({ days: z.array(z.number()), opens: z.string(), closes: z.string() });
const mailboxOf = ({ hours, tags, moreFolders, ...row }: MailboxRow): Mailbox => ({
  ...row,
  hours: hours === null ? null : jsonOf(hoursSchema, hours),
  tags: wordsIn(tags),
  moreFolders: wordsIn(moreFolders),
});

/** Those that were not removed. */
export function allMailboxes(db: Db): Mailbox[] {
  return sql(
    db,
    `SELECT ${COLUMNS} FROM mailboxes m JOIN users u ON u.id = m.user_id WHERE m.removed_at IS NULL ORDER BY m.id`,
  )
    .all<MailboxRow>([])
    .map(mailboxOf);
}

export function mailboxById(db: Db, id: number): Mailbox | undefined {
  const row = sql(
    db,
    `SELECT ${COLUMNS} FROM mailboxes m JOIN users u ON u.id = m.user_id WHERE m.id = @id`,
  ).get<MailboxRow>({ id });
  return row && mailboxOf(row);
}

/** Emails claimed or sent on the mailbox's own day, answers included, and the latest of all. */
export function sentToday(db: Db, mailbox: Mailbox, now: number): { count: number; lastAt: number | null } {
  const from = startOfDay(now, mailbox.zone);
  return sql(
    db,
    `SELECT
       (SELECT count(*) FROM touches WHERE mailbox_id = @id AND sent_at >= @from)
       + (SELECT count(*) FROM touches WHERE ${isClaimed()} AND +mailbox_id = @id)
       + (SELECT count(*) FROM exchange_mails WHERE from_mailbox_id = @id AND sent_at >= @from) AS count,
       max(
         coalesce((SELECT max(sent_at) FROM exchange_mails WHERE from_mailbox_id = @id), 0),
         coalesce((SELECT max(sent_at) FROM touches WHERE mailbox_id = @id), 0),
         coalesce((SELECT max(claimed_at) FROM touches WHERE ${isClaimed()} AND +mailbox_id = @id), 0)
       ) AS lastAt`,
  ).get<{ count: number; lastAt: number | null }>({ id: mailbox.id, from }) as {
    count: number;
    lastAt: number | null;
  };
}

/** A mailbox as the plan sees it. */
export function senderOf(db: Db, mailbox: Mailbox, now: number): Sender {
  const sender = standingOf(db, mailbox, now);
  const followUpsToday =
    sender.sentToday === 0 ? 0 : followUpsSince(db, mailbox.id, startOfDay(now, mailbox.zone));
  return { ...sender, followUpsToday };
}

/** What of it a single claim asks: all but how its day is shared between new people and follow-ups. */
export function standingOf(db: Db, mailbox: Mailbox, now: number): Omit<Sender, "followUpsToday"> {
  const { count, lastAt } = sentToday(db, mailbox, now);
  const { id, zone, rampStart, rampStep, hourlyLimit, hours } = mailbox;
  const since = startOfDay(now, zone);
  return {
    id,
    dailyLimit: mailbox.dailyLimit,
    ramp:
      rampStart === null
        ? null
        : { start: rampStart, step: rampStep, daysSoFar: sendingDays(db, mailbox, since) },
    hourlyLimit,
    gapMinutes: { least: mailbox.gapLeast, most: mailbox.gapMost },
    zone,
    hours,
    provider: mailbox.provider || null,
    sentToday: count,
    lastSentAt: lastAt || null,
    sentLately: hourlyLimit === null ? [] : sentSince(db, id, now - HOUR),
    restsUntil: mailbox.state === "resting" ? mailbox.restUntil : null,
  };
}

/** On how many days before the one that begins at `today` a mailbox has sent since its ramp began. */
function sendingDays(db: Db, { id, zone, rampSince }: Mailbox, today: number): number {
  const rows = sql(
    db,
    "SELECT sent_at AS at FROM touches WHERE mailbox_id = @id AND sent_at >= @since AND sent_at < @today",
  ).all<{ at: number }>({ id, since: rampSince ?? 0, today });
  return new Set(rows.map(({ at }) => dayNumberOf(at, zone))).size;
}

/** Of the emails sent since an instant those that were not their journey's first. */
function followUpsSince(db: Db, id: number, since: number): number {
  return (
    sql(
      db,
      `SELECT count(*) AS count FROM touches t WHERE t.mailbox_id = @id AND t.sent_at >= @since AND t.journey_id IS NOT NULL
         AND EXISTS (SELECT 1 FROM touches e WHERE e.journey_id = t.journey_id AND e.sent_at < t.sent_at)`,
    ).get<{ count: number }>({ id, since })?.count ?? 0
  );
}

/** When a mailbox sent since an instant, what is on its way among it. */
function sentSince(db: Db, id: number, since: number): number[] {
  return sql(
    db,
    `SELECT sent_at AS at FROM touches WHERE mailbox_id = @id AND sent_at >= @since
     UNION ALL SELECT claimed_at FROM touches WHERE ${isClaimed()} AND +mailbox_id = @id`,
  )
    .all<{ at: number }>({ id, since })
    .map(({ at }) => at);
}

/** Notes that a mailbox cannot send until an instant. */
export function putOffSending(db: Db, id: number, words: string, retryAt: number): void {
  sql(
    db,
    `UPDATE mailboxes SET smtp_trouble = @words, smtp_retry_at = @retryAt, smtp_failures = smtp_failures + 1
     WHERE id = @id`,
  ).run({ id, words, retryAt });
}

/** Notes that a mailbox must not send until a person has looked at what its server said. */
export function stopSending(db: Db, id: number, words: string): void {
  sql(
    db,
    "UPDATE mailboxes SET smtp_trouble = @words, smtp_retry_at = NULL, smtp_stopped = 1 WHERE id = @id",
  ).run({ id, words });
}

/** Notes that a mailbox sends. */
export function sendingWorks(db: Db, id: number): void {
  sql(
    db,
    `UPDATE mailboxes SET smtp_trouble = NULL, smtp_retry_at = NULL, smtp_failures = 0
     WHERE id = @id AND smtp_trouble IS NOT NULL AND smtp_stopped = 0`,
  ).run({ id });
}

export function setTrouble(db: Db, id: number, trouble: string | null): void {
  sql(db, "UPDATE mailboxes SET trouble = @trouble WHERE id = @id AND trouble IS NOT @trouble").run({
    id,
    trouble,
  });
}

/** How often the time of the last finished look is written down. */
const NOTED_EVERY = 30_000;

/** Notes that a mailbox was read to the end. */
export function readToTheEnd(db: Db, mailbox: Mailbox, wall: number): void {
  if (mailbox.trouble !== null) setTrouble(db, mailbox.id, null);
  sql(
    db,
    `UPDATE mailboxes SET connected_wall = coalesce(connected_wall, @wall), read_wall = @wall
     WHERE id = @id AND (read_wall IS NULL OR read_wall < @before OR read_wall > @wall)`,
  ).run({ id: mailbox.id, wall, before: wall - NOTED_EVERY });
}

export function setCopies(db: Db, id: number, copies: Mailbox["copies"]): void {
  sql(db, "UPDATE mailboxes SET copies = @copies WHERE id = @id AND copies != @copies").run({ id, copies });
}

/** Notes why copies cannot be stored in the Sent folder, or that they can. */
export function setCopyTrouble(db: Db, id: number, words: string | null, retryWall: number | null): void {
  sql(
    db,
    `UPDATE mailboxes SET copy_trouble = @words, copy_retry_wall = @retryWall
     WHERE id = @id AND (copy_trouble IS NOT @words OR copy_retry_wall IS NOT @retryWall)`,
  ).run({ id, words, retryWall });
}

/** How far a folder has been read; UIDs mean nothing under another validity (RFC 9051 2.3.1.1). */
export interface ReadMark {
  uidValidity: number;
  lastUid: number;
}

export function folderMark(db: Db, mailboxId: number, path: string): ReadMark | null {
  return (
    sql(
      db,
      `SELECT uid_validity AS uidValidity, last_uid AS lastUid FROM folder_marks
       WHERE mailbox_id = @mailboxId AND path = @path`,
    ).get<ReadMark>({ mailboxId, path }) ?? null
  );
}

export function setFolderMark(db: Db, mailboxId: number, path: string, mark: ReadMark): void {
  sql(
    db,
    `INSERT INTO folder_marks (mailbox_id, path, uid_validity, last_uid)
     VALUES (@mailboxId, @path, @uidValidity, @lastUid)
     ON CONFLICT (mailbox_id, path) DO UPDATE SET uid_validity = @uidValidity, last_uid = @lastUid`,
  ).run({ mailboxId, path, ...mark });
}

/**
 * Notes which folders a mailbox has. Returns those that came after its first look and have not been read: all of such a
 * folder is read, where of the first ones only what comes.
 */
export function noteFolders(db: Db, mailboxId: number, paths: readonly string[]): Set<string> {
  const known = sql(
    db,
    "SELECT path, is_first AS isFirst FROM seen_folders WHERE mailbox_id = @mailboxId",
  ).all<{ path: string; isFirst: 0 | 1 }>({ mailboxId });
  const seen = new Map(known.map(({ path, isFirst }) => [path, isFirst]));
  const isFirstLook = seen.size === 0;
  for (const path of paths) {
    if (seen.has(path)) continue;
    seen.set(path, isFirstLook ? 1 : 0);
    sql(
      db,
      "INSERT INTO seen_folders (mailbox_id, path, is_first) VALUES (@mailboxId, @path, @isFirst) ON CONFLICT DO NOTHING",
    ).run({ mailboxId, path, isFirst: isFirstLook ? 1 : 0 });
  }
  return new Set(paths.filter((path) => seen.get(path) === 0));
}
