import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { allCustomFields } from "../../db/prospects.ts";

/** What a filter's fields can be compared with. */
export function filterChoices(app: App) {
  const named = (text: string) => sql<[], { id: number; name: string }>(app.db, text).all([]);
  return {
    lists: named("SELECT id, name FROM lists ORDER BY name"),
    users: named("SELECT id, name FROM users ORDER BY id"),
    sequences: named("SELECT id, name FROM sequences ORDER BY id"),
    customs: allCustomFields(app.db),
  };
}
