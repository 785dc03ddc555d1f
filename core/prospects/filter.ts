/** Filters over prospects: groups of conditions, each group joined by "all" or "any", and so the groups. */
import { z } from "zod";
import { CHOICE_OPS, DAY_OPS, kindOfField, TEXT_OPS } from "./filter-fields.ts";

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
