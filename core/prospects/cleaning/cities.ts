/** Cities as they are written on a letter. */
import { applyRule, type Cleaned, type Refused, settledText } from "./rules.ts";
import { capitalise, collapseSpaces, isShouted, isWhispered, localeOf, repairText } from "./text.ts";

/** Small inside a city's name: "Frankfurt am Main", "Aix-en-Provence", "Rio de Janeiro". */
const SMALL = new Set(
  `am an der die im in bei ob vor unter auf dem den v d sur sous en lès les le la de du des et aux à of upon on by the
  over under next and del el los las da do dos das di della delle sul nad pod op aan bij 's 't och og i`.split(
    /\s+/,
  ),
);
/** Shorter ones in capitals are abbreviations: "NYC", "LA". */
const SHOUTED_FROM = 4;

/** A city without stray signs, and with capitals as names have them if it was shouted or whispered. */
export function cleanCity(raw: string, country: string, refused: Refused): Cleaned {
  return settledText(raw, (before) => {
    let cleaned = applyRule(before, "encoding", refused, repairText);
    cleaned = applyRule(cleaned, "spaces", refused, collapseSpaces);
    return applyRule(cleaned, "capitals", refused, (value) => caseCity(value, country));
  });
}

function caseCity(value: string, country: string): string {
  if (!(isShouted(value) && value.length >= SHOUTED_FROM) && !isWhispered(value)) return value;
  if (/\p{Script=Georgian}/u.test(value)) return value;
  const locale = localeOf(country, value);
  return value
    .toLocaleLowerCase(locale)
    .split(/([\s\-/,()]+)/)
    .map((word, at) => {
      if (at > 0 && SMALL.has(word)) return word;
      // "'s-Hertogenbosch" and "'t Gooi" begin small.
      if (/^['’][st]$/.test(word)) return word;
      if (["NL", "BE"].includes(country) && word.startsWith("ij")) return `IJ${word.slice(2)}`;
      const apostrophe = word.match(/^(\p{L}{1,2}['’])(\p{L}.*)$/u);
      if (apostrophe) {
        const [, head = "", rest = ""] = apostrophe;
        return (at > 0 ? head : capitalise(head, locale)) + capitalise(rest, locale);
      }
      return capitalise(word, locale);
    })
    .join("");
}
