/** Job titles as one would say them in a sentence. */
import { applyRule, type Cleaned, NOTHING_REFUSED, type Refused } from "./rules.ts";
import { capitalise, collapseSpaces, dropEmoji, hasLatin, isShouted, isWhispered } from "./text.ts";

const ABBREVIATIONS: Record<string, string> = {
  sr: "Senior",
  jr: "Junior",
  mgr: "Manager",
  mngr: "Manager",
  dir: "Director",
  asst: "Assistant",
  assoc: "Associate",
  exec: "Executive",
  coord: "Coordinator",
  eng: "Engineer",
  admin: "Administrator",
  dept: "Department",
  mktg: "Marketing",
  ops: "Operations",
};
const ACRONYMS = new Set(
  "ceo cto cfo coo cmo cio ciso cro chro cpo vp svp evp avp hr it ict uk us usa eu emea apac pr qa rd r&d hvac ehs gdpr crm erp seo bi".split(
    " ",
  ),
);
const SMALL = new Set("of the and for in at to de la du des und für der die y e".split(" "));

export function cleanTitle(raw: string, company = "", refused: Refused = NOTHING_REFUSED): Cleaned {
  let cleaned: Cleaned = { value: raw, rules: [] };
  cleaned = applyRule(cleaned, "tagline", refused, (value) => {
    const head = value.split(/\s*[|•·]\s*|\s+[–—]\s+/)[0]?.trim() ?? "";
    return head.length > 1 ? head : value;
  });
  cleaned = applyRule(cleaned, "emoji", refused, dropEmoji);
  cleaned = applyRule(cleaned, "spaces", refused, collapseSpaces);
  cleaned = applyRule(cleaned, "employer", refused, (value) => dropEmployer(value, company));
  cleaned = applyRule(cleaned, "capitals", refused, caseTitle);
  return applyRule(cleaned, "abbreviation", refused, (value) =>
    value.replace(/\b([A-Za-z]{2,6})\b(\.|(?=\s|$))/g, (found, word: string) =>
      // Alone it is somebody's own way to put it.
      ABBREVIATIONS[word.toLowerCase()] && value.length > found.length
        ? `${ABBREVIATIONS[word.toLowerCase()]}`
        : found,
    ),
  );
}

/** "Registrar at Kaimuseum Nord" and "Registrar @ Kaimuseum": the company has a field of its own. */
function dropEmployer(value: string, company: string): string {
  const [, head, employer = ""] = value.match(/^(.{2,}?)\s+(?:at|@|bei|chez|en|na|hos)\s+(\p{Lu}.*)$/u) ?? [];
  if (!head) return value;
  const plain = (text: string) => text.toLowerCase().replace(/[^\p{L}\p{N}]/gu, "");
  const isTheirs = company !== "" && plain(company).startsWith(plain(employer.split(" ")[0] ?? ""));
  return isTheirs || / (at|@) /.test(value) ? head : value;
}

function caseTitle(value: string): string {
  if (!hasLatin(value)) return value;
  const shouted = isShouted(value);
  if ((!shouted && !isWhispered(value)) || (shouted && value.length < 5)) return value;
  return value
    .split(/(\s+|[-/,&()])/)
    .map((word, at) => {
      const lower = word.toLowerCase();
      if (ACRONYMS.has(lower)) return word.toUpperCase();
      return at > 0 && SMALL.has(lower) ? lower : capitalise(word);
    })
    .join("");
}
