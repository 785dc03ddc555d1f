import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { cleanCity } from "./cities.ts";
import { cleanCompany, companyKey, LEGAL_FORMS } from "./companies.ts";
import { cleanName } from "./names.ts";
import { CLEANED_FIELDS, cleanPerson, type PersonFields } from "./person.ts";
import { phoneNumber } from "./phones.ts";
import { countryCode, zoneOfPlace } from "./places.ts";
import { type CleaningRule, NOTHING_REFUSED } from "./rules.ts";
import { hasLookAlikes } from "./text.ts";
import { cleanTitle } from "./titles.ts";
import { profileAddress, webDomain } from "./web.ts";

const name = (first: string, last = "", country = "") => {
  const cleaned = cleanName({ first, last }, country);
  return `${cleaned.first.value}|${cleaned.last.value}`;
};

describe("a name", () => {
  it.each([
    ["ANTHONY 🚀", "", "", "Anthony|"],
    ["anthony", "o'neill", "", "Anthony|O'Neill"],
    ["Dr. Ilse", "BRANDT, PhD", "DE", "Ilse|Brandt"],
    ["Prof. Dr. Anke", "Tietz M.A.", "DE", "Anke|Tietz"],
    ['Robert "Bob"', "Hollins (he/him)", "", "Robert|Hollins"],
    ["SANNE", "VAN DER BERG", "NL", "Sanne|van der Berg"],
    ["LOTTE", "VAN DAMME", "BE", "Lotte|Van Damme"],
    ["MARIA", "DE LA CRUZ", "ES", "Maria|de la Cruz"],
    ["CAPUCINE", "D'ARTOIS", "FR", "Capucine|d'Artois"],
    ["GINA", "D'ANGELO", "IT", "Gina|D'Angelo"],
    ["CALLUM", "MCDONALD", "GB", "Callum|McDonald"],
    ["ISLA", "MACGREGOR", "GB", "Isla|MacGregor"],
    ["ROSA", "MACIAS", "MX", "Rosa|Macias"],
    ["JEAN-LUC", "SAINT-MARTIN", "FR", "Jean-Luc|Saint-Martin"],
    ["IJSBRAND", "IJZERMAN", "NL", "IJsbrand|IJzerman"],
    ["İLKER", "IŞIK", "TR", "İlker|Işık"],
    ["JP", "HARGROVE III", "US", "JP|Hargrove III"],
    ["j.r.", "yates", "US", "J.R.|Yates"],
    ["Owain Pryce", "", "", "Owain|Pryce"],
    ["Sanne van der Berg", "", "NL", "Sanne|van der Berg"],
    ["Brandt, Ilse", "", "", "Ilse|Brandt"],
    ["Ma", "Long", "", "Ma|Long"],
    ["石川", "純", "JP", "石川|純"],
    ["DeShawn", "LaRue", "US", "DeShawn|LaRue"],
    ["Аnna", "Reis", "", "Anna|Reis"],
    ["Анна", "Иванова", "", "Анна|Иванова"],
  ])("“%s” “%s” in %s is %s", (first, last, country, expected) => {
    expect(name(first, last, country)).toBe(expected);
  });
});

const WORDS =
  `ANTHONY|ilse|O'BRIEN|d'artois|McKay|Jean-Luc|純|İLKER|Ì|ß|é|van|DE LA|Dr.|PROF.|von|BERG|, PhD|- |(she/her)|“Bob”|'Bob'|🚀|MBA
|Jr.|III|y|n/a|test|J.|Q.|anna@kai.example|MÃ¼ller|ij|IJssel|(ex Foo)|(|)|.|,|:|#1|SALES MANAGER|Head of Sales|& Co. KG|GmbH|Ltd
|S.A.|Sp. z o.o.|Day Spa|formerly|t/a|The|at Kai|株式会社|ООО|АННА|LISBOA|Frankfurt am Main|CEO|C.E.O.|sr.|’|&amp;|&#39;`.split(
    /\n?\|/,
  );

describe("what is clean", () => {
  const text = fc
    .tuple(fc.array(fc.constantFrom(...WORDS), { maxLength: 5 }), fc.constantFrom(" ", "", ", "))
    .map(([words, between]) => words.join(between));
  const country = fc.constantFrom("", "DE", "ES", "TR", "NL", "FR", "US", "IT");
  const nameOf = (first: string, last: string, of: string) => {
    const name = cleanName({ first, last }, of);
    return [name.first.value, name.last.value] as const;
  };

  it("is left alone, whatever it was", () => {
    fc.assert(
      fc.property(text, text, country, (one, other, of) => {
        const name = nameOf(one, other, of);
        expect(nameOf(...name, of)).toEqual(name);
        for (const clean of [
          (value: string) => cleanCompany(value, of).value,
          (value: string) => cleanTitle(value).value,
          (value: string) => cleanCity(value, of, NOTHING_REFUSED).value,
        ])
          expect(clean(clean(one))).toBe(clean(one));
      }),
      { numRuns: 500 },
    );
  });
});

describe("a company", () => {
  it.each([
    ["KAIMUSEUM NORD GMBH", "Kaimuseum Nord"],
    ["Foo Ltd.", "Foo"],
    ["The Slate Coast Archive Limited", "Slate Coast Archive"],
    ["The Who", "The Who"],
    ["Museu da Maré – Where the tide tells stories", "Museu da Maré"],
    ["Atlas of Looms | Textile heritage", "Atlas of Looms"],
    ["Telar, S. de R.L. de C.V.", "Telar"],
    ["Minato Archive Co., Ltd.", "Minato Archive"],
    ["株式会社港", "港"],
    ["Fjordsamlingen AS", "Fjordsamlingen"],
    ["such as", "Such As"],
    ["BBC WORLD", "BBC World"],
    ["NASA", "NASA"],
    ["ARQUIVO DO SAL LDA", "Arquivo do Sal"],
    ["Limited", "Limited"],
    ["PT Kayu Indah Tbk", "Kayu Indah"],
    ["Casa & Co. KG", "Casa & Co."],
    ["map24.example", "map24.example"],
  ])("“%s” is “%s”", (raw, expected) => expect(cleanCompany(raw).value).toBe(expected));

  it("loses the legal form of every country on the list", () => {
    expect(Object.keys(LEGAL_FORMS).length).toBeGreaterThanOrEqual(25);
    for (const [country, forms] of Object.entries(LEGAL_FORMS))
      for (const form of forms)
        expect(cleanCompany(`Harbour House ${form}`, country).value, `${country}: ${form}`).toBe(
          "Harbour House",
        );
  });

  it("loses a form that is a word, too, where it is the country's own", () => {
    expect(cleanCompany("clock museum bergen as", "NO").value).toBe("Clock Museum Bergen");
    expect(cleanCompany("such as", "GB").value).toBe("Such As");
  });

  it("is known in another spelling", () => {
    expect(companyKey("The Café Müller GmbH")).toBe(companyKey("CAFE MULLER"));
  });
});

it.each([
  ["REGISTRAR", "", "Registrar"],
  ["head of IT", "", "head of IT"],
  ["sr. collections mgr", "", "Senior Collections Manager"],
  ["Registrar at Kaimuseum Nord", "Kaimuseum Nord", "Registrar"],
  ["Head of Conservation | Speaker | Dreamer", "", "Head of Conservation"],
  ["chief executive officer (ceo)", "", "Chief Executive Officer (CEO)"],
])("the title “%s” is “%s”%s", (raw, company, expected) =>
  expect(cleanTitle(raw, company).value).toBe(expected),
);

it("countries become codes in nine languages and by the names people use", () => {
  for (const [typed, code] of [
    ["Deutschland", "DE"],
    ["Brasil", "BR"],
    ["UK", "GB"],
    ["Países Baixos", "NL"],
    ["usa", "US"],
    ["PRT", "PT"],
    ["Holland", "NL"],
    ["England", "GB"],
  ] as const)
    expect(countryCode(typed), typed).toBe(code);
  expect(countryCode("Atlantis")).toBeNull();
});

it("a time zone comes from the city, else from a country that has one only", () => {
  expect(zoneOfPlace("Milwaukee", "US")).toBe("America/Chicago");
  expect(zoneOfPlace("", "US")).toBeNull();
  expect(zoneOfPlace("Nowhere", "NO")).toBe("Europe/Oslo");
  expect(zoneOfPlace("Évora", "PT")).toBe("Europe/Lisbon");
});

it("links and numbers take one form", () => {
  expect(webDomain("https://www.Museum.example/visit?x=1")).toBe("museum.example");
  expect(webDomain("ilse@post.kai.example")).toBe("kai.example");
  expect(profileAddress("m.guild.example/people/ilse-brandt/?utm=1")).toBe(
    "https://guild.example/people/ilse-brandt",
  );
  expect(phoneNumber("(0)21 123 4567 / 890", "PT")).toBeNull();
  expect(phoneNumber("21 123 4567", "PT")).toBe("+351211234567");
  expect(phoneNumber("+49 40 123456", "")).toBe("+4940123456");
});

it("letters that only look Latin are found", () => {
  expect(hasLookAlikes("аnna@museum.example")).toBe(true);
  expect(hasLookAlikes("anna@museum.example")).toBe(false);
  expect(hasLookAlikes("Анна")).toBe(false);
});

describe("a person", () => {
  const raw: PersonFields = {
    firstName: "Dr. ILSE 🚀",
    lastName: "BRANDT",
    company: "KAIMUSEUM NORD GMBH",
    companyDomain: "https://kai.example/",
    title: "REGISTRAR",
    city: "Hamburg",
    country: "Germany",
    timeZone: "",
    phone: "040 123456",
    profile: "",
    language: "Deutsch",
  };

  it("is cleaned whole, and each change says what was before and by which rules", () => {
    const { fields, changes } = cleanPerson(raw);
    expect(fields).toEqual({
      firstName: "Ilse",
      lastName: "Brandt",
      company: "Kaimuseum Nord",
      companyDomain: "kai.example",
      title: "Registrar",
      language: "de",
      city: "Hamburg",
      country: "DE",
      timeZone: "Europe/Berlin",
      phone: "+4940123456",
      profile: "",
    });
    expect(changes.find(({ field }) => field === "firstName")).toEqual({
      field: "firstName",
      before: "Dr. ILSE 🚀",
      after: "Ilse",
      rules: ["emoji", "honorific", "capitals"],
    });
  });

  it("keeps what a refused rule would have changed, and nothing else", () => {
    const { fields } = cleanPerson(raw, {
      firstName: new Set<CleaningRule>(["capitals"]),
      company: new Set<CleaningRule>(["legal_form"]),
    });
    expect(fields).toMatchObject({
      firstName: "ILSE",
      lastName: "BRANDT",
      company: "Kaimuseum Nord GMBH",
      title: "Registrar",
    });
  });

  it("comes out the same each time, with a change for each field that differs and no other", () => {
    const text = fc.string({ unit: "grapheme", maxLength: 30 });
    const person = fc.record(
      Object.fromEntries(CLEANED_FIELDS.map((field) => [field, text])) as Record<string, typeof text>,
    );
    fc.assert(
      fc.property(person, (any) => {
        const input = any as PersonFields;
        const { fields, changes, doubts } = cleanPerson(input);
        expect(cleanPerson(input)).toEqual({ fields, changes, doubts });
        for (const field of CLEANED_FIELDS)
          expect(changes.some((change) => change.field === field)).toBe(fields[field] !== input[field]);
      }),
    );
  });
});
