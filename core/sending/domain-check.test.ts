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

describe("what to do about it", () => {
  const SILENT = "DNS did not answer. Try again in a while.";
  const hosts = (...list: [host: string, addresses: string[], names: string[] | null][]) =>
    list.map(([host, addresses, names]) => ({ host, addresses, names }));

  it.each<[string, Partial<DomainAnswers>, string, object]>([
    [
      "an SPF record that names the outgoing hosts",
      {
        texts: ["another=thing"],
        hosts: hosts(["mail.house.example", [], []], ["192.0.2.7", [], []], ["127.0.0.1", [], []]),
      },
      "spf",
      {
        state: "wrong",
        words: "There is no SPF record, so nobody can tell which servers may send for it.",
        record: {
          name: "quillwater.example",
          type: "TXT",
          value: "v=spf1 mx a:mail.house.example ip4:192.0.2.7 ~all",
        },
      },
    ],
    [
      "nothing where SPF did not answer",
      { texts: null },
      "spf",
      { state: "open", words: SILENT, record: null },
    ],
    [
      "nothing but to take includes out of a long one",
      { spfLookups: 11 },
      "spf",
      {
        state: "wrong",
        words:
          "Its SPF record needs 11 look-ups; receivers stop after 10 and take it for broken. Take out includes that you no longer use.",
        record: null,
      },
    ],
    [
      "nothing, of one with as many as there may be",
      { spfLookups: 10 },
      "spf",
      { state: "good", words: "SPF names who may send, with 10 of 10 look-ups.", record: null },
    ],
    [
      "nothing, of one that was not counted",
      { spfLookups: null },
      "spf",
      { state: "good", words: "SPF names who may send, with 0 of 10 look-ups." },
    ],
    [
      "to name what is there",
      { spfBroken: ["a.example", "b.example"] },
      "spf",
      {
        state: "wrong",
        words: "Its SPF record names a.example, b.example, which is not there.",
        record: null,
      },
    ],
    [
      "to close an open one",
      { texts: ["v=spf1 mx +all"] },
      "spf",
      {
        state: "wrong",
        words: "Its SPF record lets everybody send for it: end it with ~all instead of +all.",
        record: { name: "quillwater.example", type: "TXT", value: "v=spf1 mx ~all" },
      },
    ],
    [
      "to close one that is open without a sign",
      { texts: ["v=spf1 mx ALL"] },
      "spf",
      { state: "wrong", record: { value: "v=spf1 mx ~all" } },
    ],
    ["nothing, of one that says nothing of others", { texts: ["v=spf1 mx"] }, "spf", { state: "good" }],
    [
      "a key to add",
      { dkim: [] },
      "dkim",
      {
        state: "wrong",
        words:
          "No DKIM key under the usual names. If your server signs, type its selector above; if not, turn signing on there and add the key that it shows.",
        record: { name: "mail._domainkey.quillwater.example", type: "TXT", value: "v=DKIM1; k=rsa; p=…" },
      },
    ],
    [
      "nothing, of a key beside one that is withdrawn",
      {
        dkim: [
          { selector: "old", text: "p=" },
          { selector: "new", text: "v=DKIM1;p=AB" },
        ],
      },
      "dkim",
      { state: "good", words: "DKIM has a key under “new”.", record: null },
    ],
    [
      "to renew a withdrawn key",
      { dkim: [{ selector: "old", text: "v=DKIM1; p= ; x=p" }] },
      "dkim",
      { state: "wrong", words: "The key under “old” is withdrawn: its p= is empty.", record: null },
    ],
    ["nothing where DKIM did not answer", { dkim: null }, "dkim", { state: "open", words: SILENT }],
    [
      "a DMARC record that watches",
      { dmarc: ["something else"] },
      "dmarc",
      {
        state: "wrong",
        words: "There is no DMARC record. Large receivers ask for one from whoever writes to many.",
        record: {
          name: "_dmarc.quillwater.example",
          type: "TXT",
          value: "v=DMARC1; p=none; rua=mailto:postmaster@quillwater.example",
        },
      },
    ],
    [
      "one DMARC record of two",
      { dmarc: ["v=DMARC1; p=none", "v=DMARC1; p=reject"] },
      "dmarc",
      {
        state: "wrong",
        words: "There are two DMARC records; receivers then take none.",
        record: { type: "TXT" },
      },
    ],
    [
      "a policy",
      { dmarc: ["v=DMARC1; sp=none"] },
      "dmarc",
      {
        state: "wrong",
        words: "Its DMARC record says no policy (p=).",
        record: { name: "_dmarc.quillwater.example" },
      },
    ],
    [
      "nothing, of one that only watches",
      { dmarc: ["v=DMARC1;p=NONE"] },
      "dmarc",
      { state: "good", words: "DMARC is there; it only watches (p=none).", record: null },
    ],
    [
      "nothing, of one that asks for more",
      { dmarc: ["v=dmarc1; p = reject; pct=50"] },
      "dmarc",
      { state: "good", words: "DMARC is there and asks for reject." },
    ],
    ["nothing where DMARC did not answer", { dmarc: null }, "dmarc", { state: "open", words: SILENT }],
    [
      "nothing, of two exchangers or more",
      { exchangers: ["a.example", "b.example", "c.example"] },
      "mx",
      { state: "good", words: "It takes mail at a.example and b.example.", record: null },
    ],
    [
      "an exchanger",
      { exchangers: [] },
      "mx",
      { state: "wrong", record: { name: "quillwater.example", type: "MX", value: "10 mail.house.example" } },
    ],
    [
      "an exchanger by the usual name",
      { exchangers: [], hosts: [] },
      "mx",
      { record: { value: "10 mail.quillwater.example" } },
    ],
    [
      "nothing where the exchangers did not answer",
      { exchangers: null },
      "mx",
      { state: "open", words: SILENT },
    ],
    [
      "nothing of a server on this machine",
      { hosts: hosts(["localhost", ["127.0.0.1", "::1"], []]) },
      "ptr",
      {
        state: "open",
        words: "The outgoing server is on this machine; what the world sees of it cannot be asked here.",
      },
    ],
    [
      "nothing of a server without an address",
      { hosts: hosts(["mail.example", [], null]) },
      "ptr",
      { state: "open", words: "The outgoing server's address could not be asked." },
    ],
    [
      "a name for the one that has none",
      {
        hosts: hosts(
          ["a.example", ["192.0.2.1"], ["a.example"]],
          ["b.example", ["192.0.2.2"], []],
          ["c.example", ["127.0.0.1"], null],
        ),
      },
      "ptr",
      {
        state: "wrong",
        words: "The address of b.example has no name in return. Whoever runs the server adds it.",
        record: { name: "192.0.2.2", type: "PTR", value: "b.example" },
      },
    ],
    [
      "nothing, of one that answers to its name",
      {},
      "ptr",
      { state: "good", words: "mail.house.example answers to the name mail.house.example.", record: null },
    ],
    [
      "nothing where no list is asked",
      { zonesAsked: 0 },
      "lists",
      { state: "open", words: "No block-list zone is set; name some in the settings." },
    ],
    [
      "to ask to be taken off",
      { listed: [{ zone: "bad.example", what: "192.0.2.7", why: "" }] },
      "lists",
      {
        state: "wrong",
        words: "192.0.2.7 is on bad.example. Ask there to be taken off once the cause is mended.",
        record: null,
      },
    ],
    ["nothing, of none of one list", {}, "lists", { state: "good", words: "On none of 1 block list." }],
    [
      "nothing, of none of several lists",
      { zonesAsked: 4 },
      "lists",
      { state: "good", words: "On none of 4 block lists." },
    ],
  ])("is %s", (_, change, kind, found) => expect(of(change, kind)).toMatchObject({ kind, ...found }));
});

it("a text is an SPF record by its first word, and what nobody knows in it costs nothing", () => {
  expect(readSpf("v=spf1")).toEqual({ includes: [], redirect: null, lookups: 0, all: null });
  expect(readSpf("V=SPF1 Include:_SPF.House.Example ?ALL")).toEqual({
    includes: ["_spf.house.example"],
    redirect: null,
    lookups: 1,
    all: "?",
  });
  expect(readSpf("v=spf1 all")?.all).toBe("+");
  expect(readSpf("v=spf1 unknown=x ip4:192.0.2.1 ip6:2001:db8::1 ~all")).toMatchObject({
    lookups: 0,
    all: "~",
  });
  expect(readSpf("v=spf1 a/24 ptr mx:a.example/24 -exists:b.example")?.lookups).toBe(4);
  expect(readSpf("x v=spf1 -all")).toBeNull();
  expect(readSpf(`v=spf1 ${"a ".repeat(500)}`)?.lookups).toBe(199);
});

it.each([
  ["1.2.3.4", "4.3.2.1"],
  ["1.2.3", null],
  ["1.2.3.4.5", null],
  ["1.2.3.4444", null],
  ["2001:db8:0:1:2:3:4:5", "5.0.0.0.4.0.0.0.3.0.0.0.2.0.0.0.1.0.0.0.0.0.0.0.8.b.d.0.1.0.0.2"],
  ["::1", `1.${"0.".repeat(31)}`.slice(0, -1)],
  ["2001:db8::", `${"0.".repeat(24)}8.b.d.0.1.0.0.2`],
  ["1:2:3", null],
  ["1:2:3:4:5:6:7:8:9", null],
])("%s is turned round to %s", (address, turned) => expect(reversed(address)).toBe(turned));
