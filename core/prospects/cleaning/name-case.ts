/** Capitals as names are written, for those in capitals or small letters only. Mixed ones are somebody's own. */
import { capitalise, isShouted, isWhispered, localeOf } from "./text.ts";

/** Parts of a family name. */
export const PARTICLES = new Set(
  `van von der den de del della dello degli dei di da do das dos du des la le lo las los el al bin ibn bint ben ten ter te
  zu zum zur vom af av y e i und et 't op aan in uit over ver d' st saint ó ní mac nic o dal dalla delle san santa abu abd`.split(
    /\s+/,
  ),
);
/** Those that keep a small letter inside a name. Italian and French families write theirs large. */
const SMALL = new Set(
  `van von der den de del da do das dos du des zu zum zur vom af av y e i und et bin ibn bint ten ter te 't op aan in uit la las los`.split(
    /\s+/,
  ),
);
/** Small only behind another small one: "de la Cruz", but "La Rosa". */
const SMALL_BEHIND = new Set(["la", "las", "los", "in", "over"]);
/** In these countries people of such names write the first particle large. */
const LARGE_FIRST = new Set(["BE", "US", "CA", "ZA", "IT", "AU", "GB", "IE", "NZ"]);

/** "Mac" is followed by a capital only in these; elsewhere it is a plain beginning, as in Macias. */
const MAC_NAMES =
  /^mac(donald|donnell|gregor|leod|kenzie|intyre|arthur|allister|dougall|farlane|pherson|lean|millan|neil|neill|kay|kinnon|innes|rae|bride|callum|lachlan|naughton|namara|aulay|phail|cormack|dermott|kinley|manus|queen|rory|taggart)$/i;

/** First names that are two initials. */
const INITIALS = /^(aj|bj|cj|dj|ej|jb|jc|jd|jj|jk|jm|jp|jr|jt|kc|kj|mj|oj|pj|rj|tj|dk|ak|mk|pk|rk|sk|vk)$/i;

/** A name with the capitals that its country writes; as it is if they look chosen. */
export function caseName(value: string, isLast: boolean, country = ""): string {
  const words = value.split(" ");
  const spoken = words.filter((word) => !PARTICLES.has(word.toLowerCase()) && !/^(\p{L}\.)+$/u.test(word));
  const locale = localeOf(country, value);
  // A lone letter is an initial, whatever stands around it.
  const judged = spoken.length > 0 ? spoken.filter((word) => word.length > 1 || spoken.length === 1) : words;
  // Georgian has no capitals in names, though Unicode has some.
  if (/\p{Script=Georgian}/u.test(value)) return value;
  if (judged.length === 0 || !judged.every(hasNoCase)) return value;
  if (!isLast && INITIALS.test(value)) return value.toUpperCase();
  return words
    .map((word, at) => {
      const lower = word.toLocaleLowerCase(locale);
      if (isLast && words.length > 1 && at < words.length - 1 && SMALL.has(lower)) {
        const before = words[at - 1]?.toLowerCase() ?? "";
        if (SMALL_BEHIND.has(lower) && !SMALL.has(before)) return capitalise(lower, locale);
        return at === 0 && LARGE_FIRST.has(country) ? capitalise(lower, locale) : lower;
      }
      // "KC" is a family name of two initials.
      if (word.length === 2 && isShouted(word) && !/[AEIOUYÄÖÜÅÆØÁÉÍÓÚ]/.test(word)) return word;
      if (isLast && at > 0 && /^(ii|iii|iv|vi|vii)$/.test(lower)) return lower.toUpperCase();
      return lower
        .split(/([-‐–])/)
        .map((part) => casePart(part, country, locale))
        .join("");
    })
    .join(" ");
}

/** Typed with the capitals key on: "mÜLLER". */
const isInverted = (word: string) => /^\p{Ll}\p{Lu}{2,}$/u.test(word);
/** Shift held too long: "MArtin". */
const isHeld = (word: string) => /^(?!Mc|Mac|De|Di|La|Le|Van|O['’]|IJ)\p{Lu}{2}\p{Ll}{3,}$/u.test(word);
const isMc = (word: string) => /^(Mc|Mac)\p{Lu}{3,}$/u.test(word);
/** Whether the capitals of a word are nobody's choice. */
const hasNoCase = (word: string) =>
  isShouted(word) || isWhispered(word) || isInverted(word) || isHeld(word) || isMc(word);

function casePart(part: string, country: string, locale: string | undefined): string {
  if (/^(\p{L}\.)+\p{L}?\.?$/u.test(part)) return part.toLocaleUpperCase(locale);
  const apostrophe = part.match(/^(\p{L}{1,2}|dell|dall|nell|sant)(['’])(\p{L}.*)$/u);
  if (apostrophe) {
    const [, head = "", mark, rest = ""] = apostrophe;
    // French and Portuguese write d'Artagnan; Irish and Italian families O'Brien and D'Angelo.
    const small = /^[dl]$/.test(head) && ["FR", "PT", "BR", "CH", "LU"].includes(country);
    return (small ? head : capitalise(head, locale)) + mark + casePart(rest, country, locale);
  }
  if (/^mc\p{L}{2}/u.test(part)) return `Mc${capitalise(part.slice(2), locale)}`;
  if (MAC_NAMES.test(part)) return `Mac${capitalise(part.slice(3), locale)}`;
  if ((["NL", "BE"].includes(country) || /^ij[bsz]/.test(part)) && part.startsWith("ij"))
    return `IJ${part.slice(2)}`;
  return capitalise(part, locale);
}
