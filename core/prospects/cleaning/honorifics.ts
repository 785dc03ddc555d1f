/** Titles, degrees and orders around a name, in the languages that exports come in. */

/** Before a name these are titles, with or without a dot. Without dots and in small letters. */
const SURE = new Set(
  `dr drs prof professor professorin mr mrs ms miss mx sir dame lady rev reverend hon honourable honorable rt capt captain
  col maj lt sgt cpl cmdr adm engr dipl dipl-ing dipling dipl-kfm dipl-kffr dipl-phys dipl-chem dipl-inf dipl-psych
  dipl-wirt-ing dipl-betriebsw dipl-oec dipl-päd dipl-des dipl-biol dipl-math dkfm herr herrn frau hr fräulein univ-prof univprof pd priv-doz privdoz
  ddr ddra maga mmaga mmag drin profin dres habil hc mult kommr komm-rat rechtsanwalt rechtsanwältin
  mme mlle mlles mmes messrs maître monsieur madame mademoiselle
  sr sra srta srs dña dra dras lic licda licdo arq abog abg mtro mtra profa excmo exmo exma ilmo señor señora señorita doña
  senhor senhora dom dona engº engª eng.ª eng.º
  sig sigra sigr signor signora signorina dott dottssa dottoressa dottore avv rag geom profssa gent egr spett cav comm
  dhr mevr mw meneer mevrouw mej
  inż mgr lek hab pani panie pan-i
  judr mudr phdr rndr mvdr paeddr thdr phmr mddr bc bca mga rsdr icdr
  fru frk civing
  herra rouva
  sayın doç öğr gör yrd
  г-н г-жа гн гжа господин госпожа проф др инж д-р
  κ κος κα κυρία κύριος δρ
  bapak ibu bpk
  shri smt shrimati kumari mrs/mr
  sheikh shaikh ustad
  domnul doamna dna dl
  gđa gđica ga gdin
  cllr councillor revd pst pastor gräfin freiherr freifrau baroness countess viscount viscountess datin datuk dato' dato’
  puan encik ustaz ustazah alhaji alhaja otunba barr barrister rabbi archbishop deacon ven brig cdr lieut sqn ldr insp
  supt judge hon'ble cik khun tuan lt-col ltcol maj-gen ambassador senator congressman congresswoman alderman mstr
  sister prinzessin fürstin prince princess sheikha alh bishop`.split(/\s+/),
);

/** These are names or words as well: a title with a dot, beside a sure one, or where the country says so. */
const DOTTED = new Set(
  `sen rep gen gov pres amb sgt mag ing arch ir fr eng av hj h id tri ra rain stb wp kfm komm bed med dent vet phil jur
  iur rer nat pol oec publ techn univ doz theol soc agr sc cult bacc inform math hum mont ra adv er ca di doc dec on
  cand stud apl em emer lect asst assoc ord tit hon rr paed sport mus art ed lib fh tu mba stv priv d pr m mh
  с к т д н`.split(/\s+/),
);
const OF_COUNTRY: Record<string, Set<string>> = {};
for (const [countries, words] of [
  ["ES MX AR CO CL PE VE UY EC PH", "don d ing"],
  ["IT", "don ing arch"],
  ["PT BR", "d eng"],
  ["DE AT CH", "ra rain stb wp"],
  ["MX CO PE AR", "cp"],
  ["AT CZ SK HU SI", "mag ing"],
  ["PL", "pan"],
  ["TR", "av bay bayan"],
  ["ID", "ir h hj"],
  ["NL", "ir ing"],
  ["FR BE CH", "pr me"],
  ["IN", "ca adv er cs"],
] as const)
  for (const country of countries.split(" "))
    OF_COUNTRY[country] = new Set([...(OF_COUNTRY[country] ?? []), ...words.split(" ")]);

/** Degrees and orders after a name, without dots and in small letters. */
const DEGREES = new Set(
  `phd dphil md mba emba msc bsc ma ba meng beng mphil llb llm jd mpa mph med edd dba cpa cfa acca aca fca pmp esq rn
  obe mbe cbe kbe frs frsa frcs fsa ama mcips cipd mcipd shrm-cp shrm-scp cissp prince2 csm cspo scrum pe ceng
  mls mlis mas fcilip acr iccrom aic dipl mres pgce dr prof dvm dds do od pharmd psyd scd dsc engd ded mfa bfa bba bcom
  mcom btech mtech be mca bca llm magister bed beds frics mrics riba aia raic cima fcca cipp cisa cism itil pmi-acp safe
  mag bakk msca mim mib mscba dipl-ing dipling dipl-kfm dipl-ökonom habil ing phdr csc drsc mudr judr
  sphr phr lpc lcsw cfre cfp chfc clu ea cia cma cgma fmva six-sigma frm cams
  se mm mt sh skom st spd
  qc kc sc jp om ch gbe dbe cmg ktn edm pg-dip pgdip hons bsc(hons) ba(hons) ma(hons) dip cert fcmi cmgr mcim fcim mciob ret
  phd. abd ceo cfo cto coo`.split(/\s+/),
);

/** Of a family, and kept with its name. */
const GENERATION = /^(jr|sr|jnr|snr|junior|senior|ii|iii|iv|iii\.?|filho|neto|júnior|hijo|fils|père)\.?$/i;
/** Polite words behind a name: "Mehmet Bey", "田中様". */
const BEHIND = /^(Bey|Hanım|Hanim|bey|hanım|hanim|ji|san|sama|さん|様|先生|氏|님|씨|女士|小姐|博士)$/u;
const BEHIND_GLUED = /(?<=\p{L}{2})-(?:san|sama|sensei|kun|chan|ji)$/u;
const BEHIND_ASIAN = /(?<=[\u3040-\u30ff\u4e00-\u9fff\uac00-\ud7af])(さん|様|先生|氏|님|씨|女士|小姐|博士)$/u;

const bare = (word: string) =>
  word
    .toLowerCase()
    .replace(/[.,®™)(ªº°ᵃ]/gu, "")
    .replace(/^-+|-+$/g, "");

function isSure(word: string, country: string): boolean {
  const plain = bare(word);
  return (
    SURE.has(plain) ||
    /^dipl-?\p{L}{2,}$/u.test(plain) ||
    OF_COUNTRY[country]?.has(plain) === true ||
    (plain.includes("-") && plain.split("-").every((part) => SURE.has(part) || DOTTED.has(part)))
  );
}

/** Beside a sure title: a known part ("med"), any abbreviation ("xyz."), or a remark ("(FH)"). */
function isBeside(word: string): boolean {
  const plain = bare(word);
  return (
    (DOTTED.has(plain) && plain.length > 1) ||
    DEGREES.has(plain) ||
    /^\p{L}{2,}\.$/u.test(word) ||
    /^(\p{L}\.-?){2,}$/u.test(word) ||
    /^\(.*\)$/.test(word)
  );
}

/** Titles of two words, of which either alone may be a name. */
const IN_TWO =
  /^(?:tan sri|puan sri|wing (?:cdr|commander)|gp capt|group captain|lt\.? ?col\.?|his excellency|her excellency|h\.e\.|the (?:rt|right) hon(?:ourable)?\.?|vice admiral|rear admiral)\s+(?=\p{L})/iu;

/** Whether a first name's cell holds a title and nothing else: "Miss", "Frau". For a quick look. */
export const isTitleWord = (word: string): boolean => SURE.has(word) && !GIVEN_TOO.has(word);

/** Titles in front of the name; never all of it. */
function dropLeading(whole: string, country: string): string {
  const text = whole.replace(IN_TWO, "");
  const words = text.split(/\s+/);
  let at = 0;
  let seen = false;
  while (at < words.length - 1) {
    const word = words[at] as string;
    const next = words[at + 1] ?? "";
    // "M. Brandt" is as often an initial as a Monsieur: it stays.
    const isInitial = /^\p{Lu}\.$/u.test(word) && !OF_COUNTRY[country]?.has(bare(word));
    if (!isInitial && isSure(word, country)) seen = true;
    else if (/^the$/i.test(word) && isSure(next, country)) seen = true;
    else if (seen && isBeside(word)) seen = true;
    else if (/^\p{L}{2,}\.$/u.test(word) && (DOTTED.has(bare(word)) || isSure(next, country))) seen = true;
    else if (/^(\p{L}+\.)+$/u.test(word) && isDegree(word) && isSure(next, country)) seen = true;
    else if (splitDotted(words, at, country)) continue;
    else break;
    at++;
  }
  // The last word may have its title glued on: "Dr.Berg".
  while (at === words.length - 1 && splitDotted(words, at, country)) at++;
  return words.slice(at).join(" ");
}

/** "Prof.Dr.Anna" is three words if its first is a title. Changes `words`, and says whether it did. */
function splitDotted(words: string[], at: number, country: string): boolean {
  const parts = (words[at] as string).split(/(?<=\p{L}{2}\.)(?=[\p{Lu}\p{Ll}(])/u);
  if (parts.length < 2 || !(isSure(parts[0] as string, country) || DOTTED.has(bare(parts[0] as string))))
    return false;
  words.splice(at, 1, ...parts);
  return true;
}

/** In the middle of a name only written signs of a degree count: "Ma" may be a name, "M.A." and "MA" are not. */
function isDegree(word: string, inName = false): boolean {
  if (!DEGREES.has(bare(word))) return false;
  return !inName || /\.|^\p{Lu}\p{Lu}|\p{Ll}\p{Lu}/u.test(word);
}

/** Letters behind a comma that look like letters behind a name: "PMP®", "CPCC", "M.Ed." */
const LIKE_DEGREE =
  /^(?:\p{Lu}[\p{Lu}\d-]{1,6}|(?:\p{L}{1,3}\.){2,}\p{L}{0,3}|\p{Lu}\p{Ll}?\p{Lu}{1,3}\p{Ll}?)[®™]?$/u;

function dropTrailing(text: string): { text: string; generation: string } {
  let words = text.replace(BEHIND_ASIAN, "").replace(BEHIND_GLUED, "").split(/\s+/);
  let generation = "";
  while (words.length > 1) {
    const last = words.at(-1) as string;
    if (generation === "" && words.length > 2 && GENERATION.test(last)) generation = last;
    else if (!isDegree(last, true) && !BEHIND.test(last) && !/^(\(?hons\.?\)?)$/i.test(last)) break;
    words = words.slice(0, -1);
  }
  return { text: words.join(" "), generation };
}

/**
 * The name without titles and degrees. What follows a comma is a degree, a generation ("Jr.", which
 * goes behind the family name), or the first name of "Brandt, Ilse".
 */
export function dropHonorifics(value: string, country = ""): string {
  const [head = "", ...tail] = value.split(/\s*,\s*/).filter((part) => part !== "");
  const isWhole = /\s/.test(head) && /\p{Ll}/u.test(head);
  const kept: string[] = [];
  let generation = "";
  for (const part of tail) {
    const words = part.split(/\s+/);
    if (GENERATION.test(part)) generation = part;
    else if (!words.every((word) => isTail(word, isWhole, country))) kept.push(part);
  }
  const cleaned = [head, ...kept].map((part) => {
    const { text, generation: own } = dropTrailing(dropLeading(part, country));
    if (own !== "") generation = own;
    return text;
  });
  if (generation !== "") cleaned[0] = `${cleaned[0]} ${generation}`;
  return cleaned.join(", ");
}

const isTail = (word: string, isWhole: boolean, country: string) =>
  isDegree(word) || isSure(word, country) || (isWhole && (LIKE_DEGREE.test(word) || isBeside(word)));

/** Whether it is one name behind titles, which is then a family name: "Herr Brandt", "Frau Dr. Weber". */
export function isAddressed(value: string, country = ""): boolean {
  const titles = value.trim().split(/\s+/).slice(0, -1);
  return titles.length > 0 && isTitles(titles.join(" "), country);
}

/** Whether there are titles and nothing else: "Dr.", "Mag.a". */
export function isTitles(value: string, country = ""): boolean {
  const [first = "", ...rest] = value.split(/\s+/);
  const isFirst = isSure(first, country) && !GIVEN_TOO.has(bare(first)) && !/^\p{Lu}\.$/u.test(first);
  return isFirst && rest.every((word) => isSure(word, country) || isBeside(word));
}
/** Of these a given name follows: "Sir Owain", "Doña Marta". */
const GIVEN_TOO = new Set([
  "sir",
  "dame",
  "lady",
  "doña",
  "dña",
  "dom",
  "dona",
  "don",
  "d",
  "shri",
  "smt",
  "bapak",
  "ibu",
]);
