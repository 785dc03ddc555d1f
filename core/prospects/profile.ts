/** Target profiles: whom we want to write to, and whether somebody is one of them. */

import { z } from "zod";
import { countryName } from "../countries.ts";

export const SENIORITIES = ["owner", "executive", "head", "manager", "specialist", "junior"] as const;
export type Seniority = (typeof SENIORITIES)[number];
export const SENIORITY_NAMES: Record<Seniority, string> = {
  owner: "Owner or founder",
  executive: "Executive",
  head: "Head or director",
  manager: "Manager",
  specialist: "Specialist",
  junior: "Assistant or trainee",
};

export const MUST_HAVES = ["email", "first_name", "profile"] as const;
export const MUST_HAVE_NAMES: Record<(typeof MUST_HAVES)[number], string> = {
  email: "an address",
  first_name: "a first name",
  profile: "a social profile",
};

const words = z.array(z.string().trim().min(1).max(80)).max(60).default([]);
export const profileSchema = z.object({
  industries: words,
  employeesFrom: z.number().int().min(0).nullable().default(null),
  employeesTo: z.number().int().min(0).nullable().default(null),
  /** ISO 3166 alpha-2 codes. */
  countries: words,
  regions: words,
  cities: words,
  titles: words,
  /** Words that exclude a title: "assistant", "intern". */
  titlesWithout: words,
  seniorities: z.array(z.enum(SENIORITIES)).default([]),
  /** Any of them in the company's description or name. */
  keywords: words,
  mustHave: z.array(z.enum(MUST_HAVES)).default([]),
});
export type TargetProfile = z.infer<typeof profileSchema>;

/** What fit is judged by. "" and null are unknown. */
export interface Candidate {
  email: string;
  firstName: string;
  profile: string;
  title: string;
  industry: string;
  employees: number | null;
  country: string;
  region: string;
  city: string;
  keywords: string;
}

export type MisfitReason =
  | "title"
  | "title_excluded"
  | "seniority"
  | "industry"
  | "employees"
  | "place"
  | "keywords"
  | "must_have";

export interface Fit {
  fits: boolean;
  /** Null if they fit. `detail` is the value that does not. */
  reason: MisfitReason | null;
  detail: string;
}

/** Titles that mean the same work; each line is one meaning, its first word the usual one. */
const SYNONYMS = [
  [
    "registrar",
    "head of registration",
    "registration manager",
    "loans coordinator",
    "loans officer",
    "loans registrar",
  ],
  [
    "collections manager",
    "head of collections",
    "collections care manager",
    "keeper of collections",
    "curator of collections",
  ],
  ["conservator", "preventive conservator", "restorer", "head of conservation", "conservation manager"],
  ["archivist", "head of archives", "records manager", "archives manager"],
  ["librarian", "head librarian", "library director", "special collections librarian"],
  ["facilities manager", "head of facilities", "building manager", "estates manager", "technical manager"],
  ["curator", "chief curator", "exhibitions curator"],
  ["director", "museum director", "managing director", "executive director"],
];

const plain = (text: string) =>
  text
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, " ")
    .trim();

/** A title and the others that mean the same. */
export function synonymsOf(title: string): string[] {
  const wanted = plain(title);
  const group = SYNONYMS.find((titles) => titles.includes(wanted));
  return group ?? [wanted];
}

/** Whether `text` has all words of `phrase`, in any order: "Head of Collections" has "collections head". */
function hasWords(text: string, phrase: string): boolean {
  const have = new Set(plain(text).split(" "));
  return plain(phrase)
    .split(" ")
    .filter((word) => !["of", "the", "and", "de", "for"].includes(word))
    .every((word) => have.has(word));
}

const SENIORITY_SIGNS: [Seniority, RegExp][] = [
  ["junior", /\b(assistant|trainee|intern|junior|apprentice|volunteer|praktikant|stagiaire|becario)\b/],
  ["owner", /\b(owner|founder|co founder|proprietor|inhaber|fondateur)\b/],
  [
    "executive",
    /\b(ceo|cto|cfo|coo|cmo|cio|chief|president|vp|vice president|managing director|executive director)\b/,
  ],
  ["head", /\b(head|director|lead|leiter|leiterin|direktor|directeur|directora?|chefe|keeper)\b/],
  ["manager", /\b(manager|supervisor|coordinator|team lead|responsable|gestora?)\b/],
];

/** How senior a title is; without any sign a specialist. */
export function seniorityOf(title: string): Seniority {
  const text = plain(title);
  return SENIORITY_SIGNS.find(([, signs]) => signs.test(text))?.[0] ?? "specialist";
}

/**
 * Whether somebody matches a profile, with the first reason why not. What is unknown about a company
 * does not speak against a person; a title that is missing does.
 */
export function judgeFit(profile: TargetProfile, who: Candidate): Fit {
  const no = (reason: MisfitReason, detail: string): Fit => ({ fits: false, reason, detail });
  const excluded = profile.titlesWithout.find((word) => hasWords(who.title, word));
  if (excluded) return no("title_excluded", who.title);
  if (
    profile.titles.length > 0 &&
    !profile.titles.some((title) => synonymsOf(title).some((same) => hasWords(who.title, same)))
  )
    return no("title", who.title);
  if (profile.seniorities.length > 0 && !profile.seniorities.includes(seniorityOf(who.title)))
    return no("seniority", who.title);
  const isOneOf = (values: string[], value: string) => values.some((each) => plain(each) === plain(value));
  if (profile.industries.length > 0 && who.industry !== "" && !isOneOf(profile.industries, who.industry))
    return no("industry", who.industry);
  if (who.employees !== null) {
    const { employeesFrom: from, employeesTo: to } = profile;
    if ((from !== null && who.employees < from) || (to !== null && who.employees > to))
      return no("employees", String(who.employees));
  }
  const places = profile.countries.length + profile.regions.length + profile.cities.length;
  if (
    places > 0 &&
    !isOneOf(profile.countries, who.country) &&
    !isOneOf(profile.regions, who.region) &&
    !isOneOf(profile.cities, who.city)
  )
    return no("place", [who.city, countryName(who.country)].filter(Boolean).join(", "));
  if (
    profile.keywords.length > 0 &&
    who.keywords !== "" &&
    !profile.keywords.some((word) => plain(who.keywords).includes(plain(word)))
  )
    return no("keywords", who.keywords);
  const values = { email: who.email, first_name: who.firstName, profile: who.profile };
  const lacking = profile.mustHave.find((field) => values[field] === "");
  return lacking ? no("must_have", lacking) : { fits: true, reason: null, detail: "" };
}
