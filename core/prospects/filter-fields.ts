/** What a filter asks after, and how. */
import { PERSON_FIELDS, type PersonField } from "./fields.ts";

export const TEXT_OPS = ["is", "is_not", "contains", "contains_not", "empty", "filled"] as const;
export const CHOICE_OPS = ["is", "is_not"] as const;
export const DAY_OPS = ["within", "longer_ago", "never"] as const;

export const FILTER_FIELDS = {
  ...(Object.fromEntries(PERSON_FIELDS.map((field) => [field, "text"])) as Record<PersonField, "text">),
  note: "text",
  industry: "text",
  stage: "choice",
  verdict: "choice",
  owner: "choice",
  origin: "choice",
  blocked: "choice",
  list: "choice",
  outcome: "choice",
  added: "days",
  written: "days",
} as const;
export type FilterField = keyof typeof FILTER_FIELDS;
type FieldOfKind<Kind> = {
  [Field in FilterField]: (typeof FILTER_FIELDS)[Field] extends Kind ? Field : never;
}[FilterField];
export type TextField = FieldOfKind<"text">;
export type DayField = FieldOfKind<"days">;

/** What came of a sequence for somebody; a condition's value is "5 opened_silent" for sequence 5, "any replied" for all. */
export const OUTCOMES = [
  "started",
  "not_started",
  "opened_silent",
  "clicked_silent",
  "silent",
  "replied",
  "booked",
  "bounced",
] as const;
export type Outcome = (typeof OUTCOMES)[number];

/** The kind of a field's conditions; a list's own fields are text. Null if there is no such field. */
export function kindOfField(field: string): "text" | "choice" | "days" | null {
  if (/^custom:[a-z][a-z0-9_]{0,40}$/.test(field)) return "text";
  return FILTER_FIELDS[field as FilterField] ?? null;
}
