import { ImapFlow } from "imapflow";
import nodemailer from "nodemailer";
import type { App } from "../app.ts";
import { type Mailbox, mailboxById } from "../db/mailboxes.ts";
import { imapOptions } from "../mail/imap.ts";
import { smtpOptions } from "../mail/smtp.ts";
import { troubleWords } from "../mail/trouble.ts";
import { unseal } from "../secrets.ts";
import { mailboxForm } from "./save-mailbox.ts";

export interface ConnectionCheck {
  /** What is wrong with sending, or null. */
  smtp: string | null;
  /** What is wrong with reading, or null. */
  imap: string | null;
}

/** Connects and signs in to both servers with the form's settings; nothing is sent, read or saved. Null if the form is incomplete. */
export async function checkConnection(app: App, input: unknown): Promise<ConnectionCheck | null> {
  const read = mailboxForm.safeParse(input);
  if (!read.success) return null;
  const { id, password, ...settings } = read.data;
  const known = id === undefined ? undefined : mailboxById(app.db, id);
  const secret = password !== "" ? password : known ? unseal(known.passwordSealed, app.key) : "";
  const mailbox = settings as unknown as Mailbox;
  const [smtp, imap] = await Promise.all([checkSmtp(mailbox, secret), checkImap(mailbox, secret)]);
  return { smtp, imap };
}

async function checkSmtp(mailbox: Mailbox, password: string): Promise<string | null> {
  const transport = nodemailer.createTransport(smtpOptions(mailbox, password));
  try {
    await transport.verify();
    return null;
  } catch (error) {
    return troubleWords(error, "outgoing", mailbox.smtpHost, mailbox.smtpPort);
  } finally {
    transport.close();
  }
}

async function checkImap(mailbox: Mailbox, password: string): Promise<string | null> {
  const client = new ImapFlow(imapOptions(mailbox, password));
  client.on("error", () => {});
  try {
    await client.connect();
    await client.status("INBOX", { uidNext: true });
    await client.logout();
    return null;
  } catch (error) {
    client.close();
    return troubleWords(error, "incoming", mailbox.imapHost, mailbox.imapPort);
  }
}
