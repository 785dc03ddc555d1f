/** Pauses and going on, of a sequence, a mailbox, a social account or some people: remembered, and taken back by one press. */
import { type Db, sql, type Tx } from "../db/open.ts";
import type { Pausable } from "../db/pauses.ts";
import { remember } from "./remember.ts";
import { ofPause } from "./scopes.ts";

/** Pauses or lets go on, remembered: the id by which it is taken back. `name`: of what it is, as a screen says it. */
export const rememberPause = (
  db: Tx,
  what: {
    of: Pausable;
    ids: readonly number[];
    isPaused: boolean;
    name: string;
    userId: number | null;
    at: number;
  },
  work: () => void,
): number =>
  remember(
    db,
    {
      kind: "pause",
      prospectId: null,
      userId: what.userId,
      of: what.ids,
      what: `${what.isPaused ? "Paused" : "Let go on:"} ${what.name}`,
      at: what.at,
    },
    ofPause(what.of, what.ids),
    work,
  );

/** After a pause was taken back: whatever was drawn from the states that were is not theirs any more. */
export function pauseTakenBack(db: Db, undoId: number): void {
  for (const table of ["sequences", "mailboxes"])
    sql(
      db,
      `UPDATE ${table} SET revision = revision + 1 WHERE id IN (SELECT json_extract(value, '$.after.id')
         FROM undo_records u, json_each(u.changes) WHERE u.id = @undoId AND json_extract(value, '$.table') = '${table}')`,
    ).run({ undoId });
}
