/** The DNS stand-in's process: real DNS over UDP for the simulated world's domains (RFC 1035, RFC 7505). */
import dns2 from "dns2";
import { z } from "zod";
import { kindOf } from "../domains.ts";
import { serve } from "../process.ts";

const { DNS_PORT, DNS_SENDERS, DNS_LISTED } = z
  .object({
    DNS_PORT: z.coerce.number().int(),
    /** Domains that send mail, with the ports of their servers, as JSON: {"a.example": {"smtp": 25, "imap": 143}}. */
    DNS_SENDERS: z
      .string()
      .default("{}")
      .transform((text) =>
        z.record(z.string(), z.object({ smtp: z.number(), imap: z.number() })).parse(JSON.parse(text)),
      ),
    /** Domains that the block-list zone names, with commas between. */
    DNS_LISTED: z.string().default(""),
  })
  .parse(process.env);
/** A zone of bad senders (RFC 5782). */
const BLOCK_ZONE = "unwelcome.lists.example";
const listed = new Set(DNS_LISTED.split(",").filter((domain) => domain !== ""));
const { Packet } = dns2;
const NXDOMAIN = 3;
const HOUR = 3600;

type Records = {
  data?: string;
  target?: string;
  port?: number;
  priority?: number;
  weight?: number;
  address?: string;
}[];

/** What a domain that sends mail publishes: a good setup, but for one domain each without DKIM and without DMARC. */
function ofSenders(name: string, type: number): Records | "nothing" | null {
  const domain = Object.keys(DNS_SENDERS).find((each) => name === each || name.endsWith(`.${each}`));
  if (!domain) return null;
  const ports = DNS_SENDERS[domain] as { smtp: number; imap: number };
  const prefix = name.slice(0, -domain.length - 1);
  if (type === Packet.TYPE.SRV) {
    const port = { "_submission._tcp": ports.smtp, "_imap._tcp": ports.imap }[prefix];
    return port === undefined ? "nothing" : [{ target: `mail.${domain}`, port, priority: 0, weight: 1 }];
  }
  if (type !== Packet.TYPE.TXT) return null;
  if (prefix === "") return [{ data: `v=spf1 mx include:_spf.mail-house.example ~all` }];
  if (prefix === "mail._domainkey" && !domain.startsWith("hello-"))
    return [{ data: "v=DKIM1; k=rsa; p=MIIBIjANBgkqhkiG9w0BAQEFAAOCAQ8AMIIBCgKCAQEA" }];
  if (prefix === "_dmarc" && !domain.includes("-note"))
    return [{ data: `v=DMARC1; p=none; rua=mailto:dmarc@${domain}` }];
  return "nothing";
}

function ofBlockZone(name: string, type: number): Records | "nothing" | null {
  if (name === "_spf.mail-house.example" && type === Packet.TYPE.TXT)
    return [{ data: "v=spf1 ip4:127.0.0.1 -all" }];
  if (!name.endsWith(`.${BLOCK_ZONE}`)) return null;
  if (!listed.has(name.slice(0, -BLOCK_ZONE.length - 1))) return "nothing";
  if (type === Packet.TYPE.TXT) return [{ data: "too much of its mail came back" }];
  return type === Packet.TYPE.A ? [{ address: "127.0.0.2" }] : [];
}

const server = dns2.createServer({
  udp: true,
  handle(request, send) {
    const response = Packet.createResponseFromRequest(request);
    const [question] = request.questions;
    if (!question) return send(response);
    const name = question.name.toLowerCase();
    const record = { name: question.name, type: question.type, class: Packet.CLASS.IN, ttl: HOUR };
    const isHost = name.startsWith("mx1.");
    const kind = kindOf(isHost ? name.slice("mx1.".length) : name);
    const answered = ofSenders(name, question.type) ?? ofBlockZone(name, question.type);
    if (answered) {
      if (answered === "nothing") response.header.rcode = NXDOMAIN;
      else response.answers.push(...answered.map((each) => ({ ...record, ...each })));
      return send(response);
    }
    if (kind === "silent") return;
    if (!name.endsWith(".example") || kind === "no-domain") response.header.rcode = NXDOMAIN;
    else if (question.type === Packet.TYPE.MX && !isHost) {
      if (kind === "null-mx") response.answers.push({ ...record, priority: 0, exchange: "." });
      else if (kind !== "implicit")
        response.answers.push({ ...record, priority: 10, exchange: `mx1.${name}` });
    } else if (question.type === Packet.TYPE.A) response.answers.push({ ...record, address: "127.0.0.1" });
    send(response);
  },
});
await serve(() => server.listen({ udp: { port: DNS_PORT, address: "127.0.0.1" } }));
