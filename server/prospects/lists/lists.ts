/** Lists as pages show them. */
import { type By, hiddenFrom, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";

export interface ListRow {
  id: number;
  name: string;
  count: number;
}

/** Every list that somebody may see, with its number of prospects. */
export function allLists(app: App, by: By): ListRow[] {
  const hidden = hiddenFrom(app, by, "list.see");
  return sql(
    app.db,
    `SELECT l.id, l.name, (SELECT count(*) FROM list_prospects WHERE list_id = l.id) AS count
     FROM lists l ORDER BY l.name`,
  )
    .all<ListRow>([])
    .filter(({ id }) => !hidden.has(id));
}

/** A list, where somebody may see it. */
export function listById(
  app: App,
  by: By,
  id: number,
): { id: number; name: string; profileId: number | null } | null {
  if (mayNot(app, by, "list.see", id)) return null;
  return (
    sql(app.db, "SELECT id, name, profile_id AS profileId FROM lists WHERE id = @id").get<{
      id: number;
      name: string;
      profileId: number | null;
    }>({ id }) ?? null
  );
}
