import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { askOutside, type NoAnswer } from "./ask.ts";
import { leadsInside } from "./inside.ts";

describe("an address leads inside", () => {
  it.each([
    ...[
      "127.0.0.1",
      "127.8.8.8",
      "10.1.2.3",
      "172.20.0.1",
      "192.168.0.1",
      "169.254.169.254",
      "100.64.0.1",
      "0.0.0.0",
      "255.255.255.255",
    ],
    ...[
      "::",
      "::1",
      "0:0:0:0:0:0:0:1",
      "fd00::1",
      "fe80::1",
      "fe80::1%eth0",
      "fec0::1",
      "feff::1",
      "ff02::1",
    ],
    // IPv4 in IPv6's clothes: mapped, compatible, translated, by NAT64, 6to4, Teredo.
    ...[
      "::ffff:127.0.0.1",
      "::ffff:7f00:1",
      "::FFFF:0a01:0203",
      "0:0:0:0:0:ffff:c0a8:1",
      "::127.0.0.1",
      "::7f00:1",
    ],
    ...["::ffff:0:127.0.0.1", "::ffff:0:7f00:1", "64:ff9b::7f00:1", "64:ff9b::10.0.0.1", "64:ff9b:1::7f00:1"],
    ...["2002:7f00:1::", "2002:c0a8:1::1", "2001:0:4136:e378:8000:63bf:80ff:fffe", "2001::1"],
    ...["", "nonsense", "127.1", "0x7f.0.0.1"],
  ])("%s", (address) => expect(leadsInside(address)).toBe(true));

  it.each([
    "93.184.216.34",
    "8.8.8.8",
    "2606:2800:220:1::1",
    "2a00:1450:4003:80a::200e",
    "::ffff:93.184.216.34",
    "::ffff:5db8:d822",
  ])("but not %s", (address) => expect(leadsInside(address)).toBe(false));
});

describe("whoever is asked", () => {
  const shut = { demo: false, inside: [] as string[] };
  const open = { demo: false, inside: ["127.0.0.1"] };
  let answer: (path: string) => { status: number; body?: string; location?: string; trickles?: true };
  let asked = 0;
  const server = createServer((request, response) => {
    asked++;
    const { status, body = "", location, trickles } = answer(request.url ?? "");
    response.writeHead(status, location === undefined ? {} : { location });
    if (!trickles) return void response.end(body);
    const drip = setInterval(() => response.write("x"), 20);
    response.on("close", () => clearInterval(drip));
  });
  let url: string;
  beforeAll(async () => {
    await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
    url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => {
    server.closeAllConnections();
    server.close();
  });
  const why = (address: string, config = open, more: object = {}) =>
    askOutside(config, address, { patience: 2_000, follows: true, ...more }).then(
      () => "answered",
      (error: NoAnswer) => error.reason,
    );

  it("is nobody inside, by whatever notation or redirect, and nothing is connected to", async () => {
    answer = () => ({ status: 200 });
    const { port } = new URL(url);
    asked = 0;
    for (const host of [
      "127.0.0.1",
      "2130706433",
      "0x7f000001",
      "0177.0.0.1",
      "127.1",
      "[::ffff:7f00:1]",
      "[::1]",
      "localhost",
    ])
      expect(await why(`http://${host}:${port}/`, shut), host).toBe("inside");
    expect(asked).toBe(0);
    // Allowed is one host, and not what it leads on to.
    answer = () => ({ status: 302, location: `http://localhost:${port}/` });
    expect(await why(url)).toBe("inside");
    expect(asked).toBe(1);
  });

  it("is given up after its time, its size and its turns; nonsense is an answer, not a throw", async () => {
    answer = () => ({ status: 200, trickles: true });
    expect(await why(url, open, { patience: 150 })).toBe("late");
    answer = () => ({ status: 200, body: "x".repeat(2_000) });
    expect(await why(url, open, { mostBytes: 1_000 })).toBe("too_long");
    answer = () => ({ status: 302, location: url });
    expect(await why(url)).toBe("astray");
    for (const location of ["http://[nonsense", "http://", "file:///etc/passwd", "gopher://x"]) {
      answer = () => ({ status: 302, location });
      expect(["astray", "address"], location).toContain(await why(url));
    }
    const stop = new AbortController();
    stop.abort();
    expect(await why(url, open, { signal: stop.signal })).toBe("ended");
  });

  it("is not followed elsewhere where a secret goes along", async () => {
    answer = () => ({ status: 302, location: "http://else.example/" });
    const { status } = await askOutside(open, url, {
      patience: 2_000,
      headers: { authorization: "Bearer x" },
    });
    expect(status).toBe(302);
  });
});
