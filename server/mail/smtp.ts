/** Speaks SMTP for one mailbox, over a small pool of connections. */
import nodemailer, { type SendMailOptions } from "nodemailer";
import type { Mailbox } from "../db/mailboxes.ts";
import { troubleWords } from "./trouble.ts";

/**
 * What became of an email. `unknown`: the connection broke when the server might have accepted it
 * already, so that only the Sent folder can tell.
 */
export type SendResult =
  | { result: "sent" }
  | { result: "refused"; words: string; recipient: boolean }
  | { result: "refused_for_now"; words: string }
  | { result: "unreachable"; words: string }
  | { result: "unknown"; words: string };

export interface Sender {
  send(email: SendMailOptions): Promise<SendResult>;
  close(): void;
}

const CONNECTIONS = 4;
const CONNECT_PATIENCE = 15_000;

export function smtpOptions(mailbox: Mailbox, password: string) {
  return {
    host: mailbox.smtpHost,
    port: mailbox.smtpPort,
    secure: mailbox.smtpSecurity === "tls",
    requireTLS: mailbox.smtpSecurity === "starttls",
    ignoreTLS: mailbox.smtpSecurity === "none",
    auth: { user: mailbox.username, pass: password },
    connectionTimeout: CONNECT_PATIENCE,
    greetingTimeout: CONNECT_PATIENCE,
    disableFileAccess: true,
    disableUrlAccess: true,
  };
}

export function openSender(mailbox: Mailbox, password: string): Sender {
  const transport = nodemailer.createTransport({
    ...smtpOptions(mailbox, password),
    pool: true,
    maxConnections: CONNECTIONS,
    maxMessages: Number.POSITIVE_INFINITY,
    // The pool would offer an email again after a broken connection, and so send it twice.
    maxRequeues: 0,
  });
  return {
    async send(email) {
      try {
        await transport.sendMail(email);
        return { result: "sent" };
      } catch (error) {
        return readFailure(error, mailbox);
      }
    },
    close: () => transport.close(),
  };
}

function readFailure(error: unknown, mailbox: Mailbox): SendResult {
  const { code, command, responseCode, response, syscall, message } = error as Error & {
    code?: string;
    command?: string;
    responseCode?: number;
    response?: string;
    syscall?: string;
  };
  const words = troubleWords(error, "outgoing", mailbox.smtpHost, mailbox.smtpPort);
  // A connection that closed may have closed at any moment (the library calls them all CONN), so
  // only failures that can come from nowhere but the beginning prove that nothing was offered.
  const neverOffered =
    code === "EAUTH" ||
    code === "EDNS" ||
    syscall === "connect" ||
    /^(Connection timeout|Greeting never received)/.test(message) ||
    /^(EHLO|HELO|AUTH|MAIL)/.test(command ?? "");
  if (neverOffered) return { result: "unreachable", words };
  // 421 means that the server closes the connection; at DATA that says nothing about the email.
  if (responseCode && responseCode >= 400 && responseCode !== 421) {
    const said = response ?? words;
    return responseCode >= 500
      ? { result: "refused", words: said, recipient: /^RCPT/.test(command ?? "") }
      : { result: "refused_for_now", words: said };
  }
  return { result: "unknown", words };
}
