/** A company's name as its people say it: without its legal form, its slogan and its capitals. */
import { applyRule, type Cleaned, NOTHING_REFUSED, type Refused } from "./rules.ts";
import {
  capitalise,
  collapseSpaces,
  dropEmoji,
  hasLatin,
  isShouted,
  isWhispered,
  localeOf,
  replaceLookAlikes,
} from "./text.ts";

/**
 * Legal forms by country, as registers write them (most from ISO 20275, the list of entity legal
 * forms). Dots, spaces and capitals do not matter when they are compared.
 */
export const LEGAL_FORMS: Record<string, string[]> = {
  AE: ["FZE", "FZCO", "FZ-LLC"],
  AR: ["S.R.L.", "S.A.U."],
  AT: ["GesmbH", "Ges.m.b.H."],
  AU: ["Pty Ltd", "Pty Limited", "(Pty) Ltd"],
  BE: ["BV", "BVBA", "NV", "SPRL", "ASBL", "VZW", "CVBA"],
  BG: ["EOOD", "OOD", "EAD", "AD"],
  BR: ["Ltda", "Ltda ME", "EIRELI", "S/A"],
  CA: ["Ltée", "Inc", "Corp"],
  CH: ["Sàrl", "Sagl"],
  CN: ["Co Ltd", "有限公司", "股份有限公司", "有限责任公司"],
  CZ: ["s.r.o.", "spol. s r.o.", "a.s.", "z.s.", "o.p.s."],
  DE: [
    "GmbH",
    "gGmbH",
    "AG",
    "KG",
    "GmbH & Co. KG",
    "GmbH & Co. KGaA",
    "KGaA",
    "UG",
    "UG (haftungsbeschränkt)",
    "e.V.",
    "eG",
    "OHG",
    "GbR",
    "mbH",
  ],
  DK: ["A/S", "ApS", "I/S", "IVS"],
  EE: ["OÜ", "MTÜ"],
  ES: ["S.L.", "S.L.U.", "S.A.", "S.A.U.", "S.L.L.", "S.Coop."],
  EU: ["SE", "SCE"],
  FI: ["Oy", "Oyj", "Oy Ab", "ry"],
  FR: ["SARL", "SAS", "SASU", "SA", "EURL", "SNC", "SCI", "SCOP"],
  GB: ["Ltd", "Limited", "PLC", "LLP", "CIC", "CIO"],
  GR: ["A.E.", "E.P.E.", "I.K.E.", "Α.Ε.", "Ε.Π.Ε."],
  HR: ["d.o.o.", "d.d.", "j.d.o.o."],
  HU: ["Kft.", "Zrt.", "Nyrt.", "Bt."],
  ID: ["Tbk"],
  IE: ["DAC", "Teoranta", "UC", "CLG"],
  IL: ['בע"מ', "בע״מ"],
  IN: ["Pvt Ltd", "Private Limited", "Pvt. Limited"],
  IT: ["S.p.A.", "S.r.l.", "S.r.l.s.", "S.n.c.", "S.a.s.", "S.c.a.r.l."],
  JP: ["K.K.", "G.K.", "株式会社", "合同会社", "有限会社"],
  KR: ["주식회사", "(주)"],
  LT: ["UAB", "MB"],
  LV: ["SIA", "AS"],
  MX: ["S.A. de C.V.", "S. de R.L. de C.V.", "S.A.B. de C.V.", "S.C."],
  MY: ["Sdn Bhd", "Bhd"],
  NL: ["B.V.", "N.V.", "V.O.F.", "C.V.", "U.A."],
  NO: ["AS", "ASA", "ANS", "KS"],
  PL: ["Sp. z o.o.", "S.A.", "Sp. k.", "Sp. j.", "Sp. z o.o. Sp. k."],
  PT: ["Lda", "Unipessoal Lda", "S.A.", "SGPS"],
  RO: ["S.R.L.", "S.A.", "SRL"],
  RS: ["d.o.o.", "a.d."],
  RU: ["ООО", "ОАО", "ЗАО", "АО", "ПАО"],
  SE: ["AB", "HB", "AB (publ)"],
  SG: ["Pte Ltd", "Pte. Limited"],
  SK: ["s.r.o.", "a.s."],
  TR: ["A.Ş.", "Ltd. Şti.", "Ltd Sti"],
  US: ["Inc", "Incorporated", "LLC", "L.L.C.", "Corp", "Corporation", "L.P.", "PLLC", "PBC", "P.C.", "Co"],
  ZA: ["(Pty) Ltd", "NPC"],
};
/** Forms that stand before the name. */
const LEADING_FORMS = [
  "PT",
  "ООО",
  "ОАО",
  "ЗАО",
  "АО",
  "ПАО",
  "株式会社",
  "合同会社",
  "有限会社",
  "주식회사",
  "(주)",
  "SIA",
  "UAB",
  "OÜ",
];

/** Letters of forms that are words, too: they count only in capitals, as a register writes them. */
const WORDS_TOO = new Set([
  "as",
  "ab",
  "ag",
  "sa",
  "se",
  "ad",
  "bt",
  "ks",
  "co",
  "sas",
  "mb",
  "hb",
  "uc",
  "sia",
  "sca",
  "ry",
  "eg",
  "kg",
  "ug",
  "pc",
  "lp",
  "sc",
  "nv",
  "bv",
  "cv",
  "pt",
]);

const squeeze = (text: string) => text.toLowerCase().replace(/[\s.,]/g, "");
const TRAILING = new Set(Object.values(LEGAL_FORMS).flat().map(squeeze));
/** In its own country a form is a form, however it is written. */
const OF_COUNTRY = new Map(
  Object.entries(LEGAL_FORMS).map(([country, forms]) => [country, new Set(forms.map(squeeze))]),
);
const AS_WRITTEN = new Set(Object.values(LEGAL_FORMS).flat());
const LEADING = new Set(LEADING_FORMS.map(squeeze));
/** "S. de R.L. de C.V." has five words. */
const MOST_WORDS = 5;

/** Small words inside a name in capitals. */
const SMALL = new Set(
  `of the and for in on at de del la las los el da do das dos e y et du des le les von van der und am im zu zum zur
  di della dei degli het og i på av af a the`.split(/\s+/),
);

/** Cleans a company's name. `country` is ISO 3166 alpha-2, or "". */
export function cleanCompany(raw: string, country = "", refused: Refused = NOTHING_REFUSED): Cleaned {
  let cleaned: Cleaned = { value: raw, rules: [] };
  cleaned = applyRule(cleaned, "look_alike", refused, replaceLookAlikes);
  cleaned = applyRule(cleaned, "tagline", refused, dropTagline);
  cleaned = applyRule(cleaned, "emoji", refused, dropEmoji);
  cleaned = applyRule(cleaned, "spaces", refused, collapseSpaces);
  cleaned = applyRule(cleaned, "legal_form", refused, (value) => dropLegalForm(value, country));
  cleaned = applyRule(cleaned, "aside", refused, dropAside);
  cleaned = applyRule(cleaned, "article", refused, dropArticle);
  return applyRule(cleaned, "capitals", refused, (value) => caseCompany(value, country));
}

/** What follows a dash, bar or bullet with spaces around it is what they say about themselves. */
function dropTagline(value: string): string {
  const cut = value.search(/\s+[-–—|•·:]\s+|\s*[|•]\s*|:\s/);
  const head = cut < 0 ? value : value.slice(0, cut).trim();
  return head.length > 1 && /\p{L}/u.test(head) ? head : value;
}

/** A former name or an abbreviation in brackets behind the name. */
function dropAside(value: string): string {
  const head = value.replace(/\s*[([（][^)\]）]*[)\]）]\s*$/u, "").trim();
  return head === "" ? value : head;
}

/** The last words of all forms; a name that ends otherwise has none, which is soon told. */
const LAST_WORDS = new Set(
  Object.values(LEGAL_FORMS)
    .flat()
    .flatMap((form) => form.split(" ").map(squeeze)),
);
const FIRST_OR_ASIAN = /^(?:PT|SIA|UAB|OÜ|\(주\))\s|[\u0400-\u04ff\u3040-\u30ff\u4e00-\u9fff\uac00-\ud7af]/u;

function mayHaveForm(name: string): boolean {
  return LAST_WORDS.has(squeeze(name.slice(name.lastIndexOf(" ") + 1))) || FIRST_OR_ASIAN.test(name);
}

/** Legal forms at the end, one after the other, or one at the beginning; never the whole name. */
export function dropLegalForm(value: string, country = ""): string {
  if (!mayHaveForm(value)) return value;
  let name = value;
  for (let again = true; again; ) {
    again = false;
    const words = name.split(" ");
    for (let taken = Math.min(MOST_WORDS, words.length - 1); taken > 0; taken--) {
      if (!isForm(words.slice(-taken).join(" "), TRAILING, country)) continue;
      name = words
        .slice(0, -taken)
        .join(" ")
        .replace(/[\s,;&-]+$/, "");
      again = true;
      break;
    }
  }
  const [head = "", ...rest] = name.split(" ");
  if (rest.length > 0 && isForm(head, LEADING, country)) name = rest.join(" ");
  // Asian forms stand without a space.
  name = name
    .replace(
      /^(株式会社|合同会社|有限会社|주식회사|\(주\))|(株式会社|合同会社|股份有限公司|有限责任公司|有限公司|주식회사)$/u,
      "",
    )
    .trim();
  return name === "" || /^[\d\W]*$/u.test(name.replace(/\p{L}/gu, "x")) ? value : name;
}

function isForm(text: string, forms: ReadonlySet<string>, country: string): boolean {
  const plain = squeeze(text);
  if (!forms.has(plain)) return false;
  // "a.s." with its dots is no word, either.
  return (
    !WORDS_TOO.has(plain) ||
    /\p{L}\.\p{L}/u.test(text) ||
    text === text.toUpperCase() ||
    AS_WRITTEN.has(text) ||
    OF_COUNTRY.get(country)?.has(plain) === true
  );
}

/** "The Slate Coast Archive" is Slate Coast Archive in a sentence; "The Who" stays whole. */
function dropArticle(value: string): string {
  const rest = value.replace(/^the\s+/i, "");
  return rest.includes(" ") || rest.length > 5 ? rest : value;
}

/** Shortest name in capitals that is more likely a shouted word than an abbreviation. */
const SHOUTED_FROM = 5;

function caseCompany(value: string, country: string): string {
  if (!hasLatin(value)) return value;
  const shouted = isShouted(value);
  if (!shouted && !isWhispered(value)) return value;
  if (shouted && !value.includes(" ") && value.length < SHOUTED_FROM) return value;
  // "acme.example" and "map24" are written so on purpose.
  if (!shouted && /[.\d@]/.test(value)) return value;
  const locale = localeOf(country);
  return value
    .split(" ")
    .map((word, at) => {
      const lower = word.toLocaleLowerCase(locale);
      if (at > 0 && SMALL.has(lower)) return lower;
      // No word has three letters without a vowel: BBC, NHS, MVZ.
      if (shouted && word.length <= 4 && !/[aeiouyäöüåæøáéíóúàèìòùâêîôûãõ]/i.test(word)) return word;
      return lower
        .split(/([-/'’&.])/)
        .map((part) => (part.length > 1 || at === 0 ? capitalise(part, locale) : part))
        .join("");
    })
    .join(" ");
}

/** What two spellings of a company share: no form, article, accents, signs or small words. For comparing only. */
export function companyKey(name: string): string {
  return dropLegalForm(dropArticle(collapseSpaces(name)))
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/ß/g, "ss")
    .replace(/ø/g, "o")
    .replace(/[^\p{L}\p{N}]+/gu, "");
}
