import type { App } from "../app.ts";
import { changesOf, recordChange } from "../db/changes.ts";
import { readField, writeField } from "../db/fields.ts";
import { sql } from "../db/open.ts";
import { dropFile } from "./import-file.ts";
import { importById, setImport } from "./imports.ts";

/**
 * Takes a whole import back: the people it brought go, except those who have been started on a
 * sequence or written down somewhere since; the values it changed return, where nobody changed them
 * again; the list loses whom it put there.
 */
export function undoImport(app: App, importId: number): { removed: number; stay: number } {
  const { db, clock } = app;
  const now = clock.now();
  return db
    .transaction(() => {
      const found = importById(app, importId);
      if (!found || found.state === "undone") return { removed: 0, stay: 0 };
      for (const change of changesOf(db, "import", importId)) {
        if (readField(db, change.prospectId, change.field) !== change.after) continue;
        writeField(db, change.prospectId, change.field, change.before);
        recordChange(db, { ...change, before: change.after, after: change.before, source: "undo", at: now });
      }
      sql<{ importId: number }>(db, "DELETE FROM list_prospects WHERE import_id = @importId").run({
        importId,
      });
      const theirs = "origin = 'import' AND origin_id = @importId";
      const removed = sql<{ importId: number }>(
        db,
        `DELETE FROM prospects WHERE ${theirs}
           AND NOT EXISTS (SELECT 1 FROM journeys x WHERE x.prospect_id = prospects.id)
           AND NOT EXISTS (SELECT 1 FROM touches x WHERE x.prospect_id = prospects.id)
           AND NOT EXISTS (SELECT 1 FROM replies x WHERE x.prospect_id = prospects.id)
           AND NOT EXISTS (SELECT 1 FROM events x WHERE x.prospect_id = prospects.id)
           AND NOT EXISTS (SELECT 1 FROM meetings x WHERE x.prospect_id = prospects.id)
           AND NOT EXISTS (SELECT 1 FROM notes x WHERE x.prospect_id = prospects.id)
           AND NOT EXISTS (SELECT 1 FROM found_people x WHERE prospects.id IN (x.known_id, x.kept_id))
           AND NOT EXISTS (SELECT 1 FROM prospects x WHERE x.merged_into = prospects.id)`,
      ).run({ importId }).changes;
      const stay =
        sql<{ importId: number }, { count: number }>(
          db,
          `SELECT count(*) AS count FROM prospects WHERE ${theirs}`,
        ).get({ importId })?.count ?? 0;
      setImport(app, importId, { state: "undone", report: { ...found.report, removed, stay } });
      dropFile(app, importId);
      return { removed, stay };
    })
    .immediate();
}
