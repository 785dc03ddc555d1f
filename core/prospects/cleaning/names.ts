/** A person's first and last name as one would greet them, out of what exports and profiles hold. */
import { applyRule, type Cleaned, type CleaningRule, NOTHING_REFUSED, type Refused } from "./rules.ts";
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

export interface PersonName {
  first: string;
  last: string;
}

/** Words before a name that are no part of it, in the languages that exports come in. */
const HONORIFICS = new Set(
  `dr prof professor mr mrs ms miss mx sir dame rev reverend fr hon capt col maj lt eng engr ing dipl-ing mag herr frau
  sr sra srta don doña dott dott.ssa sig sig.ra avv arch ir drs mevr dhr mme mlle m me maître hr fru dña exmo exma mgr
  bc judr mudr phdr rndr doc univ.-prof ddr`.split(/\s+/),
);

/** Degrees and orders after a name. */
const DEGREES = new Set(
  `phd dphil md mba emba msc bsc ma ba meng beng mphil llb llm jd mpa mph med edd dba cpa cfa acca aca fca pmp esq rn
  obe mbe cbe kbe frs frsa frcs fsa ama mcips cipd mcipd shrm-cp shrm-scp cissp prince2 csm cspo scrum pe ceng
  mls mlis mas fcilip acr iccrom aic dipl mres pgce`.split(/\s+/),
);

/** Parts of a family name that keep a small letter inside it. */
const PARTICLES = new Set(
  `van von der den de del della dello degli dei di da do dos das du des la le lo las los el al bin ibn ben ten ter te
  zu zum zur vom af av y e i und et`.split(/\s+/),
);

/** "Mac" is followed by a capital only in these; elsewhere it is a plain beginning, as in Macias. */
const MAC_NAMES =
  /^mac(donald|gregor|leod|kenzie|intyre|arthur|allister|dougall|farlane|pherson|lean|millan|neil|kay|kinnon|innes|rae|bride|callum|lachlan|naughton|namara)$/i;

/** First names that are two initials. */
const INITIALS = /^(aj|bj|cj|dj|ej|jb|jc|jd|jj|jm|jp|jr|jt|kc|kj|mj|oj|pj|rj|tj)$/i;

/** One word as names are written, and nothing that any rule could change; degrees such as "Ma" or "Dipl" are shorter or rarer than names. */
const PLAIN_NAME = /^[A-ZÀ-ÖØ-Þ][a-zß-öø-ÿ]{3,}$/;

/** Cleans a name. `country` (ISO 3166 alpha-2, or "") decides what small letters and i mean. */
export function cleanName(
  raw: PersonName,
  country = "",
  refused: Refused = NOTHING_REFUSED,
): { first: Cleaned; last: Cleaned } {
  let first: Cleaned = { value: raw.first, rules: [] };
  let last: Cleaned = { value: raw.last, rules: [] };
  // Most names are fine as they are; a long file is through in half the time.
  if (PLAIN_NAME.test(raw.first) && PLAIN_NAME.test(raw.last)) return { first, last };
  const both = (rule: CleaningRule, change: (value: string, isLast: boolean) => string) => {
    first = applyRule(first, rule, refused, (value) => change(value, false));
    last = applyRule(last, rule, refused, (value) => change(value, true));
  };
  both("look_alike", replaceLookAlikes);
  both("emoji", dropEmoji);
  both("aside", dropAsides);
  both("honorific", dropHonorifics);
  both("spaces", collapseSpaces);
  if (!refused.has("split")) {
    const parted = partName(first.value, last.value);
    if (parted) {
      first = noteSplit(first, parted.first);
      last = noteSplit(last, parted.last);
    }
  }
  both("capitals", (value, isLast) => caseName(value, isLast, country));
  return { first, last };
}

function noteSplit(cleaned: Cleaned, value: string): Cleaned {
  return cleaned.value === value ? cleaned : { value, rules: [...cleaned.rules, "split"] };
}

/** Nicknames in quotes, pronouns and remarks in brackets. */
function dropAsides(value: string): string {
  if (!/["“”„«»(（[‘]/.test(value)) return value;
  const without = value
    .replace(/[“”„«»"][^“”„«»"]*[“”„«»"]/g, " ")
    .replace(/[‘][^’]*[’]/g, " ")
    .replace(/[([（][^)\]）]*[)\]）]/g, " ");
  const kept = collapseSpaces(without);
  return kept === "" ? value : kept;
}

const bare = (word: string) => word.toLowerCase().replace(/^[.,]+|[.,]+$/g, "");

function dropHonorifics(value: string): string {
  // What follows a comma is a degree, a post or a place, or the first name of "Brandt, Ilse".
  const [head = "", ...tail] = value.split(/\s*,\s*/);
  const kept = tail.filter((part) => !part.split(/\s+/).every((word) => isDegree(word)));
  let words = head.split(/\s+/);
  while (words.length > 1 && HONORIFICS.has(bare(words[0] as string)) && !isInitial(words))
    words = words.slice(1);
  while (words.length > 1 && isDegree(words.at(-1) as string, true)) words = words.slice(0, -1);
  return [words.join(" "), ...kept].join(", ");
}

/** "M. Brandt" is as often an initial as a Monsieur; with a dot and nothing but a family name after, it stays. */
function isInitial(words: string[]): boolean {
  return /^\p{Lu}\.$/u.test(words[0] as string);
}

/** In the middle of a name only written signs of a degree count: "Ma" may be a name, "M.A." and "MA" are not. */
function isDegree(word: string, inName = false): boolean {
  const plain = word.toLowerCase().replace(/[.,®]/g, "");
  if (!DEGREES.has(plain)) return false;
  return !inName || /\.|^\p{Lu}\p{Lu}|\p{Ll}\p{Lu}/u.test(word);
}

/**
 * A whole name in one column, or "Brandt, Ilse". Null if nothing is to be parted. The family name
 * begins at the first particle, else at the last word; more given names stay with the first.
 */
export function partName(first: string, last: string): PersonName | null {
  if (first !== "" && last !== "") return null;
  const whole = first || last;
  const comma = whole.match(/^([^,]+), *([^,]+)$/);
  if (comma) return { first: comma[2] as string, last: comma[1] as string };
  const words = whole.split(" ");
  if (words.length < 2 || !hasLatin(whole)) return null;
  // A lone family name with its particle: "van Dyk".
  if (PARTICLES.has((words[0] as string).toLowerCase()) && first === "") return null;
  let from = words.findIndex(
    (word, at) => at > 0 && at < words.length - 1 && PARTICLES.has(word.toLowerCase()),
  );
  if (from < 0) from = words.length - 1;
  // "Juan García López" has two family names; without a list of names, the last word decides.
  if (/^(jr|sr|ii|iii|iv)\.?$/i.test(words.at(-1) as string) && from > 1 && from === words.length - 1) from--;
  return { first: words.slice(0, from).join(" "), last: words.slice(from).join(" ") };
}

/** Capitals as the name is written, for names in capitals or small letters only. Mixed ones are somebody's own. */
export function caseName(value: string, isLast: boolean, country = ""): string {
  if (!hasLatin(value)) return value;
  if (!isShouted(value) && !isWhispered(value)) return value;
  if (!isLast && INITIALS.test(value)) return value.toUpperCase();
  const locale = localeOf(country);
  const words = value.split(" ");
  return words
    .map((word, at) => {
      const lower = word.toLocaleLowerCase(locale);
      // In Belgium and the Americas people of these names write the first particle with a capital.
      const small = isLast && words.length > 1 && at < words.length - 1 && PARTICLES.has(lower);
      if (small) return at === 0 && ["BE", "US", "CA", "ZA"].includes(country) ? capitalise(lower) : lower;
      if (isLast && /^(ii|iii|iv|vi|vii)$/.test(lower)) return lower.toUpperCase();
      return lower
        .split(/(-)/)
        .map((part) => casePart(part, country, locale))
        .join("");
    })
    .join(" ");
}

function casePart(part: string, country: string, locale: string | undefined): string {
  const initials = part.match(/^(\p{L}\.)+\p{L}?\.?$/u);
  if (initials) return part.toLocaleUpperCase(locale);
  const apostrophe = part.match(/^(\p{L}{1,2})(['’])(\p{L}.*)$/u);
  if (apostrophe) {
    const [, head = "", mark, rest = ""] = apostrophe;
    // French and Portuguese write d'Artagnan; Irish and Italian families O'Brien and D'Angelo.
    const small = /^[dl]$/.test(head) && ["FR", "PT", "BR", "CH", "LU"].includes(country);
    return (small ? head : capitalise(head, locale)) + mark + casePart(rest, country, locale);
  }
  if (/^mc\p{L}{2}/u.test(part)) return `Mc${capitalise(part.slice(2), locale)}`;
  if (MAC_NAMES.test(part)) return `Mac${capitalise(part.slice(3), locale)}`;
  if (country === "NL" && part.startsWith("ij")) return `IJ${part.slice(2)}`;
  return capitalise(part, locale);
}
