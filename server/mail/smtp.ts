/** Sends emails for one mailbox, over a few connections that are kept for a while. */
import type { Mailbox } from "../db/mailboxes.ts";
import type { ComposedEmail } from "./compose.ts";
import type { Credentials } from "./credentials.ts";
import { withDeadline, withDeadlines } from "./deadline.ts";
import { NotOurs, SmtpConnection } from "./smtp-connection.ts";
import { troubleWords } from "./trouble.ts";

/**
 * What became of an email. `refused` (5xx) and `later` (4xx) are the server's answers to it; `unreachable`: it was not
 * offered at all; `unknown`: the connection broke when the server might have accepted it already.
 */
export type SendResult =
  | { result: "sent"; answer: string }
  | { result: "refused"; code: number; words: string; command: "MAIL" | "RCPT" | "DATA" }
  | { result: "later"; words: string }
  | { result: "unreachable"; words: string }
  /** Another engine has decided about it while this one stood still: nothing was accepted, and it is not ours to settle. */
  | { result: "fenced" }
  | { result: "unknown"; words: string };

/** Whether an email is still its sender's to send, asked at the last moments at which nothing is accepted yet. */
export type IsOurs = () => boolean;

/** A connection that the server has let in; what is claimed after that has little to be interrupted by. */
export interface ReadyConnection {
  connection: SmtpConnection;
  /** It was used before, and may have ended since. */
  isKept: boolean;
}

export interface Sender {
  /** Ask for no more at a time than CONNECTIONS. `unreachable` with its words if the server lets nobody in. */
  open(): Promise<ReadyConnection | Extract<SendResult, { result: "unreachable" }>>;
  /** One that is open already, or null. */
  openKept(): ReadyConnection | null;
  send(email: ComposedEmail, ready: ReadyConnection, isOurs?: IsOurs): Promise<SendResult>;
  /** Gives back a connection that was not needed. */
  release(ready: ReadyConnection): void;
  close(): void;
}

/** Connections to one server for one mailbox. */
export const CONNECTIONS = 4;
/** A server that sends a byte now and then is never silent; getting in takes no longer than this. */
const OPENS_WITHIN = 120_000;
/** From MAIL to the last byte of the text: five minutes (RFC 5321 4.5.3.2.2, 4.5.3.2.3). */
const TAKES_WITHIN = 5 * 60_000;
/** From the final dot to the answer: ten (4.5.3.2.6), and a little for the way. Given up before, it would be sent twice. */
const ANSWERS_WITHIN = 10 * 60_000 + 15_000;
/** Servers end quiet connections after some minutes; we end them before. */
const KEPT_FOR = 60_000;

export function openSender(mailbox: Mailbox, signIn: () => Promise<Credentials>): Sender {
  let quiet: { connection: SmtpConnection; timer: NodeJS.Timeout }[] = [];
  const all = new Set<SmtpConnection>();

  const connect = async (): Promise<SmtpConnection> => {
    const credentials = await signIn();
    const connection = await SmtpConnection.connect(mailbox);
    all.add(connection);
    try {
      await connection.signIn(credentials);
      return connection;
    } catch (error) {
      drop(connection);
      throw error;
    }
  };
  const drop = (connection: SmtpConnection) => {
    all.delete(connection);
    connection.close();
  };
  const takeQuiet = (): SmtpConnection | null => {
    for (let kept = quiet.pop(); kept; kept = quiet.pop()) {
      clearTimeout(kept.timer);
      if (kept.connection.isUsable) return kept.connection;
      drop(kept.connection);
    }
    return null;
  };
  const keep = (connection: SmtpConnection) => {
    const timer = setTimeout(() => {
      quiet = quiet.filter((each) => each.connection !== connection);
      all.delete(connection);
      connection.quit();
    }, KEPT_FOR);
    timer.unref();
    quiet.push({ connection, timer });
  };

  const offer = async (
    { envelope, raw, touchId }: ComposedEmail,
    connection: SmtpConnection,
    isOurs: IsOurs,
  ): Promise<SendResult> => {
    let offered = false;
    try {
      const answer = await withDeadlines(
        TAKES_WITHIN,
        (allow) =>
          connection.send({ ...envelope, id: `t${touchId}` }, raw, {
            mayGo: isOurs,
            onDot() {
              offered = true;
              allow(ANSWERS_WITHIN);
            },
          }),
        () => connection.close(),
      );
      keep(connection);
      return { result: "sent", answer: answer.slice(0, 300) };
    } catch (error) {
      if (error instanceof NotOurs) {
        drop(connection);
        return { result: "fenced" };
      }
      const result = readFailure(error, mailbox, offered);
      // Whoever answered goes on with the next one.
      if (result.result === "refused" || result.result === "later")
        await connection.reset().then(
          () => keep(connection),
          () => drop(connection),
        );
      else drop(connection);
      return result;
    }
  };

  return {
    openKept() {
      const connection = takeQuiet();
      return connection && { connection, isKept: true };
    },
    async open() {
      const kept = this.openKept();
      if (kept) return kept;
      try {
        return { connection: await withDeadline(OPENS_WITHIN, connect(), () => {}), isKept: false };
      } catch (error) {
        return { result: "unreachable", words: wordsOf(error, mailbox) };
      }
    },
    async send(email, { connection, isKept }, isOurs = () => true) {
      const result = await offer(email, connection, isOurs);
      if (result.result !== "unreachable" || !isKept) return result;
      // It may have ended just now; nothing of the email had left.
      try {
        return await offer(email, await withDeadline(OPENS_WITHIN, connect(), () => {}), isOurs);
      } catch (error) {
        return { result: "unreachable", words: wordsOf(error, mailbox) };
      }
    },
    release({ connection }) {
      if (connection.isUsable) keep(connection);
      else drop(connection);
    },
    close() {
      for (const { timer } of quiet) clearTimeout(timer);
      quiet = [];
      for (const connection of all) connection.close();
      all.clear();
    },
  };
}

function wordsOf(error: unknown, mailbox: Mailbox): string {
  const response = (error as { responseCode?: number; response?: string }).response;
  return (error as { responseCode?: number }).responseCode === 421 && response
    ? `The outgoing server says “${response.slice(0, 300)}”.`
    : troubleWords(error, "outgoing", mailbox.smtpHost, mailbox.smtpPort);
}

function readFailure(error: unknown, mailbox: Mailbox, offered: boolean): SendResult {
  const { code, command, responseCode, response } = error as Error & {
    code?: string;
    command?: string;
    responseCode?: number;
    response?: string;
  };
  const words = wordsOf(error, mailbox);
  const at = /^(MAIL|RCPT|DATA)/.exec(command ?? "")?.[1] as "MAIL" | "RCPT" | "DATA" | undefined;
  if (code === "EAUTH") return { result: "unreachable", words };
  if (responseCode && responseCode >= 400) {
    const said = (response ?? words).slice(0, 500);
    // 421: the server closes the connection (RFC 5321 3.8). It has taken nothing.
    if (responseCode === 421) return { result: "unreachable", words };
    if (at === undefined && !offered) return { result: "unreachable", words };
    return responseCode >= 500
      ? { result: "refused", code: responseCode, words: said, command: at ?? "DATA" }
      : { result: "later", words: said };
  }
  return { result: offered ? "unknown" : "unreachable", words };
}
