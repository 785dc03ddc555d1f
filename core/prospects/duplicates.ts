/**
 * Who may be the same person, and which companies the same company. Everybody is compared only with
 * those who share a key, so the work grows with the number of people and not with its square.
 */
import { distance } from "fastest-levenshtein";
import { fold } from "../fold.ts";
import { Kept } from "../kept.ts";
import { companyKey } from "./cleaning/companies.ts";

export interface PersonKey {
  id: number;
  email: string | null;
  firstName: string;
  lastName: string;
  domain: string;
  profile: string;
}

export type DuplicateReason =
  | "same_profile"
  | "same_name"
  | "near_name"
  | "initial"
  | "nickname"
  /** First and last name stand in each other's place. */
  | "swapped"
  /** One has more given or family names: "Ana García" and "Ana García López". */
  | "more_names";

export interface Duplicate {
  /** The smaller id first. */
  a: number;
  b: number;
  reason: DuplicateReason;
  /** Certain ones merge by rule; the others are for a person to decide. */
  certain: boolean;
}

/** More people than this under one key are no duplicates but a wrong key ("info", "n/a"). */
const CROWD = 40;

/** Short forms that people go by. Each line is one name. */
const NICKNAMES = [
  "robert bob rob bobby",
  "william bill will",
  "elizabeth liz beth betty",
  "margaret maggie peggy",
  "james jim jimmy",
  "michael mike",
  "thomas tom",
  "richard rick dick",
  "katherine catherine kate cathy kathy",
  "alexander alex sandy",
  "joseph joe",
  "anthony tony",
  "edward ed ted",
  "charles charlie chuck",
  "jennifer jen jenny",
  "daniel dan danny",
  "johannes hans jan",
  "francisco paco",
  "jose pepe",
  "antonio toni",
  "theodore theo ted",
  "samuel sam",
  "benjamin ben",
];
const NICKNAME_OF = new Map(
  NICKNAMES.flatMap((line) => line.split(" ").map((name) => [name, line] as const)),
);

/** Edits (Levenshtein 1966) that still count as one name: one in a short name, two in a long one. */
const edits = (name: string) => (name.length < 4 ? 0 : name.length < 9 ? 1 : 2);

interface Keyed {
  id: number;
  email: string | null;
  profile: string;
  first: Name;
  last: Name;
}

interface Name {
  /** Folded letters only, as a whole and word by word. */
  text: string;
  words: string[];
  /** The spellings that mean the same: "müller" is muller and mueller. */
  spellings: readonly string[];
  /** What all spellings share, for keys only. */
  loose: string;
}

const WRITTEN_OUT: Record<string, string> = { ä: "ae", ö: "oe", ü: "ue", ø: "oe", å: "aa", æ: "ae" };
const lettersOf = (text: string) => fold(text).replace(/[^\p{L}]/gu, "");

function nameOf(text: string): Name {
  const small = text.toLowerCase().normalize("NFC");
  const plain = lettersOf(small);
  const written = lettersOf(small.replace(/[äöüøåæ]/g, (letter) => WRITTEN_OUT[letter] ?? letter));
  return {
    text: plain,
    words: small
      .split(/[\s-]+/)
      .map(lettersOf)
      .filter((word) => word !== ""),
    spellings: plain === written ? [plain] : [plain, written],
    loose: written.replace(/(?<=[aou])e|(?<=a)a/g, ""),
  };
}

const isSame = (x: Name, y: Name) => x.spellings.some((spelling) => y.spellings.includes(spelling));

/** One spelling of a domain: names in other alphabets have two (RFC 3492). */
const domains = new Kept<string>();
const asciiDomain = (domain: string) =>
  domains.get(domain, () => {
    try {
      return domain.includes(" ") ? domain.toLowerCase() : new URL(`http://${domain}`).hostname;
    } catch {
      return domain.toLowerCase();
    }
  });

/**
 * Pairs of people that are, or may be, the same. Certain: the same name at one domain, or one profile
 * and names that agree, where at most one of the two has an address. Two addresses, or two profiles,
 * are always for a person to decide, and a profile that several names share proves nothing.
 */
export function findDuplicates(people: readonly PersonKey[]): Duplicate[] {
  const found = new Map<string, Duplicate>();
  const add = (x: Keyed, y: Keyed, reason: DuplicateReason, agrees: boolean) => {
    const [a, b] = x.id < y.id ? [x.id, y.id] : [y.id, x.id];
    const hasTwoProfiles = x.profile !== "" && y.profile !== "" && x.profile !== y.profile;
    const certain = agrees && !hasTwoProfiles && (x.email === null || y.email === null);
    if (!found.has(`${a} ${b}`)) found.set(`${a} ${b}`, { a, b, reason, certain });
  };

  const byProfile = new Map<string, Keyed[]>();
  const byName = new Map<string, Keyed[]>();
  for (const person of people) {
    const keyed: Keyed = {
      id: person.id,
      email: person.email,
      profile: profileKey(person.profile),
      first: nameOf(person.firstName),
      last: nameOf(person.lastName),
    };
    if (keyed.profile !== "") group(byProfile, keyed.profile, keyed);
    if (person.domain === "" || keyed.last.text === "") continue;
    const domain = asciiDomain(person.domain);
    const { loose } = keyed.last;
    // Two keys, so that an edit at either end of the family name still meets; one for names that are swapped.
    group(byName, `${domain} <${loose.slice(0, 3)}`, keyed);
    if (loose.length > 3) group(byName, `${domain} >${loose.slice(-3)}`, keyed);
    group(byName, `${domain} =${[loose, keyed.first.loose].toSorted().join("+")}`, keyed);
  }
  for (const same of byProfile.values())
    pairs(same, (x, y) => {
      const agrees = namesAgree(x, y);
      // A page that more than two people of different names give is their company's, or everybody's.
      if (agrees || same.length === 2) add(x, y, "same_profile", agrees);
    });
  for (const near of byName.values())
    for (const few of near.length > CROWD ? byFirstLetter(near) : [near])
      pairs(few, (x, y) => {
        const reason = compareNames(x, y);
        if (reason) add(x, y, reason, reason === "same_name");
      });
  return [...found.values()];
}

/** A profile's address without capitals; "" for what is none: "n/a", or a host without a path. */
function profileKey(profile: string): string {
  const [, path = ""] =
    profile.toLowerCase().match(/^(?:https?:\/\/)?[^/\s]+\.[^/\s]+\/+([^\s]*\w[^\s]*)$/) ?? [];
  return path === "" ? "" : profile.toLowerCase().replace(/\/+$/, "");
}

/** The people of a large company are compared within the first letters of both names. */
function byFirstLetter(crowd: Keyed[]): Iterable<Keyed[]> {
  const groups = new Map<string, Keyed[]>();
  for (const keyed of crowd)
    group(groups, `${keyed.last.loose.slice(0, 5)} ${keyed.first.loose.slice(0, 1)}`, keyed);
  return groups.values();
}

function group(groups: Map<string, Keyed[]>, key: string, keyed: Keyed): void {
  const same = groups.get(key);
  if (same) same.push(keyed);
  else groups.set(key, [keyed]);
}

function pairs(same: Keyed[], meet: (x: Keyed, y: Keyed) => void): void {
  if (same.length > CROWD) return;
  for (let i = 0; i < same.length; i++)
    for (let j = i + 1; j < same.length; j++) meet(same[i] as Keyed, same[j] as Keyed);
}

/** Whether two names may be one person's. */
export function isSameName(
  x: { firstName: string; lastName: string },
  y: { firstName: string; lastName: string },
): boolean {
  const keyed = ({ firstName, lastName }: typeof x): Keyed => ({
    id: 0,
    email: null,
    profile: "",
    first: nameOf(firstName),
    last: nameOf(lastName),
  });
  return namesAgree(keyed(x), keyed(y));
}

/** Whether nothing in two names speaks against one person; a missing name does not. */
function namesAgree(x: Keyed, y: Keyed): boolean {
  if (x.first.text + x.last.text === "" || y.first.text + y.last.text === "") return true;
  if (x.last.text === "" || y.last.text === "") return isSame(x.first, y.first);
  return compareNames(x, y) !== null;
}

function compareNames(x: Keyed, y: Keyed): DuplicateReason | null {
  if (x.first.text === "" || y.first.text === "") return null;
  const isSameFirst = isSame(x.first, y.first);
  const isSameLast = isSame(x.last, y.last);
  if (isSameFirst && isSameLast) return "same_name";
  if (isSame(x.first, y.last) && isSame(x.last, y.first)) return "swapped";
  if (isSameLast) return compareFirst(x.first, y.first);
  if (hasMore(x.last, y.last) && (isSameFirst || hasMore(x.first, y.first))) return "more_names";
  return isSameFirst && isNear(x.last.text, y.last.text) ? "near_name" : null;
}

function compareFirst(x: Name, y: Name): DuplicateReason | null {
  if (
    x.words.some(
      (word) =>
        NICKNAME_OF.has(word) && y.words.some((other) => NICKNAME_OF.get(word) === NICKNAME_OF.get(other)),
    )
  )
    return "nickname";
  if (hasMore(x, y)) return "more_names";
  const [short, long] = x.text.length < y.text.length ? [x, y] : [y, x];
  const initials = long.words.map((word) => word.slice(0, 1)).join("");
  if (short.text.length <= initials.length && initials.startsWith(short.text)) return "initial";
  // "Mario" and "Maria", "Daniel" and "Daniela" are two people.
  const isOther = x.text.replace(/[aeio]+$/, "") === y.text.replace(/[aeio]+$/, "");
  return !isOther && isNear(x.text, y.text) ? "near_name" : null;
}

/** Whether the words of one are the first or the last of the other's. */
function hasMore(x: Name, y: Name): boolean {
  const [few, many] = x.words.length < y.words.length ? [x.words, y.words] : [y.words, x.words];
  if (few.length === 0 || few.length === many.length) return false;
  const isPart = (part: string[]) => part.every((word, at) => word === few[at]);
  return few.join("").length > 1 && (isPart(many.slice(0, few.length)) || isPart(many.slice(-few.length)));
}

const isNear = (x: string, y: string) => distance(x, y) <= Math.min(edits(x), edits(y));

/** Shortest key by which two domains may be one company; "abc" alone proves nothing. */
const SHORTEST_COMPANY_KEY = 5;

/** Companies of different domains whose names are the same but for spelling. Pairs of ids, the smaller first. */
export function findSameCompanies(companies: readonly { id: number; name: string }[]): [number, number][] {
  const byKey = new Map<string, number[]>();
  for (const { id, name } of companies) {
    const key = companyKey(name);
    if (key.length < SHORTEST_COMPANY_KEY) continue;
    byKey.set(key, [...(byKey.get(key) ?? []), id]);
  }
  return [...byKey.values()]
    .filter((ids) => ids.length > 1 && ids.length <= CROWD)
    .flatMap((ids) => {
      const sorted = ids.toSorted((a, b) => a - b);
      return sorted.slice(1).map((id): [number, number] => [sorted[0] as number, id]);
    });
}
