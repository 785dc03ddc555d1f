/**
 * Job titles by their structure: who somebody is (the head noun), what for (the fields), how high,
 * and whether they are it at all ("former CFO", "assistant to the CFO" and "deputy CFO" are no CFO).
 */
import { distance } from "fastest-levenshtein";
import { fold } from "../../fold.ts";
import { Kept } from "../../kept.ts";
import { below, isHigher, type Seniority } from "../seniority.ts";
import { ALIAS_OF, type Concept, MOST_PHRASE_WORDS, PHRASES, type Role } from "./lexicon.ts";

/** One job out of a title; "Founder & CEO" are two. */
export interface Job {
  /** Null where only a field is named: "Marketing". */
  role: Role | null;
  fields: string[];
  rank: Seniority;
  /** They stand in for whom the role names, or assist them. */
  isDeputy: boolean;
  isAssistant: boolean;
  /** They were it, or want to be. */
  isNotNow: boolean;
  /** Folded words that the lexicon does not have. */
  unknown: string[];
}

export interface TitleReading {
  jobs: Job[];
  /** How high somebody stands by the highest job that they hold now. */
  rank: Seniority;
  unknown: string[];
}

type Word = { concept: Concept | null; text: string };

/** No title is longer; what is was pasted by mistake. */
const LONGEST = 200;

const readings = new Kept<TitleReading>();

/** What a title says. Titles come again and again in a list, so readings are kept. */
export function readTitle(title: string): TitleReading {
  const short = title.slice(0, LONGEST);
  return readings.get(short, () => read(short, true));
}

/** The same without forgiving slips of the pen: for texts that may be no title at all. */
export const readTitleAsWritten = (text: string): TitleReading => read(text.slice(0, LONGEST), false);

function read(title: string, forgives: boolean): TitleReading {
  const jobs: Job[] = [];
  const waiting: string[] = [];
  let wasBefore = false;
  for (const segment of segmentsOf(inEnglish(title))) {
    const words = wordsOf(segment, forgives);
    const isNotNow = words.some(({ concept }) => concept?.kind === "not_now");
    const isBare = !words.some(({ concept }) => concept?.kind === "role" || concept?.kind === "deputy");
    const last = jobs.at(-1);
    if (isBare && isNotNow && last && words.every(({ concept }) => concept?.kind !== "field")) {
      last.isNotNow = true;
    } else if (isBare) {
      const fields = fieldsIn(words);
      // "Director, Sales" adds to whom stands before; "Sales / Marketing Manager" to whom follows.
      if (last && last.role !== null && last.fields.length === 0) last.fields.push(...fields);
      else waiting.push(...fields);
      if (last) last.unknown.push(...unknownIn(words));
      // "Was: head of sales" says so of what follows.
      else if (isNotNow && fields.length === 0) wasBefore = true;
      else if (fields.length === 0) jobs.push(jobOf(words));
    } else {
      for (const clause of clausesOf(words)) {
        const job = jobOf(clause);
        job.fields.push(...waiting.splice(0));
        if (wasBefore && jobs.length === 0) job.isNotNow = true;
        jobs.push(job);
      }
    }
  }
  if (waiting.length > 0) {
    const last = jobs.at(-1);
    if (last?.role) last.fields.push(...waiting);
    else jobs.push({ ...jobOf([]), fields: waiting });
  }
  const now = jobs.filter((job) => !job.isNotNow);
  return {
    jobs,
    rank: now.reduce<Seniority>(
      (highest, job) => (isHigher(job.rank, highest) ? job.rank : highest),
      now[0]?.rank ?? "specialist",
    ),
    unknown: jobs.flatMap((job) => job.unknown),
  };
}

/** The parts of titles in scripts without spaces, the longer first, by what they are in English. */
const UNSPACED: readonly (readonly [string, string])[] = Object.entries({
  "chief executive": "代表取締役 代表取締役社長 最高経営責任者 首席执行官 首席執行官 总裁 대표이사 대표",
  "managing director": "社長 总经理 總經理 사장",
  chairman: "会長 董事长 董事長 회장",
  founder: "創業者 创始人 創辦人 창업자 설립자",
  owner: "オーナー 経営者 店主 老板 사업주 점주",
  director: "取締役 理事 总监 總監 董事 이사 디렉터",
  "head of department": "本部長 事業部長 本部长 본부장 사업부장",
  head: "部長 室長 所長 館長 部长 部門長 主管 부장 실장 소장 관장 팀장 파트장 責任者 负责人 負責人 책임자",
  manager: "課長 次長 マネージャー マネジャー 经理 經理 과장 차장 매니저",
  supervisor: "係長 主任 组长 組長 주임",
  "plant manager": "工場長 厂长 廠長 공장장",
  deputy: "副 代理 부팀장 부",
  assistant: "アシスタント 補佐 助理 秘書 秘书 비서 보조 어시스턴트",
  officer: "担当 専員 专员 專員 담당 담당자",
  engineer: "エンジニア 技術者 工程师 工程師 엔지니어 기술자",
  curator: "学芸員 研究員 策展人 큐레이터 학예사",
  buyer: "バイヤー 采购员 採購員 바이어",
  "information technology": "情報システム 情報技術 信息技术 資訊科技 信息系统 정보시스템 정보기술 전산",
  sales: "営業 販売 销售 銷售 业务 業務 영업 세일즈",
  marketing: "マーケティング 市场营销 市场 市場 行銷 마케팅",
  "human resources": "人事 人力资源 人力資源 인사",
  finance: "財務 经济 财务 재무",
  accounting: "経理 会计 會計 회계",
  purchasing: "購買 調達 采购 採購 구매 조달",
  production: "製造 生産 生产 生產 생산 제조",
  quality: "品質 质量 品质 품질",
  research: "研究開発 研究 研发 研發 연구개발 연구",
  administration: "総務 行政 총무 행정",
  logistics: "物流 물류",
  legal: "法務 法务 법무",
  planning: "企画 企划 策划 기획",
  collections: "収蔵 藏品 소장품",
})
  .flatMap(([english, words]) => words.split(" ").map((word) => [word, english] as const))
  .toSorted(([a], [b]) => b.length - a.length);
const HAS_UNSPACED = /[\u3040-\u30ff\u4e00-\u9fff\uac00-\ud7af]/;

/** "2009–2016": it is over. */
const CLOSED_YEARS =
  /\(?\b(?:19|20)\d\d\s*[-–—]\s*(?:19|20)\d\d\b\)?|(?<!\p{L})(?:until|till|bis|jusqu['’]en|hasta|fino al?|até|tot|do)\s(?:19|20)\d\d\b/giu;

function inEnglish(whole: string): string {
  const title = whole.replace(CLOSED_YEARS, ", former,");
  if (!HAS_UNSPACED.test(title)) return title;
  return UNSPACED.reduce((text, [word, english]) => text.replaceAll(word, ` ${english} `), title);
}

/** "(m/w/d)", "Leiter/in" and "Leiter:in" say the same as without. */
function segmentsOf(title: string): string[] {
  return fold(title)
    .replace(/\b(\p{L})\s*&\s*(\p{L})\b/gu, "$1 and $2")
    .replace(/[([]\s*(?:[a-z]\s*[/|,*]\s*){1,3}[a-z*]\s*[)\]]/g, " ")
    .replace(/(\p{L}{3})(?:[*:_·]|\/-?|\()(?:in|innen|frau|e|a|trice|euse|ne)\b\)?/gu, "$1")
    .replace(/\b(\p{L})\.(?=\p{L}\b)/gu, "$1")
    .replace(/[&+]/g, " and ")
    .split(/\s[-–—]+\s|[|•·;–—,/()[\]:]+/)
    .map((segment) => segment.trim())
    .filter((segment) => /\p{L}/u.test(segment));
}

function wordsOf(segment: string, forgives: boolean): Word[] {
  const texts = segment.split(/[^\p{L}\p{N}]+/u).filter((text) => text !== "");
  const words: Word[] = [];
  for (let at = 0; at < texts.length; ) {
    const taken = longestPhrase(texts, at, forgives);
    words.push(...taken.words);
    at += taken.count;
  }
  return words;
}

/** The longest phrase that begins here; an alias is read as the title that it stands for. */
function longestPhrase(texts: string[], at: number, forgives: boolean): { words: Word[]; count: number } {
  for (let count = Math.min(MOST_PHRASE_WORDS, texts.length - at); count > 0; count--) {
    const text = texts.slice(at, at + count).join(" ");
    const stands = ALIAS_OF.get(text);
    const concept = PHRASES.get(stands ?? text);
    if (concept) return { words: [{ concept, text }], count };
    if (stands) return { words: wordsOf(stands, false), count };
  }
  const text = texts[at] as string;
  return { words: unseenWord(text, forgives), count: 1 };
}

/** A word that no phrase begins with: another ending, a compound, or a slip of the pen. */
function unseenWord(text: string, forgives: boolean): Word[] {
  const known = oneWord(text);
  if (known) return known;
  const near = forgives ? nearest(text) : null;
  if (near) return oneWord(near) ?? [{ concept: null, text }];
  return [{ concept: null, text }];
}

function oneWord(text: string): Word[] | null {
  const stands = ALIAS_OF.get(text);
  if (stands) return wordsOf(stands, false);
  const concept = PHRASES.get(text);
  if (concept) return [{ concept, text }];
  for (const stem of stemsOf(text)) {
    const found = PHRASES.get(stem);
    if (found?.kind === "role" || found?.kind === "field") return [{ concept: found, text: stem }];
  }
  return compound(text);
}

/** Feminine and plural endings: "Beraterinnen", "directoras", "engineers". */
function stemsOf(text: string): string[] {
  const stems = [/innen$/, /in$/, /s$/, /es$/, /en$/, /er$/, /e$/].flatMap((ending) =>
    ending.test(text) && text.length > 5 ? [text.replace(ending, "")] : [],
  );
  if (/as?$/.test(text) && text.length > 5) stems.push(text.replace(/as?$/, "o"), text.replace(/as?$/, ""));
  return stems;
}

/** Roles that end compounds of the Germanic languages, Finnish and Hungarian: "Vertriebsleiterin", "myyntijohtaja". */
const ENDINGS: { text: string; role: Role }[] = [...PHRASES]
  .flatMap(([text, concept]) =>
    concept.kind === "role" && !text.includes(" ") && text.length > 3 ? [{ text, role: concept.role }] : [],
  )
  .toSorted((a, b) => b.text.length - a.text.length);

/** The words of all phrases, and the ends of compounds. */
const WORDS = new Set([...PHRASES.keys(), ...ALIAS_OF.keys()].flatMap((phrase) => phrase.split(" ")));
const ROLE_ENDINGS = new Set(ENDINGS.map(({ text }) => text.slice(-4)));

const mayBeWord = (word: string): boolean =>
  WORDS.has(word) ||
  (word.length > 5 &&
    (WORDS.has(word.slice(0, -1)) ||
      WORDS.has(word.slice(0, -2)) ||
      ROLE_ENDINGS.has(word.slice(-4)) ||
      ROLE_ENDINGS.has(word.slice(-6, -2))));

/** Whether every word may be one of a title: a quick look before names by the hundred thousand are read as such. */
export function mayBeTitle(text: string): boolean {
  // Most are told by their first word.
  const [first = ""] = text.match(/^\p{L}+/u) ?? [];
  if (first !== "" && !mayBeWord(fold(first))) return false;
  return fold(text)
    .split(/[^\p{L}\p{N}]+/u)
    .every((word) => word === "" || mayBeWord(word));
}

function compound(text: string): Word[] | null {
  if (!ROLE_ENDINGS.has(text.slice(-4))) return null;
  for (const ending of ENDINGS) {
    if (!text.endsWith(ending.text) || text.length < ending.text.length + 2) continue;
    const front = text.slice(0, -ending.text.length);
    for (const stem of [front, front.replace(/(s|e|en|n)$/, ""), `${front}e`, front.replace(/n$/, "")]) {
      const concept = PHRASES.get(stem) ?? PHRASES.get(ALIAS_OF.get(stem) ?? "");
      if (concept?.kind === "field" || concept?.kind === "deputy" || concept?.kind === "scope")
        return [
          { concept, text: stem },
          { concept: { kind: "role", role: ending.role }, text: ending.text },
        ];
    }
  }
  return null;
}

/** Words of the lexicon by length, long enough that one slip leaves no doubt. */
const SHORTEST_SLIP = 5;
const LONG = 9;
const BY_LENGTH = new Map<number, string[]>();
for (const phrase of [...PHRASES.keys(), ...ALIAS_OF.keys()]) {
  if (phrase.includes(" ") || phrase.length < SHORTEST_SLIP) continue;
  BY_LENGTH.set(phrase.length, [...(BY_LENGTH.get(phrase.length) ?? []), phrase]);
}

/** The word of the lexicon that this one is by a slip: one letter more, less, other or swapped; two in long words. */
function nearest(text: string): string | null {
  if (text.length < SHORTEST_SLIP || !/^\p{L}+$/u.test(text)) return null;
  const most = text.length >= LONG ? 2 : 1;
  for (let allowed = 1; allowed <= most; allowed++)
    for (let length = text.length - allowed; length <= text.length + allowed; length++)
      for (const word of BY_LENGTH.get(length) ?? [])
        if (word[0] === text[0] && (distance(word, text) <= allowed || isSwapped(word, text))) return word;
  return null;
}

function isSwapped(a: string, b: string): boolean {
  if (a.length !== b.length) return false;
  let at = 0;
  while (at < a.length && a[at] === b[at]) at++;
  return a[at] === b[at + 1] && a[at + 1] === b[at] && a.slice(at + 2) === b.slice(at + 2);
}

const isRole = ({ concept }: Word) => concept?.kind === "role";

/** "CEO and head of sales" are two; "sales and marketing manager" is one. */
function clausesOf(words: Word[]): Word[][] {
  const clauses: Word[][] = [];
  let from = 0;
  for (const [at, { concept }] of words.entries()) {
    if (concept?.kind !== "and") continue;
    const left = words.slice(from, at);
    const right = words.slice(at + 1);
    const own = right.slice(0, Math.max(0, prepositionAt(right)));
    // After "assistant to the CEO and" everything is still whom they assist.
    const isTo = left.some((word) => word.concept?.kind === "preposition" && !word.concept.isOf);
    if (!left.some(isRole) || !own.some(isRole) || isTo) continue;
    clauses.push(left);
    from = at + 1;
  }
  return [...clauses, words.slice(from)];
}

/** Where the first preposition stands behind a role; the length if there is none. */
function prepositionAt(words: Word[]): number {
  const at = words.findIndex(
    ({ concept }, index) => concept?.kind === "preposition" && words.slice(0, index).some(isRole),
  );
  return at < 0 ? words.length : at;
}

/** These lead whom they stand before: "head librarian", "lead engineer". */
const LEADING = new Set(["head", "leader", "chief", "director"]);
/** In these forms an assistant stands before whom they assist; English has them behind. */
const ASSISTS_NEXT = /^(assistent|asistent|assistante|asystent|sekretar|secretar|secretaire|avustaja)/;

function jobOf(words: Word[]): Job {
  const until = prepositionAt(words);
  const own = words.slice(0, until);
  const roles = own.filter(isRole);
  const roleOf = (word: Word | undefined) => (word?.concept?.kind === "role" ? word.concept.role : null);
  const first = roles[0];
  const isChief =
    roleOf(first)?.name === "chief" && ["officer", "executive"].includes(roleOf(roles.at(-1))?.name ?? "");
  const head = isChief || (first && ASSISTS_NEXT.test(first.text)) ? first : roles.at(-1);
  const before = roles.slice(0, roles.indexOf(head as Word)).map(roleOf);
  const isDeputy = words.some(({ concept }) => concept?.kind === "deputy");
  const role = roleOf(head) ?? (isDeputy ? ((PHRASES.get("head") as { role: Role }).role ?? null) : null);
  const isAssistant =
    role?.counts.includes("assistant") === true || before.some((each) => each?.name === "assistant");
  const isNotNow = words.some(({ concept }) => concept?.kind === "not_now");

  let rank: Seniority = role?.rank ?? "specialist";
  if (before.some((each) => each && LEADING.has(each.name)) && !isHigher(rank, "head")) rank = "head";
  // "Founder CEO": the higher counts.
  for (const each of before) if (each && isHigher(each.rank, rank) && each.name !== "chief") rank = each.rank;
  if (isDeputy) rank = below(rank);
  if (isAssistant || words.some(({ concept }) => concept?.kind === "junior")) rank = "junior";

  return {
    role,
    fields: [...ownFields(own, head), ...ledFields(words.slice(until))],
    rank,
    isDeputy,
    isAssistant,
    isNotNow,
    unknown: unknownIn(words),
  };
}

/**
 * Before the role the last of several fields counts, as in "IT project manager"; with "and" or behind
 * the role all do.
 */
function ownFields(own: Word[], head: Word | undefined): string[] {
  const at = head ? own.indexOf(head) : own.length;
  const fields: string[] = [];
  let run: string[] = [];
  for (const { concept } of own.slice(0, at)) {
    if (concept?.kind === "field") run.push(concept.field);
    if (concept?.kind === "and") {
      fields.push(...run.slice(-1));
      run = [];
    }
  }
  return [...fields, ...run.slice(-1), ...fieldsIn(own.slice(at))];
}

/** What they lead: behind "of" up to somebody else; behind "to" is somebody else at once. */
function objectOf(words: Word[]): Word[] {
  const end = words.findIndex(
    ({ concept }) => concept?.kind === "role" || (concept?.kind === "preposition" && !concept.isOf),
  );
  return end < 0 ? words : words.slice(0, end);
}

/** Behind an English "of" the last of several fields counts as well: the head of IT recruitment is no head of IT. */
function ledFields(words: Word[]): string[] {
  const led = objectOf(words);
  return words[0]?.text === "of" || words[0]?.text === "for" ? ownFields(led, undefined) : fieldsIn(led);
}

const fieldsIn = (words: Word[]) =>
  words.flatMap(({ concept }) => (concept?.kind === "field" ? [concept.field] : []));
const unknownIn = (words: Word[]) => words.flatMap(({ concept, text }) => (concept === null ? [text] : []));

/**
 * Whether somebody with the title does the wanted work. A wanted title without a field ("manager")
 * means any; `isExact` means those without a field only. Words that nothing is known of must stand in
 * the title as they are.
 */
export function titleMatches(title: string, wanted: string, isExact = false): boolean {
  const have = readTitle(title);
  const want = readTitle(wanted);
  const texts = new Set(fold(title).split(/[^\p{L}\p{N}]+/u));
  return want.jobs.some(
    (asked) =>
      asked.unknown.every((word) => texts.has(word)) &&
      (asked.role || asked.fields.length > 0 || asked.unknown.length > 0) &&
      have.jobs.some((job) => doesWork(job, asked, isExact)),
  );
}

/** A project manager is a manager, too; but whoever wants one wants no other manager. */
const meantBy = ({ name, counts }: Role) => (counts.includes(name) ? [name] : counts);

function doesWork(job: Job, asked: Job, isExact: boolean): boolean {
  if (job.isNotNow !== asked.isNotNow) return false;
  if (job.isDeputy !== asked.isDeputy || job.isAssistant !== asked.isAssistant) return false;
  if (asked.role && !meantBy(asked.role).some((name) => job.role?.counts.includes(name))) return false;
  if (isExact && asked.fields.length === 0 && job.fields.length > 0) return false;
  return asked.fields.every((field) => job.fields.includes(field));
}
