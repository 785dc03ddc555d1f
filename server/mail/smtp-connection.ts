/** One signed-in SMTP connection: what the library offers by callbacks, as promises, and the little that it keeps to itself. */
import { Readable } from "node:stream";
import SMTPConnection from "nodemailer/lib/smtp-connection";
import type { Mailbox } from "../db/mailboxes.ts";
import type { Credentials } from "./credentials.ts";
import { tlsOptions } from "./trouble.ts";

const CONNECT_PATIENCE = 15_000;
/** No byte for so long: nobody is there any more. After the final dot a server may think ten minutes (RFC 5321 4.5.3.2.6). */
const SILENCE = 10 * 60_000;

/** Members that the library's own classes use, and its types leave out; its version is pinned. */
interface OpenConnection extends SMTPConnection {
  _sendCommand(line: string): void;
  _responseActions: ((answer: string) => void)[];
  _supportedExtensions: string[];
  allowsAuth: boolean;
  lastServerResponse: string | false;
}

export interface Envelope {
  from: string;
  to: string[];
  /** Comes back in reports as Original-Envelope-Id (RFC 3461 4.4). */
  id: string;
}

/** What stands between an email and the server. */
export interface Gate {
  /** Asked before the first byte and again before the final dot: false ends the connection, and nothing was accepted. */
  mayGo(): boolean;
  /** Called when the final dot may leave: from here on the server may have taken it. */
  onDot(): void;
}

/** The email was no longer this process's to send (`Gate.mayGo`). */
export class NotOurs extends Error {}

type Done = (error?: unknown, value?: unknown) => void;

export class SmtpConnection {
  private readonly connection: OpenConnection;
  private broken: unknown = null;
  private readonly breaks: Promise<never>;
  private end: (error: unknown) => void = () => {};

  private constructor(mailbox: Mailbox) {
    this.connection = new SMTPConnection({
      host: mailbox.smtpHost,
      port: mailbox.smtpPort,
      secure: mailbox.smtpSecurity === "tls",
      requireTLS: mailbox.smtpSecurity === "starttls",
      ignoreTLS: mailbox.smtpSecurity === "none",
      connectionTimeout: CONNECT_PATIENCE,
      greetingTimeout: CONNECT_PATIENCE,
      socketTimeout: SILENCE,
      tls: tlsOptions(mailbox.certificate),
      customAuth: { OAUTHBEARER: bearer(mailbox) },
    }) as OpenConnection;
    this.breaks = new Promise<never>((_, reject) => {
      this.end = (error) => {
        this.broken ??= error ?? new Error("Connection closed");
        reject(this.broken);
      };
      this.connection.on("error", (error) => this.end(error));
      this.connection.once("end", () => this.end(null));
    });
    this.breaks.catch(() => {});
  }

  /** Connects, as far as the sign-in. Throws the library's error. */
  static async connect(mailbox: Mailbox): Promise<SmtpConnection> {
    const open = new SmtpConnection(mailbox);
    try {
      await open.step((done) => open.connection.connect(done));
      return open;
    } catch (error) {
      open.close();
      throw error;
    }
  }

  private step<T = unknown>(work: (done: Done) => void): Promise<T> {
    return Promise.race([
      this.breaks,
      new Promise<T>((resolve, reject) =>
        work((error, value) => (error ? reject(error) : resolve(value as T))),
      ),
    ]);
  }

  get isUsable(): boolean {
    return this.broken === null;
  }

  get offersSignIn(): boolean {
    return this.connection.allowsAuth;
  }

  /** Whether the server's EHLO names an extension. */
  offers(extension: string): boolean {
    return (
      this.connection._supportedExtensions.includes(extension) ||
      new RegExp(`^250[ -]${extension}\\b`, "im").test(String(this.connection.lastServerResponse))
    );
  }

  signIn(credentials: Credentials): Promise<unknown> {
    const { user } = credentials;
    if ("pass" in credentials)
      return this.step((done) =>
        this.connection.login({ user, credentials: { user, pass: credentials.pass } }, done),
      );
    const { accessToken } = credentials;
    const offered = String(this.connection.lastServerResponse);
    const auth = /AUTH[ =][^\r\n]*XOAUTH2/i.test(offered)
      ? {
          user,
          oauth2: {
            getToken: (_renew: boolean, done: (error: null, token: string) => void) =>
              done(null, accessToken),
            buildXOAuth2Token: (token: string) =>
              Buffer.from(`user=${user}\u0001auth=Bearer ${token}\u0001\u0001`).toString("base64"),
          },
        }
      : { user, method: "OAUTHBEARER", options: { accessToken } };
    return this.step((done) => this.connection.login(auth as Parameters<SMTPConnection["login"]>[0], done));
  }

  /** Sends one command; its answer, or an error with the server's `response`. */
  ask(command: string): Promise<string> {
    return this.step((done) => {
      this.connection._responseActions.push((answer) =>
        answer.startsWith("2")
          ? done(null, answer)
          : done(
              Object.assign(new Error(answer), {
                response: answer,
                responseCode: Number(answer.slice(0, 3)),
              }),
            ),
      );
      this.connection._sendCommand(command);
    });
  }

  /** Sends an email; the server's answer. Throws `NotOurs` where the gate closed. */
  async send({ from, to, id }: Envelope, raw: Buffer, gate: Gate): Promise<string> {
    let begun = false;
    let fenced: NotOurs | null = null;
    const shut = () => {
      fenced = new NotOurs("Another engine has decided about it meanwhile.");
      // Cut before the final dot: the server keeps nothing of it (RFC 5321 4.1.1.4).
      this.close();
    };
    // The library asks for the content once the server has said yes to the envelope and to DATA, and for more once it
    // has passed on what came before: the dot follows when the text is on its way.
    const content = new Readable({
      highWaterMark: 1,
      read() {
        if (!gate.mayGo()) {
          shut();
          this.destroy();
        } else if (!begun) {
          begun = true;
          this.push(raw);
        } else {
          gate.onDot();
          this.push(null);
        }
      },
    });
    const envelope = {
      from,
      to,
      size: raw.length,
      // RFC 3461: reports come with our number, and none for success.
      dsn: { envid: id, ret: "HDRS", notify: "FAILURE,DELAY", orcpt: `rfc822;${to}` },
    };
    try {
      const info = await this.step<{ response: string }>((done) =>
        this.connection.send(envelope as never, content, done as never),
      );
      return info.response;
    } catch (error) {
      throw fenced ?? error;
    }
  }

  /** Makes a connection whose last email was refused fit for the next. */
  reset(): Promise<unknown> {
    return this.step((done) => this.connection.reset(done as never));
  }

  quit(): void {
    if (this.isUsable) this.connection.quit();
    this.close();
  }

  close(): void {
    this.end(new Error("Connection closed"));
    this.connection.close();
  }
}

/** RFC 7628 3.1; the library knows only its forerunner. */
function bearer({ smtpHost, smtpPort }: Mailbox) {
  return async (context: {
    auth: { user?: string; credentials: { user?: string; options?: unknown } };
    sendCommand(command: string): Promise<{ status: number; response: string }>;
  }) => {
    const { user = "", options } = context.auth.credentials;
    const { accessToken } = options as { accessToken: string };
    const name = user.replaceAll("=", "=3D").replaceAll(",", "=2C");
    const words = `n,a=${name},\u0001host=${smtpHost}\u0001port=${smtpPort}\u0001auth=Bearer ${accessToken}\u0001\u0001`;
    let answer = await context.sendCommand(`AUTH OAUTHBEARER ${Buffer.from(words).toString("base64")}`);
    // The server tells what is wrong in a challenge, which is answered with nothing (3.2.3).
    if (answer.status === 334) answer = await context.sendCommand("AQ==");
    if (answer.status !== 235) throw new Error(answer.response);
  };
}
