import { z } from "zod";
import { type By, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { apply } from "../../consequences/apply.ts";
import { rememberErased } from "../../db/erased.ts";
import { sql } from "../../db/open.ts";
import { addressesOf, fullName, prospectById } from "../../db/prospects.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";

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

/** Erases whoever this number is, with every entry that was merged into theirs. */
export function eraseForGood(app: App, id: number): void {
  const { db, clock } = app;
  const now = clock.now();
  db.transaction(() => {
    apply(db, { kind: "erased" }, { at: now, prospectId: id });
    const theirs = "(SELECT id FROM prospects WHERE id = @id OR merged_into = @id)";
    for (const email of addressesOf(db, id)) rememberErased(app, email, now);
    const erase = (text: string) => sql<{ id: number }>(db, text).run({ id });
    for (const table of ["changes", "cleanings", "notes", "list_prospects", "reminders", "undo_records"])
      erase(`DELETE FROM ${table} WHERE prospect_id IN ${theirs}`);
    erase(`DELETE FROM found_people WHERE known_id IN ${theirs} OR kept_id IN ${theirs}`);
    erase(`DELETE FROM import_rows WHERE prospect_id IN ${theirs}`);
    erase(`DELETE FROM duplicates WHERE kind = 'person' AND (a_id IN ${theirs} OR b_id IN ${theirs})`);
    erase(`DELETE FROM touches WHERE state = 'queued' AND prospect_id IN ${theirs}`);
    erase(
      `UPDATE touches SET recipient = '', subject = '', body = '', markup = NULL, server_answer = NULL, refused_words = NULL WHERE prospect_id IN ${theirs}`,
    );
    erase(
      `DELETE FROM answer_drafts WHERE reply_id IN (SELECT id FROM replies WHERE prospect_id IN ${theirs})`,
    );
    erase(`DELETE FROM set_aside WHERE from_address IN (SELECT email FROM prospects WHERE id IN ${theirs})`);
    erase(
      `UPDATE replies SET prospect_id = NULL, from_address = '', answer_to = '', from_name = '', subject = '', text = '', quoted = '', detail = NULL,
         attached = '[]', reading = NULL
       WHERE prospect_id IN ${theirs}`,
    );
    // Notices name people; those about this one go, and mail that was still to go to them.
    erase(
      `DELETE FROM notices WHERE path IN (SELECT '/prospects/' || id FROM prospects WHERE id IN ${theirs})
         OR path IN (SELECT '/replies?reply=' || reply_id || '&show=people' FROM events WHERE reply_id IS NOT NULL AND prospect_id IN ${theirs})`,
    );
    erase(
      `UPDATE service_mails SET recipient = '', recipient_name = '', subject = '', body = '', calendar = '', prospect_id = NULL,
         state = CASE state WHEN 'queued' THEN 'dropped' ELSE state END WHERE prospect_id IN ${theirs}`,
    );
    erase(
      `UPDATE meetings SET prospect_id = NULL, name = 'Erased', email = '', phone = '', place = '', answers = '[]' WHERE prospect_id IN ${theirs}`,
    );
    erase(`UPDATE events SET detail = NULL WHERE detail IS NOT NULL AND prospect_id IN ${theirs}`);
    erase(`UPDATE journeys SET wait_detail = NULL, stop_detail = NULL WHERE prospect_id IN ${theirs}`);
    erase(
      `DELETE FROM block_list WHERE kind = 'address' AND value IN (SELECT email FROM prospects WHERE id IN ${theirs})`,
    );
    sql<{ id: number; now: number }>(
      db,
      `UPDATE prospects SET email = NULL, first_name = '', last_name = '', company_id = NULL, company = '', title = '',
         city = '', country = '', time_zone = NULL, phone = '', profile = '', custom = '{}', verdict = NULL,
         verdict_reason = NULL, verdict_detail = '', verdict_at = NULL, erased_at = @now WHERE id IN ${theirs}`,
    ).run({ id, now });
  }).immediate();
}
