import type { App } from "../../app.ts";
import { cleaningOf } from "../../db/cleanings.ts";
import { sql } from "../../db/open.ts";
import { addressesOf, prospectById } from "../../db/prospects.ts";
import { AppError } from "../../errors.ts";

/** Everything that is kept about one person, for them to have (GDPR article 15). Throws `not_found`. */
export function personData({ db }: App, id: number): Record<string, unknown> {
  const prospect = prospectById(db, id);
  if (!prospect) throw new AppError("not_found");
  const rows = (text: string) => sql<{ id: number }, Record<string, unknown>>(db, text).all({ id });
  return {
    prospect,
    company: rows(
      "SELECT c.name, c.domain, c.industry FROM companies c JOIN prospects p ON p.company_id = c.id WHERE p.id = @id",
    ),
    lists: rows(
      "SELECT l.name FROM lists l JOIN list_prospects lp ON lp.list_id = l.id WHERE lp.prospect_id = @id",
    ),
    addresses: addressesOf(db, id),
    asImported: cleaningOf(db, id),
    changes: rows(
      "SELECT field, before, after, source, detail, at FROM changes WHERE prospect_id = @id ORDER BY id",
    ),
    notes: rows("SELECT text, at FROM notes WHERE prospect_id = @id ORDER BY id"),
    sequences: rows(
      "SELECT s.name, j.state, j.started_at, j.ended_at, j.stop_reason FROM journeys j JOIN sequences s ON s.id = j.sequence_id WHERE j.prospect_id = @id",
    ),
    emailsToThem: rows(
      "SELECT recipient, subject, body, sent_at FROM touches WHERE prospect_id = @id AND state = 'sent' AND kind != 'test' ORDER BY sent_at",
    ),
    emailsFromThem: rows("SELECT kind, subject, text, at FROM replies WHERE prospect_id = @id ORDER BY at"),
    meetings: rows(
      "SELECT name, email, starts_at, ends_at FROM meetings WHERE prospect_id = @id ORDER BY starts_at",
    ),
    events: rows("SELECT at, kind, detail FROM events WHERE prospect_id = @id ORDER BY id"),
  };
}
