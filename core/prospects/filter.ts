/** Filters over prospects: groups of conditions, each group joined by "all" or "any", and so the groups. */
import { z } from "zod";

export const TEXT_OPS = ["is", "is_not", "contains", "contains_not", "empty", "filled"] as const;
export const CHOICE_OPS = ["is", "is_not"] as const;
export const DAY_OPS = ["within", "longer_ago", "never"] as const;

export const FILTER_FIELDS = {
  firstName: "text",
  lastName: "text",
  email: "text",
  company: "text",
  title: "text",
  city: "text",
  country: "text",
  phone: "text",
  profile: "text",
  timeZone: "text",
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

const OPS: Record<"text" | "choice" | "days", readonly string[]> = {
  text: TEXT_OPS,
  choice: CHOICE_OPS,
  days: DAY_OPS,
};

export const conditionSchema = z
  .object({ field: z.string().max(60), op: z.string().max(20), value: z.string().trim().max(200) })
  .refine(
    ({ field, op }) => {
      const kind = kindOfField(field);
      return kind !== null && OPS[kind].includes(op);
    },
    { message: "This condition cannot be read. Choose its field anew." },
  );
export type Condition = z.infer<typeof conditionSchema>;

const match = z.enum(["all", "any"]).default("all");
export const filterSchema = z.object({
  match,
  groups: z.array(z.object({ match, conditions: z.array(conditionSchema).max(12) })).max(6),
});
export type Filter = z.infer<typeof filterSchema>;

/** A filter as the address bar holds it; null if there is none or it cannot be read. */
export function parseFilter(text: string): Filter | null {
  if (text === "") return null;
  try {
    const filter = filterSchema.parse(JSON.parse(text));
    return filter.groups.some(({ conditions }) => conditions.length > 0) ? filter : null;
  } catch {
    return null;
  }
}
