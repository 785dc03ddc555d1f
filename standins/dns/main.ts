/** The DNS stand-in's process: real DNS over UDP for the simulated world's domains (RFC 1035, RFC 7505). */
import dns2 from "dns2";
import { z } from "zod";
import { kindOf } from "../domains.ts";

const { DNS_PORT } = z.object({ DNS_PORT: z.coerce.number().int() }).parse(process.env);
const { Packet } = dns2;
const NXDOMAIN = 3;
const HOUR = 3600;

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
for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => process.exit(0));
process.on("disconnect", () => process.exit(0));
await server.listen({ udp: { port: DNS_PORT, address: "127.0.0.1" } });
process.send?.("ready");
