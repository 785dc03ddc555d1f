import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { prospectById } from "../../db/prospects.ts";
import { AppError } from "../../errors.ts";
import { KEPT, linesOf, subjectOf } from "./kept-of-person.ts";

/**
 * Everything that is kept about one person, for them to have (GDPR article 15): what the catalogue gives, by its names,
 * each an array of rows. Throws `not_found`.
 */
export function personData({ db }: App, id: number): Record<string, unknown[]> {
  if (!prospectById(db, id)) throw new AppError("not_found");
  const subject = subjectOf(db, id);
  const given: Record<string, unknown[]> = {};
  for (const table of Object.keys(KEPT))
    for (const { where, given: gives } of linesOf(table))
      if (gives)
        given[gives.as] = sql(db, `SELECT ${gives.columns} FROM ${table} WHERE ${where}`)
          .all<Record<string, unknown>>({ ...subject })
          .map(unpacked);
  return given;
}

/** Cells that hold JSON are given as what they say. */
function unpacked(row: Record<string, unknown>): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(row).map(([column, value]) => {
      if (typeof value !== "string" || !/^[[{]/.test(value)) return [column, value];
      try {
        return [column, JSON.parse(value)];
      } catch {
        return [column, value];
      }
    }),
  );
}
