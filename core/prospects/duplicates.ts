/**
 * Who may be the same person, and which companies the same company. Everybody is compared only with
 * those who share a key, so the work grows with the number of people and not with its square.
 */
import { distance } from "fastest-levenshtein";
import { companyKey } from "./cleaning/companies.ts";

export interface PersonKey {
  id: number;
  email: string | null;
  firstName: string;
  lastName: string;
  domain: string;
  profile: string;
}

export type DuplicateReason = "same_profile" | "same_name" | "near_name" | "initial" | "nickname";

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

const plain = (text: string) =>
  text
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^\p{L}]/gu, "");

/** Edits (Levenshtein 1966) that still count as one name: one in a short name, two in a long one. */
const edits = (name: string) => (name.length < 4 ? 0 : name.length < 9 ? 1 : 2);

interface Keyed {
  id: number;
  email: string | null;
  first: string;
  last: string;
}

/**
 * Pairs of people that are, or may be, the same. Certain: one profile address, or the same name at
 * one domain where at most one of the two has an address. Two addresses are always for a person to decide.
 */
export function findDuplicates(people: readonly PersonKey[]): Duplicate[] {
  const found = new Map<string, Duplicate>();
  const add = (x: Keyed, y: Keyed, reason: DuplicateReason) => {
    const [a, b] = x.id < y.id ? [x.id, y.id] : [y.id, x.id];
    const certain =
      (reason === "same_name" || reason === "same_profile") && (x.email === null || y.email === null);
    if (!found.has(`${a} ${b}`)) found.set(`${a} ${b}`, { a, b, reason, certain });
  };

  const byProfile = new Map<string, Keyed[]>();
  const byName = new Map<string, Keyed[]>();
  for (const person of people) {
    const keyed = {
      id: person.id,
      email: person.email,
      first: plain(person.firstName),
      last: plain(person.lastName),
    };
    if (person.profile !== "") group(byProfile, person.profile.toLowerCase(), keyed);
    if (person.domain === "" || keyed.last === "") continue;
    // Two keys, so that an edit at either end of the family name still meets.
    group(byName, `${person.domain} <${keyed.last.slice(0, 3)}`, keyed);
    if (keyed.last.length > 3) group(byName, `${person.domain} >${keyed.last.slice(-3)}`, keyed);
  }
  for (const same of byProfile.values()) pairs(same, (x, y) => add(x, y, "same_profile"));
  for (const near of byName.values())
    pairs(near, (x, y) => {
      const reason = compareNames(x, y);
      if (reason) add(x, y, reason);
    });
  return [...found.values()];
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

function compareNames(x: Keyed, y: Keyed): DuplicateReason | null {
  if (x.first === "" || y.first === "") return null;
  if (x.last === y.last) {
    if (x.first === y.first) return "same_name";
    if (NICKNAME_OF.has(x.first) && NICKNAME_OF.get(x.first) === NICKNAME_OF.get(y.first)) return "nickname";
    const [short, long] = x.first.length < y.first.length ? [x.first, y.first] : [y.first, x.first];
    if (short.length === 1 && long.startsWith(short)) return "initial";
    return distance(x.first, y.first) <= Math.min(edits(x.first), edits(y.first)) ? "near_name" : null;
  }
  if (x.first !== y.first) return null;
  return distance(x.last, y.last) <= Math.min(edits(x.last), edits(y.last)) ? "near_name" : null;
}

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
