/** Cleans everything that is known of one person, and says what changed by which rule. */
import { isZone } from "../../calendar.ts";
import { cleanCompany } from "./companies.ts";
import { cleanName } from "./names.ts";
import { phoneNumber } from "./phones.ts";
import { countryCode, zoneOfPlace } from "./places.ts";
import { applyRule, type Cleaned, type CleaningRule, type Refused } from "./rules.ts";
import { collapseSpaces } from "./text.ts";
import { cleanTitle } from "./titles.ts";
import { profileAddress, webDomain } from "./web.ts";

/** The fields that are cleaned. All are text; "" is empty. */
export const CLEANED_FIELDS = [
  "firstName",
  "lastName",
  "company",
  "companyDomain",
  "title",
  "city",
  "country",
  "timeZone",
  "phone",
  "profile",
] as const;
export type CleanedField = (typeof CLEANED_FIELDS)[number];
export type PersonFields = Record<CleanedField, string>;

export interface FieldChange {
  field: CleanedField;
  before: string;
  after: string;
  rules: CleaningRule[];
}

const NOTHING: Partial<Record<CleanedField, Refused>> = {};
const NO_RULES: Refused = new Set();

/**
 * The cleaned fields and the changes, each with its rules; the same input gives the same output.
 * `refused` names the rules that a person said no to, by field; a name's rules count for both parts.
 */
export function cleanPerson(
  raw: PersonFields,
  refused: Partial<Record<CleanedField, Refused>> = NOTHING,
): { fields: PersonFields; changes: FieldChange[] } {
  const not = (field: CleanedField) => refused[field] ?? NO_RULES;
  const orNull = (field: CleanedField, rule: CleaningRule, read: (value: string) => string | null) =>
    applyRule({ value: raw[field], rules: [] }, rule, not(field), (value) => read(value) ?? value);

  const country = orNull("country", "country", countryCode);
  const code = countryCode(country.value) ?? "";
  const nameRefused =
    refused.firstName || refused.lastName ? new Set([...not("firstName"), ...not("lastName")]) : NO_RULES;
  const name = cleanName({ first: raw.firstName, last: raw.lastName }, code, nameRefused);
  const company = cleanCompany(raw.company, code, not("company"));
  const city = applyRule({ value: raw.city, rules: [] }, "spaces", not("city"), collapseSpaces);
  const cleaned: Record<CleanedField, Cleaned> = {
    firstName: name.first,
    lastName: name.last,
    company,
    companyDomain: orNull("companyDomain", "web_domain", webDomain),
    title: cleanTitle(raw.title, company.value, not("title")),
    city,
    country,
    timeZone: zone(raw.timeZone, city.value, code, not("timeZone")),
    phone: orNull("phone", "phone", (value) => phoneNumber(value, code)),
    profile: orNull("profile", "profile", profileAddress),
  };

  const fields = { ...raw };
  const changes: FieldChange[] = [];
  for (const field of CLEANED_FIELDS) {
    const { value, rules } = cleaned[field];
    fields[field] = value;
    if (value !== raw[field]) changes.push({ field, before: raw[field], after: value, rules });
  }
  return { fields, changes };
}

/** A zone that there is stays; a blank or unknown one is read from the place. */
function zone(typed: string, city: string, country: string, refused: Refused): Cleaned {
  if (typed !== "" && isZone(typed)) return { value: typed, rules: [] };
  const found = refused.has("time_zone") ? null : zoneOfPlace(city, country);
  if (found) return { value: found, rules: ["time_zone"] };
  return { value: "", rules: typed === "" ? [] : ["time_zone"] };
}
