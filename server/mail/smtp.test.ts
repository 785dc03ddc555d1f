/** What a failure proves: the server breaks off at each moment of the conversation, and we say what we know. */
import { createServer, type Server, type Socket } from "node:net";
import { afterEach, describe, expect, it } from "vitest";
import type { Mailbox } from "../db/mailboxes.ts";
import { freePort } from "../tests/free-port.ts";
import { openSender, type SendResult } from "./smtp.ts";
import { troubleWords } from "./trouble.ts";

type Moment = "greeting" | "EHLO" | "AUTH" | "MAIL" | "RCPT" | "DATA" | "text";
/** What the server does at a moment: an answer, or the end of the connection. */
type Script = Partial<Record<Moment, string | "break">>;

const USUAL: Record<Moment, string> = {
  greeting: "220 mx.example ready",
  EHLO: "250-mx.example\r\n250 AUTH PLAIN LOGIN",
  AUTH: "235 2.7.0 welcome",
  MAIL: "250 2.1.0 fine",
  RCPT: "250 2.1.5 fine",
  DATA: "354 go ahead",
  text: "250 2.0.0 accepted",
};

let server: Server | null = null;
afterEach(async () => {
  await new Promise<void>((closed) => (server ? server.close(() => closed()) : closed()));
  server = null;
});

/** A server that follows the script; answers what it was offered in full. */
async function serve(script: Script): Promise<{ port: number; accepted: string[] }> {
  const accepted: string[] = [];
  const port = await freePort();
  server = createServer((socket: Socket) => {
    let text: string | null = null;
    const at = (moment: Moment) => {
      const answer = script[moment] ?? USUAL[moment];
      if (answer === "break") socket.destroy();
      else socket.write(`${answer}\r\n`);
    };
    socket.on("error", () => {});
    socket.on("data", (chunk) => {
      if (text !== null) {
        text += chunk.toString();
        if (!text.includes("\r\n.\r\n")) return;
        accepted.push(text);
        text = null;
        return at("text");
      }
      const verb = chunk.toString().slice(0, 4).toUpperCase();
      if (verb === "DATA") {
        at("DATA");
        if (!script.DATA) text = "";
      } else if (verb === "QUIT") socket.end("221 bye\r\n");
      else
        at(
          (verb === "EHLO" || verb === "AUTH" || verb === "MAIL" || verb === "RCPT"
            ? verb
            : "EHLO") as Moment,
        );
    });
    at("greeting");
  });
  await new Promise<void>((ready) => server?.listen(port, "127.0.0.1", ready));
  return { port, accepted };
}

async function send(port: number): Promise<SendResult> {
  const mailbox = {
    smtpHost: "127.0.0.1",
    smtpPort: port,
    smtpSecurity: "none",
    username: "marta",
    certificate: "",
  } as Mailbox;
  const sender = openSender(mailbox, () => Promise.resolve({ user: "marta", pass: "secret" }));
  try {
    const ready = await sender.open();
    if ("result" in ready) return ready;
    return await sender.send(
      {
        touchId: 7,
        envelope: { from: "marta@q.example", to: ["ilse@kai.example"] },
        raw: Buffer.from("Subject: Loans\r\n\r\nHello\r\n"),
      },
      ready,
    );
  } finally {
    sender.close();
  }
}

describe("an email that was not simply accepted", () => {
  it("is sent when the server says so", async () => {
    const { port, accepted } = await serve({});
    expect(await send(port)).toEqual({ result: "sent", answer: "250 2.0.0 accepted" });
    expect(accepted).toHaveLength(1);
  });

  it("was certainly never offered when nobody listens, the password is wrong or the server breaks off before the text", async () => {
    expect(await send(await freePort())).toMatchObject({
      result: "unreachable",
      words: expect.stringContaining("nothing listens"),
    });
    const wrong = await serve({ AUTH: "535 5.7.8 no" });
    expect(await send(wrong.port)).toMatchObject({
      result: "unreachable",
      words: expect.stringContaining("password"),
    });
    for (const moment of ["greeting", "EHLO", "AUTH", "MAIL", "RCPT", "DATA"] as const) {
      server?.close();
      expect([moment, (await send((await serve({ [moment]: "break" })).port)).result]).toEqual([
        moment,
        "unreachable",
      ]);
    }
  });

  it("is only put off by 421, at whatever moment: the server closes, and has taken nothing (RFC 5321 3.8)", async () => {
    for (const moment of ["greeting", "MAIL", "RCPT", "text"] as const) {
      server?.close();
      const { port } = await serve({ [moment]: "421 4.3.2 too many connections" });
      expect([moment, (await send(port)).result]).toEqual([moment, "unreachable"]);
    }
  });

  it("may have been accepted when the connection ends once the text was offered", async () => {
    const { port } = await serve({ text: "break" });
    expect((await send(port)).result).toBe("unknown");
  });

  it("is offered once, whatever the connection does: nothing here tries again by itself", async () => {
    const { port, accepted } = await serve({ text: "break" });
    await send(port);
    await new Promise((resolve) => setTimeout(resolve, 400)); // longer than a retry of the library would take
    expect(accepted).toHaveLength(1);
  });

  it("waits for a later try at 4xx, and is refused at 5xx, at the command that says whom it is about", async () => {
    expect(await send((await serve({ RCPT: "451 4.7.1 greylisted" })).port)).toMatchObject({
      result: "later",
    });
    server?.close();
    expect(await send((await serve({ RCPT: "550 5.1.1 no such user" })).port)).toMatchObject({
      result: "refused",
      code: 550,
      command: "RCPT",
      words: expect.stringContaining("no such user"),
    });
    server?.close();
    expect(await send((await serve({ text: "554 5.7.1 looks like junk" })).port)).toMatchObject({
      result: "refused",
      command: "DATA",
    });
    server?.close();
    expect((await send((await serve({ text: "452 4.2.2 full" })).port)).result).toBe("later");
  });
});

describe("a server's trouble", () => {
  it.each([
    [{ code: "EAUTH" }, "refuses the user name or password"],
    [{ authenticationFailed: true }, "refuses the user name or password"],
    [{ code: "ECONNREFUSED" }, "nothing listens on this port"],
    [{ code: "ENOTFOUND" }, "There is no server named mail.example"],
    [{ code: "ETIMEDOUT" }, "did not answer in time"],
    [{ message: "SSL routines: wrong version number" }, "does not speak TLS from the start"],
    [
      { code: "DEPTH_ZERO_SELF_SIGNED_CERT", message: "self-signed certificate" },
      "no known authority signed",
    ],
    [{ code: "ENOAUTH" }, "offers no sign-in on this port"],
    [
      { code: "EAUTH", response: "534 5.7.9 Application-specific password required" },
      "wants an app password",
    ],
    [{ response: "530 5.7.0 Must issue a STARTTLS command first" }, "Choose STARTTLS"],
    [{ response: "554 5.7.1 go away" }, "554 5.7.1 go away"],
    [null, "no reason given"],
  ])("%o is told in words that say what to check", (error, words) => {
    expect(troubleWords(error, "outgoing", "mail.example", 465)).toContain(words);
  });
});
