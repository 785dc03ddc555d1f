/** The probe against servers of every temper: correct ones, and ones that are written line by line. */
import { type AddressInfo, createServer, type Server, type Socket } from "node:net";
import { SMTPServer } from "smtp-server";
import { afterEach, describe, expect, it } from "vitest";
import { probeAddresses } from "./probe.ts";

const open: { close(done: () => void): void }[] = [];
afterEach(async () => {
  for (const server of open.splice(0)) await new Promise<void>((closed) => server.close(closed));
});

const where = (server: Server) => ({
  address: "127.0.0.1",
  port: (server.address() as AddressInfo).port,
  name: "desk.example",
});

interface Asked {
  recipients: string[];
  senders: string[];
  messages: number;
}

/** A real mail server where only `people` are; tells what it was asked. */
async function mailServer(people: string[], options: Record<string, unknown> = {}) {
  const asked: Asked = { recipients: [], senders: [], messages: 0 };
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["AUTH", "STARTTLS"],
    disableReverseLookup: true,
    onMailFrom({ args }, _session, done) {
      asked.senders.push(Object.keys(args || {}).join(" "));
      done();
    },
    onRcptTo({ address }, _session, done) {
      asked.recipients.push(address);
      if (people.includes(address)) done();
      else done(Object.assign(new Error("5.1.1 nobody of this name"), { responseCode: 550 }));
    },
    onData(_stream, _session, done) {
      asked.messages++;
      done();
    },
    ...options,
  });
  open.push(server);
  await new Promise<void>((listening) => server.listen(0, "127.0.0.1", listening));
  return { asked, server: where(server.server as Server) };
}

/** A server that says these lines, one for each line it hears; the first on connection. Null: it hangs up. */
async function scripted(lines: (string | null)[]) {
  const heard: string[] = [];
  const server = createServer((socket: Socket) => {
    socket.on("error", () => {});
    const left = [...lines];
    const say = () => {
      const line = left.shift();
      if (line === null) socket.destroy();
      else if (line !== undefined) socket.write(line);
    };
    say();
    socket.on("data", (chunk) => {
      for (const line of String(chunk).split("\r\n").filter(Boolean)) {
        heard.push(line);
        say();
      }
    });
  });
  open.push({ close: (done) => server.close(() => done()) });
  await new Promise<void>((listening) => server.listen(0, "127.0.0.1", listening));
  return { heard, server: where(server) };
}

const ANA = "ana@kai.example";
const BIA = "bia@kai.example";
const quick = { pauseMs: 0 };

describe("a server that knows its people", () => {
  it("is asked about somebody invented first, then about each, and is sent nothing", async () => {
    const { server, asked } = await mailServer([ANA]);
    const answers = await probeAddresses(server, [ANA, BIA], quick);
    expect(answers.get(ANA)).toEqual({ kind: "accepted", acceptsAll: false });
    expect(answers.get(BIA)).toEqual({ kind: "refused", words: expect.stringContaining("550") });
    expect(asked.recipients).toEqual([expect.stringMatching(/^nobody-[0-9a-f]{12}@kai\.example$/), ANA, BIA]);
    expect(asked.messages).toBe(0);
  });

  it("is asked no further once a candidate is taken", async () => {
    const { server, asked } = await mailServer([ANA, BIA]);
    const answers = await probeAddresses(server, [ANA, BIA], { ...quick, untilAccepted: true });
    expect([...answers.keys()]).toEqual([ANA]);
    expect(asked.recipients).not.toContain(BIA);
  });

  it("is given time between two questions", async () => {
    const { server } = await mailServer([ANA, BIA]);
    const began = performance.now();
    await probeAddresses(server, [ANA, BIA], { pauseMs: 60 });
    expect(performance.now() - began).toBeGreaterThanOrEqual(118);
  });
});

describe("an internationalised address", () => {
  const ZOE = "zoë@évora.example";
  const ANA_THERE = "ana@évora.example";

  it("is said as it is where SMTPUTF8 is understood", async () => {
    const { server, asked } = await mailServer([ZOE, ANA_THERE]);
    const answers = await probeAddresses(server, [ANA_THERE, ZOE], quick);
    expect([...answers.values()]).toEqual(Array(2).fill({ kind: "accepted", acceptsAll: false }));
    expect(asked.senders).toEqual(["SMTPUTF8"]);
  });

  it("is refused by a server that takes ASCII only, which is not even asked; a domain alone has an ASCII form", async () => {
    const { server, heard } = await scripted([
      "220 kai\r\n",
      "250 kai\r\n",
      "250 ok\r\n",
      "550 no\r\n",
      "250 ok\r\n",
    ]);
    const answers = await probeAddresses(server, [ZOE, ANA_THERE], quick);
    expect(answers.get(ZOE)).toMatchObject({ kind: "refused", words: expect.stringContaining("ASCII") });
    expect(answers.get(ANA_THERE)).toEqual({ kind: "accepted", acceptsAll: false });
    expect(heard.slice(1, 4)).toEqual([
      "MAIL FROM:<>",
      expect.stringMatching(/^RCPT TO:<nobody-[0-9a-f]+@xn--vora-9oa\.example>$/),
      "RCPT TO:<ana@xn--vora-9oa.example>",
    ]);
  });
});

describe("what proves nothing about the address", () => {
  it("a server that takes everybody", async () => {
    const { server } = await scripted([
      "220 kai ESMTP\r\n",
      "250-kai\r\n250-PIPELINING\r\n250 8BITMIME\r\n",
      "250 go on\r\n",
      "250 anybody\r\n",
    ]);
    const answers = await probeAddresses(server, [ANA, BIA], quick);
    expect([...answers.values()]).toEqual([
      { kind: "accepted", acceptsAll: true },
      { kind: "accepted", acceptsAll: true },
    ]);
  });

  it("one that says later: at the door, to the sender, or for one person", async () => {
    const door = await scripted(["421 too busy\r\n"]);
    expect((await probeAddresses(door.server, [ANA], quick)).get(ANA)).toEqual({
      kind: "later",
      words: "421 too busy",
    });
    const sender = await scripted(["220 kai\r\n", "250 kai\r\n", "451 not from there\r\n"]);
    expect((await probeAddresses(sender.server, [ANA], quick)).get(ANA)).toMatchObject({ kind: "later" });
    const person = await scripted([
      "220 kai\r\n",
      "250 kai\r\n",
      "250 ok\r\n",
      "550 no\r\n",
      "450 4.2.0 greylisted\r\n",
    ]);
    expect((await probeAddresses(person.server, [ANA], quick)).get(ANA)).toEqual({
      kind: "later",
      words: "450 4.2.0 greylisted",
    });
  });

  it("one that hangs up in the middle: what it said before counts, the rest is silence", async () => {
    const { server } = await scripted([
      "220 kai\r\n",
      "250 kai\r\n",
      "250 ok\r\n",
      "550 no\r\n",
      "250 ok\r\n",
      null,
    ]);
    const answers = await probeAddresses(server, [ANA, BIA], quick);
    expect(answers.get(ANA)).toEqual({ kind: "accepted", acceptsAll: false });
    expect(answers.get(BIA)).toMatchObject({ kind: "silent" });
  });

  it("one where nobody listens", async () => {
    const { server } = await scripted([]);
    for (const each of open.splice(0)) await new Promise<void>((closed) => each.close(closed));
    expect((await probeAddresses(server, [ANA], quick)).get(ANA)).toMatchObject({ kind: "silent" });
  });

  it("one whose answers come in pieces is understood all the same", async () => {
    const server = createServer((socket) => {
      socket.on("error", () => {});
      const pieces = (text: string) => {
        for (const [nth, letter] of [...text].entries()) setTimeout(() => socket.write(letter), nth);
      };
      const answers = ["250-kai\r\n250 x\r\n", "250 ok\r\n", "550 no\r\n", "250 she is here\r\n"];
      pieces("220-kai\r\n220 welcome\r\n");
      socket.on("data", () => pieces(answers.shift() ?? "221 bye\r\n"));
    });
    open.push({ close: (done) => server.close(() => done()) });
    await new Promise<void>((listening) => server.listen(0, "127.0.0.1", listening));
    expect((await probeAddresses(where(server), [ANA], quick)).get(ANA)).toEqual({
      kind: "accepted",
      acceptsAll: false,
    });
  });
});
