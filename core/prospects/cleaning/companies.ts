/** A company's name as its people say it: without its legal form, its slogan and its capitals. */

import { distance } from "fastest-levenshtein";
import { fold } from "../../fold.ts";
import { LEADING_FORMS, LEGAL_FORMS, squeeze, WORDS_TOO } from "./legal-forms.ts";
import { isCity } from "./places.ts";
import { applyRule, type Cleaned, LONGEST, NOTHING_REFUSED, type Refused, settledText } from "./rules.ts";
import {
  capitalise,
  collapseSpaces,
  dropEmoji,
  hasBrokenLetters,
  isShouted,
  isWhispered,
  localeOf,
  repairText,
  replaceLookAlikes,
} from "./text.ts";

export { LEGAL_FORMS } from "./legal-forms.ts";

const FORMS = Object.values(LEGAL_FORMS).flat();
const TRAILING = new Set(FORMS.map(squeeze));
/** In its own country a form is a form, however it is written. */
const OF_COUNTRY = new Map(
  Object.entries(LEGAL_FORMS).map(([country, forms]) => [country, new Set(forms.map(squeeze))]),
);
/** Forms whose capitals no plain word has: "SpA", "GmbH", "ApS". */
const AS_WRITTEN = new Set(FORMS.filter((form) => /\p{Ll}\p{Lu}/u.test(form) || form === "Co"));
const LEADING = new Set(LEADING_FORMS.map(squeeze));
const MOST_WORDS = Math.max(...FORMS.map((form) => form.split(" ").length));

/** Small words inside a name in capitals. */
const SMALL = new Set(
  `of the and for in on at de del la las los el da do das dos e y et du des le les von van der und am im zu zum zur
  di della dei degli dello delle het og i på av af a den für bei ve och ja en w na z`.split(/\s+/),
);

/** Cleans a company's name. `country` is ISO 3166 alpha-2, or "". */
export function cleanCompany(raw: string, country = "", refused: Refused = NOTHING_REFUSED): Cleaned {
  const cleaned = settledText(raw, (before) => lookOver(before, country, refused));
  if (cleaned.value.length > LONGEST) return { ...cleaned, doubt: "long" };
  if (hasBrokenLetters(cleaned.value)) return { ...cleaned, doubt: "broken_letters" };
  if (/\S@\S+\.\S/.test(cleaned.value)) return { ...cleaned, doubt: "address" };
  return cleaned;
}

/** Every rule, one after the other. */
function lookOver(before: Cleaned, country: string, refused: Refused): Cleaned {
  let cleaned = applyRule(before, "encoding", refused, repairText);
  cleaned = applyRule(cleaned, "spaces", refused, collapseSpaces);
  cleaned = applyRule(cleaned, "look_alike", refused, replaceLookAlikes);
  cleaned = applyRule(cleaned, "blank", refused, (value) => (isBlankCompany(value) ? "" : value));
  cleaned = applyRule(cleaned, "trading_name", refused, (value) => tradingName(value));
  cleaned = applyRule(cleaned, "tagline", refused, dropTagline);
  cleaned = applyRule(cleaned, "emoji", refused, dropEmoji);
  cleaned = applyRule(cleaned, "spaces", refused, collapseSpaces);
  // A form may stand behind brackets, and brackets behind a form.
  for (let round = 0; round < 2; round++) {
    cleaned = applyRule(cleaned, "legal_form", refused, (value) => dropLegalForm(value, country));
    cleaned = applyRule(cleaned, "aside", refused, dropAside);
  }
  cleaned = applyRule(cleaned, "quotes", refused, dropQuotes);
  cleaned = applyRule(cleaned, "article", refused, dropArticle);
  return applyRule(cleaned, "capitals", refused, (value) => caseCompany(value, country));
}

/** Nobody's company, in the words of exports. */
const NO_COMPANY =
  /^(n\/?\.?a\.?|#n\/a|none|null|nil|unknown|unbekannt|tbd|tba|tbc|n\.\s?n\.|various|diverse|privat|private person|student|test|xxx+|k\.\s?a\.?|-+|\?+|\.+|self[- ]?employed|freelance[r]?|not available|not applicable|no company|keine angabe|selbstständig|unemployed|retired|company|company name|firma)$/i;
const isBlankCompany = (value: string) => NO_COMPANY.test(value) || !/[\p{L}\p{N}]/u.test(value);

/** A phrase between a name and what is said of it, with the marks around it. */
const between = (phrases: string) =>
  `\\s*[-–—,;(]?\\s*(?<=^|[\\s(,;–—-])(?:${phrases
    .trim()
    .split(/\s*\|\s*/)
    .join("|")})(?=[\\s:)]|$)\\s*:?\\s*`;
/** What stands behind is the name that people say. */
const TRADES_AS = new RegExp(
  between(`t/a | t\\.a\\. | d/?b/?a\\.? | d\\.b\\.a\\. | trading as | doing business as | operating as | o/a
    | handelend onder(?: de naam)? | h\\.?o\\.?d\\.?n\\.? | geschäftsbezeichnung | nom commercial | nombre comercial
    | nome fantasia | (?:also |better |commercially )?known as | a\\.?k\\.?a\\.? | a/k/a`),
  "iu",
);
/** What stands behind is a former name, an owner or a state. */
const WAS_OR_BELONGS = new RegExp(
  `${between(`formerly(?: known as)? | former | f/?k/?a\\.? | previously(?: known as)? | vormals | ehemals | ehem\\.
    | früher | vorm\\. | anciennement | ex(?= \\p{Lu}) | ex- | antes | anteriormente | antigamente | già | voorheen
    | dawniej | tidigare | tidligere | dříve | ранее | бывш\\. | (?:now )?part of | ein unternehmen (?:der|von|des)
    | mitglied der | (?:a |an )(?:brand|company) of | (?:a |an )?(?:division|subsidiary|member|unit|part) of | une société du
    | (?:una|uma) empresa d[aeo] | une filiale d[eu] | an? \\p{Lu}\\S* company | c/o | in (?:liquidation|liquidazione|insolvenz|administration)
    | en liquidación | i\\.\\s?l\\.`)}.*$`,
  "iu",
);

/** "Alder Ltd t/a Brix" is Brix to its people; "Brix (formerly Alder)" is Brix as well. */
function tradingName(value: string): string {
  const trades = value.split(TRADES_AS);
  const named = trades.length > 1 ? (trades.at(-1) as string).replace(/[)\s]+$/, "") : value;
  const head = (named === "" ? value : named).replace(WAS_OR_BELONGS, "").trim();
  return /\p{L}/u.test(head) ? head : value;
}

/** What follows a dash, bar or bullet with spaces around it is what they say about themselves. */
function dropTagline(value: string): string {
  const cut = value.search(/\s+[-–—|•·:]+\s+|\s*[|•]\s*|:\s|\s+>+\s+|\s*[™®]\s*[-–—:]\s*/);
  const head = cut < 0 ? value : value.slice(0, cut).trim();
  return head.length > 1 && /\p{L}/u.test(head) ? head : value;
}

/** A former name or an abbreviation in brackets behind the name, or before it. */
function dropAside(value: string): string {
  const head = value
    .replace(/\s*[([（【][^)\]）】]*[)\]）】]\s*$/u, "")
    .replace(/^[([（【][^)\]）】]*[)\]）】]\s+/u, "")
    .trim();
  return head === "" ? value : head;
}

const QUOTES = /["“”„‟«»‹›「」『』〝〞＂]/g;

/** «Ромашка», „Agora“ and "Zum Anker" are said without their marks. Single ones are apostrophes inside a word. */
function dropQuotes(value: string): string {
  if (/^‘[^‘’]+’$/.test(value)) return value.slice(1, -1);
  const bare = collapseSpaces(
    value.replace(QUOTES, " ").replace(/(?<=^|\s)[‘’'‚]+|[‘’'‚]+(?=\s|$)/g, (mark, at: number) =>
      // "Anglers' Rest" and "Rock 'n' Roll" keep theirs.
      /s$/.test(value.slice(0, at)) || /^'n'/i.test(value.slice(at)) || /n$/.test(value.slice(0, at))
        ? mark
        : " ",
    ),
  ).replace(/\s+([,.])/g, "$1");
  return /[\p{L}\p{N}]/u.test(bare) ? bare : value;
}

/** The last words of all forms; a name that ends otherwise has none, which is soon told. */
const LAST_WORDS = new Set(FORMS.flatMap((form) => form.split(" ").map(squeeze)));
/** Whether a legal form can end in this word, which is in small letters. */
export const mayEndForm = (word: string): boolean => LAST_WORDS.has(word);
const FIRST_WORDS = new Set(LEADING_FORMS.map((form) => squeeze(form.split(" ")[0] as string)));
const ASIAN = /[\u0e00-\u0e7f\u3040-\u30ff\u4e00-\u9fff\uac00-\ud7af\u3231\u3232\u321c]/u;
const CLOSING = /[\s,;"”“»‹›」』)）&/+-]+$/u;

/** As most names are: nothing in them has to be taken away before one looks. */
const PLAIN_WORDS = /^[A-Za-z]+(?: [A-Za-z]+)*$/;

function mayHaveForm(name: string): boolean {
  if (PLAIN_WORDS.test(name)) {
    const words = name.toLowerCase().split(" ");
    const last = words.at(-1) as string;
    return (
      LAST_WORDS.has(last) || TRAILING.has(last) || FIRST_WORDS.has(words[0] as string) || PARTNERS.test(name)
    );
  }
  const plain = name.replace(QUOTES, " ").trim();
  const last = squeeze(plain.slice(plain.lastIndexOf(" ") + 1));
  const [first = ""] = plain.split(" ");
  return (
    LAST_WORDS.has(last) ||
    TRAILING.has(last) ||
    LAST_WORDS.has(squeeze(name.slice(name.lastIndexOf(" ") + 1))) ||
    LAST_WORDS.has(last.slice(last.lastIndexOf(",") + 1)) ||
    FIRST_WORDS.has(squeeze(first)) ||
    ASIAN.test(name) ||
    /,\S+$| \p{L}\.$/u.test(plain) ||
    PARTNERS.test(plain)
  );
}

/** Legal forms at the end, one after the other, or one at the beginning; never the whole name. */
export function dropLegalForm(value: string, country = ""): string {
  if (PLAIN_WORDS.test(value) && !mayHaveForm(value)) return value;
  // "Alder,Inc." and "Alder GmbH&Co.KG" lack their spaces.
  let name = value
    .replace(/,(?=\S)/g, ", ")
    .replace(/(?<=\p{L})&(?=Co\b)/gu, " & ")
    .replace(/(?<=Co\.)(?=KG|OHG|Ltd|Inc)/gu, " ");
  const comma = name.lastIndexOf(", ");
  name = withoutAddress(name);
  // "Alder GmbH, Kiel": where it is stands behind its form.
  if (comma > 0 && endsInLegalForm(name.slice(0, comma)) && isCity(name.slice(comma + 2)))
    name = name.slice(0, comma);
  if (!mayHaveForm(name)) return value;
  name = name.replace(PARTNERS, "");
  name = withoutTrailing(name, country);
  name = withoutLeading(name, country);
  if (ASIAN.test(name)) name = withoutAsian(name);
  name = name.trim();
  return name === "" || !/[\p{L}\p{N}]/u.test(name) ? value : name;
}

/** "Penwick Tools Ltd, 14 Mill Lane, Oxenford": what stands behind the form and has a number is where they are. */
function withoutAddress(name: string): string {
  const parts = name.split(/,\s+/);
  if (parts.length < 2) return name;
  const at = parts.findIndex((_, index) => index > 0 && endsInLegalForm(parts.slice(0, index).join(", ")));
  return at > 0 && parts.slice(at).some((part) => /\d/.test(part)) ? parts.slice(0, at).join(", ") : name;
}

function withoutTrailing(value: string, country: string): string {
  let name = value;
  for (let again = true; again; ) {
    again = false;
    const words = name.split(" ");
    // "The Worshipful Company of Lanterns" has its company in its name.
    if (/\b(?:company|society|guild|trust|association) of\b/i.test(name)) return name;
    for (let taken = Math.min(MOST_WORDS, words.length - 1); taken > 0; taken--) {
      const rest = words.slice(0, -taken).join(" ");
      if (!isForm(words.slice(-taken).join(" "), TRAILING, country, rest)) continue;
      // "Tiffany & Co." is a name; "Casa & Co. KG" loses its KG only.
      const cut = rest.replace(CLOSING, closing(rest)).replace(/\s+(?:und|u\.|and|e|et|y)$/iu, "");
      if (cut === "" || !/[\p{L}\p{N}]/u.test(cut)) continue;
      name = cut;
      again = true;
      break;
    }
  }
  return name;
}

/** Italian partnerships name who answers for them behind the form: "Alder S.n.c. di Rossi Mario & C." */
const PARTNERS =
  /\s+s\.?(?:n\.?c|a\.?s)\.?\s+di\s+.+$|\s+di\s+\p{Lu}[^,]*\s(?:&|e)\s+c\.?(?:\s+s\.?(?:n\.?c|a\.?s)\.?)?$/iu;

/** Marks that a name keeps at its end: a bracket that is opened in it, the quotation mark of "Hotel „Post“". */
function closing(rest: string): string {
  const [marks = ""] = rest.match(CLOSING) ?? [];
  return marks.replace(/[\s,;&/+-]+/g, "");
}

function withoutLeading(value: string, country: string): string {
  const words = value.split(" ");
  for (let taken = Math.min(4, words.length - 1); taken > 0; taken--) {
    const rest = words.slice(taken).join(" ");
    const form = words.slice(0, taken).join(" ");
    if (!isForm(form, LEADING, country, rest)) continue;
    // "Oy Vey Bagels" is no Finnish company.
    if (squeeze(form) === "oy" && country !== "FI" && !/\bab$/i.test(rest)) continue;
    if (squeeze(form) === "oy") return rest.replace(/\s+ab$/i, "");
    return rest.replace(/^[\s,.&-]+/, "");
  }
  // ООО«Ромашка» stands without a space.
  return value.replace(/^(?:ООО|ОАО|ЗАО|ПАО|АО|ТОВ|ТОО|ИП|SIA|UAB)(?=[«"„“])/u, "");
}

const ASIAN_FORMS = FORMS.filter((form) => ASIAN.test(form))
  .toSorted((a, b) => b.length - a.length)
  .map((form) => form.replace(/[().]/g, "\\$&"))
  .join("|");
const ASIAN_FIRST = new RegExp(`^(?:${ASIAN_FORMS}|บริษัท|ห้างหุ้นส่วนจำกัด)\\s*`, "u");
const ASIAN_LAST = new RegExp(`\\s*(?:${ASIAN_FORMS}|จำกัด|\\(มหาชน\\))$`, "u");

/** Asian forms stand without a space. */
function withoutAsian(value: string): string {
  let name = value.replace(ASIAN_FIRST, "");
  for (let before = ""; before !== name; ) {
    before = name;
    name = name.replace(ASIAN_LAST, "");
  }
  return name;
}

/** In front of a name two letters are its own abbreviation, but in the country that puts its form there. */
const SHORT_LEADING = new Set(["oy", "as", "ab", "mb", "cv", "bv", "sc", "fa"]);

/** In front of these words a spa is a spa. */
const SPA =
  /\b(day|beauty|wellness|health|hotel|resort|thermal|medi(?:cal)?|nail|urban|thai|massage|hair|salon|&|and|und|le|the)$/i;

function isForm(text: string, forms: ReadonlySet<string>, country: string, rest: string): boolean {
  const plain = squeeze(text)
    .replace(/^&/, "")
    .replace(/^(und|u)(?=co)/, "");
  if (!forms.has(plain) && !forms.has(squeeze(text))) return false;
  if (plain === "co" && /(&|\band|\bund|\+)$/i.test(rest)) return false;
  if (plain === "spa" && SPA.test(rest) && !/\./.test(text)) return false;
  if (!WORDS_TOO.has(plain)) return true;
  // "Fia Bt." has its dot; "Norðurljós hf" and "Kauppila Ky" stand behind words of their languages.
  if (forms === TRAILING && plain === "bt" && /\.$/.test(text)) return true;
  if (forms === TRAILING && plain === "hf" && /[ðþæöáíóúý]/i.test(rest)) return true;
  if (forms === TRAILING && text === "Ky" && !/,$/.test(rest)) return true;
  // "a.s." with its dots is no word, either; of shouted names capitals say nothing.
  return (
    /\p{L}\.\s?\p{L}|\p{L}\/\p{L}/u.test(text) ||
    (text === text.toUpperCase() &&
      !(forms === LEADING && SHORT_LEADING.has(plain)) &&
      (!isShouted(rest) || plain.length < 3 || !/[aeiou]/.test(plain))) ||
    (forms === LEADING && /^\p{L}{2,}\.$/u.test(text)) ||
    AS_WRITTEN.has(text.replace(/\.$/, "")) ||
    OF_COUNTRY.get(country)?.has(plain) === true
  );
}

/** Whether a text is a company's name for certain, by its form. For telling companies from people. */
export function endsInLegalForm(text: string): boolean {
  // Forms end in few words, and most names in others.
  if (!LAST_WORDS.has(squeeze(text.slice(text.search(/[^\s,]+[\s,]*$/))))) return false;
  const words = text.replace(/,(?=\S)/g, ", ").split(" ");
  for (let taken = 1; taken < Math.min(MOST_WORDS, words.length); taken++) {
    const form = words.slice(-taken).join(" ").replace(/[,;]$/, "");
    const plain = squeeze(form);
    // Short forms are initials, degrees or names as well: "Berg, S.A.", "Anna Ek", "de Vos".
    if (
      plain.length > 2 &&
      WRITTEN.has(form.replace(/\.$/, "")) &&
      !WORDS_TOO.has(plain) &&
      !DEGREES_TOO.has(plain)
    )
      return true;
  }
  return false;
}
const WRITTEN = new Set(
  FORMS.flatMap((form) => [form, form.toUpperCase()]).map((form) => form.replace(/\.$/, "")),
);
const DEGREES_TOO = new Set([
  "llm",
  "psc",
  "asc",
  "pbc",
  "eirl",
  "mba",
  "scm",
  "ead",
  "ood",
  "doo",
  "mbb",
  "hab",
]);

/** "The Slate Coast Archive" is Slate Coast Archive in a sentence; "The Who" stays whole. */
function dropArticle(whole: string): string {
  const value = whole.replace(/,\s*the$/i, "");
  const rest = value.replace(/^the\s+/i, "");
  // "The Bakery", "The Who", "The Guild of Tilers": without it they are any bakery, or no name.
  return rest.includes(" ") && !/\b(?:company|society|guild|order|house|art) of\b/i.test(rest) ? rest : value;
}

/** Shortest name in capitals that is more likely a shouted word than an abbreviation. */
const SHOUTED_FROM = 5;
/** Abbreviations that stand in names of companies and look like words. */
const ACRONYMS = new Set(
  `it ai hr tv uk us usa eu uae pr ict iot erp crm sap cnc led lpg b2b b2c 3d 2d ii iii iv vi dna rv suv api seo`.split(
    /\s+/,
  ),
);

function caseCompany(value: string, country: string): string {
  const shouted = isShouted(value);
  if (!shouted && !isWhispered(value)) return value;
  if (shouted && !value.includes(" ") && value.length < SHOUTED_FROM) return value;
  // "acme.example" and "map24" are written so on purpose.
  if (!shouted && /[.\d@]/.test(value)) return value;
  const locale = localeOf(country, value);
  return value
    .split(" ")
    .map((word, at) => {
      const lower = word.toLocaleLowerCase(locale);
      if (at > 0 && SMALL.has(lower)) return lower;
      if (/^\d+(?:st|nd|rd|th)$/.test(lower)) return lower;
      // No word has three letters without a vowel: BBC, NHS, MVZ.
      if (shouted && word.length <= 4 && !VOWEL.test(word)) return word;
      if (shouted && ACRONYMS.has(lower)) return word;
      if (shouted && /^(\p{L}\.)+\p{L}?$/u.test(word)) return word;
      return lower
        .split(/([-/'’&.+])/)
        .map((part, index, parts) => {
          // "MIKE'S" is Mike's, "L'ATELIER" is L'Atelier.
          const isEnding = index > 0 && /['’]/.test(parts[index - 1] ?? "") && part.length < 2;
          return isEnding ? part : capitalise(part, locale);
        })
        .join("");
    })
    .join(" ");
}
const VOWEL = /[aeiouyäöüåæøœáéíóúýàèìòùâêîôûãõąęėįųūůőűıаеёиоуыэюяієїαεηιουωάέήίόύώ]/i;

/** What two spellings of a company share: no form, article, accents, signs or small words. For comparing only. */
export function companyKey(name: string): string {
  return dropLegalForm(dropArticle(collapseSpaces(name)))
    .replace(/[äöü]/gi, (letter) => `${letter}e`)
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/ß/g, "ss")
    .replace(/ø/g, "o")
    .replace(/&|\+/g, "and")
    .replace(/\b(und|et|e|y|og|och|en|i)\b/g, "and")
    .replace(/[^\p{L}\p{N}]+/gu, "")
    .replace(/(?<=[aou])e/g, "");
}

/**
 * Whether two names may be one company's: the same words, or one more precise than the other ("Kai", "Kai Museum"). Two houses
 * of one city, university or group at one domain are not.
 */
export function mayBeSameCompany(one: string, other: string): boolean {
  const [a, b] = [companyKey(one), companyKey(other)];
  if (a === "" || b === "" || a === b) return true;
  const [short, long] = a.length < b.length ? [wordsOf(one), wordsOf(other)] : [wordsOf(other), wordsOf(one)];
  if (short.size > 0 && [...short].every((word) => long.has(word))) return true;
  if (initialsOf(one) === b || initialsOf(other) === a) return true;
  return distance(a, b) <= Math.max(1, Math.floor(Math.min(a.length, b.length) / 8));
}

const wordsOf = (name: string) =>
  new Set(
    fold(dropLegalForm(name))
      .split(/[^\p{L}\p{N}]+/u)
      .filter((word) => word.length > 1 && !SMALL.has(word)),
  );
const initialsOf = (name: string) => [...wordsOf(name)].map((word) => word[0]).join("");
