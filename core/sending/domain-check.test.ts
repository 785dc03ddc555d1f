import { describe, expect, it } from "vitest";
import { type DomainAnswers, judgeDomain, readSpf, reversed } from "./domain-check.ts";

const answers = (change: Partial<DomainAnswers> = {}): DomainAnswers => ({
  domain: "quillwater.example",
  texts: ["v=spf1 mx include:_spf.house.example ~all", "another=thing"],
  spfLookups: 3,
  spfBroken: [],
  dkim: [{ selector: "mail", text: "v=DKIM1; k=rsa; p=MIIB" }],
  dmarc: ["v=DMARC1; p=quarantine"],
  exchangers: ["mx1.house.example"],
  hosts: [{ host: "mail.house.example", addresses: ["192.0.2.7"], names: ["mail.house.example"] }],
  listed: [],
  zonesAsked: 1,
  ...change,
});
const of = (change: Partial<DomainAnswers>, kind: string) =>
  judgeDomain(answers(change)).find((each) => each.kind === kind);

describe("the domain check", () => {
  it("is content with a domain that is set up", () => {
    expect(judgeDomain(answers()).map(({ state }) => state)).toEqual(Array(6).fill("good"));
  });

  it.each<[string, Partial<DomainAnswers>, string, string]>([
    ["no SPF record", { texts: [] }, "spf", "There is no SPF record"],
    ["two of them", { texts: ["v=spf1 mx -all", "v=spf1 a -all"] }, "spf", "two SPF records"],
    ["too many look-ups", { spfLookups: 11 }, "spf", "needs 11 look-ups"],
    ["a name that leads nowhere", { spfBroken: ["_spf.gone.example"] }, "spf", "_spf.gone.example"],
    ["everybody let in", { texts: ["v=spf1 +all"] }, "spf", "everybody"],
    ["no DKIM key", { dkim: [] }, "dkim", "No DKIM key"],
    ["a withdrawn key", { dkim: [{ selector: "old", text: "v=DKIM1; p=" }] }, "dkim", "withdrawn"],
    ["no DMARC record", { dmarc: [] }, "dmarc", "no DMARC"],
    [
      "a DMARC record without a policy",
      { dmarc: ["v=DMARC1; rua=mailto:a@b.example"] },
      "dmarc",
      "no policy",
    ],
    ["no mail exchanger", { exchangers: [] }, "mx", "answers and bounces are lost"],
    [
      "an address without a name",
      { hosts: [{ host: "mail.house.example", addresses: ["192.0.2.7"], names: [] }] },
      "ptr",
      "no name in return",
    ],
    [
      "a listing",
      { listed: [{ zone: "bad.example", what: "192.0.2.7", why: "spam" }] },
      "lists",
      "bad.example: spam",
    ],
  ])("says %s", (_, change, kind, words) => {
    expect(of(change, kind)).toMatchObject({ state: "wrong", words: expect.stringContaining(words) });
  });

  it("makes one SPF record of two, and blames nobody where DNS was silent", () => {
    expect(of({ texts: ["v=spf1 mx -all", "v=spf1 mx a:one.example ~all"] }, "spf")?.record?.value).toBe(
      "v=spf1 mx a:one.example ~all",
    );
    const silent = { texts: null, dkim: null, dmarc: null, exchangers: null, hosts: [], zonesAsked: 0 };
    expect(judgeDomain(answers(silent)).map(({ state }) => state)).toEqual(Array(6).fill("open"));
  });
});

it("an SPF record is read with what it costs", () => {
  expect(
    readSpf("v=spf1 ip4:192.0.2.0/24 a mx:x.example include:y.example exists:%{i}.z.example -all"),
  ).toEqual({
    includes: ["y.example"],
    redirect: null,
    lookups: 4,
    all: "-",
  });
  expect(readSpf("v=spf1 redirect=_spf.example")).toMatchObject({
    redirect: "_spf.example",
    lookups: 1,
    all: null,
  });
  expect(readSpf("v=spf10 all")).toBeNull();
});

it("addresses are turned round as the zones name them", () => {
  expect(reversed("192.0.2.99")).toBe("99.2.0.192");
  expect(reversed("2001:db8::1")).toBe("1.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.0.8.b.d.0.1.0.0.2");
  expect(reversed("mail.example")).toBeNull();
});
