import type { App, AppTx } from "../../app.ts";
import { apply } from "../../consequences/apply.ts";
import { remember } from "../../consequences/remember.ts";
import { ofMerge } from "../../consequences/scopes.ts";
import { blockEntry, isBlocked, strictestBlock } from "../../db/block-list.ts";
import { recordChange } from "../../db/changes.ts";
import { FIELD_COLUMNS, readField, type StoredField, writeField } from "../../db/fields.ts";
import { sql, transact } from "../../db/open.ts";
import { fullName, type Prospect, prospectById } from "../../db/prospects.ts";
import { done, type Outcome, refused } from "../../errors.ts";

/** What follows a person: their table and whether the row moves as it is. */
const FOLLOWS = [
  "touches",
  "replies",
  "events",
  "meetings",
  "notes",
  "reminders",
  "service_mails",
  "undo_records",
  "films",
] as const;
const FIELDS = (Object.keys(FIELD_COLUMNS) as StoredField[]).filter(
  (field) => field !== "email" && field !== "stage",
);

/**
 * Makes two entries one: `keepId` gets the lists, history, notes and later stage of both, and the other's values
 * where its own are blank. The other's address leads to it from now on. If either is blocked, both addresses are.
 * Of two running journeys the kept one's goes on, unless either answered or booked since it began. Refuses if one of them no longer exists.
 * Returns the id by which it is undone.
 */
export function mergeProspects(
  app: App,
  { keepId, goneId }: { keepId: number; goneId: number },
  userId: number | null,
): Outcome<number> {
  const { clock } = app;
  const now = clock.now();
  return transact(app, (app): Outcome<number> => {
    const { db } = app;
    const kept = prospectById(db, keepId);
    const gone = prospectById(db, goneId);
    if (!kept || !gone || keepId === goneId || !isLive(app, keepId) || !isLive(app, goneId))
      return refused({ form: "One of the two is no longer there. Reload the page." });
    const about = {
      kind: "merge_people" as const,
      prospectId: keepId,
      userId,
      of: [keepId, goneId],
      what: `${fullName(gone)} became one with ${fullName(kept)}`,
      at: now,
    };
    return done(remember(db, about, ofMerge(db, keepId, goneId), () => intoOne(app, kept, gone, userId)));
  });
}

function intoOne(app: AppTx, kept: Prospect, gone: Prospect, userId: number | null): void {
  const { db, clock } = app;
  const now = clock.now();
  const [keepId, goneId] = [kept.id, gone.id];
  const ids = { keepId, goneId };

  const keptIsActive = sql(db, "SELECT 1 FROM journeys WHERE prospect_id = @keepId AND state = 'active'").get(
    { keepId },
  );
  if (keptIsActive) apply(db, { kind: "merged" }, { at: now, prospectId: goneId });
  // Someone who has ended a sequence under one name is not to get it again under the other.
  sql(
    db,
    `UPDATE journeys SET prospect_id = @keepId WHERE prospect_id = @goneId
       AND sequence_id NOT IN (SELECT sequence_id FROM journeys WHERE prospect_id = @keepId)`,
  ).run(ids);
  apply(db, { kind: "merged" }, { at: now, prospectId: goneId });
  for (const table of FOLLOWS)
    sql(db, `UPDATE ${table} SET prospect_id = @keepId WHERE prospect_id = @goneId`).run(ids);
  // Had they been one entry, this would have stopped it.
  const stop = sql(
    db,
    `SELECT e.kind FROM journeys j JOIN events e ON e.prospect_id = j.prospect_id AND e.at >= j.started_at
     WHERE j.prospect_id = @keepId AND j.state = 'active' AND e.kind IN ('replied', 'booked') LIMIT 1`,
  ).get<{ kind: "replied" | "booked" }>({ keepId });
  apply(
    db,
    { kind: "became_one", stage: gone.stage, ended: stop?.kind ?? null },
    { at: now, prospectId: keepId },
  );
  sql(
    db,
    `INSERT INTO list_prospects (list_id, prospect_id, import_id)
     SELECT list_id, @keepId, import_id FROM list_prospects WHERE prospect_id = @goneId ON CONFLICT DO NOTHING`,
  ).run(ids);
  sql(db, "DELETE FROM list_prospects WHERE prospect_id = @goneId").run({ goneId });

  const take = (field: string, value: string) => {
    const before = readField(db, keepId, field);
    if (before !== "" || value === "") return;
    writeField(db, keepId, field, value);
    recordChange(db, {
      prospectId: keepId,
      field,
      before,
      after: value,
      source: "merge",
      sourceId: goneId,
      userId,
      at: now,
    });
  };
  for (const field of FIELDS) take(field, readField(db, goneId, field));
  for (const [name, value] of Object.entries(gone.custom)) take(`custom:${name}`, value);
  // A line that nobody has read is no more read for having come to another entry.
  sql(db, "UPDATE prospects SET unread = json_patch(@theirs, unread) WHERE id = @keepId").run({
    keepId,
    theirs: JSON.stringify(gone.unread),
  });
  for (const table of ["column_values", "pages", "file_looks"])
    sql(db, `UPDATE OR IGNORE ${table} SET prospect_id = @keepId WHERE prospect_id = @goneId`).run(ids);
  if (kept.email === "" && gone.email !== "") {
    writeField(db, goneId, "email", "");
    take("email", gone.email);
    sql(
      db,
      `UPDATE prospects SET (verdict, verdict_reason, verdict_detail, verdict_at) =
         (SELECT verdict, verdict_reason, verdict_detail, verdict_at FROM prospects WHERE id = @goneId)
       WHERE id = @keepId`,
    ).run(ids);
  }
  shareBlock(app, [kept.email, gone.email]);
  if (isBlocked(db, kept.email || gone.email))
    apply(db, { kind: "blocked" }, { at: now, prospectId: keepId });
  sql(db, "UPDATE prospects SET merged_into = @keepId WHERE id = @goneId OR merged_into = @goneId").run(ids);
  sql(
    db,
    `UPDATE duplicates SET state = 'merged' WHERE kind = 'person' AND state = 'open' AND (
       (a_id = @keepId AND b_id = @goneId) OR (a_id = @goneId AND b_id = @keepId))`,
  ).run(ids);
}

const isLive = ({ db }: App, id: number) =>
  sql(db, "SELECT 1 FROM prospects WHERE id = @id AND live = 1").get({ id }) !== undefined;

/** The strictest block of the two counts for both. */
function shareBlock({ db }: App, emails: string[]): void {
  const addresses = emails.filter((email) => email !== "");
  const strictest = strictestBlock(db, addresses);
  if (strictest) for (const value of addresses) blockEntry(db, { kind: "address", value, ...strictest });
}
