/** Lists as pages show them. */
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";

export interface ListRow {
  id: number;
  name: string;
  count: number;
}

/** Every list with its number of prospects. */
export function allLists({ db }: App): ListRow[] {
  return sql<[], ListRow>(
    db,
    `SELECT l.id, l.name, (SELECT count(*) FROM list_prospects WHERE list_id = l.id) AS count
     FROM lists l ORDER BY l.name`,
  ).all([]);
}

export function listById(
  { db }: App,
  id: number,
): { id: number; name: string; profileId: number | null } | null {
  return (
    sql<{ id: number }, { id: number; name: string; profileId: number | null }>(
      db,
      "SELECT id, name, profile_id AS profileId FROM lists WHERE id = @id",
    ).get({ id }) ?? null
  );
}
