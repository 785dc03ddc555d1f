/** What a row of a file says anew about somebody who is known. */

import { OWN_CODES } from "../../../core/prospects/fields.ts";
import type { NewPerson } from "../../../core/prospects/rows.ts";
import { CUSTOM, FIELD_COLUMNS } from "../../db/fields.ts";
import { fieldsIn } from "../../db/json.ts";
import { type Db, sql } from "../../db/open.ts";
import type { KnownChoice } from "./imports.ts";

/** Fields that a file can change. */
const { email: _, ...CHANGED } = OWN_CODES;
const FIELDS = Object.keys(CHANGED) as (keyof typeof CHANGED)[];

export interface FieldDifference {
  field: string;
  before: string;
  after: string;
}

export interface KnownPerson extends Record<(typeof FIELDS)[number], string | null> {
  id: number;
  custom: string;
}

/** A look-up of people by address; a merged one's leads to the one that remains. */
export function knownPeople(db: Db): (email: string) => KnownPerson | undefined {
  const get = sql(
    db,
    `SELECT k.id, k.custom, ${FIELDS.map((field) => `k.${FIELD_COLUMNS[field]} AS ${field}`).join(", ")}
     FROM prospects p JOIN prospects k ON k.id = coalesce(p.merged_into, p.id) WHERE p.email = @email`,
  );
  return (email) => (email === "" ? undefined : get.get<KnownPerson>({ email }));
}

/** Where the file says something else; a blank cell says nothing. */
export function differences(
  known: KnownPerson,
  { fields, custom }: Pick<NewPerson, "fields" | "custom">,
): FieldDifference[] {
  const found: FieldDifference[] = [];
  for (const field of FIELDS)
    if (fields[field] !== "" && fields[field] !== (known[field] ?? ""))
      found.push({ field, before: known[field] ?? "", after: fields[field] });
  if (Object.keys(custom).length > 0) {
    const own = fieldsIn(known.custom);
    for (const [name, after] of Object.entries(custom))
      if (own[name] !== after) found.push({ field: CUSTOM + name, before: own[name] ?? "", after });
  }
  return found;
}

/** Whether a difference is taken over. Blanks are filled in unless the rep chose otherwise: that loses nothing. */
export function isTaken({ field, before }: FieldDifference, known: Record<string, KnownChoice>): boolean {
  const choice = known[field] ?? "fill";
  return choice === "replace" || (choice === "fill" && before === "");
}
