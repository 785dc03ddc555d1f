/** DNS asked for real: the domain check, servers found from an address, and what happens when DNS is down. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { startProcess } from "../../processes.ts";
import { freePort } from "../../tests/free-port.ts";
import { createWorld, rows, type World } from "../../tests/world.ts";
import { checkAndAdd } from "../mailboxes/add-mailbox.ts";
import { findServers } from "../mailboxes/find-servers.ts";
import { saveMailbox } from "../mailboxes/save-mailbox.ts";
import { saveSendingSettings } from "../rules.ts";
import { checkDomain, knownDomainChecks, uncheckedDomains } from "./check-domains.ts";
import { learnMailHosts } from "./mail-hosts.ts";

/** The zone that the DNS stand-in keeps. */
const BLOCK_ZONE = "unwelcome.lists.example";
let world: World;
let dns: Awaited<ReturnType<typeof startProcess>>;
let listening: { close(): void; port: number };

beforeAll(async () => {
  const { createServer } = await import("node:net");
  const server = createServer((socket) => socket.end()).listen(0, "127.0.0.1");
  await new Promise((resolve) => server.once("listening", resolve));
  listening = { close: () => server.close(), port: (server.address() as { port: number }).port };
  const port = await freePort();
  dns = await startProcess("DNS stand-in", "standins/dns/main.ts", {
    DNS_PORT: String(port),
    DNS_SENDERS: JSON.stringify(
      Object.fromEntries(
        ["good.example", "hello-house.example", "the-note.example"].map((domain) => [
          domain,
          { smtp: listening.port, imap: listening.port },
        ]),
      ),
    ),
    DNS_LISTED: "the-note.example",
  });
  world = await createWorld({ standin: false, env: { SAUDADE_DNS: `127.0.0.1:${port}` } });
  saveSendingSettings(world.app, null, { blockZones: [BLOCK_ZONE] });
  for (const domain of ["good.example", "hello-house.example", "the-note.example"])
    expect(
      saveMailbox(world.app, world.user, {
        address: `marta@${domain}`,
        senderName: "Marta",
        smtpHost: "127.0.0.1",
        smtpPort: 1,
        smtpSecurity: "none",
        imapHost: "127.0.0.1",
        imapPort: 1,
        imapSecurity: "none",
        username: "m",
        password: "p",
        dailyLimit: 30,
        gapLeast: 9,
        gapMost: 14,
      }).ok,
    ).toBe(true);
});
afterAll(async () => {
  await world.close();
  await dns.stop();
  listening.close();
});

const wrongOf = async (domain: string) =>
  (await checkDomain(world.app, domain)).filter(({ state }) => state === "wrong").map(({ kind }) => kind);

describe("the domain check", () => {
  it("finds nothing wrong where all is there, and keeps what it found", async () => {
    expect(uncheckedDomains(world.app)).toHaveLength(3);
    expect(await wrongOf("good.example")).toEqual([]);
    expect(knownDomainChecks(world.app)).toMatchObject([
      { domain: "good.example", mailboxes: 1, problems: 0 },
    ]);
  });

  it("names what is missing with the record to add, and who lists it", async () => {
    expect(await wrongOf("hello-house.example")).toEqual(["dkim"]);
    expect(await wrongOf("the-note.example")).toEqual(["dmarc", "lists"]);
    const dmarc = (await checkDomain(world.app, "the-note.example")).find(({ kind }) => kind === "dmarc");
    expect(dmarc?.record).toMatchObject({ name: "_dmarc.the-note.example", type: "TXT" });
  });

  it("learns who runs whose mail, once", async () => {
    await learnMailHosts(world.app);
    expect(rows(world, "SELECT DISTINCT provider FROM mailboxes ORDER BY 1")).toEqual([
      { provider: "good.example" },
      { provider: "hello-house.example" },
      { provider: "the-note.example" },
    ]);
  });
});

describe("a mailbox's servers", () => {
  it("are found by what its domain announces", async () => {
    expect(await findServers(world.app, "marta@good.example")).toMatchObject({
      smtp: { host: "127.0.0.1", port: listening.port, by: "srv" },
      imap: { host: "127.0.0.1", port: listening.port, by: "srv" },
    });
  });

  it("are none where there is no such domain, or no address", async () => {
    const nothing = { smtp: null, imap: null, isSilent: false, late: null };
    expect(await findServers(world.app, "marta@no-domain-house.example")).toEqual(nothing);
    expect(await findServers(world.app, "no address")).toEqual(nothing);
    expect(await findServers(world.app, "a@b..$(x).example")).toEqual(nothing);
  });
});

it("with DNS down nobody is told that a domain has no servers", async () => {
  const { config } = world.app;
  const before = config.dns;
  config.dns = "127.0.0.1:1";
  const form = { address: "marta@good.example", password: "salt" };
  const added = await checkAndAdd(world.app, world.user, form);
  config.dns = before;
  expect(added).toMatchObject({
    errors: {
      smtpHost: expect.stringContaining("Press again"),
      imapHost: expect.stringContaining("DNS gave no answer"),
    },
  });
});

it("with DNS down the check says so, and blames nobody", async () => {
  const { config } = world.app;
  const before = config.dns;
  config.dns = "127.0.0.1:1";
  const findings = await checkDomain(world.app, "good.example");
  config.dns = before;
  expect(findings.filter(({ state }) => state === "wrong")).toEqual([]);
  expect(findings.filter(({ state }) => state === "open").length).toBeGreaterThanOrEqual(4);
});
