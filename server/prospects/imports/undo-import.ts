import { type By, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { type Change, changesOf, recordChange } from "../../db/changes.ts";
import { readField, writeField } from "../../db/fields.ts";
import { sql, transact } from "../../db/open.ts";
import { forgetVerdict } from "../../db/prospects.ts";
import { done, type Outcome } from "../../errors.ts";
import { dropStalePairs } from "../duplicates/find-and-merge.ts";
import { importById, setImport } from "./imports.ts";

/**
 * Whom the import brought and a rule merged into somebody goes, with what that person got by it, an address
 * among it. Somebody who is on a sequence stays as they are: mail goes to that address.
 */
function takeMergesBack({ db }: App, importId: number, giveBack: (change: Change) => void): void {
  const merged = sql(
    db,
    `SELECT id FROM prospects p WHERE origin = 'import' AND origin_id = @importId AND merged_into IS NOT NULL
       AND NOT EXISTS (SELECT 1 FROM journeys WHERE prospect_id = p.merged_into) ORDER BY id DESC`,
  ).all<{ id: number }>({ importId });
  for (const { id } of merged) {
    for (const change of changesOf(db, "merge", id)) {
      giveBack(change);
      if (change.field === "email") forgetVerdict(db, change.prospectId);
    }
    sql(db, "DELETE FROM prospects WHERE id = @id").run({ id });
  }
}

/** Nobody has worked with them, and nothing points to them. */
const UNTOUCHED = `${["journeys", "touches", "replies", "events", "meetings", "notes"]
  .map((table) => `NOT EXISTS (SELECT 1 FROM ${table} x WHERE x.prospect_id = prospects.id)`)
  .join(" AND ")}
  AND NOT EXISTS (SELECT 1 FROM found_people x WHERE prospects.id IN (x.known_id, x.kept_id))
  AND NOT EXISTS (SELECT 1 FROM prospects x WHERE x.merged_into = prospects.id)`;

/** What taking an import back would do: how many people go, and how many stay since somebody worked with them. */
export function undoImportPreview({ db }: App, importId: number): { goes: number; stays: number } {
  return (
    sql(
      db,
      `SELECT coalesce(sum(${UNTOUCHED}), 0) AS goes, coalesce(sum(NOT (${UNTOUCHED})), 0) AS stays FROM prospects
       WHERE origin = 'import' AND origin_id = @importId AND live = 1`,
    ).get<{ goes: number; stays: number }>({ importId }) ?? { goes: 0, stays: 0 }
  );
}

/**
 * Takes a whole import back: the people it brought go, except those who have been started on a
 * sequence or written down somewhere since; the values it changed return, where nobody changed them
 * again; the list loses whom it put there.
 */
export function undoImport(app: App, by: By, importId: number): Outcome<{ removed: number; stay: number }> {
  const no = mayNot(app, by, "import.change", importId);
  if (no) return no;
  const { db, clock } = app;
  const now = clock.now();
  return transact(app, (): Outcome<{ removed: number; stay: number }> => {
    const found = importById(app, importId);
    if (!found || found.state === "undone") return done({ removed: 0, stay: 0 });
    const giveBack = (change: Change) => {
      if (readField(db, change.prospectId, change.field) !== change.after) return;
      writeField(db, change.prospectId, change.field, change.before);
      recordChange(db, { ...change, before: change.after, after: change.before, source: "undo", at: now });
    };
    changesOf(db, "import", importId).forEach(giveBack);
    takeMergesBack(app, importId, giveBack);
    sql(db, "DELETE FROM list_prospects WHERE import_id = @importId").run({
      importId,
    });
    const theirs = "origin = 'import' AND origin_id = @importId";
    const removed = sql(
      db,
      `DELETE FROM prospects WHERE ${theirs}
           AND ${UNTOUCHED}`,
    ).run({ importId }).changes;
    dropStalePairs(app);
    const stay =
      sql(db, `SELECT count(*) AS count FROM prospects WHERE ${theirs}`).get<{ count: number }>({
        importId,
      })?.count ?? 0;
    setImport(app, importId, { state: "undone", report: { ...found.report, removed, stay } });
    return done({ removed, stay });
  });
}
