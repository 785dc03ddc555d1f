/** Target profiles: whom we want to write to, and whether somebody is one of them. */

import { z } from "zod";
import { countryName } from "../countries.ts";
import { type EmployeeRange, employeesText } from "./employees.ts";
import { isIndustry } from "./industries.ts";
import { SENIORITIES, type Seniority } from "./seniority.ts";
import { readTitle, titleMatches } from "./titles/read-title.ts";

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
  employees: EmployeeRange | null;
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

/**
 * Titles of one profession that mean the same work; each line is one meaning, its first word the usual
 * one. What other languages and abbreviations mean the same is in the lexicon of titles.
 */
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

/** A title and the others that mean the same. A director may be the managing one; the managing one is not any. */
export function synonymsOf(title: string): string[] {
  const wanted = plain(title);
  const group = SYNONYMS.find((titles) => titles.includes(wanted));
  return group && !(wanted !== group[0] && group[0] === "director") ? group : [wanted];
}

/** Whether a title is the wanted one: by what it says itself, or as one that means the same. */
function isWanted(title: string, wanted: string): boolean {
  return (
    titleMatches(title, wanted) ||
    synonymsOf(wanted).some((same) => same !== plain(wanted) && titleMatches(title, same, true))
  );
}

/** Words of a wanted title that mean nothing to us, and are looked for letter by letter. */
export const unreadTitleWords = (title: string): string[] => readTitle(title).unknown;

/** Whether `text` has all words of `phrase`, in any order: "Head of Collections" has "collections head". */
function hasWords(text: string, phrase: string): boolean {
  const have = new Set(plain(text).split(" "));
  return plain(phrase)
    .split(" ")
    .filter((word) => !["of", "the", "and", "de", "for"].includes(word))
    .every((word) => have.has(word));
}

/** Whether an excluded word speaks of somebody: it stands in their title, or their title means it. */
function isExcluded(title: string, word: string): boolean {
  if (hasWords(title, word)) return true;
  const { jobs } = readTitle(word);
  const [only] = jobs;
  if (!only || jobs.length > 1 || only.unknown.length > 0) return false;
  if (only.isAssistant) return readTitle(title).jobs.some(({ isAssistant }) => isAssistant);
  return only.role !== null && titleMatches(title, word);
}

/** How senior a title is, by the highest job that it names; without any sign a specialist. */
export const seniorityOf = (title: string): Seniority => readTitle(title).rank;

/**
 * Whether somebody matches a profile, with the first reason why not. What is unknown about a company
 * does not speak against a person; a title that is missing does.
 */
export function judgeFit(profile: TargetProfile, who: Candidate): Fit {
  const no = (reason: MisfitReason, detail: string): Fit => ({ fits: false, reason, detail });
  const excluded = profile.titlesWithout.find((word) => isExcluded(who.title, word));
  if (excluded) return no("title_excluded", who.title);
  if (profile.titles.length > 0 && !profile.titles.some((title) => isWanted(who.title, title)))
    return no("title", who.title);
  if (profile.seniorities.length > 0 && !profile.seniorities.includes(seniorityOf(who.title)))
    return no("seniority", who.title);
  const isOneOf = (values: string[], value: string) => values.some((each) => plain(each) === plain(value));
  if (
    profile.industries.length > 0 &&
    who.industry !== "" &&
    !profile.industries.some((each) => isIndustry(each, who.industry))
  )
    return no("industry", who.industry);
  if (who.employees !== null) {
    const { employeesFrom: from, employeesTo: to } = profile;
    // A range speaks against somebody if no size of it would fit.
    if (
      (from !== null && (who.employees.to ?? Number.POSITIVE_INFINITY) < from) ||
      (to !== null && who.employees.from > to)
    )
      return no("employees", employeesText(who.employees));
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
