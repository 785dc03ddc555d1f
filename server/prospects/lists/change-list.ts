/** A list gets another name, or goes. Its people stay. */

import { z } from "zod";
import { type By, mayNot } from "../../accounts/may-not.ts";
import { type SharedState, sharingOf } from "../../accounts/share.ts";
import type { App } from "../../app.ts";
import { remember } from "../../consequences/remember.ts";
import { ofList } from "../../consequences/scopes.ts";
import { type Db, sql, transact } from "../../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { visibleSequences } from "../../sequences/visible-sequences.ts";

const GONE = "This list does not exist any more.";
const naming = z.object({ name: z.string().trim().min(1, "Give the list a name.").max(80) });

export function renameList(app: App, by: By, id: number, input: unknown): Outcome<null> {
  const { db } = app;
  const no = mayNot(app, by, "list.change", id);
  if (no) return no;
  const read = naming.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name } = read.data;
  const taken = sql(db, "SELECT 1 FROM lists WHERE name = @name AND id != @id");
  if (taken.get({ id, name })) return refused({ name: "Another list has this name already." });
  const { changes } = sql(db, "UPDATE lists SET name = @name WHERE id = @id").run({
    id,
    name,
  });
  return changes === 1 ? done(null) : refused({ form: GONE });
}

/** The sequences that run for a list. */
const runningFor = (db: Db, id: number): number[] =>
  sql(db, "SELECT id FROM sequences WHERE list_id = @id AND state != 'draft' AND deleted_at IS NULL")
    .all<{ id: number }>({ id })
    .map((row) => row.id);

export interface ListUses {
  /** Names of the sequences that are started for it. */
  sequences: string[];
  hasForm: boolean;
  shared: SharedState;
}

/** What goes with the list, or has to do without it. */
export function usesOfList(app: App, by: By, id: number): ListUses {
  const { db } = app;
  return {
    shared: sharingOf(app, by, "list", id),
    sequences: visibleSequences(app, by)
      .filter(({ listId }) => listId === id)
      .map(({ name }) => name)
      .toSorted(),
    hasForm: sql(db, "SELECT 1 FROM forms WHERE list_id = @id").get({ id }) !== undefined,
  };
}

/**
 * Journeys that were started for the list go on. Refused while a file is imported into it. Returns the id
 * by which it is undone.
 */
export function deleteList(app: App, userId: By, id: number): Outcome<number> {
  const { clock } = app;
  return transact(app, (app): Outcome<number> => {
    const { db } = app;
    // The sequences that are started for it lose it: theirs who started them to say.
    const no =
      mayNot(app, userId, "list.change", id) ?? mayNot(app, userId, "sequence.change", runningFor(db, id));
    if (no) return no;
    const importing = "SELECT 1 FROM imports WHERE list_id = @id AND state = 'importing'";
    if (sql(db, importing).get({ id }))
      return refused({ form: "A file is being imported into this list. Wait until that has ended." });
    const list = sql(db, "SELECT name FROM lists WHERE id = @id").get<{ name: string }>({
      id,
    });
    if (!list) return refused({ form: GONE });
    const what = `The list “${list.name}” was deleted`;
    const undoId = remember(
      db,
      { kind: "list", prospectId: null, userId, of: [id], what, at: clock.now() },
      ofList(db, id),
      () => {
        sql(db, "UPDATE sequences SET list_id = NULL WHERE list_id = @id").run({ id });
        sql(db, "DELETE FROM lists WHERE id = @id").run({ id });
      },
    );
    return done(undoId);
  });
}
