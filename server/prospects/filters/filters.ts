/** Saved filters. */
import { z } from "zod";
import { parseFilter } from "../../../core/prospects/filter.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";

export interface SavedFilter {
  id: number;
  name: string;
  definition: string;
}

export function allFilters({ db }: App): SavedFilter[] {
  return sql<[], SavedFilter>(db, "SELECT id, name, definition FROM filters ORDER BY name").all([]);
}

const form = z.object({
  name: z.string().trim().min(1, "Name the filter.").max(60),
  definition: z.string().max(8_000),
});

/** Saves a filter; one of the same name is replaced. */
export function saveFilter({ db, clock }: App, userId: number | null, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const definition = parseFilter(read.data.definition);
  if (!definition) return refused({ name: "Add a condition first." });
  sql<Record<string, unknown>>(
    db,
    `INSERT INTO filters (name, definition, user_id, saved_at) VALUES (@name, @definition, @userId, @now)
     ON CONFLICT (name) DO UPDATE SET definition = @definition, saved_at = @now`,
  ).run({ name: read.data.name, definition: JSON.stringify(definition), userId, now: clock.now() });
  return done(null);
}

export function dropFilter({ db }: App, id: number): void {
  sql<{ id: number }>(db, "DELETE FROM filters WHERE id = @id").run({ id });
}
