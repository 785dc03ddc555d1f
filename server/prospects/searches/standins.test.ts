/** The stand-ins speak the real protocols: DNS over UDP, SMTP, HTTP. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { DOMAIN_KINDS, type DomainKind } from "../../../standins/domains.ts";
import { askDomain, type Dns, hostAddress, resolverOf } from "../../mail/dns.ts";
import { type Started, startProcess } from "../../processes.ts";
import { freePort } from "../../tests/free-port.ts";
import { probeAddresses } from "../addresses/probe.ts";

const running: Started[] = [];
let ports: { dns: number; exchanger: number; directory: number; assistant: number };
/** Waits as long as a busy machine takes; the other is for a server that never answers. */
let patient: Dns;
let brief: Dns;

beforeAll(async () => {
  const [dns, exchanger, directory, assistant, http, smtp] = (await Promise.all(
    Array.from({ length: 6 }, () => freePort()),
  )) as [number, number, number, number, number, number];
  ports = { dns, exchanger, directory, assistant };
  const start = async (file: string, env: Record<string, string>) => {
    running.push(await startProcess(file, file, env));
  };
  await Promise.all([
    start("standins/dns/main.ts", { DNS_PORT: String(dns) }),
    start("standins/directory/main.ts", { DIRECTORY_PORT: String(directory), DIRECTORY_SLOW: "1" }),
    start("standins/assistant/main.ts", { ASSISTANT_PORT: String(assistant) }),
    start("standins/mail/main.ts", {
      STANDIN_STATE: ":memory:",
      STANDIN_HTTP_PORT: String(http),
      STANDIN_SMTP_PORT: String(smtp),
      STANDIN_EXCHANGER_PORT: String(exchanger),
    }),
  ]);
  const there = { dns: `127.0.0.1:${dns}` };
  patient = resolverOf(there, { timeout: 10_000, tries: 3 });
  brief = resolverOf(there, { timeout: 500, tries: 1 });
});
afterAll(() => Promise.all(running.map((each) => each.stop())));

describe("DNS", () => {
  const expected: Record<DomainKind, unknown> = {
    mail: { kind: "mail", hosts: ["mx1.mail-house.example"], implicit: false },
    "accepts-all": { kind: "mail", hosts: ["mx1.accepts-all-house.example"], implicit: false },
    later: { kind: "mail", hosts: ["mx1.later-house.example"], implicit: false },
    implicit: { kind: "mail", hosts: ["implicit-house.example"], implicit: true },
    "no-domain": { kind: "no_domain" },
    "null-mx": { kind: "null_mx" },
    silent: { kind: "silent", why: "ETIMEOUT" },
  };
  it.each(DOMAIN_KINDS)("answers for a domain of the kind %s as a real server would", async (kind) => {
    const resolver = kind === "silent" ? brief : patient;
    expect(await askDomain(resolver, `${kind}-house.example`)).toEqual(expected[kind]);
  });

  it("leads a mail host to this machine, and knows nothing outside the simulated world", async () => {
    expect(await hostAddress(patient, "mx1.mail-house.example")).toBe("127.0.0.1");
    expect(await askDomain(patient, "house.invalid")).toEqual({ kind: "no_domain" });
    expect(await askDomain(patient, "évora.example")).toMatchObject({ kind: "mail" });
  });
});

describe("the recipients' servers", () => {
  const ask = async (...addresses: string[]) => {
    const server = { address: "127.0.0.1", port: ports.exchanger, name: "desk.example" };
    const answers = await probeAddresses(server, addresses, { pauseMs: 0 });
    return addresses.map((address) => answers.get(address)?.kind);
  };
  it("tell who is there, take everybody or ask to come again, by the domain's kind", async () => {
    expect(await ask("ana@house.example", "ana2@house.example")).toEqual(["accepted", "refused"]);
    expect(await ask("zoë@house.example")).toEqual(["accepted"]);
    expect(await ask("anybody7@accepts-all-house.example")).toEqual(["accepted"]);
    expect(await ask("ana@later-house.example")).toEqual(["later"]);
  });
});

describe("the directory", () => {
  const get = async (query: string) =>
    (await fetch(`http://127.0.0.1:${ports.directory}/people?${query}`)).json() as Promise<{
      total: number;
      pages: number;
      people: {
        id: string;
        title: string;
        company: { industry: string; country: string; employees: number };
      }[];
    }>;

  it("filters, gives a hundred at a time, each person once, and says nothing of whom it is not asked", async () => {
    const query = "industry=Museums&country=Norway&country=Sweden&from=50&to=200";
    const first = await get(query);
    expect(first.people).toHaveLength(100);
    expect(first.pages).toBe(Math.ceil(first.total / 100));
    const all = [...first.people];
    for (let page = 2; page <= first.pages; page++) all.push(...(await get(`${query}&page=${page}`)).people);
    expect(all).toHaveLength(first.total);
    expect(new Set(all.map(({ id }) => id)).size).toBe(first.total);
    for (const { company } of all) {
      expect(["Norway", "Sweden"]).toContain(company.country);
      expect(company).toMatchObject({ industry: "Museums" });
      expect(company.employees).toBeGreaterThanOrEqual(50);
      expect(company.employees).toBeLessThanOrEqual(200);
      expect(Object.keys(company)).not.toContain("pattern");
    }
    expect((await get(`${query}&page=999`)).people).toEqual([]);
    expect((await get("page=nonsense&from=x")).people).toHaveLength(100);
  });

  it("brings some who only nearly match", async () => {
    const { people } = await get("q=collections%20manager");
    const near = people.filter(({ title }) => !/collections manager/i.test(title));
    expect(near.length).toBeGreaterThan(0);
    expect(near.length).toBeLessThan(people.length);
  });
});

describe("the writing assistant", () => {
  const post = (path: string, body: string) =>
    fetch(`http://127.0.0.1:${ports.assistant}${path}`, { method: "POST", body });

  it("reads whom a paragraph looks for, and not what it sells", async () => {
    const text =
      "We sell archives software to libraries. We are looking for conservators at large museums in Portugal, 300 to 900 employees, no assistants or volunteers.";
    expect(await (await post("/profile", JSON.stringify({ text }))).json()).toMatchObject({
      industries: ["Museums"],
      countries: ["PT"],
      titles: ["conservator"],
      titlesWithout: ["assistant", "volunteer"],
      employeesFrom: 300,
      employeesTo: 900,
    });
  });

  it("refuses what it cannot read", async () => {
    expect((await post("/profile", "{")).status).toBe(400);
    expect((await post("/profile", JSON.stringify({ text: "x".repeat(6_000) }))).status).toBe(400);
    expect((await post("/elsewhere", "{}")).status).toBe(404);
  });
});
