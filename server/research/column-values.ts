/** What columns found, value by value: kept, corrected by hand, read. A value is of a company or of a person, as its column says. */
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql, transact } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { reconsiderHolds } from "../sequences/reconsider-holds.ts";
import { type Column, columnById } from "./columns.ts";
import type { Found, Target } from "./work-out.ts";

const MOST_TYPED = 1_000;

interface Stored {
  id: number;
  value: string;
  typedBy: number | null;
  readAt: number | null;
  sureness: string;
}

const ofTarget = (target: Target) =>
  "companyId" in target
    ? {
        where: "company_id = @targetId",
        companyId: target.companyId,
        prospectId: null,
        targetId: target.companyId,
      }
    : {
        where: "prospect_id = @targetId",
        companyId: null,
        prospectId: target.prospectId,
        targetId: target.prospectId,
      };

/** Keeps what was found. What somebody typed stays; what the assistant wrote anew is unread, what it wrote again is as read as before. */
export function keepFound(
  app: App,
  column: Column,
  target: Target,
  found: Found,
  run: { id: number; at: number },
): void {
  const { where, targetId, companyId, prospectId } = ofTarget(target);
  transact(app, (app) => {
    const { db } = app;
    const before = sql(
      db,
      `SELECT id, value, typed_by AS typedBy, read_at AS readAt, sureness FROM column_values WHERE column_id = @columnId AND ${where}`,
    ).get<Stored>({ columnId: column.id, targetId });
    sql(db, "UPDATE column_runs SET asked = asked + @asked, tokens = tokens + @tokens WHERE id = @id").run({
      id: run.id,
      asked: found.asked,
      tokens: found.tokens,
    });
    // Somebody may have typed it, or deleted the column, while it was looked for.
    if (before?.typedBy != null || !columnById(db, column.id)) return;
    // A site that does not answer today has not taken back what it said.
    const isKept = found.state === "failed" && before !== undefined && before.value !== "";
    if (isKept) {
      sql(db, "UPDATE column_values SET problem = @problem, run_id = @runId WHERE id = @id").run({
        id: before.id,
        problem: found.problem,
        runId: run.id,
      });
      return;
    }
    const isRead =
      column.kind !== "ask" ||
      found.value === "" ||
      (before?.value === found.value && before.readAt !== null);
    const values = {
      ...{
        state: found.state,
        value: found.value,
        said: found.said,
        problem: found.problem,
        sourceUrl: found.sourceUrl,
        sourceText: found.sourceText,
      },
      ...{
        // What somebody said is right stays so for as long as it is found again.
        sureness: before?.value === found.value && before.sureness === "sure" ? "sure" : found.sureness,
        readAt: isRead ? (before?.readAt ?? app.clock.now()) : null,
        runId: run.id,
        now: app.clock.now(),
      },
    };
    if (before)
      sql(
        db,
        `UPDATE column_values SET state = @state, value = @value, said = @said, problem = @problem, source_url = @sourceUrl,
           source_text = @sourceText, sureness = @sureness, read_at = @readAt, run_id = @runId, at = @now WHERE id = @id`,
      ).run({ ...values, id: before.id });
    else
      sql(
        db,
        `INSERT INTO column_values (column_id, code, company_id, prospect_id, state, value, said, problem, source_url, source_text,
           sureness, read_at, run_id, at)
         VALUES (@columnId, @code, @companyId, @prospectId, @state, @value, @said, @problem, @sourceUrl, @sourceText, @sureness,
           @readAt, @runId, @now)`,
      ).run({ ...values, columnId: column.id, code: column.code, companyId, prospectId });
    if (before?.value !== found.value) letGo(app, target);
  });
}

/** Whoever waited for a value, or for somebody to read it, goes on. */
function letGo(app: Parameters<typeof reconsiderHolds>[0], target: Target): void {
  const { where, targetId } = ofTarget(target);
  const held = sql(
    app.db,
    `SELECT j.prospect_id AS id FROM prospects p JOIN journeys j ON j.prospect_id = p.id AND j.state = 'active'
     WHERE ${where.replace("prospect_id", "p.id").replace("company_id", "p.company_id")} AND j.wait_reason IN ('merge_field_empty', 'text_broken', 'line_unread')`,
  ).all<{ id: number }>({ targetId });
  for (const { id } of held) reconsiderHolds(app, { prospectId: id });
}

const mayCorrect = (app: App, by: By, target: Target) =>
  "prospectId" in target
    ? mayNot(app, by, "prospect.change", target.prospectId)
    : mayNot(app, by, "column.create");

/** What somebody types is theirs: no run writes over it. "" says that there is nothing to say. */
export function typeValue(app: App, by: By, columnId: number, target: Target, typed: string): Outcome<null> {
  const no = mayCorrect(app, by, target);
  if (no) return no;
  const value = typed.replace(/\s+/g, " ").trim();
  if (value.length > MOST_TYPED) return refused({ value: `At most ${MOST_TYPED} signs.` });
  const { where, targetId, companyId, prospectId } = ofTarget(target);
  return transact(app, (app): Outcome<null> => {
    const { db } = app;
    const column = columnById(db, columnId);
    if (!column) return refused({ form: "This column is no longer here. Reload the page." });
    if (column.gives === "picture" && value !== "")
      return refused({ value: "A picture cannot be typed. Empty it, or look for it anew." });
    const isThere =
      "companyId" in target
        ? Number.isSafeInteger(target.companyId) &&
          sql(db, "SELECT 1 FROM companies WHERE id = @id").get({ id: target.companyId }) !== undefined
        : column.scope === "person";
    if (!isThere || "companyId" in target !== (column.scope === "company"))
      return refused({ form: "What this was about is no longer here. Reload the page." });
    const now = app.clock.now();
    const before = sql(db, `SELECT id FROM column_values WHERE column_id = @columnId AND ${where}`).get<{
      id: number;
    }>({ columnId, targetId });
    const values = { state: value === "" ? "nothing" : "found", value, by, now };
    if (before)
      sql(
        db,
        `UPDATE column_values SET state = @state, value = @value, said = '', problem = NULL, source_url = '', source_text = '',
           sureness = 'sure', typed_by = @by, read_at = @now, at = @now WHERE id = @id`,
      ).run({ ...values, id: before.id });
    else
      sql(
        db,
        `INSERT INTO column_values (column_id, code, company_id, prospect_id, state, value, sureness, typed_by, read_at, at)
         VALUES (@columnId, @code, @companyId, @prospectId, @state, @value, 'sure', @by, @now, @now)`,
      ).run({ ...values, columnId, code: column.code, companyId, prospectId });
    letGo(app, target);
    return done(null);
  });
}

/** Lets a run look for it again, and forgets what was typed. */
export function forgetTyped(app: App, by: By, columnId: number, target: Target): Outcome<null> {
  const no = mayCorrect(app, by, target);
  if (no) return no;
  const { where, targetId } = ofTarget(target);
  sql(app.db, `DELETE FROM column_values WHERE column_id = @columnId AND ${where}`).run({
    columnId,
    targetId,
  });
  return done(null);
}

/**
 * Says of what the assistant wrote that a person has read it, and of what is doubtful that it is right: by the values' numbers.
 * Returns how many it was said of.
 */
export function markRead(app: App, by: By, valueIds: readonly number[]): Outcome<number> {
  const ids = JSON.stringify(valueIds);
  const rows = sql(
    app.db,
    `SELECT id, company_id AS companyId, prospect_id AS prospectId FROM column_values
     WHERE id IN (SELECT value FROM json_each(@ids)) AND value != '' AND (read_at IS NULL OR sureness = 'doubtful')`,
  ).all<{ id: number; companyId: number | null; prospectId: number | null }>({ ids });
  const people = rows.flatMap(({ prospectId }) => prospectId ?? []);
  const no =
    mayNot(app, by, "column.create") ??
    (people.length > 0 ? mayNot(app, by, "prospect.change", people) : null);
  if (no) return no;
  return transact(app, (app): Outcome<number> => {
    for (const { id, companyId, prospectId } of rows) {
      sql(
        app.db,
        "UPDATE column_values SET read_at = coalesce(read_at, @now), sureness = iif(sureness = 'doubtful', 'sure', sureness) WHERE id = @id",
      ).run({
        id,
        now: app.clock.now(),
      });
      letGo(app, prospectId === null ? { companyId: companyId as number } : { prospectId });
    }
    return done(rows.length);
  });
}
