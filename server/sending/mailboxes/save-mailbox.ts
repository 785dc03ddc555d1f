import { X509Certificate } from "node:crypto";
import { z } from "zod";
import { timeSchema } from "../../../core/day-and-time.ts";
import { mayNot } from "../../accounts/may-not.ts";
import type { User } from "../../accounts/session.ts";
import type { App } from "../../app.ts";
import { isLoopback } from "../../config.ts";
import { rememberPause } from "../../consequences/pausing.ts";
import { type Mailbox, mailboxById } from "../../db/mailboxes.ts";
import { sql, transact } from "../../db/open.ts";
import { notePause } from "../../db/pauses.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { newestToken } from "../../mail/credentials.ts";
import { seal } from "../../secrets.ts";

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
const host = (message: string) => z.string().trim().min(1, message).max(255);
/** An empty field is none. */
const orNone = <T extends z.ZodType>(schema: T) =>
  z.preprocess((value) => (value === "" || value === undefined ? null : value), schema.nullable());
const MOST_WORDS = 12;
/** Words with commas between, or already apart. */
const words = (what: string) =>
  z
    .union([
      z
        .string()
        .max(500)
        .transform((text) => text.split(",")),
      z.array(z.string()),
    ])
    .default([])
    .transform((all) => [...new Set(all.map((word) => word.trim()).filter((word) => word !== ""))])
    .refine(
      (all) => all.length <= MOST_WORDS && all.every((word) => word.length <= 40),
      `At most ${MOST_WORDS} ${what} of 40 characters.`,
    );
const PLAIN_HERE_ONLY =
  "Without encryption only on this machine: anybody on the way could read the password.";

export const mailboxForm = z
  .object({
    id: z.coerce.number().int().optional(),
    address: z.email("Type the mailbox's email address.").transform((address) => address.toLowerCase()),
    senderName: z.string().trim().min(1, "Type the name that prospects will see.").max(100),
    signature: z.string().max(2_000).default(""),
    smtpHost: host("Type the outgoing server's name."),
    smtpPort: port,
    smtpSecurity: security,
    imapHost: host("Type the incoming server's name."),
    imapPort: port,
    imapSecurity: security,
    username: z.string().trim().min(1, "Type the user name; often it is the address.").max(320),
    imapUsername: z.string().trim().max(320).default(""),
    certificate: z
      .string()
      .trim()
      .max(50_000)
      .default("")
      .refine(
        (pem) => pem === "" || isCertificate(pem),
        "Paste a certificate in PEM form, from BEGIN to END.",
      ),
    auth: z.enum(["password", "token"]).default("password"),
    tokenUrl: z.string().trim().max(500).default(""),
    clientId: z.string().trim().max(500).default(""),
    clientSecret: z.string().max(2_000).default(""),
    /** The password, or the refresh token. */
    password: z.string().max(5_000).default(""),
    /** Folder names, one in each line. */
    moreFolders: z.string().max(2_000).default(""),
    dailyLimit: z.coerce.number("Type a number.").int().min(1, "At least 1.").max(500, "At most 500 a day."),
    hourlyLimit: orNone(
      z.coerce.number("Type a number.").int().min(1, "At least 1.").max(500, "At most 500."),
    ),
    /** Where the daily limit begins to rise from, and by how much each day; none: it does not rise. */
    rampStart: orNone(z.coerce.number("Type a number.").int().min(1, "At least 1.").max(500, "At most 500.")),
    rampStep: z.coerce
      .number("Type a number.")
      .int()
      .min(1, "At least 1.")
      .max(100, "At most 100.")
      .default(2),
    /** Hours of its own, both or none. */
    opens: orNone(timeSchema),
    closes: orNone(timeSchema),
    replyTo: z.union([z.literal(""), z.email("Type an email address, or leave it empty.")]).default(""),
    copyTo: z.union([z.literal(""), z.email("Type an email address, or leave it empty.")]).default(""),
    /** Words with commas between. */
    tags: words("tags"),
    /** Names of pools with commas between. */
    pools: words("pools"),
    gapLeast: minutes,
    gapMost: minutes,
  })
  .refine(({ gapLeast, gapMost }) => gapMost >= gapLeast, {
    path: ["gapMost"],
    message: "The longest pause cannot be shorter than the shortest.",
  })
  .refine(({ opens, closes }) => (opens === null) === (closes === null) && (opens ?? "0") < (closes ?? "1"), {
    path: ["closes"],
    message: "Give both times, the later one second, or leave both empty.",
  })
  .refine(({ smtpSecurity, smtpHost }) => smtpSecurity !== "none" || isLoopback(smtpHost), {
    path: ["smtpSecurity"],
    message: PLAIN_HERE_ONLY,
  })
  .refine(({ imapSecurity, imapHost }) => imapSecurity !== "none" || isLoopback(imapHost), {
    path: ["imapSecurity"],
    message: PLAIN_HERE_ONLY,
  })
  .refine(({ auth, tokenUrl }) => auth === "password" || isTokenUrl(tokenUrl), {
    path: ["tokenUrl"],
    message: "Type the provider's token address, beginning with https://.",
  })
  .refine(({ auth, clientId }) => auth === "password" || clientId !== "", {
    path: ["clientId"],
    message: "Type the client id that the provider gave you.",
  });
export type MailboxForm = z.infer<typeof mailboxForm>;

function isCertificate(pem: string): boolean {
  try {
    return new X509Certificate(pem).subject !== undefined;
  } catch {
    return false;
  }
}

function isTokenUrl(text: string): boolean {
  if (!URL.canParse(text)) return false;
  const { protocol, hostname } = new URL(text);
  return protocol === "https:" || (protocol === "http:" && isLoopback(hostname));
}

/** Where the stored password would be shown: whoever changes one of these could have it sent to a server of their own. */
const WHERE_IT_GOES = [
  "smtpHost",
  "smtpPort",
  "smtpSecurity",
  "imapHost",
  "imapPort",
  "imapSecurity",
  "username",
  "imapUsername",
  "certificate",
  "auth",
  "tokenUrl",
  "clientId",
] as const satisfies readonly (keyof MailboxForm & keyof Mailbox)[];

/** What keeps the stored password from being used with these settings, or null. */
export function passwordProblem(form: MailboxForm, known: Mailbox | undefined): string | null {
  if (form.password !== "") return null;
  const what = form.auth === "token" ? "refresh token" : "password";
  if (!known) return `Type the mailbox's ${what}.`;
  return WHERE_IT_GOES.some((field) => form[field] !== known[field])
    ? `Type the ${what} again: the server or the sign-in is another one now.`
    : null;
}

const asked = (input: unknown): Record<string, unknown> => input as Record<string, unknown>;

/** Adds or changes a mailbox; an empty password keeps the one it has. Returns its id. */
export function saveMailbox(app: App, user: User, input: unknown): Outcome<number> {
  const read = mailboxForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, password, clientSecret, moreFolders, opens, closes, tags, pools, ...settings } = read.data;
  const known = id === undefined ? undefined : mailboxById(app.db, id);
  if (id !== undefined && !known) return refused({ form: "This mailbox no longer exists." });
  const no = known
    ? mayNot(app, user.id, "mailbox.change", known.id)
    : mayNot(app, user.id, "mailbox.create");
  if (no) return no;
  const problem = passwordProblem(read.data, known);
  if (problem) return refused({ password: problem });
  const taken = sql(
    app.db,
    "SELECT id, removed_at AS removedAt FROM mailboxes WHERE address = @address AND id IS NOT @id",
  ).get<{ id: number; removedAt: number | null }>({ address: settings.address, id: id ?? null });
  // One that was removed comes back with what it sent.
  if (taken && taken.removedAt !== null && id === undefined)
    return saveMailbox(app, user, { ...asked(input), id: taken.id });
  if (taken) return refused({ address: "This mailbox is here already." });

  const folders = moreFolders
    .split("\n")
    .map((path) => path.trim())
    .filter((path) => path !== "");
  const row = {
    ...settings,
    sealed:
      password === "" ? (known?.passwordSealed ?? null) : seal(newestToken(settings, password), app.key),
    secretSealed: clientSecret === "" ? (known?.clientSecretSealed ?? "") : seal(clientSecret, app.key),
    folders: JSON.stringify([...new Set(folders)]),
    hours:
      opens === null || closes === null
        ? null
        : JSON.stringify({ days: [1, 2, 3, 4, 5, 6, 7], opens, closes }),
    tags: JSON.stringify(tags),
    // A ramp that is set anew, or otherwise, begins today.
    rampSince:
      settings.rampStart === null
        ? null
        : known?.rampStart === settings.rampStart && known.rampStep === settings.rampStep
          ? known.rampSince
          : app.clock.now(),
  };
  if (known) {
    sql(
      app.db,
      `UPDATE mailboxes SET address = @address, sender_name = @senderName, signature = @signature,
         smtp_host = @smtpHost, smtp_port = @smtpPort, smtp_security = @smtpSecurity,
         imap_host = @imapHost, imap_port = @imapPort, imap_security = @imapSecurity,
         username = @username, imap_username = @imapUsername, certificate = @certificate, auth = @auth,
         token_url = @tokenUrl, client_id = @clientId, client_secret_sealed = @secretSealed,
         password_sealed = @sealed, more_folders = @folders, daily_limit = @dailyLimit,
         gap_least = @gapLeast, gap_most = @gapMost, hourly_limit = @hourlyLimit, ramp_start = @rampStart,
         ramp_step = @rampStep, ramp_since = @rampSince, hours = @hours, reply_to = @replyTo, copy_to = @copyTo, tags = @tags,
         removed_at = NULL, revision = revision + 1, trouble = NULL, smtp_trouble = NULL, smtp_retry_at = NULL, smtp_failures = 0, smtp_stopped = 0
       WHERE id = @id`,
    ).run({ ...row, id: known.id });
    setPools(app, known.id, pools);
    return done(known.id);
  }
  const result = sql(
    app.db,
    `INSERT INTO mailboxes (user_id, address, sender_name, signature, smtp_host, smtp_port, smtp_security,
       imap_host, imap_port, imap_security, username, imap_username, certificate, auth, token_url, client_id,
       client_secret_sealed, password_sealed, more_folders, daily_limit, gap_least, gap_most, hourly_limit, ramp_start,
       ramp_step, ramp_since, hours, reply_to, copy_to, tags, created_at)
     VALUES (@userId, @address, @senderName, @signature, @smtpHost, @smtpPort, @smtpSecurity,
       @imapHost, @imapPort, @imapSecurity, @username, @imapUsername, @certificate, @auth, @tokenUrl, @clientId,
       @secretSealed, @sealed, @folders, @dailyLimit, @gapLeast, @gapMost, @hourlyLimit, @rampStart,
       @rampStep, @rampSince, @hours, @replyTo, @copyTo, @tags, @now)`,
  ).run({ ...row, userId: user.id, now: app.clock.now() });
  const added = Number(result.lastInsertRowid);
  setPools(app, added, pools);
  return done(added);
}

/** Puts a mailbox into the pools of these names and out of others; new names make pools, empty unused ones go. */
function setPools({ db }: App, mailboxId: number, names: readonly string[]): void {
  db.transaction(() => {
    sql(db, "DELETE FROM pool_mailboxes WHERE mailbox_id = @mailboxId").run({
      mailboxId,
    });
    for (const name of names) {
      sql(db, "INSERT OR IGNORE INTO pools (name) VALUES (@name)").run({ name });
      sql(
        db,
        "INSERT INTO pool_mailboxes (pool_id, mailbox_id) SELECT id, @mailboxId FROM pools WHERE name = @name",
      ).run({ mailboxId, name });
    }
    sql(
      db,
      `DELETE FROM pools WHERE id NOT IN (SELECT pool_id FROM pool_mailboxes)
         AND id NOT IN (SELECT pool_id FROM sequences WHERE pool_id IS NOT NULL)`,
    ).run([]);
  })();
}

/** Takes a mailbox out: it sends and reads no more, its threads wait or go on as their sequences say; its history stays. */
export function removeMailbox(app: App, user: User, id: number): Outcome<null> {
  const { db, clock } = app;
  const known = mailboxById(db, id);
  if (!known || known.removedAt !== null) return refused({ form: "This mailbox no longer exists." });
  const no = mayNot(app, user.id, "mailbox.change", id);
  if (no) return no;
  db.transaction(() => {
    sql(db, "UPDATE mailboxes SET removed_at = @now, revision = revision + 1 WHERE id = @id").run({
      id,
      now: clock.now(),
    });
    sql(db, "DELETE FROM sequence_mailboxes WHERE mailbox_id = @id").run({ id });
    setPools({ db } as App, id, []);
  })();
  return done(null);
}

/** Pauses a mailbox, or lets a paused, resting or stopped one send again. Returns the id by which it is undone. */
export function setMailboxState(
  app: App,
  user: User,
  id: number,
  state: "active" | "paused",
): Outcome<number> {
  const { clock } = app;
  const known = mailboxById(app.db, id);
  if (!known) return refused({ form: "This mailbox no longer exists." });
  const no = mayNot(app, user.id, "mailbox.change", id);
  if (no) return no;
  const [isPaused, at] = [state === "paused", clock.now()];
  const what = { of: "mailbox", ids: [id], isPaused, name: known.address, userId: user.id, at } as const;
  return transact(app, ({ db: tx }) =>
    done(
      rememberPause(tx, what, () => {
        notePause(tx, "mailbox", id, isPaused, user.id, at);
        sql(
          tx,
          `UPDATE mailboxes SET state = @state, rest_reason = NULL, rest_until = NULL, revision = revision + 1,
             smtp_trouble = NULL, smtp_retry_at = NULL, smtp_failures = 0, smtp_stopped = 0
           WHERE id = @id`,
        ).run({ id, state });
      }),
    ),
  );
}
