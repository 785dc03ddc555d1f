/** What cleaning can do to a value: the closed list of rules. */
export const CLEANING_RULES = [
  "address",
  "encoding",
  "blank",
  "no_name",
  "apostrophe",
  "doubled",
  "initial",
  "quotes",
  "trading_name",
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

/** What cleaning cannot mend and somebody should look at. */
export const CLEANING_DOUBTS = [
  "address",
  "number",
  "job_title",
  "company",
  "function",
  "broken_letters",
  "digits",
  "initial_only",
  "long",
] as const;
export type CleaningDoubt = (typeof CLEANING_DOUBTS)[number];

/** A value on its way through the rules, with those that changed it. */
export interface Cleaned {
  value: string;
  rules: CleaningRule[];
  doubt?: CleaningDoubt;
}

/** No name, company or title is longer. What is stays as it is, but for its spaces: the patterns would take too long over it. */
export const LONGEST = 300;

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
  if (value === cleaned.value) return cleaned;
  return {
    ...cleaned,
    value,
    rules: cleaned.rules.includes(rule) ? cleaned.rules : [...cleaned.rules, rule],
  };
}
