/**
 * Asks a domain's mail server whether it would take mail for an address, and hangs up before any is
 * sent (RFC 5321 4.1.1.3). Servers may count such questions against who asks, so this is off unless
 * somebody turned it on, one connection a domain, and slow.
 */
import { randomBytes } from "node:crypto";
import { connect, type Socket } from "node:net";
import { domainToASCII } from "node:url";
import { isAscii } from "../../../core/fold.ts";
import type { ProbeEvidence } from "../../../core/prospects/judge-address.ts";

const PATIENCE = 8_000;

interface Answer {
  code: number;
  /** Its last line. */
  words: string;
  /** All of its lines. */
  text: string;
}

/** One conversation with one server. */
class Dialogue {
  private text = "";
  private readonly waiting: { resolve: (answer: Answer) => void; reject: (error: Error) => void }[] = [];
  private broken: Error | null = null;

  constructor(private readonly socket: Socket) {
    socket.setTimeout(PATIENCE, () => socket.destroy(new Error("no answer in time")));
    socket.on("data", (chunk) => this.read(String(chunk)));
    socket.on("error", (error) => this.fail(error));
    socket.on("close", () => this.fail(new Error("the connection was closed")));
  }

  private read(chunk: string): void {
    this.text += chunk;
    // Of an answer of several lines the last has a space after its code (RFC 5321 4.2.1).
    for (let match = this.text.match(/^(?:\d{3}-[^\n]*\n)*(\d{3})(?: ([^\n]*))?\n/); match; ) {
      this.text = this.text.slice(match[0].length);
      this.waiting.shift()?.resolve({
        code: Number(match[1]),
        words: `${match[1]} ${(match[2] ?? "").trim()}`.trim(),
        text: match[0],
      });
      match = this.text.match(/^(?:\d{3}-[^\n]*\n)*(\d{3})(?: ([^\n]*))?\n/);
    }
  }

  private fail(error: Error): void {
    this.broken ??= error;
    for (const { reject } of this.waiting.splice(0)) reject(error);
  }

  say(line: string | null): Promise<Answer> {
    return new Promise((resolve, reject) => {
      if (this.broken) return reject(this.broken);
      this.waiting.push({ resolve, reject });
      if (line !== null) this.socket.write(`${line}\r\n`);
    });
  }

  close(): void {
    this.socket.end("QUIT\r\n");
    this.socket.unref();
  }
}

/** Whether an address can only be said where SMTPUTF8 is understood (RFC 6531): a domain has an ASCII form, a name has none. */
const needsUtf8 = (address: string) => !isAscii(address.slice(0, address.lastIndexOf("@")));

/** The address as it is said to a server (RFC 5890 for its domain). */
function spoken(address: string): string {
  if (needsUtf8(address)) return address;
  const at = address.lastIndexOf("@");
  return `${address.slice(0, at)}@${domainToASCII(address.slice(at + 1))}`;
}

export interface Server {
  address: string;
  port: number;
  /** Our own name, for EHLO. */
  name: string;
}

/**
 * What the server says of each address. `until` stops at the first that is taken, for trying
 * candidates one by one. Never throws: a server that cannot be asked is `silent`.
 */
export async function probeAddresses(
  { address, port, name }: Server,
  addresses: readonly string[],
  options: { pauseMs: number; untilAccepted?: boolean },
): Promise<Map<string, ProbeEvidence>> {
  const results = new Map<string, ProbeEvidence>();
  const rest = (evidence: ProbeEvidence) => {
    for (const each of addresses) if (!results.has(each)) results.set(each, evidence);
    return results;
  };
  const dialogue = new Dialogue(connect({ host: address, port }));
  try {
    const greeting = await dialogue.say(null);
    if (greeting.code !== 220) return rest({ kind: "later", words: greeting.words });
    const hello = await dialogue.say(`EHLO ${name}`);
    if (hello.code !== 250) return rest({ kind: "later", words: hello.words });
    const knowsUtf8 = /^250[ -]SMTPUTF8\s*$/im.test(hello.text);
    const sender = await dialogue.say(
      knowsUtf8 && addresses.some(needsUtf8) ? "MAIL FROM:<> SMTPUTF8" : "MAIL FROM:<>",
    );
    if (sender.code !== 250) return rest({ kind: "later", words: sender.words });
    // A server that takes somebody who cannot exist takes everybody.
    const domain = addresses[0]?.split("@").at(-1);
    const nobody = await dialogue.say(
      `RCPT TO:<${spoken(`nobody-${randomBytes(6).toString("hex")}@${domain}`)}>`,
    );
    const acceptsAll = nobody.code >= 200 && nobody.code < 300;
    if (acceptsAll) return rest({ kind: "accepted", acceptsAll });
    for (const each of addresses) {
      if (needsUtf8(each) && !knowsUtf8) {
        results.set(each, { kind: "refused", words: "its server takes no letters beyond ASCII in a name" });
        continue;
      }
      if (options.pauseMs > 0) await new Promise((resolve) => setTimeout(resolve, options.pauseMs));
      const answer = await dialogue.say(`RCPT TO:<${spoken(each)}>`);
      const evidence: ProbeEvidence =
        answer.code < 300
          ? { kind: "accepted", acceptsAll }
          : answer.code < 500
            ? { kind: "later", words: answer.words }
            : { kind: "refused", words: answer.words };
      results.set(each, evidence);
      if (options.untilAccepted && evidence.kind === "accepted") break;
    }
    return results;
  } catch (error) {
    return rest({ kind: "silent", words: error instanceof Error ? error.message : String(error) });
  } finally {
    dialogue.close();
  }
}
