import dns2 from "dns2";
import { afterAll, beforeAll, expect, it } from "vitest";
import { freePort } from "../tests/free-port.ts";
import { askDomain, type Dns, hostAddress, resolverOf } from "./dns.ts";

const { Packet } = dns2;
/** How long a name server that is far away may take, in milliseconds. */
const SLOW = 1_200;

const server = dns2.createServer({
  udp: true,
  handle(request, send) {
    const response = Packet.createResponseFromRequest(request);
    const [question] = request.questions;
    if (!question) return send(response);
    const { name } = question;
    if (question.type === Packet.TYPE.A)
      response.answers.push({
        name,
        type: question.type,
        class: Packet.CLASS.IN,
        ttl: 60,
        address: "127.0.0.9",
      });
    setTimeout(() => send(response), name.startsWith("slow") ? SLOW : 0);
  },
});
let dns: Dns;
beforeAll(async () => {
  const port = await freePort();
  await server.listen({ udp: { port, address: "127.0.0.1" } });
  dns = resolverOf({ dns: `127.0.0.1:${port}` });
});
afterAll(() => server.close());

it("a domain that answers late is not silent, however quick the others were", async () => {
  for (let nth = 0; nth < 8; nth++) expect(await hostAddress(dns, `quick${nth}.example`)).toBe("127.0.0.9");
  expect(await hostAddress(dns, "slow.example")).toBe("127.0.0.9");
  expect(await askDomain(dns, "slow-too.example")).toEqual({
    kind: "mail",
    hosts: ["slow-too.example"],
    implicit: true,
  });
});
