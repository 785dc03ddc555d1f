/** Lists: named sets of prospects. */
import type { Sharing } from "../../core/team/may.ts";
import { type Db, sql } from "./open.ts";

/** The id of the list of this name; null if there is none. */
export const listIdOf = (db: Db, name: string): number | null =>
  sql(db, "SELECT id FROM lists WHERE name = @name").get<{ id: number }>({ name })?.id ?? null;

/** The id of the list of this name, made if there is none, and then its owner's. */
export function listNamed(
  db: Db,
  name: string,
  now: number,
  { ownerId = null, sharing = "use" }: { ownerId?: number | null; sharing?: Sharing } = {},
): number {
  sql(
    db,
    `INSERT INTO lists (name, owner_id, sharing, created_at) VALUES (@name, @ownerId, @sharing, @now)
     ON CONFLICT (name) DO NOTHING`,
  ).run({ name, ownerId, sharing, now });
  return sql(db, "SELECT id FROM lists WHERE name = @name").get<{ id: number }>({ name })?.id as number;
}

/** Puts somebody on a list, if it is still there. */
export function addToList(db: Db, listId: number, prospectId: number): void {
  sql(
    db,
    `INSERT INTO list_prospects (list_id, prospect_id) SELECT id, @prospectId FROM lists WHERE id = @listId
     ON CONFLICT DO NOTHING`,
  ).run({ listId, prospectId });
}

/** The names of the lists that somebody is on, but for those in `@hidden` (a JSON array of ids); `prospect` is their id in SQL. */
export const listNames = (prospect: string, between: string): string =>
  `(SELECT group_concat(l.name, '${between}') FROM list_prospects lp JOIN lists l ON l.id = lp.list_id
     WHERE lp.prospect_id = ${prospect} AND l.id NOT IN (SELECT value FROM json_each(@hidden)))`;
