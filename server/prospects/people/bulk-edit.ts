import { z } from "zod";
import { STAGES } from "../../../core/prospects/stages.ts";
import type { Act } from "../../../core/team/may.ts";
import { type By, mayNot } from "../../accounts/may-not.ts";
import type { User } from "../../accounts/session.ts";
import type { App, AppTx } from "../../app.ts";
import { apply } from "../../consequences/apply.ts";
import { changeField } from "../../consequences/change-field.ts";
import { remember } from "../../consequences/remember.ts";
import { ofProspects } from "../../consequences/scopes.ts";
import { changesOf, recordChange } from "../../db/changes.ts";
import { isField, readField } from "../../db/fields.ts";
import { type Db, sql, transact } from "../../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../../errors.ts";
import { type AddPreview, addToSequence, previewAdd } from "../../sequences/add-people.ts";
import { reconsiderHolds } from "../../sequences/reconsider-holds.ts";
import { askVerify } from "../addresses/verify-addresses.ts";
import { listFor } from "../list-for.ts";
import { matching, prospectsQuery } from "./list-prospects.ts";
import { typedValue } from "./save-prospect.ts";

const form = z.object({
  /** The chosen ones, or null for everybody whom the query means. */
  ids: z.array(z.coerce.number().int()).nullable(),
  query: z.record(z.string(), z.string()).default({}),
  action: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("add_to_list"), name: z.string().trim().min(1, "Name the list.").max(80) }),
    z.object({ kind: z.literal("remove_from_list"), listId: z.coerce.number().int() }),
    z.object({
      kind: z.literal("set"),
      field: z.string().refine(isField, "Choose a field."),
      value: z.string().trim().max(200),
    }),
    z.object({ kind: z.literal("block") }),
    z.object({ kind: z.literal("verify") }),
    z.object({ kind: z.literal("sequence"), sequenceId: z.coerce.number().int() }),
  ]),
});

/** What is asked of everybody chosen; the list or the sequence is asked where it is known. */
const ASKS: Record<z.infer<typeof form>["action"]["kind"], Act> = {
  add_to_list: "prospect.see",
  remove_from_list: "prospect.see",
  set: "prospect.change",
  block: "prospect.block",
  verify: "prospect.see",
  sequence: "prospect.see",
};

export interface BulkReport {
  count: number;
  /** What the undo asks for; null where nothing can be taken back by it. */
  batch: number | null;
  /** The list onto which they were put. */
  listId?: number;
  /** By this a block is taken back. */
  undoId?: number;
  words: string;
}

/** What bringing the chosen onto a sequence would do, before it is done. */
export function previewBulkAdd(app: App, user: User, input: unknown): Outcome<AddPreview> {
  const read = form.safeParse(input);
  if (!read.success || read.data.action.kind !== "sequence") return refused({ form: "Choose a sequence." });
  const { action, ids, query } = read.data;
  const who = ids === null ? idsOf(app, user.id, query) : stillHere(app.db, ids);
  return mayNot(app, user.id, "prospect.see", who) ?? previewAdd(app, user, action.sequenceId, who);
}

/** Does one thing with many prospects. Values that change are kept, so that the whole can be taken back. */
export function bulkEdit(app: App, user: User, input: unknown): Outcome<BulkReport> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { action, ids, query } = read.data;
  if (action.kind === "set" && action.field === "stage" && !STAGES.some((stage) => stage === action.value))
    return refused({ form: "Choose a stage." });
  if (action.kind === "set" && action.field === "email")
    return refused({ form: "An address belongs to one person. Change it on their page." });
  const { clock } = app;
  const now = clock.now();
  const userId = user.id;
  return transact(app, (app): Outcome<BulkReport> => {
    const { db } = app;
    const who = ids === null ? idsOf(app, userId, query) : stillHere(db, ids);
    if (who.length === 0) return refused({ form: "Nobody is chosen." });
    const no = ASKS[action.kind] && mayNot(app, userId, ASKS[action.kind], who);
    if (no) return no;
    const chosen = JSON.stringify(who);
    const batch =
      (sql(db, "SELECT max(abs(source_id)) AS last FROM changes WHERE source = 'bulk'").get<{
        last: number | null;
      }>([])?.last ?? 0) + 1;
    const change = (prospectId: number, field: string, before: string, after: string) =>
      recordChange(db, {
        prospectId,
        field,
        before,
        after,
        source: "bulk",
        sourceId: batch,
        userId,
        at: now,
      });

    switch (action.kind) {
      case "sequence": {
        const added = addToSequence(app, user, action.sequenceId, who);
        if (!added.ok) return added;
        const { started, listed, listId, leftOut, sequenceName } = added.value;
        for (const id of listed) change(id, `list:${listId}`, "", "on");
        for (const id of started) change(id, `sequence:${action.sequenceId}`, "", "on");
        return done({
          count: started.length > 0 || leftOut > 0 ? started.length : listed.length,
          batch,
          words:
            started.length === 0 && leftOut === 0
              ? `put on the list of “${sequenceName}”, which has not started yet`
              : `started on “${sequenceName}”${leftOut > 0 ? `; ${leftOut} left out, on another sequence, blocked, or written to lately` : ""}`,
        });
      }
      case "add_to_list": {
        const list = listFor(app, userId, action.name);
        if (!list.ok) return list;
        const listId = list.value;
        const added = sql(
          db,
          `INSERT INTO list_prospects (list_id, prospect_id) SELECT @listId, value FROM json_each(@chosen)
             WHERE true ON CONFLICT DO NOTHING RETURNING prospect_id AS id`,
        ).all<{ id: number }>({ listId, chosen });
        for (const { id } of added) change(id, `list:${listId}`, "", "on");
        return done({ count: added.length, batch, listId, words: `put on “${action.name}”` });
      }
      case "remove_from_list": {
        const { listId } = action;
        const notMine = mayNot(app, userId, "list.change", listId);
        if (notMine) return notMine;
        const removed = sql(
          db,
          `DELETE FROM list_prospects WHERE list_id = @listId AND prospect_id IN (SELECT value FROM json_each(@chosen))
             RETURNING prospect_id AS id`,
        ).all<{ id: number }>({ listId, chosen });
        for (const { id } of removed) change(id, `list:${listId}`, "on", "");
        return done({ count: removed.length, batch, words: "taken off the list" });
      }
      case "set": {
        const value = typedValue(action.field, action.value);
        let count = 0;
        for (const id of who) {
          const before = readField(db, id, action.field);
          if (before === value) continue;
          changeField(db, { prospectId: id, at: now, userId }, action.field, value);
          change(id, action.field, before, value);
          reconsiderHolds(app, { prospectId: id });
          count++;
        }
        return done({ count, batch, words: "changed" });
      }
      case "block": {
        let count = 0;
        const what = `${who.length === 1 ? "1 person was" : `${who.length} people were`} put on the block list`;
        const about = { kind: "block" as const, prospectId: null, userId, of: who, what, at: now };
        const undoId = remember(db, about, ofProspects(db, who), () => {
          for (const prospectId of who)
            if (apply(db, { kind: "blocked_by_rep" }, { at: now, prospectId, userId })) count++;
        });
        return done({ count, batch: null, undoId, words: "put on the block list" });
      }
      case "verify":
        askVerify(app, userId, { prospectIds: who, anew: true });
        return done({ count: who.length, batch: null, words: "being verified" });
    }
  });
}

function stillHere(db: Db, ids: readonly number[]): number[] {
  return sql(db, "SELECT id FROM prospects WHERE id IN (SELECT value FROM json_each(@ids)) AND live = 1")
    .all<{ id: number }>({ ids: JSON.stringify(ids) })
    .map(({ id }) => id);
}

/** The ids of everybody whom a query of the page means. */
export function idsOf(app: App, by: By, query: Record<string, string>): number[] {
  const { where, values } = matching(app, by, prospectsQuery.parse(query));
  return sql(app.db, `SELECT p.id FROM prospects p WHERE ${where} ORDER BY p.id`)
    .all<{ id: number }>(values)
    .map(({ id }) => id);
}

/** Ends the journey on which somebody was put, if it still goes; what has left has left. */
function takeOff(app: AppTx, of: { prospectId: number; sequenceId: number; userId: By }): boolean {
  const { db, clock } = app;
  const { prospectId, sequenceId, userId } = of;
  const isOn = sql(
    db,
    "SELECT 1 FROM journeys WHERE prospect_id = @prospectId AND sequence_id = @sequenceId AND state = 'active'",
  ).get({ prospectId, sequenceId });
  return isOn !== undefined && apply(db, { kind: "stopped_by_rep" }, { at: clock.now(), prospectId, userId });
}

/** Takes a bulk edit back, where nobody changed the values again. Returns for how many. */
export function undoBulk(app: App, userId: By, batch: number): Outcome<number> {
  const { clock } = app;
  const no = mayNot(app, userId, "bulk.undo", batch);
  if (no) return no;
  const now = clock.now();
  return transact(app, (app) => {
    const { db } = app;
    let count = 0;
    /** Of those whose sequence was stopped, and who are off its list again: each is one. */
    const people = new Set<number>();
    for (const change of changesOf(db, "bulk", batch)) {
      const { prospectId, field, before, after } = change;
      if (field.startsWith("sequence:")) {
        if (takeOff(app, { prospectId, sequenceId: Number(field.slice("sequence:".length)), userId }))
          people.add(prospectId);
        continue;
      }
      const listId = field.startsWith("list:") ? Number(field.slice("list:".length)) : null;
      if (listId !== null)
        sql(
          db,
          before === "on"
            ? `INSERT INTO list_prospects (list_id, prospect_id) SELECT @listId, @prospectId
                 WHERE EXISTS (SELECT 1 FROM lists WHERE id = @listId) ON CONFLICT DO NOTHING`
            : "DELETE FROM list_prospects WHERE list_id = @listId AND prospect_id = @prospectId",
        ).run({ listId, prospectId });
      else if (readField(db, prospectId, field) === after)
        changeField(db, { prospectId, at: now, userId }, field, before);
      else continue;
      recordChange(db, { ...change, before: after, after: before, source: "undo", userId, at: now });
      if (!people.has(prospectId)) count++;
    }
    count += people.size;
    // Its number becomes negative: an undo that is pressed twice finds nothing more.
    sql(db, "UPDATE changes SET source_id = -@batch WHERE source = 'bulk' AND source_id = @batch").run({
      batch,
    });
    return done(count);
  });
}
