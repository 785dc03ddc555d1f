/** What cleaning can do to a value: the closed list of rules, in the order in which they work. */
export const CLEANING_RULES = [
  "look_alike",
  "emoji",
  "aside",
  "honorific",
  "spaces",
  "split",
  "tagline",
  "legal_form",
  "article",
  "employer",
  "capitals",
  "abbreviation",
  "web_domain",
  "phone",
  "country",
  "time_zone",
  "profile",
] as const;
export type CleaningRule = (typeof CLEANING_RULES)[number];

/** Rules that a person said no to; the value is cleaned as if they did not exist. */
export type Refused = ReadonlySet<CleaningRule>;
export const NOTHING_REFUSED: Refused = new Set();

/** A value on its way through the rules, with those that changed it. */
export interface Cleaned {
  value: string;
  rules: CleaningRule[];
}

/** No name, company or title is longer. What is stays as it is, but for its spaces: the patterns would take too long over it. */
const LONGEST = 300;

/** Applies one rule unless it is refused, and notes it if it changed anything. */
export function applyRule(
  cleaned: Cleaned,
  rule: CleaningRule,
  refused: Refused,
  change: (value: string) => string,
): Cleaned {
  if (cleaned.value === "" || refused.has(rule)) return cleaned;
  if (cleaned.value.length > LONGEST && rule !== "spaces") return cleaned;
  const value = change(cleaned.value);
  return value === cleaned.value ? cleaned : { value, rules: [...cleaned.rules, rule] };
}
