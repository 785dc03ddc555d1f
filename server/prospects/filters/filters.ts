/** Saved filters. */

import { z } from "zod";
import { parseFilter } from "../../../core/prospects/filter.ts";
import { type By, mayNot } from "../../accounts/may-not.ts";
import { type SharedState, sharingOf } from "../../accounts/share.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";

export interface SavedFilter {
  id: number;
  name: string;
  definition: string;
  shared: SharedState;
}

/** Those that somebody may use. */
export function allFilters(app: App, by: By): SavedFilter[] {
  return sql(app.db, "SELECT id, name, definition FROM filters ORDER BY name")
    .all<Omit<SavedFilter, "shared">>([])
    .filter(({ id }) => mayNot(app, by, "filter.use", id) === null)
    .map((row) => ({ ...row, shared: sharingOf(app, by, "filter", row.id) }));
}

const form = z.object({
  name: z.string().trim().min(1, "Name the filter.").max(60),
  definition: z.string().max(8_000),
});

/** Saves a filter; one of the same name is replaced. */
export function saveFilter(app: App, userId: By, input: unknown): Outcome<null> {
  const { db, clock } = app;
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const definition = parseFilter(read.data.definition);
  if (!definition) return refused({ name: "Add a condition first." });
  const known = sql(db, "SELECT id FROM filters WHERE name = @name").get<{ id: number }>(read.data);
  const no = known ? mayNot(app, userId, "filter.change", known.id) : mayNot(app, userId, "filter.create");
  if (no) return { ...no, errors: { name: no.errors.form ?? "" } };
  sql(
    db,
    `INSERT INTO filters (name, definition, user_id, saved_at) VALUES (@name, @definition, @userId, @now)
     ON CONFLICT (name) DO UPDATE SET definition = @definition, saved_at = @now`,
  ).run({ name: read.data.name, definition: JSON.stringify(definition), userId, now: clock.now() });
  return done(null);
}

export function dropFilter(app: App, by: By, id: number): Outcome<null> {
  const no = mayNot(app, by, "filter.change", id);
  if (no) return no;
  sql(app.db, "DELETE FROM filters WHERE id = @id").run({ id });
  return done(null);
}
