/** A person's first and last name as one would greet them, out of what exports and profiles hold. */
import { fold } from "../../fold.ts";
import { Kept } from "../../kept.ts";
import { dropHonorifics, isAddressed, isTitles } from "./honorifics.ts";
import { caseName, PARTICLES } from "./name-case.ts";
import {
  isBlank,
  isJobTitle,
  isLabel,
  isTrial,
  mayBeNoName,
  type NotAName,
  notAName,
} from "./placeholders.ts";
import {
  type Cleaned,
  type CleaningRule,
  LONGEST,
  NOTHING_REFUSED,
  noted,
  type Refused,
  settled,
} from "./rules.ts";
import {
  collapseSpaces,
  dropEmoji,
  hasBrokenLetters,
  isShouted,
  repairText,
  replaceLookAlikes,
  straightApostrophes,
} from "./text.ts";

export interface PersonName {
  first: string;
  last: string;
}

/** One word as names are written, and nothing that any rule could change; degrees such as "Ma" or "Dipl" are shorter or rarer than names. */
const PLAIN_NAME = /^[A-ZÀ-ÖØ-Þ][a-zß-öø-ÿ]{3,}$/;

interface CleanedName {
  first: Cleaned;
  last: Cleaned;
}

/**
 * Cleans a name. `country` (ISO 3166 alpha-2, or "") decides what small letters and i mean. What is no
 * name (a post, a company, an address) is taken out, and both parts carry the doubt that says so.
 */
export function cleanName(raw: PersonName, country = "", refused: Refused = NOTHING_REFUSED): CleanedName {
  const given: CleanedName = { first: { value: raw.first, rules: [] }, last: { value: raw.last, rules: [] } };
  const name = settled(
    given,
    ({ first, last }) => `${first.value}\n${last.value}`,
    (before) => lookOver(before, country, refused),
  );
  return { first: doubtful(name.first, true), last: doubtful(name.last, false) };
}

/** Most names are fine as they are; a long file is through in half the time. */
const isFine = ({ first, last }: CleanedName, country: string): boolean =>
  first.value.length + last.value.length <= LONGEST_NAME &&
  PLAIN_NAME.test(first.value) &&
  PLAIN_NAME.test(last.value) &&
  FAMILY_FIRST[country] === undefined &&
  first.value !== last.value &&
  !mayBeNoName(first.value, last.value);

/** Every rule once, one after the other. */
function lookOver(name: CleanedName, country: string, refused: Refused): CleanedName {
  if (isFine(name, country)) return name;
  let { first, last } = name;
  const isLong = first.value.length > LONGEST || last.value.length > LONGEST;
  for (const [rule, change] of isLong ? RULES_OF_LONG : RULES) {
    if (refused.has(rule)) continue;
    const next = change({ first: first.value, last: last.value }, country);
    first = noted(first, rule, next.first);
    last = noted(last, rule, next.last);
    if (next.doubt) first = { ...first, doubt: next.doubt };
  }
  return { first, last };
}

/** What a rule makes of a name; `doubt` says what it was instead of one. */
type Change = (name: PersonName, country: string) => PersonName & { doubt?: NotAName | "two_people" };

/** A rule that looks at each part by itself. */
const ofEach =
  (change: (value: string, country: string, isLast: boolean) => string): Change =>
  ({ first, last }, country) => ({
    first: first === "" ? "" : change(first, country, false),
    last: last === "" ? "" : change(last, country, true),
  });

/** The rules in their order: each finds what those before it have brought to light. */
const RULES: readonly (readonly [CleaningRule, Change])[] = [
  ["encoding", ofEach(repairText)],
  ["spaces", ofEach(collapseSpaces)],
  ["look_alike", ofEach(replaceLookAlikes)],
  ["aside", ofEach(dropAddressBehind)],
  ["blank", ofEach((value, _, isLast) => (isBlank(value, isLast) ? "" : value))],
  ["blank", (name) => (isTrial(name.first, name.last) ? { first: "", last: "" } : name)],
  ["no_name", dropLabel],
  ["no_name", dropNoName],
  ["aside", ofEach(dropBirthName)],
  ["two_people", holdTwo],
  ["order", familyFirst],
  ["apostrophe", ofEach(straightApostrophes)],
  ["tagline", ofEach(dropTagline)],
  ["emoji", ofEach(dropEmoji)],
  ["aside", ofEach(dropAsides)],
  ["split", moveAddressed],
  ["honorific", (name, country) => (isTitles(name.first, country) ? { ...name, first: "" } : name)],
  ["honorific", ofEach(dropHonorifics)],
  ["spaces", ofEach(trimSigns)],
  ["doubled", dropDoubled],
  ["split", (name, country) => partName(name.first, name.last, country) ?? name],
  ["initial", dropInitials],
  ["doubled", dropDoubled],
  ["capitals", ofEach((value, country, isLast) => caseName(value, isLast, country))],
];

/** What is longer than any name is no name; the other rules would take too long over it. */
const RULES_OF_LONG: typeof RULES = [["spaces", ofEach(collapseSpaces)]];

/** Given names come again and again in a list. */
const parts = new Kept<{ no: NotAName | null }>();
const partNoName = (part: string) => parts.get(part, () => ({ no: notAName(part) })).no;

/** A post, a company, an address: in both columns together, or in one beside a name in the other. */
function dropNoName(name: PersonName): ReturnType<Change> {
  const { first, last } = name;
  const all = notAName([first, last].filter(Boolean).join(" "));
  if (all) return { first: "", last: "", doubt: all };
  if (last === "") return name;
  const [inFirst, inLast] = [partNoName(first), partNoName(last)];
  const doubt = inFirst ?? inLast;
  return doubt ? { first: inFirst ? "" : first, last: inLast ? "" : last, doubt } : name;
}

/** "Herr Brandt" is called by his family name. */
function moveAddressed(name: PersonName, country: string): PersonName {
  if (name.last !== "" || !isAddressed(name.first, country)) return name;
  return dropHonorifics(name.first, country).includes(" ") ? name : { first: "", last: name.first };
}

/** "Attn: Olwen", "Meet Jonas": what a page says before a name. */
const BEFORE_A_NAME =
  /^(?:(?:attn|attention|fao|f\.a\.o|z\.?\s?hd|zu händen|à l['’]attention de|a\/a|t\.a\.v|c\/o|contact|name|speaker|guest|host|presenter|ansprechpartner(?:in)?|kontakt)\s*[.:–-]+\s*|(?:meet|introducing|presented by|written by|posted by|hosted by|hi,? i['’]?m|hello,? i['’]?m|i['’]?m)\s+(?=\p{Lu}))/iu;

/** A label in place of a name, or before one. */
function dropLabel({ first, last }: PersonName): PersonName {
  const bare = first.replace(BEFORE_A_NAME, "");
  if (last !== "" && isLabel(bare)) return { first: "", last };
  return { first: bare === "" ? first : bare, last: last.replace(BEFORE_A_NAME, "") || last };
}

/** "Duval née Corbier", "Brandt geb. Sommerlath": the name that they bear comes first. */
const BORN =
  /[\s,(]+(?:née?|geb(?:oren(?:e)?)?|roz|rozená|rodným|z d(?:omu)?|ur(?:odz)?|nata|nascida|nacida|born|född|født|fodt|o\.?\s?s|szül(?:etett)?|урожд(?:енная|ённая)?|дев|dite?|alias|formerly|aka|a\.k\.a|fka|ex)\.?[\s:]+\p{L}.*$/iu;
function dropBirthName(value: string): string {
  const head = value.replace(BORN, "").trim();
  return head === "" ? value : head;
}

/** Two people in one cell: whom to greet nobody can tell. */
const TWO =
  /^\p{L}[\p{L}'’.-]*(?: \p{L}[\p{L}'’.-]*)?\s*(?:&|\s[+/]|\s(?:and|und|et|y|e|och|og|en|i|a|и)\s)\s*\p{Lu}[\p{L}'’.-]*(?: \p{L}[\p{L}'’.-]*)?$/u;
function holdTwo(name: PersonName): ReturnType<Change> {
  const { first, last } = name;
  if (!/&|\s[+/]\s|\s(?:and|und|et|y|e|och|og|en|i|a|и)\s/.test(first) || !TWO.test(first)) return name;
  // "Ortega y Gasset" in one column are family names; two given names stand before one of another column.
  if (last === "" && !/[&+/]|\s(?:and|und|och|og|en)\s/.test(first)) return name;
  return { first: "", last: last || "", doubt: "two_people" };
}

/** Where the family name is said first, and lists keep it in the column that comes first. */
const FAMILY_FIRST: Record<string, ReadonlySet<string>> = (() => {
  const chinese =
    "wang li zhang liu chen yang huang zhao wu zhou xu sun ma zhu hu guo he gao lin luo zheng liang xie song tang han feng yu dong xiao cheng cao yuan deng fu shen zeng peng lu su jiang cai jia ding wei xue ye yan pan du dai xia zhong tian ren fan shi fang yao tan liao zou xiong jin hao kong bai cui kang mao qiu qin gu hou shao meng long wan duan lei qian yin yi chang wu qiao lai gong wen tan lim ng ong wong goh chua chan koh teo ang yeo tay ho low toh sim chong chia seah lee neo foo quek loh cheong chew kwok leung lau cheung yip tse lam mak fung kwan ko hui".split(
      " ",
    );
  const vietnamese = "nguyen tran le pham hoang huynh phan vu vo dang bui do ho ngo duong ly".split(" ");
  const korean =
    "kim lee park choi jung jeong kang cho jo yoon yun jang lim im han oh seo shin kwon hwang ahn an song ryu yoo hong jeon ko moon yang bae baek heo nam".split(
      " ",
    );
  const hungarian =
    "nagy kovacs toth szabo horvath varga kiss molnar nemeth farkas balogh papp takacs juhasz lakatos meszaros olah racz fekete szilagyi torok feher gal kis szucs kocsis orsos pinter fodor szalai sipos magyar lukacs gulyas biro kiraly balog katona varadi boros fazekas kelemen orosz somogyi fulop veres vincze hegedus budai deak pap illes voros szoke bognar vass lengyel fabian bodnar hajdu halasz szekely kozma gaspar pasztor bakos dudas orban novak soos nemes pataki farago balla".split(
      " ",
    );
  const of = (names: readonly string[]) => new Set(names);
  return {
    CN: of(chinese),
    TW: of(chinese),
    HK: of(chinese),
    SG: of(chinese),
    MY: of(chinese),
    VN: of(vietnamese),
    KR: of(korean),
    HU: of(hungarian),
  };
})();

/** "Nagy | Katalin" of Hungary is Katalin Nagy: only where one of the two is a family name there, and it stands first. */
function familyFirst({ first, last }: PersonName, country: string): PersonName {
  const families = FAMILY_FIRST[country];
  if (!families || first === "" || last === "") return { first, last };
  const [given, family] = [fold(first), fold(last)];
  if (!families.has(given) || families.has(family) || families.has(family.split(" ").at(-1) as string))
    return { first, last };
  // The family name behind is a given name's place in two words: "Thị Minh Khai" is called by its last.
  return { first: last, last: first };
}

/**
 * The order of the two columns, where the address and the capitals say otherwise: "BAUER | Thomas" with
 * thomas.bauer@ is Thomas Bauer. Capitals alone say nothing: "ANNA" may be shouted in her own column.
 */
export function isSwappedBy(email: string, { first, last }: PersonName): boolean {
  if (email === "" || first === "" || last === "") return false;
  if (!isShouted(first) || isShouted(last) || first.length < 2) return false;
  const parts = fold(email.slice(0, email.indexOf("@")))
    .split(/[._-]+/)
    .filter((part) => part !== "");
  const plain = (name: string) => fold(name).replace(/[^\p{L}]/gu, "");
  return parts.length === 2 && parts[0] === plain(last) && parts[1] === plain(first);
}

/** Longer ones hold more than a name. */
const LONGEST_NAME = 60;

/** What cannot be mended and should be looked at. */
function doubtful(cleaned: Cleaned, isFirst: boolean): Cleaned {
  const { value } = cleaned;
  if (cleaned.doubt || value === "") return cleaned;
  if (value.length > LONGEST_NAME) return { ...cleaned, doubt: "long" };
  if (hasBrokenLetters(value)) return { ...cleaned, doubt: "broken_letters" };
  if (/\d/.test(value)) return { ...cleaned, doubt: "digits" };
  if (isFirst && /^\p{Script=Latin}\.?$/u.test(value)) return { ...cleaned, doubt: "initial_only" };
  return cleaned;
}

/** "Anna Berg <anna@kai.example>": the address has a column of its own. */
function dropAddressBehind(value: string): string {
  if (!value.includes("@")) return value;
  const head = value.replace(/\s*[<([]?\s*\S+@\S+\.\S+\s*[>)\]]?\s*$/, "").trim();
  return head === "" ? value : head;
}

/** Nicknames in quotes, pronouns and remarks in brackets. */
function dropAsides(value: string): string {
  if (!/["“”„«»‹›(（[‘'/]/.test(value)) return value;
  if (/^['‘][^'‘’]+['’]$/.test(value)) return value.slice(1, -1).trim();
  const without = value
    .replace(/[“”„«»‹›"][^“”„«»‹›"]*[“”„«»‹›"]/g, " ")
    .replace(/[‘][^’]*[’]/g, " ")
    .replace(/(?<=^|\s)'[^']+'(?=\s|$)/g, " ")
    .replace(/[([（][^)\]）]*[)\]）]/g, " ")
    .replace(/[,\s]+(she|he|they|sie|er|elle|il|ella|él|xe|ze)\s*\/\s*\p{L}+(\s*\/\s*\p{L}+)?\s*$/iu, " ");
  const kept = collapseSpaces(without).replace(/^,\s*|\s*,$/g, "");
  // A quotation mark that nobody closed, or the whole name in marks.
  const bare = kept === "" ? value.replace(/[“”„«»‹›"()[\]（）]/g, "").trim() : kept;
  return bare.replace(/[“”„«»‹›"]/g, "").trim() || value;
}

const ONE_WORD = /^\p{L}*$/u;

/** What people say about themselves behind their name: "Anna Berg | Recruiter", "Anna Berg at Kai". */
function dropTagline(value: string): string {
  if (ONE_WORD.test(value)) return value;
  const [head = ""] = value.split(/\s*[|•·‖]\s*|\s+(?:at|@|bei|chez|c\/o|from|via)\s+|\s+[–—]+\s+/u);
  const cut = collapseSpaces(head);
  const kept = cut.length > 1 ? cut : value;
  const [name = "", ...rest] = kept.split(/\s+-+\s+|\s*:\s*/);
  // "Anna - Maria Berg" is a name with a hyphen; "Anna Berg - Head of Sales" is a name with a post.
  if (rest.length > 0 && name !== "")
    return name.includes(" ") || isJobTitle(rest.join(" ")) ? name : kept.replace(/\s+-+\s+/g, "-");
  const [first = "", ...parts] = kept.split(/\s*,\s*/);
  const posts = parts.findIndex((part) => notAName(part) !== null);
  return posts >= 0 && first.length > 1 ? [first, ...parts.slice(0, posts)].join(", ") : kept;
}

/** Countries whose people have two family names, the father's first. */
const TWO_FAMILY_NAMES = new Set("ES MX AR CO CL PE VE EC BO PY UY CR CU DO GT HN NI PA SV".split(" "));
/** Second given names that Spanish speakers have, so that the third word is the first family name. */
const SECOND_GIVEN =
  /^(carlos|luis|antonio|manuel|maría|maria|josé|jose|jesús|jesus|ángel|angel|francisco|javier|miguel|pablo|alberto|andrés|andres|fernando|eduardo|enrique|isabel|carmen|teresa|luisa|elena|pilar|dolores|cristina|fernanda|alejandro|alejandra|ignacio|ramón|ramon|david|daniel|rafael|guadalupe|rosa|victoria|paula|sofía|sofia|camila|belén|belen|mercedes|rosario|ángeles|angeles|esteban|felipe|julio|mario|martín|martin|diego|gabriel|gabriela|josefa|eugenia|inés|ines|paz|laura|beatriz)$/i;
const PATRONYMIC = /(ович|евич|ич|овна|евна|ична|йович|івна|ївна)$/iu;
const ASIAN_NAME =
  /^[\u3005\u3040-\u30ff\u4e00-\u9fff\uac00-\ud7af]+ [\u3005\u3040-\u30ff\u4e00-\u9fff\uac00-\ud7af]+$/u;

/**
 * A whole name in one column, or "Brandt, Ilse". Null if nothing is to be parted. The family name is
 * what stands in capitals ("BRANDT Ilse"), else it begins at the first particle, else it is the last
 * word; more given names stay with the first.
 */
export function partName(first: string, last: string, country = ""): PersonName | null {
  if (first !== "" && last !== "") return null;
  const whole = first || last;
  const comma = whole.match(/^([^,]+), *([^,]+)(?:,.*)?$/);
  if (comma) {
    const [, before = "", behind = ""] = comma;
    // "Ilse Brandt, Hamburg, Kaimuseum" begins with the whole name.
    const isWhole = whole.split(",").length > 2 && before.includes(" ");
    return isWhole ? partName(before, "", country) : { first: behind, last: before };
  }
  // "anna.berg" and "Anna_Berg" are names of programs, and two words.
  const words = /^\p{L}{2,}[._+]\p{L}{2,}$/u.test(whole) ? whole.split(/[._+]/) : whole.split(" ");
  if (words.length < 2) return null;
  if (ASIAN_NAME.test(whole)) return { first: words[1] as string, last: words[0] as string };
  // A lone family name with its particle: "van Dyk".
  if (PARTICLES.has((words[0] as string).toLowerCase()) && first === "") return null;
  const cut = (from: number): PersonName => ({
    first: words.slice(0, from).join(" "),
    last: words.slice(from).join(" "),
  });
  const capitals = words.map(
    (word) => isShouted(word) && !/\./.test(word) && word.length > 1 && !/^(JR|SR|II|III|IV|VI)$/.test(word),
  );
  const from = capitals.indexOf(true);
  const to = capitals.lastIndexOf(true);
  if (from >= 0 && !capitals.every((each, at) => each || words[at]?.length === 1)) {
    const isRun = capitals.slice(from, to + 1).every(Boolean);
    if (isRun && to === words.length - 1) return cut(particlesBefore(words, from));
    if (isRun && particlesBefore(words, from) === 0)
      return { first: words.slice(to + 1).join(" "), last: words.slice(0, to + 1).join(" ") };
  }
  if (words.length === 3 && PATRONYMIC.test(words[2] as string) && !PATRONYMIC.test(words[1] as string))
    return { first: words.slice(1).join(" "), last: words[0] as string };
  let start = words.findIndex(
    (word, at) => at > 0 && at < words.length - 1 && PARTICLES.has(word.toLowerCase()),
  );
  // "y" and "e" join two family names: "Ortega y Gasset".
  if (start > 1 && /^(y|e|i|und|et)$/i.test(words[start] as string)) start--;
  if (start < 0) {
    start = words.length - 1;
    if (/^(jr|sr|ii|iii|iv|filho|neto|júnior|junior)\.?$/i.test(words.at(-1) as string) && start > 1) start--;
    else if (TWO_FAMILY_NAMES.has(country) && words.length === 3 && !SECOND_GIVEN.test(words[1] as string))
      start--;
    else if (TWO_FAMILY_NAMES.has(country) && words.length > 3) start--;
  }
  return cut(start);
}

function particlesBefore(words: string[], from: number): number {
  let at = from;
  while (at > 1 && PARTICLES.has((words[at - 1] as string).toLowerCase())) at--;
  return at === 1 && PARTICLES.has((words[0] as string).toLowerCase()) ? 0 : at;
}

const same = (a: string, b: string) => a.toLowerCase() === b.toLowerCase();

function once(text: string): string {
  const words = text.split(" ");
  const half = words.length / 2;
  const isTwice = Number.isInteger(half) && same(words.slice(0, half).join(" "), words.slice(half).join(" "));
  return isTwice ? words.slice(0, half).join(" ") : text;
}

/** What stands twice: "Anna Anna", "Anna Berg" and "Berg", the whole name in both columns. */
function dropDoubled({ first, last }: PersonName): PersonName {
  if (first === "" || last === "") return { first: once(first), last: once(last) };
  let given = first;
  let family = last;
  if (same(given, family) && given.includes(" "))
    return partName(given, "") ?? { first: given, last: family };
  // The whole name stands in one of the two, or half of the doubled name in each.
  if (given.toLowerCase().endsWith(` ${family.toLowerCase()}`)) given = given.slice(0, -family.length - 1);
  else if (family.toLowerCase().startsWith(`${given.toLowerCase()} `))
    family = family.slice(given.length + 1);
  return { first: given, last: family };
}

/** Signs around a name that belong to no word: "Anna,", "- Berg". The dot of "J." and "Jr." stays. */
function trimSigns(value: string): string {
  return collapseSpaces(value.replace(/^[\s,;:.!?*_#=-]+|[\s,;:!?*_#=-]+$/g, "")).replace(
    /(?<=\p{L}{3})\.+$/u,
    "",
  );
}

/** "John Q." is greeted as John; "J. Robert" and "J.R." stay as people write them. */
function dropInitials({ first, last }: PersonName): PersonName {
  return { first: withoutInitials(first), last: last.replace(/^(?:\p{Lu}\. ?)+(?=\p{L}{2})/u, "") };
}

function withoutInitials(first: string): string {
  const words = first.split(" ");
  if (words.length < 2 || !/^\p{L}{2}/u.test(words[0] as string)) return first;
  const kept = words.filter((word, at) => at === 0 || !/^(\p{L}\.?|(\p{L}\.-?)+)$/u.test(word));
  return kept.join(" ");
}
