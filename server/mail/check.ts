/** Whether sending and reading would work: asked of the servers themselves, up to the point where an email would go. */
import { connect } from "node:net";
import { connect as connectTls } from "node:tls";
import type { Mailbox } from "../db/mailboxes.ts";
import type { Credentials } from "./credentials.ts";
import { withDeadline } from "./deadline.ts";
import { MailFolders } from "./imap.ts";
import { SmtpConnection } from "./smtp-connection.ts";
import { troubleWords } from "./trouble.ts";

const GREETS_WITHIN = 4_000;
const LASTS = 25_000;

/**
 * Servers of mail speak first (RFC 5321 3.1, RFC 9051 3). One that waits may be waiting for TLS: then this says so at
 * once instead of after a long silence. Null if it greets, or cannot be reached at all.
 */
async function waitsForTls(host: string, port: number): Promise<boolean> {
  const greets = await new Promise<boolean>((resolve) => {
    const socket = connect({ host, port, timeout: GREETS_WITHIN });
    const tell = (answer: boolean) => {
      socket.destroy();
      resolve(answer);
    };
    socket.once("data", () => tell(true));
    socket.once("error", () => tell(true)); // the real try will say what is wrong
    socket.once("close", () => resolve(true));
    socket.once("timeout", () => tell(false));
  });
  if (greets) return false;
  return new Promise((resolve) => {
    const socket = connectTls({ host, port, timeout: GREETS_WITHIN, rejectUnauthorized: false });
    const tell = (answer: boolean) => {
      socket.destroy();
      resolve(answer);
    };
    socket.once("secureConnect", () => tell(true));
    socket.once("error", () => tell(false));
    socket.once("timeout", () => tell(false));
  });
}

const tlsFirst = (kind: "outgoing" | "incoming", host: string, port: number) =>
  `The ${kind} server ${host}:${port} speaks TLS from the start on this port. Choose “TLS from the start”.`;

/** Signs in and asks whether this sender may write, to itself; no email is sent. Null if all is well, else what to check. */
export async function checkSmtp(mailbox: Mailbox, credentials: Credentials): Promise<string | null> {
  const { smtpHost: host, smtpPort: port, smtpSecurity } = mailbox;
  if (smtpSecurity !== "tls" && (await waitsForTls(host, port))) return tlsFirst("outgoing", host, port);
  let connection: SmtpConnection | null = null;
  try {
    connection = await SmtpConnection.connect(mailbox);
    const open = connection;
    return await withDeadline(LASTS, askToSend(open, mailbox, credentials), () => open.close());
  } catch (error) {
    return troubleWords(error, "outgoing", host, port);
  } finally {
    connection?.quit();
  }
}

async function askToSend(
  connection: SmtpConnection,
  { smtpHost: host, smtpPort: port, address }: Mailbox,
  credentials: Credentials,
): Promise<string | null> {
  if (!connection.offersSignIn)
    return connection.offers("STARTTLS")
      ? `The outgoing server ${host}:${port} wants encryption before the sign-in. Choose STARTTLS.`
      : troubleWords({ code: "ENOAUTH" }, "outgoing", host, port);
  await connection.signIn(credentials);
  const isWide = /[^\p{ASCII}]/u.test(address);
  if (isWide && !connection.offers("SMTPUTF8"))
    return `The outgoing server ${host}:${port} cannot send from ${address}: it knows only plain letters (it lacks SMTPUTF8).`;
  try {
    await connection.ask(`MAIL FROM:<${address}>${isWide ? " SMTPUTF8" : ""}`);
    await connection.ask(`RCPT TO:<${address}>`);
    await connection.ask("RSET");
    return null;
  } catch (error) {
    const said = (error as { response?: string }).response;
    if (!said) throw error;
    return `The sign-in works, but the outgoing server does not let ${address} send: it says “${said.trim().slice(0, 250)}”. Check that the user name may use this address.`;
  }
}

export interface FoundFolders {
  junk: string | null;
  sent: string | null;
}

/** Signs in and opens the inbox. The folders it found, or what to check. */
export async function checkImap(
  mailbox: Mailbox,
  credentials: Credentials,
): Promise<{ trouble: string } | { trouble: null; found: FoundFolders }> {
  const { imapHost: host, imapPort: port, imapSecurity } = mailbox;
  if (imapSecurity !== "tls" && (await waitsForTls(host, port)))
    return { trouble: tlsFirst("incoming", host, port) };
  const folders = new MailFolders(mailbox, () => Promise.resolve(credentials));
  try {
    const found = await withDeadline(
      LASTS,
      folders.folders().then(async (all) => {
        await folders.since("INBOX", null, Date.now());
        return all;
      }),
      () => folders.kill(),
    );
    return { trouble: null, found: { junk: found.junk, sent: found.sent } };
  } catch (error) {
    return { trouble: troubleWords(error, "incoming", host, port) };
  } finally {
    await folders.close();
  }
}
