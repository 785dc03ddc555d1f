import { type By, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { allCustomFields } from "../../db/prospects.ts";

/** What a filter's fields can be compared with. */
export function filterChoices(app: App, by: By) {
  const named = (text: string) => sql<[], { id: number; name: string }>(app.db, text).all([]);
  return {
    lists: named("SELECT id, name FROM lists ORDER BY name").filter(
      ({ id }) => mayNot(app, by, "list.see", id) === null,
    ),
    users: named("SELECT id, name FROM users ORDER BY id"),
    sequences: named("SELECT id, name FROM sequences WHERE deleted_at IS NULL ORDER BY id").filter(
      ({ id }) => mayNot(app, by, "sequence.see", id) === null,
    ),
    customs: allCustomFields(app.db),
  };
}
