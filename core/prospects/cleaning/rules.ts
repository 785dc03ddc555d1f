/** What cleaning can do to a value: the closed list of rules. */
export const CLEANING_RULES = [
  "address",
  "encoding",
  "blank",
  "no_name",
  "two_people",
  "order",
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
  "language",
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
  "two_people",
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

/** More looks than this have nothing left to find. */
const MOST_LOOKS = 8;

/**
 * Goes over a value with all of its rules until none of them changes its text any more: what one rule brings to
 * light another takes away, and what comes out has to be left alone by the next cleaning.
 */
export function settled<T>(raw: T, text: (value: T) => string, lookOver: (value: T) => T): T {
  let value = raw;
  for (let look = 0; look < MOST_LOOKS; look++) {
    const before = text(value);
    value = lookOver(value);
    if (text(value) === before) break;
  }
  return value;
}

/** `settled` for one value. */
export const settledText = (raw: string, lookOver: (cleaned: Cleaned) => Cleaned): Cleaned =>
  settled({ value: raw, rules: [] }, ({ value }) => value, lookOver);

/** Applies one rule unless it is refused, and notes it if it changed anything. */
export function applyRule(
  cleaned: Cleaned,
  rule: CleaningRule,
  refused: Refused,
  change: (value: string) => string,
): Cleaned {
  if (cleaned.value === "" || refused.has(rule)) return cleaned;
  if (cleaned.value.length > LONGEST && rule !== "spaces") return cleaned;
  return noted(cleaned, rule, change(cleaned.value));
}

/** The value with what a rule made of it; the rule is named once, and only if it changed anything. */
export function noted(cleaned: Cleaned, rule: CleaningRule, value: string): Cleaned {
  if (value === cleaned.value) return cleaned;
  return {
    ...cleaned,
    value,
    rules: cleaned.rules.includes(rule) ? cleaned.rules : [...cleaned.rules, rule],
  };
}
