import { z } from "zod";
import { type By, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { apply } from "../../consequences/apply.ts";
import { personKey, rememberErased } from "../../db/erased.ts";
import { type Db, sql, transact } from "../../db/open.ts";
import { addressesOf, fullName, prospectById } from "../../db/prospects.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { dropFilesOfImports } from "../imports/import-file.ts";
import { KEPT, linesOf, type Subject, subjectOf } from "./kept-of-person.ts";

const form = z.object({ id: z.coerce.number().int(), name: z.string().trim() });

/**
 * Erases a person for good (GDPR article 17): their data, words and history of changes go; what is counted stays
 * without a name; of their addresses one-way hashes stay, so that no file brings them back. The name has to be typed.
 */
export function eraseProspect(app: App, by: By, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { db } = app;
  const { id } = read.data;
  const no = mayNot(app, by, "prospect.erase", id);
  if (no) return no;
  const prospect = prospectById(db, id);
  if (!prospect) return refused({ form: "This person is no longer here." });
  if (read.data.name.toLowerCase() !== fullName(prospect).toLowerCase())
    return refused({ name: `Type “${fullName(prospect)}”, as it stands above.` });
  eraseForGood(app, id);
  return done(null);
}

/**
 * Erases whoever this number is, with every entry that was merged into theirs, as the catalogue says. What else tells of
 * them (pages of the file that are free again, the letters' index, older copies) follows in sweep-traces.ts.
 */
export function eraseForGood(app: App, id: number): void {
  const { clock } = app;
  const now = clock.now();
  transact(app, (app) => {
    const { db } = app;
    apply(db, { kind: "erased" }, { at: now, prospectId: id });
    const subject = subjectOf(db, id);
    for (const person of entriesOf(db, subject)) rememberErased(app, personKey(person), now);
    for (const email of addressesOf(db, id)) rememberErased(app, email, now);
    dropFilesOfImports(app, importsWith(db, subject));
    for (const table of Object.keys(KEPT))
      for (const { where, erase } of linesOf(table)) {
        if (erase === "stays") continue;
        const set = Object.entries(erase).map(([column, value]) => `${column} = ${value}`);
        sql(
          db,
          erase === "delete"
            ? `DELETE FROM ${table} WHERE ${where}`
            : `UPDATE ${table} SET ${set.join()} WHERE ${where}`,
        ).run({ ...subject, now });
      }
  });
}

const entriesOf = (db: Db, { ids }: Subject) =>
  sql(
    db,
    "SELECT id, created_at AS createdAt FROM prospects WHERE id IN (SELECT value FROM json_each(@ids))",
  ).all<{ id: number; createdAt: number }>({ ids });

/** The imports in whose files they stand. */
const importsWith = (db: Db, { ids }: Subject): number[] =>
  sql(
    db,
    `WITH theirs AS (SELECT value AS id FROM json_each(@ids))
     SELECT origin_id AS id FROM prospects WHERE origin = 'import' AND origin_id IS NOT NULL AND id IN theirs
     UNION SELECT import_id FROM list_prospects WHERE import_id IS NOT NULL AND prospect_id IN theirs
     UNION SELECT import_id FROM import_rows WHERE prospect_id IN theirs
     UNION SELECT source_id FROM changes WHERE source = 'import' AND source_id IS NOT NULL AND prospect_id IN theirs`,
  )
    .all<{ id: number }>({ ids })
    .map(({ id }) => id);
