/** Adds mailboxes in one go: their servers are found from the address, asked whether they work, and kept if they do. */
import Papa from "papaparse";
import type { User } from "../../accounts/session.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { done, type Outcome, refused } from "../../errors.ts";
import { type ConnectionCheck, checkConnection } from "./check-connection.ts";
import { findServers } from "./find-servers.ts";
import { saveMailbox } from "./save-mailbox.ts";

export interface Added {
  /** Null: it was not added. */
  id: number | null;
  check: ConnectionCheck | null;
  /** The form with the servers that were found. */
  form: Record<string, unknown>;
}

const isBlank = (value: unknown) => value === undefined || value === null || String(value).trim() === "";

/** Finds what the form leaves empty, checks, and adds the mailbox only if sending and reading work. */
export async function checkAndAdd(
  app: App,
  user: User,
  input: Record<string, unknown>,
): Promise<Outcome<Added>> {
  const { form, isSilent, late } = await withServers(app, input);
  const why = (which: string) =>
    isSilent
      ? `DNS gave no answer about this domain. Press again in a moment, or type the ${which} server's name.`
      : late !== null
        ? `${late} is there, but gave no answer in time. Press again in a moment, or type the ${which} server's name.`
        : `No ${which} server was found for this domain; type its name.`;
  const missing = {
    ...(isBlank(form.smtpHost) ? { smtpHost: why("outgoing") } : {}),
    ...(isBlank(form.imapHost) ? { imapHost: why("incoming") } : {}),
  };
  if (Object.keys(missing).length > 0 && !isBlank(form.address) && !isBlank(form.password))
    return refused(missing);
  const checked = await checkConnection(app, user, form);
  if (!checked.ok) return checked;
  if (checked.value.smtp !== null || checked.value.imap !== null)
    return done({ id: null, check: checked.value, form });
  const saved = saveMailbox(app, user, form);
  if (!saved.ok) return saved;
  // The check was its first connection.
  sql(app.db, "UPDATE mailboxes SET connected_wall = coalesce(connected_wall, @wall) WHERE id = @id").run({
    id: saved.value,
    wall: Date.now(),
  });
  return done({ id: saved.value, check: checked.value, form });
}

async function withServers(
  app: App,
  input: Record<string, unknown>,
): Promise<{ form: Record<string, unknown>; isSilent: boolean; late: string | null }> {
  const form = { ...input, ...(isBlank(input.username) ? { username: input.address } : {}) };
  if (!isBlank(input.smtpHost) && !isBlank(input.imapHost)) return { form, isSilent: false, late: null };
  const { smtp, imap, isSilent, late } = await findServers(app, String(input.address ?? "").trim());
  return {
    form: {
      ...form,
      ...(isBlank(input.smtpHost) && smtp
        ? { smtpHost: smtp.host, smtpPort: smtp.port, smtpSecurity: smtp.security }
        : {}),
      ...(isBlank(input.imapHost) && imap
        ? { imapHost: imap.host, imapPort: imap.port, imapSecurity: imap.security }
        : {}),
    },
    isSilent,
    late,
  };
}

export interface AddedLine {
  line: number;
  address: string;
  /** Null: it was added. */
  problem: string | null;
}

const MOST_LINES = 200;
const AT_ONCE = 6;

/** Columns as they are called in the file, and the fields that they fill; spaces, dashes and case do not matter. */
const COLUMNS: Record<string, string> = {
  address: "address",
  email: "address",
  emailaddress: "address",
  password: "password",
  sendername: "senderName",
  name: "senderName",
  signature: "signature",
  username: "username",
  user: "username",
  smtpserver: "smtpHost",
  smtphost: "smtpHost",
  smtpport: "smtpPort",
  imapserver: "imapHost",
  imaphost: "imapHost",
  imapport: "imapPort",
  dailylimit: "dailyLimit",
  limit: "dailyLimit",
  hourlylimit: "hourlyLimit",
  replyto: "replyTo",
  copyto: "copyTo",
  tags: "tags",
  pools: "pools",
  rampstart: "rampStart",
  rampstep: "rampStep",
};

/** What encryption a port usually has (RFC 8314 7.3, RFC 3501 2.1). */
const SECURITY_OF_PORT: Record<string, string> = {
  "465": "tls",
  "993": "tls",
  "587": "starttls",
  "143": "starttls",
  "25": "starttls",
};

/** Adds every mailbox of a CSV file whose servers let it in; says of each other line why not. Nothing is half added. */
export async function addFromCsv(app: App, user: User, text: string): Promise<Outcome<AddedLine[]>> {
  const read = Papa.parse<Record<string, string>>(text.trim(), {
    header: true,
    skipEmptyLines: "greedy",
    transformHeader: (header) => COLUMNS[header.toLowerCase().replace(/[^a-z]/g, "")] ?? `? ${header}`,
  });
  const fields = read.meta.fields ?? [];
  if (!fields.includes("address") || !fields.includes("password"))
    return refused({ csv: "The first line must name the columns; “address” and “password” are needed." });
  if (read.data.length > MOST_LINES) return refused({ csv: `At most ${MOST_LINES} mailboxes at once.` });
  if (read.data.length === 0) return refused({ csv: "There is no line below the names of the columns." });
  const lines: AddedLine[] = [];
  let next = 0;
  const work = async () => {
    while (next < read.data.length) {
      const nth = next++;
      const row = read.data[nth] as Record<string, string>;
      lines.push({
        line: nth + 2,
        address: (row.address ?? "").trim(),
        problem: await addLine(app, user, row),
      });
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, work));
  return done(lines.sort((a, b) => a.line - b.line));
}

async function addLine(app: App, user: User, row: Record<string, string>): Promise<string | null> {
  const given = Object.fromEntries(
    Object.entries(row).filter(([name, value]) => !name.startsWith("?") && value?.trim()),
  );
  const form = {
    senderName: user.name,
    dailyLimit: 30,
    gapLeast: 9,
    gapMost: 14,
    smtpPort: 465,
    imapPort: 993,
    smtpSecurity: SECURITY_OF_PORT[given.smtpPort ?? "465"] ?? "tls",
    imapSecurity: SECURITY_OF_PORT[given.imapPort ?? "993"] ?? "tls",
    ...given,
  };
  const added = await checkAndAdd(app, user, form);
  if (!added.ok) return Object.values(added.errors)[0] ?? "It could not be added.";
  return added.value.id === null ? (added.value.check?.smtp ?? added.value.check?.imap ?? null) : null;
}
