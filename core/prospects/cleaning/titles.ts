/** Job titles as one would say them in a sentence. */
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
} from "./text.ts";

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
  `ceo cto cfo coo cmo cio ciso cro chro cpo cco cdo clo cso vp svp evp avp rvp hr hrbp it ict uk us usa eu uae emea apac
  dach latam mena pr qa qc rd r&d hvac ehs hse qhse hseq gdpr crm erp seo sea sem bi ai ml ux ui pmo edi b2b b2c sap cad cnc
  esg csr m&a f&b d&i l&d vip tv fmcg oem pa ea md gm hod kam sdr bdr pos sql api iot aws ii iii iv ag gmbh ti rh rrhh dsi drh
  daf pdg dg edv kfz nhs phd mba dvm cpa`.split(/\s+/),
);
const SMALL = new Set(
  `of the and for in at to on by with de du la le les des d l und für der die das den dem im am von vom zu y e et i en del
  della delle dei di da do dos das para con per van voor och og av af till ds en chef`.split(/\s+/),
);

export function cleanTitle(raw: string, company = "", refused: Refused = NOTHING_REFUSED): Cleaned {
  const cleaned = settledText(raw, (before) => lookOver(before, company, refused));
  return cleaned.value.length < LONGEST && hasBrokenLetters(cleaned.value)
    ? { ...cleaned, doubt: "broken_letters" }
    : cleaned;
}

/** Every rule, one after the other. */
function lookOver(before: Cleaned, company: string, refused: Refused): Cleaned {
  let cleaned = applyRule(before, "encoding", refused, repairText);
  cleaned = applyRule(cleaned, "spaces", refused, collapseSpaces);
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

const AT = "at|@|bei|chez|en|na|hos";
const EMPLOYER = new RegExp(`^(.{2,}?)\\s+(?:${AT})\\s+(\\p{Lu}.*)$`, "u");
const MAY_NAME_EMPLOYER = new RegExp(`(?<!\\p{L})(?:${AT})(?!\\p{L})`, "u");

/** Whether what comes of a title can depend on the company; of most it cannot. */
export const mayNameEmployer = (title: string): boolean => MAY_NAME_EMPLOYER.test(title);

/** "Registrar at Kaimuseum Nord" and "Registrar @ Kaimuseum": the company has a field of its own. */
function dropEmployer(value: string, company: string): string {
  const [, head, employer = ""] = value.match(EMPLOYER) ?? [];
  if (!head) return value;
  const plain = (text: string) => text.toLowerCase().replace(/[^\p{L}\p{N}]/gu, "");
  const isTheirs = company !== "" && plain(company).startsWith(plain(employer.split(" ")[0] ?? ""));
  return isTheirs || / (at|@) /.test(value) ? head : value;
}

function caseTitle(value: string): string {
  const shouted = isShouted(value);
  if ((!shouted && !isWhispered(value)) || (shouted && value.length < 5)) return value;
  const locale = localeOf("", value);
  return value
    .split(/(\s+|[-/,&()])/)
    .map((word, at) => {
      const lower = word.toLocaleLowerCase(locale);
      if (ACRONYMS.has(lower)) return word.toUpperCase();
      // No word is without a vowel.
      if (
        shouted &&
        word.length > 1 &&
        word.length < 5 &&
        !/[aeiouyäöüåæøáéíóúàèìòùâêôûãõąęıаеёиоуыэюяієїαεηιουω]/i.test(word)
      )
        return word;
      return at > 0 && SMALL.has(lower) ? lower : capitalise(word, locale);
    })
    .join("");
}
