/** What cleaning made of each person's fields, with the originals. */
import { z } from "zod";
import { CLEANED_FIELDS, type FieldChange } from "../../core/prospects/cleaning/person.ts";
import { CLEANING_RULES } from "../../core/prospects/cleaning/rules.ts";
import { type Db, sql } from "./open.ts";

const fieldsSchema = z.array(
  z.object({
    field: z.enum(CLEANED_FIELDS),
    original: z.string(),
    cleaned: z.string(),
    rules: z.array(z.enum(CLEANING_RULES)),
    refused: z.array(z.enum(CLEANING_RULES)),
  }),
);
export type CleanedValue = z.infer<typeof fieldsSchema>[number];

export const parseCleaning = (json: string): CleanedValue[] => fieldsSchema.parse(JSON.parse(json));

/** A last name out of nothing is the other half of a name that was parted, and counts with it. */
export const isOtherHalf = ({ field, original }: Pick<CleanedValue, "field" | "original">) =>
  field === "lastName" && original === "";

function words(values: readonly CleanedValue[], kind: "rules" | "refused"): string {
  let text = "";
  for (const value of values)
    if (!isOtherHalf(value)) for (const rule of value[kind]) text += text === "" ? rule : ` ${rule}`;
  return text;
}

/** Keeps what cleaning changed when somebody came in. */
export function cleaningKeeper(db: Db): (prospectId: number, changes: readonly FieldChange[]) => void {
  const insert = sql(db, "INSERT INTO cleanings (prospect_id, fields, rules) VALUES (?, ?, ?)");
  return (prospectId, changes) => {
    if (changes.length === 0) return;
    const values = changes.map(({ field, before, after, rules }) => ({
      field,
      original: before,
      cleaned: after,
      rules,
      refused: [],
    }));
    insert.run([prospectId, JSON.stringify(values), words(values, "rules")]);
  };
}

export function saveCleaning(db: Db, prospectId: number, values: readonly CleanedValue[]): void {
  sql(
    db,
    "UPDATE cleanings SET fields = @fields, rules = @rules, refused = @refused WHERE prospect_id = @prospectId",
  ).run({
    prospectId,
    fields: JSON.stringify(values),
    rules: words(values, "rules"),
    refused: words(values, "refused"),
  });
}

export function cleaningOf(db: Db, prospectId: number): CleanedValue[] {
  const row = sql(db, "SELECT fields FROM cleanings WHERE prospect_id = @prospectId").get<{ fields: string }>(
    { prospectId },
  );
  return row ? parseCleaning(row.fields) : [];
}
