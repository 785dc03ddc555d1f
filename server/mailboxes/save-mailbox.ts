import { z } from "zod";
import type { App } from "../app.ts";
import { mailboxById } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { seal } from "../secrets.ts";

const security = z.enum(["tls", "starttls", "none"], "Choose one of the three.");
const port = z.coerce
  .number("Type a number.")
  .int()
  .min(1, "Ports begin at 1.")
  .max(65_535, "Ports end at 65535.");
const minutes = z.coerce
  .number("Type a number.")
  .int()
  .min(0, "Not below 0.")
  .max(240, "At most 240 minutes.");

export const mailboxForm = z
  .object({
    id: z.coerce.number().int().optional(),
    address: z.email("Type the mailbox's email address.").transform((address) => address.toLowerCase()),
    senderName: z.string().trim().min(1, "Type the name that prospects will see.").max(100),
    signature: z.string().max(2_000).default(""),
    smtpHost: z.string().trim().min(1, "Type the outgoing server's name."),
    smtpPort: port,
    smtpSecurity: security,
    imapHost: z.string().trim().min(1, "Type the incoming server's name."),
    imapPort: port,
    imapSecurity: security,
    username: z.string().trim().min(1, "Type the user name; often it is the address."),
    password: z.string().default(""),
    dailyLimit: z.coerce.number("Type a number.").int().min(1, "At least 1.").max(500, "At most 500 a day."),
    gapLeast: minutes,
    gapMost: minutes,
  })
  .refine(({ gapLeast, gapMost }) => gapMost >= gapLeast, {
    path: ["gapMost"],
    message: "The longest pause cannot be shorter than the shortest.",
  });

/** Adds or changes a mailbox; an empty password keeps the one it has. Returns its id. */
export function saveMailbox(app: App, userId: number, input: unknown): Outcome<number> {
  const read = mailboxForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, password, ...settings } = read.data;
  const known = id === undefined ? undefined : mailboxById(app.db, id);
  if (id !== undefined && !known) return refused({ form: "This mailbox no longer exists." });
  if (!known && password === "") return refused({ password: "Type the mailbox's password." });
  const taken = sql<Record<string, unknown>, unknown>(
    app.db,
    "SELECT 1 FROM mailboxes WHERE address = @address AND id IS NOT @id",
  ).get({ address: settings.address, id: id ?? null });
  if (taken) return refused({ address: "This mailbox is here already." });

  const row = { ...settings, sealed: password === "" ? known?.passwordSealed : seal(password, app.key) };
  if (known) {
    sql<Record<string, unknown>>(
      app.db,
      `UPDATE mailboxes SET address = @address, sender_name = @senderName, signature = @signature,
         smtp_host = @smtpHost, smtp_port = @smtpPort, smtp_security = @smtpSecurity,
         imap_host = @imapHost, imap_port = @imapPort, imap_security = @imapSecurity,
         username = @username, password_sealed = @sealed, daily_limit = @dailyLimit,
         gap_least = @gapLeast, gap_most = @gapMost,
         trouble = NULL, smtp_trouble = NULL, smtp_retry_at = NULL
       WHERE id = @id`,
    ).run({ ...row, id: known.id });
    return done(known.id);
  }
  const result = sql<Record<string, unknown>>(
    app.db,
    `INSERT INTO mailboxes (user_id, address, sender_name, signature, smtp_host, smtp_port, smtp_security,
       imap_host, imap_port, imap_security, username, password_sealed, daily_limit, gap_least, gap_most, created_at)
     VALUES (@userId, @address, @senderName, @signature, @smtpHost, @smtpPort, @smtpSecurity,
       @imapHost, @imapPort, @imapSecurity, @username, @sealed, @dailyLimit, @gapLeast, @gapMost, @now)`,
  ).run({ ...row, userId, now: app.clock.now() });
  return done(Number(result.lastInsertRowid));
}

/** Pauses a mailbox, or lets a paused or resting one send again. */
export function setMailboxState({ db }: App, id: number, state: "active" | "paused"): void {
  sql<Record<string, unknown>>(
    db,
    "UPDATE mailboxes SET state = @state, rest_reason = NULL, rest_until = NULL WHERE id = @id",
  ).run({ id, state });
}
