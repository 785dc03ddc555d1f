/**
 * How well lists are read, on names, companies, cells, addresses, titles and files that nobody who built it
 * looked at: made by faker's locales from seeds of their own, with mess added here. `npm run measure:reading`
 * prints the figures by class and writes them to docs/reading.md; `-- show <class>` prints what was read wrongly,
 * of the other seeds only, so that the measured ones stay unseen.
 */
import { readFileSync, writeFileSync } from "node:fs";
import { allLocales, base, en, Faker, type LocaleDefinition } from "@faker-js/faker";
import { readAddress } from "../core/prospects/address.ts";
import { cleanCompany, LEGAL_FORMS } from "../core/prospects/cleaning/companies.ts";
import { cleanName } from "../core/prospects/cleaning/names.ts";
import { guessContent } from "../core/prospects/column-content.ts";
import { matchColumns } from "../core/prospects/columns.ts";
import { findDuplicates, type PersonKey } from "../core/prospects/duplicates.ts";
import { addressCandidates, learnPattern, PATTERN_NAMES, PATTERNS } from "../core/prospects/patterns.ts";
import { readTable } from "../core/prospects/table.ts";
import { personKey } from "../core/prospects/test-person.ts";
import { titleMatches } from "../core/prospects/titles/read-title.ts";

const [, , command, only] = process.argv;
/** The seeds whose results are published; others are for looking at. */
const UNSEEN = [7919, 104729];
const TO_LOOK_AT = [11, 13];
const seeds = command === "show" ? TO_LOOK_AT : UNSEEN;

interface Case {
  what: string;
  expected: string;
  got: string;
}

/** Locales whose people write with Latin letters, with the country that decides capitals. */
const LATIN = Object.entries(allLocales as Record<string, LocaleDefinition>)
  .filter(([code]) =>
    /^(af|bg_no|cs|da|de|en_(AU|CA|GB|IE|IN|NG|US|ZA)|eo|es|fi|fr|hr|hu|id|it|lv|nb|nl|pl|pt|ro|sk|sv|tr|vi|yo|zu|ku_kmr_latin|az|sr_RS_latin|uz_UZ_latin|mk_no|dv_no)/.test(
      code,
    ),
  )
  .map(([code, locale]) => ({ code, country: (code.split("_")[1] ?? "").slice(0, 2).toUpperCase(), locale }));

function people(
  seed: number,
  many: number,
): { first: string; last: string; country: string; code: string }[] {
  return LATIN.flatMap(({ code, country, locale }) => {
    const faker = new Faker({ locale: [locale, en, base], seed });
    return Array.from({ length: many }, () => ({
      first: faker.person.firstName(),
      last: faker.person.lastName(),
      country,
      code,
    }));
  }).filter(({ first, last }) => /^[\p{Script=Latin} '’-]+$/u.test(first + last) && !/\d/.test(first));
}

const random = (seed: number) => {
  const faker = new Faker({ locale: [en, base], seed });
  return faker.helpers;
};

const names: Record<string, (p: ReturnType<typeof people>[number]) => { first: string; last: string }> = {
  "as they are": ({ first, last }) => ({ first, last }),
  "titles before": ({ first, last }) => ({ first: `Prof. Dr. rer. nat. ${first}`, last }),
  "degrees behind": ({ first, last }) => ({ first, last: `${last}, M.Sc., PMP` }),
  "in one cell": ({ first, last }) => ({ first: `${first} ${last}`, last: "" }),
  "last, first": ({ first, last }) => ({ first: `${last}, ${first}`, last: "" }),
  "last in capitals": ({ first, last, code }) => ({
    first: `${last.toLocaleUpperCase(code.slice(0, 2))} ${first}`,
    last: "",
  }),
  "signs of no width": ({ first, last }) => ({ first: `\u200b${first}\u00a0`, last: `\ufeff${last} ` }),
  "UTF-8 as Windows-1252": ({ first, last }) => ({ first: misread(first), last: misread(last) }),
  "accents in pieces": ({ first, last }) => ({ first: first.normalize("NFD"), last: last.normalize("NFD") }),
  "a tagline": ({ first, last }) => ({ first: `${first} ${last} | Head of Sales`, last: "" }),
  "an address behind": ({ first, last }) => ({ first: `${first} ${last} <a@b.example>`, last: "" }),
  "whole name twice": ({ first, last }) => ({ first: `${first} ${last}`, last: `${first} ${last}` }),
};
const windows = new TextDecoder("windows-1252");
const misread = (text: string) => windows.decode(new TextEncoder().encode(text));

/** Whole names of several words can be parted in several ways; there the first name decides. */
function nameCases(seed: number): Case[] {
  return Object.entries(names).flatMap(([mess, make]) =>
    people(seed, 6).flatMap((person): Case[] => {
      const { first, last, country } = person;
      const isWhole = ![
        "as they are",
        "titles before",
        "degrees behind",
        "signs of no width",
        "UTF-8 as Windows-1252",
        "accents in pieces",
      ].includes(mess);
      // Of two family names or several given ones no cell says where the one ends.
      if (isWhole && (/\s/.test(first) || /\s/.test(last))) return [];
      const raw = make(person);
      const { first: f, last: l } = cleanName(raw, country);
      return [
        {
          what: `${mess} (${person.code}): ${raw.first} | ${raw.last}`,
          expected: `${first} | ${last}`.normalize("NFC"),
          got: `${f.value} | ${l.value}`,
        },
      ];
    }),
  );
}

function companyCases(seed: number): Case[] {
  const pick = random(seed);
  const faker = new Faker({ locale: [en, base], seed });
  return Object.entries(LEGAL_FORMS).flatMap(([country, forms]) =>
    Array.from({ length: 8 }, (): Case => {
      const name = `${faker.location.city()} ${faker.commerce.productMaterial()}`;
      const form = pick.arrayElement(
        forms.filter((each) => !/\p{Script=Arabic}|\p{Script=Hebrew}/u.test(each)),
      );
      const isKnown = pick.arrayElement([true, false]);
      const shape = pick.arrayElement([
        (text: string) => `${text} ${form}`,
        (text: string) => `${text}, ${form}`,
        (text: string) => `${text} ${form.replaceAll(".", "")}`,
        (text: string) => `“${text}” ${form}`,
        (text: string) => `${text} ${form} (formerly Old Mill)`,
        (text: string) => `${text}  ${form} `,
      ]);
      const raw = shape(name);
      return {
        what: `${country}: ${raw}`,
        expected: name,
        got: cleanCompany(raw, isKnown ? country : "").value,
      };
    }),
  );
}

function cellCases(seed: number): Case[] {
  const pick = random(seed);
  return people(seed, 3).flatMap(({ first, last }): Case[] => {
    const plain = (text: string) =>
      text
        .normalize("NFD")
        .replace(/[^a-z]/gi, "")
        .toLowerCase();
    if (plain(first).length < 2 || plain(last).length < 2) return [];
    const address = `${plain(first)}.${plain(last)}@kai.example`;
    const [cell, others] = pick.arrayElement<[string, number]>([
      [`"${address}"`, 0],
      [`${address}.`, 0],
      [`<${address}>;`, 0],
      [`mailto:${address}?subject=x`, 0],
      [`${first} ${last} <${address}>`, 0],
      [`\u200b${address}\u00a0`, 0],
      [address.replace("@", "%40"), 0],
      [address.replace("@", " [at] ").replace(/\./g, " dot "), 0],
      [address.replace("@", " @ "), 0],
      [address.replace(".example", ",example"), 0],
      [`info@kai.example; ${address}`, 1],
      [`${address} / ${plain(first)}@mail.example`, 1],
      [`E-Mail: ${address} (work)`, 0],
      [address.toUpperCase(), 0],
    ]);
    const read = readAddress(cell, { firstName: first, lastName: last, domain: "kai.example" });
    return [
      {
        what: cell,
        expected: `${address} +${others}`,
        got: read.ok ? `${read.address} +${read.others.length}` : read.reason,
      },
    ];
  });
}

/** A domain's own habit; half of its people teach it, the other half is guessed. */
function patternCases(seed: number): Case[] {
  const pick = random(seed);
  return LATIN.flatMap(({ code, country }) => {
    const all = people(seed, 40)
      .filter((each) => each.code === code)
      .slice(0, 24);
    const pattern = pick.arrayElement(PATTERN_NAMES.slice(0, 14));
    const writes = pick.arrayElement<"out" | "bare">(["out", "bare"]);
    const hyphens = pick.arrayElement<"kept" | "joined">(["kept", "joined"]);
    const spell = (name: string) =>
      name
        .toLowerCase()
        .replace(
          /[äöü]/g,
          (letter) => (writes === "out" ? { ä: "ae", ö: "oe", ü: "ue" }[letter] : letter) ?? letter,
        )
        .replace(
          /[ßøæœłđðıŋ]/g,
          (letter) =>
            ({ ß: "ss", ø: "o", æ: "ae", œ: "oe", ł: "l", đ: "d", ð: "d", ı: "i", ŋ: "n" })[letter] ?? "",
        )
        .normalize("NFD")
        .replace(/[^a-z -]/g, "")
        .replace(/ /g, "")
        .replace(/-/g, hyphens === "kept" ? "-" : "");
    const known = all
      .filter(({ first }) => !/\s/.test(first))
      .map(({ first, last }) => ({
        first,
        last,
        email: `${PATTERNS[pattern](spell(first), spell(last), spell(first).slice(0, 1))}@kai.example`,
      }));
    const half = Math.floor(known.length / 2);
    const learned = learnPattern(known.slice(0, half));
    return known.slice(half).map(
      ({ first, last, email }): Case => ({
        what: `${code}, ${pattern}, ${writes}, ${hyphens}: ${first} ${last}`,
        expected: email,
        got: addressCandidates({ first, last }, "kai.example", learned, country)[0]?.email ?? "none",
      }),
    );
  });
}

/** Pairs that are one person in two spellings, and pairs that are two. */
function duplicateCases(seed: number): Case[] {
  const all = people(seed, 4);
  const written = (text: string) =>
    text.replace(/[äöü]/g, (letter) => ({ ä: "ae", ö: "oe", ü: "ue" })[letter] ?? letter);
  return all.flatMap((one, nth): Case[] => {
    const other = all[(nth + 7) % all.length] as (typeof all)[number];
    const { first, last } = one;
    const tell = (what: string, x: PersonKey, y: PersonKey, expected: "one" | "two"): Case => ({
      what: `${what}: ${x.firstName} ${x.lastName} / ${y.firstName} ${y.lastName}`,
      expected,
      got: findDuplicates([x, y]).length > 0 ? "one" : "two",
    });
    return [
      tell("spelled out", personKey(1, first, last), personKey(2, written(first), written(last)), "one"),
      tell(
        "accents lost",
        personKey(1, first, last),
        personKey(2, first, last.normalize("NFD").replace(/\p{M}/gu, "")),
        "one",
      ),
      tell("swapped", personKey(1, first, last), personKey(2, last, first), "one"),
      tell("a second family name", personKey(1, first, last), personKey(2, first, `${last} Berg`), "one"),
      tell("only an initial", personKey(1, first, last), personKey(2, `${first.slice(0, 1)}.`, last), "one"),
      tell(
        "somebody else",
        personKey(1, first, last),
        personKey(2, other.first, other.last),
        first === other.first && last === other.last ? "one" : "two",
      ),
      tell(
        "no profile in common",
        personKey(1, first, last, { profile: "n/a" }),
        personKey(2, other.first, other.last, { profile: "n/a" }),
        "two",
      ),
    ].filter(
      ({ what, expected }) => !(what.startsWith("somebody") && one.last === other.last && expected === "two"),
    );
  });
}

/** Titles written by hand beside the code, in `unseen-titles.txt`: wanted, title, yes or no. */
function titleCases(): Case[] {
  return readFileSync(new URL("../core/prospects/titles/unseen-titles.txt", import.meta.url), "utf8")
    .split("\n")
    .filter((line) => line !== "" && !line.startsWith("#"))
    .map((line): Case => {
      const [wanted = "", title = "", expected = ""] = line.split(" | ");
      return {
        what: `wanted ${wanted}: ${title}`,
        expected,
        got: titleMatches(title, wanted) ? "yes" : "no",
      };
    });
}

/** Files with a broken line, a missing head or too many cells: what else is in them has to come through. */
function fileCases(seed: number): Case[] {
  const pick = random(seed);
  return people(seed, 6).flatMap((person, nth): Case[] => {
    if (nth % 6 !== 0) return [];
    const rows = people(seed + nth, 1)
      .slice(0, 20)
      .map(({ first, last }, at) => [`p${at}@kai.example`, first, last, "Kai, Nord"]);
    const delimiter = pick.arrayElement([",", ";", "\t"]);
    const quoted = (cell: string) => (cell.includes(delimiter) ? `"${cell}"` : cell);
    const lines = rows.map((row) => row.map(quoted).join(delimiter));
    const broken = 1 + (nth % (lines.length - 2));
    const kind = pick.arrayElement(["quote", "no head", "surplus", "title above"]);
    if (kind === "quote")
      lines[broken] = `p${broken}@kai.example${delimiter}"${person.first}${delimiter}x${delimiter}y`;
    if (kind === "surplus") lines[broken] += `${delimiter}more`;
    const head = ["E-Mail", "Vorname", "Nachname", "Firma"].join(delimiter);
    const text = `${kind === "title above" ? "Export of the fair\n\n" : ""}${kind === "no head" ? "" : `${head}\n`}${lines.join("\n")}\n`;
    const read = readTable(new TextEncoder().encode(text));
    if (!read.ok)
      return [{ what: `${kind} with ${JSON.stringify(delimiter)}`, expected: "read", got: read.problem }];
    const uses = matchColumns(read.table.headers, read.table.rows, new Map(), guessContent);
    return [
      {
        what: `${kind} with ${JSON.stringify(delimiter)}`,
        expected: `${lines.length - (kind === "quote" ? 1 : 0)} rows, email`,
        got: `${read.table.rows.length} rows, ${uses[0]}`,
      },
    ];
  });
}

const CLASSES: Record<string, (seed: number) => Case[]> = {
  Names: nameCases,
  Companies: companyCases,
  "Cells with addresses": cellCases,
  "Address patterns": patternCases,
  Duplicates: duplicateCases,
  "Titles, by hand": titleCases,
  "CSV files": fileCases,
};

const figures = Object.entries(CLASSES).map(([name, make]) => {
  const cases = name === "Titles, by hand" ? make(0) : seeds.flatMap(make);
  const wrong = cases.filter(({ expected, got }) => expected !== got);
  if (command === "show" && (only === undefined || name.toLowerCase().startsWith(only)))
    for (const { what, expected, got } of wrong.slice(0, 60))
      console.log(`${what}\n    ${expected}\n    ${got}`);
  return { name, all: cases.length, right: cases.length - wrong.length };
});
const table = figures
  .map(
    ({ name, all, right }) =>
      `| ${name} | ${all.toLocaleString("en-GB")} | ${((100 * right) / all).toFixed(1)} % |`,
  )
  .join("\n");
console.log(table);
if (command !== "show") {
  const path = new URL("../docs/reading.md", import.meta.url);
  const text = readFileSync(path, "utf8");
  writeFileSync(
    path,
    text.replace(
      /(<!-- figures -->\n)[\s\S]*?(<!-- end -->)/,
      `$1\n| What | Cases | Read rightly |\n| --- | ---: | ---: |\n${table}\n\n$2`,
    ),
  );
}
