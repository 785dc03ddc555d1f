/** How a domain writes its people's addresses, learned from those that are known, and what follows for the others. */
import { PARTICLES } from "./cleaning/name-case.ts";
import { type Letters, type Spelling, spellingsOf } from "./transliteration.ts";

/** Local parts from a first name f, a last name l and the initials i of the first; the order is how common they are. */
export const PATTERNS = {
  "first.last": (f: string, l: string) => `${f}.${l}`,
  flast: (_: string, l: string, i: string) => i + l,
  first: (f: string) => f,
  "f.last": (_: string, l: string, i: string) => `${i}.${l}`,
  firstlast: (f: string, l: string) => f + l,
  first_last: (f: string, l: string) => `${f}_${l}`,
  "last.first": (f: string, l: string) => `${l}.${f}`,
  firstl: (f: string, l: string) => f + l.slice(0, 1),
  last: (_: string, l: string) => l,
  "first-last": (f: string, l: string) => `${f}-${l}`,
  lastf: (_: string, l: string, i: string) => l + i,
  "last.f": (_: string, l: string, i: string) => `${l}.${i}`,
  "first.l": (f: string, l: string) => `${f}.${l.slice(0, 1)}`,
  lastfirst: (f: string, l: string) => l + f,
  last_first: (f: string, l: string) => `${l}_${f}`,
  "last-first": (f: string, l: string) => `${l}-${f}`,
  f_last: (_: string, l: string, i: string) => `${i}_${l}`,
  "f-last": (_: string, l: string, i: string) => `${i}-${l}`,
  "l.first": (f: string, l: string) => `${l.slice(0, 1)}.${f}`,
  lfirst: (f: string, l: string) => l.slice(0, 1) + f,
  fl: (_: string, l: string, i: string) => i + l.slice(0, 1),
} as const;
export type Pattern = keyof typeof PATTERNS;
export const PATTERN_NAMES = Object.keys(PATTERNS) as Pattern[];
/** Where nothing is known, only the common ones are tried: each costs a question to the mail server. */
const COMMON = PATTERN_NAMES.slice(0, 10);

/**
 * What stands for a given name of several parts ("Anna-Maria", "José Luis"), as spelled with hyphens.
 * `initials` is for patterns with f: "jp.dupont".
 */
const FIRST_FORMS = {
  kept: (name: string) => name,
  one: (name: string) => name.split("-")[0] ?? "",
  joined: (name: string) => name.replaceAll("-", ""),
  dotted: (name: string) => name.replaceAll("-", "."),
  underscored: (name: string) => name.replaceAll("-", "_"),
  initials: (name: string) => name.replaceAll("-", ""),
} as const;
/** The initials that a form has in the patterns with one: "jp" of Jean-Pierre, else "j". */
const initialsOf = (spelled: string, form: keyof typeof FIRST_FORMS) =>
  form === "initials"
    ? spelled
        .split("-")
        .map((part) => part.slice(0, 1))
        .join("")
    : spelled.slice(0, 1);

/**
 * What stands for a family name of several: "García López", "Silva Santos", "van der Berg", "Berg-Weiss".
 * The parts are its names, each with its particles in front.
 */
const LAST_FORMS = {
  kept: (parts: string[][], hyphenated: string) => (hyphenated === "" ? parts.flat().join("") : hyphenated),
  joined: (parts: string[][]) => parts.flat().join(""),
  one: (parts: string[][]) => (parts[0] ?? []).join(""),
  ending: (parts: string[][]) => (parts.at(-1) ?? []).join(""),
  bare: (parts: string[][]) => parts.map((part) => part.at(-1)).join(""),
  bare_one: (parts: string[][]) => parts[0]?.at(-1) ?? "",
  bare_ending: (parts: string[][]) => parts.at(-1)?.at(-1) ?? "",
  hyphenated: (parts: string[][]) => parts.flat().join("-"),
  dotted: (parts: string[][]) => parts.flat().join("."),
  underscored: (parts: string[][]) => parts.flat().join("_"),
} as const;

/** How names of several parts go into an address. */
interface Style {
  first: keyof typeof FIRST_FORMS;
  last: keyof typeof LAST_FORMS;
}
const STYLES: Style[] = (Object.keys(FIRST_FORMS) as Style["first"][]).flatMap((first) =>
  (Object.keys(LAST_FORMS) as Style["last"][]).map((last) => ({ first, last })),
);

export interface KnownAddress {
  first: string;
  last: string;
  email: string;
}

/** What stands in addresses for each style, in one spelling of the name. */
interface Written {
  firsts: { text: string; initials: string; letters: Letters; form: Style["first"] }[];
  lasts: { text: string; letters: Letters; forms: Style["last"][] }[];
}

function written(first: string, last: string, known: Letters = {}, country = ""): Written {
  const given = spellingsOf(first, known, country);
  const family = spellingsOf(last, known, country);
  return {
    firsts: given.flatMap(({ text, letters }) =>
      (Object.keys(FIRST_FORMS) as Style["first"][]).map((form) => ({
        text: FIRST_FORMS[form](text),
        initials: initialsOf(text, form),
        letters,
        form,
      })),
    ),
    lasts: family.flatMap((spelling) => {
      const parts = familyNames(spelling.text, last);
      // A hyphen that the name itself has; spaces became hyphens, too.
      const hyphenated = /\p{L}[-‐–]\p{L}/u.test(last) && !/\s/.test(last.trim()) ? spelling.text : "";
      return group(spelling, (form) => LAST_FORMS[form](parts, hyphenated));
    }),
  };
}

/** The forms of one spelling; those that give the same text together. */
function group({ letters }: Spelling, make: (form: Style["last"]) => string): Written["lasts"] {
  const byText = new Map<string, Style["last"][]>();
  for (const form of Object.keys(LAST_FORMS) as Style["last"][]) {
    const text = make(form);
    if (text !== "") byText.set(text, [...(byText.get(text) ?? []), form]);
  }
  return [...byText].map(([text, forms]) => ({ text, letters, forms }));
}

/** "de la Cruz Pérez" is [[de, la, cruz], [perez]]: particles belong to what follows. */
function familyNames(spelled: string, last: string): string[][] {
  const particles = last
    .toLowerCase()
    .split(/[\s‐–-]+/)
    .map((word) => PARTICLES.has(word) && !/^(y|e|i|und|et)$/.test(word));
  const parts: string[][] = [];
  let open: string[] = [];
  for (const [at, word] of spelled.split("-").entries()) {
    if (word === "") continue;
    open.push(word);
    if (particles[at] && at < particles.length - 1) continue;
    parts.push(open);
    open = [];
  }
  // "Ortega y Gasset" is one name to those who write addresses, and its y is left out.
  return parts.filter((part) => parts.length === 1 || !/^(y|e|i|und|et)$/.test(part.join("")));
}

interface Match {
  pattern: Pattern;
  style: Style;
  letters: Letters;
}

/** Every pattern, style and spelling by which this name gives this address. */
function matchesOf({ first, last, email }: KnownAddress): Match[] {
  const local = email.slice(0, email.lastIndexOf("@")).toLowerCase();
  const { firsts, lasts } = written(first, last);
  const matches: Match[] = [];
  const meet = (f: Written["firsts"][number], l: Written["lasts"][number]) => {
    for (const pattern of PATTERN_NAMES) {
      if (PATTERNS[pattern](f.text, l.text, f.initials) !== local) continue;
      for (const formOfLast of l.forms)
        matches.push({
          pattern,
          style: { first: f.form, last: formOfLast },
          letters: {
            ...(usesAll(pattern, "f") ? f.letters : {}),
            ...(usesAll(pattern, "l") ? l.letters : {}),
          },
        });
    }
  };
  for (const f of firsts) for (const l of lasts) meet(f, l);
  return matches;
}

/** Whether a pattern shows more than the initial of the first (f) or last (l) name. */
const usesAll = (pattern: Pattern, part: "f" | "l") => pattern.includes(part === "f" ? "first" : "last");

/** The pattern that an address follows, or null if it follows none. */
export function patternOf(known: KnownAddress): Pattern | null {
  const found = new Set(matchesOf(known).map(({ pattern }) => pattern));
  return PATTERN_NAMES.find((pattern) => found.has(pattern)) ?? null;
}

export interface Learned {
  pattern: Pattern;
  style: Style;
  /** How the domain spells letters that have several spellings. */
  letters: Letters;
  /** Whether somebody with two given or two family names is among those who show it. */
  showsTwo: { first: boolean; last: boolean };
  /** "7 of 8 known addresses" are of this pattern. */
  count: number;
  of: number;
}

/** More known addresses than this teach nothing new. */
const MOST_KNOWN = 300;

/**
 * The pattern and style that explain most known addresses of a domain, and its spellings; null if none
 * explains any. The more common one wins a tie. Addresses of functions ("info@") should not be among them.
 */
export function learnPattern(known: readonly KnownAddress[]): Learned | null {
  const all = known.slice(0, MOST_KNOWN).map(matchesOf);
  const counts = new Map<string, number>();
  const keyOf = (pattern: Pattern, { first, last }: Style) => `${pattern} ${first} ${last}`;
  for (const matches of all)
    for (const key of new Set(matches.map(({ pattern, style }) => keyOf(pattern, style))))
      counts.set(key, (counts.get(key) ?? 0) + 1);
  let best: Omit<Learned, "letters" | "showsTwo"> | null = null;
  for (const pattern of PATTERN_NAMES)
    for (const style of STYLES) {
      const count = counts.get(keyOf(pattern, style)) ?? 0;
      if (count > (best?.count ?? 0)) best = { pattern, style, count, of: all.length };
    }
  if (!best) return null;
  const chosen = keyOf(best.pattern, best.style);
  const showing = all.flatMap((matches, at) => {
    const match = matches.find(({ pattern, style }) => keyOf(pattern, style) === chosen);
    return match ? [{ letters: match.letters, who: known[at] as KnownAddress }] : [];
  });
  return {
    ...best,
    letters: mostCommon(showing.map(({ letters }) => letters)),
    showsTwo: {
      first: showing.some(({ who }) => /\s/.test(who.first.trim())),
      last: showing.some(({ who }) => hasTwo(who.last)),
    },
  };
}

function mostCommon(shown: readonly Letters[]): Letters {
  const votes = new Map<string, Map<string, number>>();
  for (const letters of shown)
    for (const [letter, way] of Object.entries(letters)) {
      const of = votes.get(letter) ?? new Map<string, number>();
      votes.set(letter, of.set(way, (of.get(way) ?? 0) + 1));
    }
  return Object.fromEntries(
    [...votes].map(([letter, ways]) => [letter, [...ways].toSorted((a, b) => b[1] - a[1])[0]?.[0] ?? ""]),
  );
}

/** Two family names of which a country's people use the second in short; elsewhere it is the first. */
const SECOND_COUNTS = new Set(["PT", "BR", "AO", "MZ", "CV"]);

/** Two family names without a hyphen: "García López", not "van der Berg". */
const hasTwo = (last: string) =>
  /\s/.test(last.trim()) &&
  !last
    .toLowerCase()
    .trim()
    .split(/\s+/)
    .every((word, at, words) => at === words.length - 1 || PARTICLES.has(word));

/** How somebody's names go into an address: as the domain has shown, else as is usual. */
function styleFor(first: string, last: string, learned: Learned | null, country: string): Style {
  const usualFirst = /\s/.test(first.trim()) ? "one" : "kept";
  const usualLast = !hasTwo(last) ? "kept" : SECOND_COUNTS.has(country) ? "ending" : "one";
  // What names of one part have shown says nothing of those of several.
  const isFirstShown = learned && (learned.style.first !== "kept" || learned.showsTwo.first);
  const isLastShown = learned && (learned.style.last !== "kept" || learned.showsTwo.last);
  return {
    first: isFirstShown ? learned.style.first : usualFirst,
    last: isLastShown ? learned.style.last : usualLast,
  };
}

/**
 * Addresses to try for somebody, the learned pattern first, each with the pattern it comes from; none for
 * names in letters without a usual spelling. `country` (ISO 3166 alpha-2, or "") decides what is unknown.
 */
export function addressCandidates(
  { first, last }: { first: string; last: string },
  domain: string,
  learned: Learned | null,
  country = "",
): { email: string; pattern: Pattern }[] {
  const { firsts, lasts } = written(first, last, learned?.letters, country);
  const style = styleFor(first, last, learned, country);
  const f = firsts.find(({ form }) => form === style.first);
  const l = lasts.find(({ forms }) => forms.includes(style.last))?.text;
  if (!f?.text || !l) return [];
  const order = learned ? [learned.pattern, ...COMMON.filter((name) => name !== learned.pattern)] : COMMON;
  return order.map((pattern) => ({
    email: `${PATTERNS[pattern](f.text, l, f.initials)}@${domain}`,
    pattern,
  }));
}
