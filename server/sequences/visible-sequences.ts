/** The sequences that somebody may know of: the team's and their own, none that was deleted, no single email. */
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";

export interface VisibleSequence {
  id: number;
  name: string;
  state: "draft" | "running" | "paused";
  listId: number | null;
  isArchived: boolean;
}

/** In the order in which they were made. */
export function visibleSequences(app: App, by: By): VisibleSequence[] {
  const hidden = hiddenFrom(app, by, "sequence.see");
  return sql(
    app.db,
    `SELECT id, name, state, list_id AS listId, archived_at IS NOT NULL AS isArchived FROM sequences
     WHERE kind = 'shared' AND deleted_at IS NULL ORDER BY id`,
  )
    .all<Omit<VisibleSequence, "isArchived"> & { isArchived: 0 | 1 }>([])
    .filter(({ id }) => !hidden.has(id))
    .map((row) => ({ ...row, isArchived: row.isArchived === 1 }));
}
