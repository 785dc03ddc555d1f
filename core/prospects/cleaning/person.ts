/** Cleans everything that is known of one person, and says what changed by which rule. */

import { isZone } from "../../calendar.ts";
import { Kept } from "../../kept.ts";
import { languageCode } from "../../languages.ts";
import { PERSON_FIELDS, type PersonField } from "../fields.ts";
import { cleanCity } from "./cities.ts";
import { cleanCompany } from "./companies.ts";
import { cleanName, isSwappedBy } from "./names.ts";
import { phoneNumber } from "./phones.ts";
import { countryCode, zoneOfPlace } from "./places.ts";
import type { Cleaned, CleaningDoubt, CleaningRule, Refused } from "./rules.ts";
import { cleanTitle, mayNameEmployer } from "./titles.ts";
import { profileAddress, webDomain } from "./web.ts";

/** The fields that are cleaned. All are text; "" is empty. */
export type CleanedField = Exclude<PersonField, "email">;
export const CLEANED_FIELDS = PERSON_FIELDS.filter((field) => field !== "email");
export type PersonFields = Record<CleanedField, string>;

export interface FieldChange {
  field: CleanedField;
  before: string;
  after: string;
  rules: CleaningRule[];
}

/** What should be looked at, since cleaning can only guess. */
export interface FieldDoubt {
  field: CleanedField;
  doubt: CleaningDoubt;
  before: string;
}

/** Companies, titles and places come again and again in a file. */
const companies = new Kept<Cleaned>();
const titles = new Kept<Cleaned>();
const places = new Kept<{ zone: string | null }>();
const codes = new Kept<{ code: string | null }>();

const codeOf = (text: string) => codes.get(text, () => ({ code: countryCode(text) })).code;

/** "Georgia" is a state where the city says so: "Atlanta, GA". */
function countryOf(text: string, city: string): string | null {
  const code = codeOf(text);
  return code === "GE" && city !== "" && codeOf(city) === "US" ? "US" : code;
}

const NOTHING: Partial<Record<CleanedField, Refused>> = {};
const NO_RULES: Refused = new Set();

type Reader = (value: string, country: string) => string | null;

/** Applies a reader to one field; what it cannot read stays as it is. Outside the loop over the rows, which is long. */
function readField(
  raw: PersonFields,
  field: CleanedField,
  rule: CleaningRule,
  refused: Refused | undefined,
  read: Reader,
  country: string,
): Cleaned {
  const value = raw[field];
  if (value === "" || refused?.has(rule)) return { value, rules: [] };
  const after = read(value, country) ?? value;
  return { value: after, rules: after === value ? [] : [rule] };
}

/**
 * The cleaned fields and the changes, each with its rules; the same input gives the same output.
 * `refused` names the rules that a person said no to, by field; a name's rules count for both parts. `email` helps to
 * tell which of the two columns of a name is the family's.
 */
export function cleanPerson(
  raw: PersonFields,
  refused: Partial<Record<CleanedField, Refused>> = NOTHING,
  email = "",
): { fields: PersonFields; changes: FieldChange[]; doubts: FieldDoubt[] } {
  const country = readField(
    raw,
    "country",
    "country",
    refused.country,
    (text) => countryOf(text, raw.city),
    "",
  );
  const code = codeOf(country.value) ?? "";
  const nameRefused =
    refused.firstName || refused.lastName
      ? new Set([...(refused.firstName ?? []), ...(refused.lastName ?? [])])
      : NO_RULES;
  const given = { first: raw.firstName, last: raw.lastName };
  const isSwapped = !nameRefused.has("order") && isSwappedBy(email, given);
  const name = cleanName(isSwapped ? { first: given.last, last: given.first } : given, code, nameRefused);
  if (isSwapped) for (const part of [name.first, name.last]) part.rules = ["order", ...part.rules];
  const company = refused.company
    ? cleanCompany(raw.company, code, refused.company)
    : companies.get(`${code}\n${raw.company}`, () => cleanCompany(raw.company, code));
  const city = cleanCity(raw.city, code, refused.city ?? NO_RULES);
  const employer = mayNameEmployer(raw.title) ? company.value : "";
  const cleaned: Record<CleanedField, Cleaned> = {
    firstName: name.first,
    lastName: name.last,
    company,
    companyDomain: readField(raw, "companyDomain", "web_domain", refused.companyDomain, webDomain, ""),
    title: refused.title
      ? cleanTitle(raw.title, company.value, refused.title)
      : titles.get(`${employer}\n${raw.title}`, () => cleanTitle(raw.title, employer)),
    city,
    country,
    timeZone: zone(raw.timeZone, city.value, code, refused.timeZone ?? NO_RULES),
    language: readField(raw, "language", "language", refused.language, languageCode, ""),
    phone: readField(raw, "phone", "phone", refused.phone, phoneNumber, code),
    profile: readField(raw, "profile", "profile", refused.profile, profileAddress, ""),
  };

  const fields = { ...raw };
  const changes: FieldChange[] = [];
  const doubts: FieldDoubt[] = [];
  for (const field of CLEANED_FIELDS) {
    const { value, rules, doubt } = cleaned[field];
    fields[field] = value;
    if (value !== raw[field]) changes.push({ field, before: raw[field], after: value, rules });
    if (doubt) doubts.push({ field, doubt, before: raw[field] || value });
  }
  return { fields, changes, doubts };
}

/** A zone that there is stays; a blank or unknown one is read from the place. */
function zone(typed: string, city: string, country: string, refused: Refused): Cleaned {
  if (typed !== "" && isZone(typed)) return { value: typed, rules: [] };
  const found = refused.has("time_zone")
    ? null
    : places.get(`${country}\n${city}`, () => ({ zone: zoneOfPlace(city, country) })).zone;
  if (found) return { value: found, rules: ["time_zone"] };
  return { value: "", rules: typed === "" ? [] : ["time_zone"] };
}
