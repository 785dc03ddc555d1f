import { type By, hiddenFrom } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";
import { allCustomFields } from "../../db/prospects.ts";
import { visibleSequences } from "../../sequences/visible-sequences.ts";

/** What a filter's fields can be compared with. */
export function filterChoices(app: App, by: By) {
  const named = (text: string) => sql(app.db, text).all<{ id: number; name: string }>([]);
  const lists = hiddenFrom(app, by, "list.see");
  return {
    lists: named("SELECT id, name FROM lists ORDER BY name").filter(({ id }) => !lists.has(id)),
    users: named("SELECT id, name FROM users ORDER BY id"),
    sequences: visibleSequences(app, by).map(({ id, name }) => ({ id, name })),
    customs: allCustomFields(app.db),
  };
}
