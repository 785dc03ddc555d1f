import disposable from "disposable-email-domains" with { type: "json" };
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { findDuplicates, findSameCompanies, type PersonKey } from "./duplicates.ts";
import { type DomainEvidence, type Evidence, judgeAddress } from "./judge-address.ts";
import { addressCandidates, learnPattern, patternOf } from "./patterns.ts";
import { type Candidate, judgeFit, profileSchema, seniorityOf } from "./profile.ts";
import { personKey } from "./test-person.ts";
import { mayWriteTo, WRITES_TO } from "./verdict.ts";

describe("fit", () => {
  const who: Candidate = {
    email: "a@b.example",
    firstName: "Ana",
    profile: "",
    title: "Head of Registration",
    industry: "Museums",
    employees: { from: 60, to: 60 },
    country: "NO",
    region: "Northern Europe",
    city: "Bergen",
    keywords: "loans to other houses",
  };
  const judge = (profile: object, change: Partial<Candidate> = {}) =>
    judgeFit(profileSchema.parse(profile), { ...who, ...change });

  it.each([
    [{ titles: ["registrar"] }, {}, null],
    [{ titles: ["registrar"] }, { title: "Head of Marketing" }, "title"],
    [
      { titles: ["registrar"], titlesWithout: ["assistant"] },
      { title: "Registrar Assistant" },
      "title_excluded",
    ],
    [{ seniorities: ["head"] }, { title: "Conservator" }, "seniority"],
    [{ industries: ["Archives"] }, {}, "industry"],
    [{ industries: ["Archives"] }, { industry: "" }, null],
    [{ employeesFrom: 100 }, {}, "employees"],
    [{ employeesFrom: 100 }, { employees: null }, null],
    [{ countries: ["SE"], cities: ["bergen"] }, {}, null],
    [{ countries: ["SE"] }, {}, "place"],
    [{ keywords: ["loans"] }, { keywords: "storage" }, "keywords"],
    [{ mustHave: ["profile"] }, {}, "must_have"],
  ])("of %j for %j is refused for: %s", (profile, change, reason) => {
    expect(judge(profile, change)).toMatchObject({ fits: reason === null, reason });
  });

  it.each([
    ["Founder & CEO", "owner"],
    ["Vice President Sales", "executive"],
    ["Director of Collections", "head"],
    ["Collections Manager", "manager"],
    ["Conservator", "specialist"],
    ["Assistant Manager", "junior"],
  ])("“%s” is a %s", (title, seniority) => expect(seniorityOf(title)).toBe(seniority));
});

describe("a company's pattern", () => {
  it("is what most of its addresses show, accents spelled either way", () => {
    const known = [
      { first: "Jörn", last: "Möhring", email: "joern.moehring@kai.example" },
      { first: "Håkon", last: "Rød", email: "hakon.rod@kai.example" },
      { first: "Ilse", last: "van der Berg", email: "ilse.vanderberg@kai.example" },
      { first: "Anke", last: "Tietz", email: "at@kai.example" },
    ];
    const learned = learnPattern(known);
    expect(learned).toMatchObject({ pattern: "first.last", count: 3, of: 4, letters: { ö: "oe", ø: "o" } });
    expect(addressCandidates({ first: "Zoë", last: "Harms" }, "kai.example", learned)[0]).toEqual({
      email: "zoe.harms@kai.example",
      pattern: "first.last",
    });
    expect(addressCandidates({ first: "純", last: "石川" }, "kai.example", null)).toEqual([]);
  });

  it("is found again in every address that it makes", () => {
    const name = fc.stringMatching(/^[a-z]{2,9}$/);
    fc.assert(
      fc.property(name, name, (first, last) => {
        for (const { email, pattern } of addressCandidates({ first, last }, "kai.example", null)) {
          const found = patternOf({ first, last, email });
          // Two patterns can make one address; the more common one is then meant.
          expect(
            addressCandidates({ first, last }, "kai.example", null).find((each) => each.email === email)
              ?.pattern,
          ).toBe(found);
          expect([pattern, found]).toContain(found);
        }
      }),
    );
  });
});

describe("a verdict", () => {
  const mail: DomainEvidence = { kind: "mail", hosts: ["mx"], implicit: false };
  it("of what our own mail showed outweighs what servers say", () => {
    const accepted = { kind: "accepted", acceptsAll: false } as const;
    expect(judgeAddress("a@b.example", { domain: mail, probe: accepted, history: "bounced" }).verdict).toBe(
      "bad",
    );
    expect(
      judgeAddress("a@b.example", {
        domain: mail,
        probe: { kind: "refused", words: "550" },
        history: "answered",
      }).verdict,
    ).toBe("good");
  });

  it("is never bad for a silence, whatever the address", () => {
    const silent = fc.constantFrom<Omit<Evidence, "history">>(
      { domain: null, probe: null },
      { domain: { kind: "silent", why: "ETIMEOUT" } as const, probe: null },
      { domain: mail, probe: { kind: "silent", words: "" } as const },
      { domain: mail, probe: { kind: "later", words: "451" } as const },
    );
    fc.assert(
      fc.property(silent, fc.stringMatching(/^[a-z]{1,9}$/), (evidence, local) => {
        expect(judgeAddress(`${local}@kai.example`, { ...evidence, history: null }).verdict).not.toBe("bad");
      }),
    );
  });

  it("of a thrown-away address is bad, and bad ones are never written to", () => {
    expect(judgeAddress(`a@${disposable[0]}`, { domain: mail, probe: null, history: null })).toMatchObject({
      verdict: "bad",
      reason: "disposable",
    });
    for (const state of ["bad", "missing"] as const)
      expect(WRITES_TO.filter((writesTo) => mayWriteTo(writesTo, state))).toEqual([]);
    expect(WRITES_TO.filter((writesTo) => mayWriteTo(writesTo, "likely"))).toEqual([
      "likely",
      "doubtful",
      "any",
    ]);
    expect(WRITES_TO.filter((writesTo) => mayWriteTo(writesTo, "unchecked"))).toEqual(["any"]);
  });
});

describe("duplicates", () => {
  it.each([
    [personKey(1, "Ilse", "Brandt"), personKey(2, "Ilse", "Brandt", { email: null }), "same_name", true],
    [personKey(1, "Ilse", "Brandt"), personKey(2, "Ilse", "Brandt"), "same_name", false],
    [personKey(1, "Ilse", "Petersen"), personKey(2, "Ilse", "Pedersen"), "near_name", false],
    [personKey(1, "Robert", "Hollins"), personKey(2, "Bob", "Hollins"), "nickname", false],
    [personKey(1, "R", "Hollins"), personKey(2, "Robert", "Hollins"), "initial", false],
    [
      personKey(1, "A", "X", { profile: "https://g.example/p", domain: "a.example" }),
      personKey(2, "B", "Y", { profile: "https://g.example/P", domain: "b.example" }),
      "same_profile",
      false,
    ],
  ])("%j and %j: %s, certain: %s", (x, y, reason, certain) => {
    expect(findDuplicates([x, y])).toEqual([{ a: 1, b: 2, reason, certain }]);
  });

  it("are not seen in other companies, other names, or a crowd of one name", () => {
    expect(
      findDuplicates([
        personKey(1, "Ilse", "Brandt"),
        personKey(2, "Ilse", "Brandt", { domain: "nord.example" }),
      ]),
    ).toEqual([]);
    expect(findDuplicates([personKey(1, "Ilse", "Brandt"), personKey(2, "Jonas", "Brandt")])).toEqual([]);
    expect(findDuplicates(Array.from({ length: 60 }, (_, id) => personKey(id, "Info", "Desk")))).toEqual([]);
  });

  it("are the same pairs in whatever order people come", () => {
    const people = ["Ilse Brandt", "Ilse Brand", "Bob Hollins", "Robert Hollins", "R Hollins", "Jo Li"].map(
      (name, id) => personKey(id, name.split(" ")[0] as string, name.split(" ")[1] as string),
    );
    const pairs = (all: PersonKey[]) =>
      findDuplicates(all)
        .map(({ a, b }) => `${a} ${b}`)
        .sort();
    fc.assert(
      fc.property(fc.shuffledSubarray(people, { minLength: people.length }), (shuffled) => {
        expect(pairs(shuffled)).toEqual(pairs(people));
      }),
    );
  });

  it("of companies share a name but for its spelling", () => {
    expect(
      findSameCompanies([
        { id: 2, name: "KAIMUSEUM NORD" },
        { id: 1, name: "The Kaimuseum Nord GmbH" },
        { id: 3, name: "Kai" },
        { id: 4, name: "KAI" },
      ]),
    ).toEqual([[1, 2]]);
  });
});
