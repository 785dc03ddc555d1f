/** A prospect's fields by name: ours, or a list's own as "custom:name". */
import { OWN_CODES } from "../../core/prospects/fields.ts";
import { type Db, sql } from "./open.ts";

/** The fields that files, people and rules change, with their columns. */
export const FIELD_COLUMNS = { ...OWN_CODES, stage: "stage", owner: "owner_id" } as const;
export type StoredField = keyof typeof FIELD_COLUMNS;
const NULLABLE: ReadonlySet<string> = new Set(["timeZone", "email", "owner"]);
export const CUSTOM = "custom:";
/** Nothing that a JSON path would read as more than a name. */
const CUSTOM_FIELD = /^custom:[\p{L}\p{N}_-]{1,60}$/u;

export const isField = (field: string): field is StoredField | `custom:${string}` =>
  Object.hasOwn(FIELD_COLUMNS, field) || CUSTOM_FIELD.test(field);

/** Blank if empty. Throws if there is no such field. */
export function readField(db: Db, prospectId: number, field: string): string {
  const column = columnOf(field);
  return (
    sql(
      db,
      `SELECT CAST(${column} AS TEXT) AS value FROM prospects WHERE id = @prospectId AND @name IS NOT NULL`,
    ).get<{ value: string | null }>({ prospectId, name: field.slice(CUSTOM.length) })?.value ?? ""
  );
}

/** Writes one field; "" empties it. Throws if there is no such field, and for a stage, which is set by its consequences. */
export function writeField(db: Db, prospectId: number, field: string, value: string): void {
  if (field === "stage") throw new Error("A stage is set by server/consequences.");
  const column = columnOf(field);
  const text = field.startsWith(CUSTOM)
    ? `UPDATE prospects SET custom = CASE WHEN @value = '' THEN json_remove(custom, '$.' || @name)
         ELSE json_set(custom, '$.' || @name, @value) END WHERE id = @prospectId`
    : `UPDATE prospects SET ${column} = @value WHERE id = @prospectId AND @name IS NOT NULL`;
  const name = field.slice(CUSTOM.length);
  sql(db, text).run({
    prospectId,
    name,
    value: value === "" && NULLABLE.has(field) ? null : value,
  });
}

function columnOf(field: string): string {
  if (!isField(field)) throw new Error(`There is no field “${field}”.`);
  return field.startsWith(CUSTOM)
    ? "json_extract(custom, '$.' || @name)"
    : FIELD_COLUMNS[field as StoredField];
}
