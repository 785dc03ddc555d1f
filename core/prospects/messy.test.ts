/** Cells, addresses and people as lists have them. */
import { describe, expect, it } from "vitest";
import { readAddress } from "./address.ts";
import { findDuplicates } from "./duplicates.ts";
import { addressCandidates, learnPattern } from "./patterns.ts";
import { personKey } from "./test-person.ts";

describe("a cell with an address", () => {
  it.each([
    ['"anna@kai.example"', "anna@kai.example"],
    ["'anna@kai.example'", "anna@kai.example"],
    ["anna@kai.example.", "anna@kai.example"],
    ["anna@kai.example,", "anna@kai.example"],
    ["<anna@kai.example>", "anna@kai.example"],
    ["anna\u200b@kai.example", "anna@kai.example"],
    // Signs that turn the reading direction, and Cyrillic letters among Latin ones or before a Latin domain.
    ["\u202eanna\u202c@kai.example", "anna@kai.example"],
    ["\u2066anna@kai.example\u2069", "anna@kai.example"],
    ["аnnа@kаi.example", "anna@kai.example"],
    ["сора@kai.example", "copa@kai.example"],
    ["ΑNNA@kai.example", "anna@kai.example"],
    ["анна@музей.example", "анна@музей.example"],
    ["\ufeffanna@kai.example", "anna@kai.example"],
    ["anna%40kai.example", "anna@kai.example"],
    ["mailto:anna@kai.example?subject=Hi", "anna@kai.example"],
    ["anna@kai.example%20", "anna@kai.example"],
    ["Berg, Anna <anna@kai.example>", "anna@kai.example"],
    ['"Berg, Anna" <anna@kai.example>', "anna@kai.example"],
    ["Anna Berg (anna@kai.example)", "anna@kai.example"],
    ["anna@kai.example (work)", "anna@kai.example"],
    ["E-Mail: anna@kai.example", "anna@kai.example"],
    ["anna@kai.example; info@kai.example", "anna@kai.example"],
    ["info@kai.example; anna@kai.example", "anna@kai.example"],
    ["anna@kai.example / bob@kai.example", "anna@kai.example"],
    ["anna@kai.example bob@kai.example", "anna@kai.example"],
    ["anna@kai.example\nbob@kai.example", "anna@kai.example"],
    ["old: anna@alt.example; new: anna@kai.example", "anna@kai.example"],
    ["anna at kai dot example", "anna@kai.example"],
    ["anna [at] kai [dot] example", "anna@kai.example"],
    ["anna(at)kai.example", "anna@kai.example"],
    ["anna(ät)kai.example", "anna@kai.example"],
    ["anna@kai,example", "anna@kai.example"],
    ["anna@kai..example", "anna@kai.example"],
    ["anna@@kai.example", "anna@kai.example"],
    ["anna @kai.example", "anna@kai.example"],
    ["anna@ kai.example", "anna@kai.example"],
    ["anna.berg@kai .example", "anna.berg@kai.example"],
    ["ANNA.BERG@KAI.EXAMPLE", "anna.berg@kai.example"],
    ["[anna@kai.example](mailto:anna@kai.example)", "anna@kai.example"],
    ['<a href="mailto:anna@kai.example">anna@kai.example</a>', "anna@kai.example"],
    ["anna&#64;kai.example", "anna@kai.example"],
    ["anna＠kai．example", "anna@kai.example"],
    ["o'brien@kai.example", "o'brien@kai.example"],
    ["anna+list@kai.example", "anna+list@kai.example"],
    ["müller@kai.example", "müller@kai.example"],
    ["anna@münchen.example", "anna@münchen.example"],
    ["anna@sub.kai.example", "anna@sub.kai.example"],
    ["anna", "-"],
    ["anna@kai", "-"],
    ["@kai.example", "-"],
    ["anna@", "-"],
    ["n/a", ""],
    ["N.A.", ""],
    ["-", ""],
    ["none", ""],
    ["(blank)", ""],
    ['""', ""],
    ["no email", ""],
    ["anna.berg.kai.example", "-"],
    ["anna@kai.example|bob@kai.example", "anna@kai.example"],
    ['=HYPERLINK("mailto:anna@kai.example","anna@kai.example")', "anna@kai.example"],
    ["anna@kai.example, +49 40 123", "anna@kai.example"],
    ["anna@kai.example - private", "anna@kai.example"],
    ["Anna.Berg@kai.example>", "anna.berg@kai.example"],
    ["anna_AT_kai.example", "anna@kai.example"],
    ["anna AT kai.example", "anna@kai.example"],
    ["anna@kai.example?", "anna@kai.example"],
    ["«anna@kai.example»", "anna@kai.example"],
    [".anna@kai.example", "anna@kai.example"],
    ["anna.@kai.example", "anna@kai.example"],
    ["anna@kai.example/", "anna@kai.example"],
    ["http://anna@kai.example", "anna@kai.example"],
  ])("%j holds “%s”; a dash is broken, nothing is blank", (cell, expected) => {
    const read = readAddress(cell);
    expect(read.ok ? read.address : read.isEmpty ? "" : "-").toBe(expected);
  });

  it("with several gives the likeliest, says why, and keeps the others", () => {
    const whose = { firstName: "Anna", lastName: "Berg", domain: "kai.example" };
    expect(readAddress("info@kai.example, a.berg@kai.example; anna@post.example", whose)).toMatchObject({
      address: "a.berg@kai.example",
      others: ["info@kai.example", "anna@post.example"],
      note: expect.stringContaining("it has their name"),
    });
    expect(readAddress("anna@old.example (old); anna@kai.example")).toMatchObject({
      address: "anna@kai.example",
    });
  });
});

/** "Jörg/Weiß <joerg.weiss>" is somebody whose address is known. */
const known = (text: string) => {
  const [, first = "", last = "", local = ""] = text.match(/^(.*)\/(.*) <(.*)>$/) ?? [];
  return { first, last, email: `${local}@k.example` };
};

describe("what a domain's addresses teach of the next one", () => {
  it.each<[string[], string, string, string?]>([
    [["Jörg/Weiß <joerg.weiss>", "Anna/Berg <anna.berg>"], "Jürgen/Möller", "juergen.moeller"],
    [["Jörg/Weiß <jorg.weiss>", "Anna/Berg <anna.berg>"], "Jürgen/Möller", "jurgen.moller"],
    [["Anna-Lena/Berg <anna-lena.berg>"], "Hans-Peter/Kurz", "hans-peter.kurz"],
    [["Anna-Lena/Berg <annalena.berg>"], "Hans-Peter/Kurz", "hanspeter.kurz"],
    [["Anna-Lena/Berg <anna.berg>"], "Hans-Peter/Kurz", "hans.kurz"],
    [["Anna/Berg-Weiss <anna.berg-weiss>"], "Eva/Kurz-Lang", "eva.kurz-lang"],
    [["Anna/Berg-Weiss <anna.bergweiss>"], "Eva/Kurz-Lang", "eva.kurzlang"],
    [["Juan/García López <juan.garcia>"], "Ana/Ruiz Soto", "ana.ruiz"],
    [["Juan/García López <juan.garcialopez>"], "Ana/Ruiz Soto", "ana.ruizsoto"],
    [["João/Silva Santos <joao.santos>"], "Ana/Costa Pereira", "ana.pereira"],
    [[], "Ana/Costa Pereira", "ana.pereira", "PT"],
    [[], "Ana/Ruiz Soto", "ana.ruiz", "ES"],
    [["Piet/van der Berg <p.vanderberg>"], "Jan/de Vries", "j.devries"],
    [["Piet/van der Berg <p.berg>"], "Jan/de Vries", "j.vries"],
    [["Piet/van der Berg <piet.van.der.berg>"], "Jan/de Vries", "jan.de.vries"],
    [["Søren/Ågård <soeren.aagaard>"], "Bjørn/Åberg", "bjoern.aaberg"],
    [["Søren/Ågård <soren.agard>"], "Bjørn/Åberg", "bjorn.aberg"],
    [["Jean-Pierre/Roux <jproux>"], "Marie-Claire/Blanc", "mcblanc"],
    [["Михаил/Хохлов <mikhail.khokhlov>"], "Юлия/Щукина", "yuliya.shchukina"],
    [["Anna/Berg <a.berg>", "Eva/Kurz <e.kurz>", "Jo/Lind <jo.lind>"], "Max/Ohm", "m.ohm"],
    [["Patrick/O'Brien <patrick.obrien>"], "Mary/O'Neill", "mary.oneill"],
    [["Şule/Yıldız <sule.yildiz>"], "Özgür/Çelik", "ozgur.celik", "TR"],
    [[], "Özgür/Çelik", "ozgur.celik", "TR"],
    [[], "Özgür/Müller", "oezguer.mueller", "DE"],
    [[], "純/石川", ""],
    [["José Luis/Romero <joseluis.romero>"], "Ana Belén/Soto", "anabelen.soto"],
    [["José Luis/Romero <jose.romero>"], "Ana Belén/Soto", "ana.soto"],
    [["Łukasz/Wąs <lukasz.was>"], "Grażyna/Żak", "grazyna.zak"],
    [["Maria/de la Cruz Pérez <maria.delacruz>"], "Ana/de los Ríos Gil", "ana.delosrios"],
  ])("%j: %s is %s", (others, who, expected, country = "") => {
    const [first = "", last = ""] = who.split("/");
    const learned = others.length > 0 ? learnPattern(others.map(known)) : null;
    const [best] = addressCandidates({ first, last }, "k.example", learned, country);
    expect(best?.email.split("@")[0] ?? "").toBe(expected);
  });
});

describe("two people at one company", () => {
  it.each([
    ["Jörg Müller", "Joerg Mueller", "same_name"],
    ["Jörg Müller", "Jorg Muller", "same_name"],
    ["Anna Berg", "Berg Anna", "swapped"],
    ["Ana García", "Ana García López", "more_names"],
    ["Anna Berg-Weiss", "Anna Weiss", "more_names"],
    ["Anna Maria Berg", "Anna Berg", "more_names"],
    ["Mario Berg", "Maria Berg", null],
    ["Daniel Kurz", "Daniela Kurz", null],
    ["Jan Kurz", "Jon Kurz", null],
  ])("“%s” and “%s”: %s", (one, other, reason) => {
    const [f1 = "", ...l1] = one === "Anna Maria Berg" ? ["Anna Maria", "Berg"] : one.split(" ");
    const [f2 = "", ...l2] = other.split(" ");
    const [found] = findDuplicates([personKey(1, f1, l1.join(" ")), personKey(2, f2, l2.join(" "))]);
    expect(found?.reason ?? null).toBe(reason);
  });

  it("are not one for a profile that everybody gives, nor for a page that two names share, for certain", () => {
    const strangers = ["n/a", "guild.example", "https://guild.example/"].flatMap((profile) =>
      findDuplicates([
        personKey(1, "Anna", "Berg", { profile, email: null }),
        personKey(2, "Bernd", "Kurz", { profile, domain: "o.example" }),
      ]),
    );
    expect(strangers).toEqual([]);
    const profile = "https://guild.example/people/anna";
    const shared = [
      personKey(1, "Anna", "Berg", { profile, email: null }),
      personKey(2, "Bernd", "Kurz", { profile }),
    ];
    expect(findDuplicates(shared)).toMatchObject([{ certain: false }]);
    const agreeing = [
      personKey(1, "Anna", "Berg", { profile, email: null }),
      personKey(2, "Anna", "Berg", { profile, domain: "o.example" }),
    ];
    expect(findDuplicates(agreeing)).toMatchObject([{ certain: true }]);
  });

  it("meet although the domain is written in two alphabets, and in a company of thousands", () => {
    const two = [
      personKey(1, "Anna", "Berg", { domain: "münchen.example" }),
      personKey(2, "Anna", "Berg", { domain: "xn--mnchen-3ya.example" }),
    ];
    expect(findDuplicates(two)).toHaveLength(1);
    const crowd = Array.from({ length: 500 }, (_, id) =>
      personKey(
        id + 10,
        `Nn${String.fromCharCode(97 + (id % 26))}xyz${id}`,
        `Berg${String.fromCharCode(97 + (id % 25))}ung`,
      ),
    );
    const found = findDuplicates([
      ...crowd,
      personKey(1, "Anna", "Bergfeld"),
      personKey(2, "Anna", "Bergfelt"),
    ]);
    expect(found).toContainEqual({ a: 1, b: 2, reason: "near_name", certain: false });
  });
});
