/** What somebody did and takes back: merges, blocks, deleted lists. Labels have their own door, which also writes to the story. */

import { DAY } from "../../core/calendar.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { pauseTakenBack } from "../consequences/pausing.ts";
import { takeBack, type UndoKind, undoablesOf } from "../consequences/remember.ts";
import { sql, transact } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { undoLabel } from "../replies/label-reply.ts";

/** For so long things are offered to be taken back. */
const OFFERED_DAYS = 30;

export interface Undone {
  kind: UndoKind;
  /** How much stayed, because something else changed it since. */
  kept: number;
}

/** Takes back several things that were one press, in their order; nothing if one of them cannot be. */
export function undoChanges(app: App, user: User, ids: readonly number[]): Outcome<number> {
  return transact(app, (app): Outcome<number> => {
    let kept = 0;
    for (const id of ids) {
      const undone = undoChange(app, user, id);
      if (!undone.ok) return undone;
      kept += undone.value.kept;
    }
    return done(kept);
  });
}

/** Takes back one thing; only who did it, or a manager, may. */
export function undoChange(app: App, user: User, id: number): Outcome<Undone> {
  const { clock } = app;
  return transact(app, (app): Outcome<Undone> => {
    const { db } = app;
    const record = sql(
      db,
      "SELECT kind, reply_id AS replyId FROM undo_records WHERE id = @id AND undone_at IS NULL",
    ).get<{ kind: UndoKind; replyId: number | null }>({ id });
    if (!record) return refused({ form: "There is nothing to take back any more." });
    const no = mayNot(app, user.id, "undo", id);
    if (no) return no;
    if (record.kind === "label" && record.replyId !== null) {
      const label = undoLabel(app, user.id, record.replyId);
      return label.ok ? done({ kind: "label", kept: label.value }) : label;
    }
    if (record.kind === "merge_people" || record.kind === "merge_companies") partAgain(app, id);
    const back = takeBack(db, id, clock.now());
    if (record.kind === "pause") pauseTakenBack(db, id);
    return back
      ? done({ kind: back.kind, kept: back.kept })
      : refused({ form: "There is nothing to take back any more." });
  });
}

/** Those who were merged and are two again are not offered, nor merged by rule, a second time. */
function partAgain({ db }: App, id: number): void {
  sql(
    db,
    `UPDATE duplicates SET state = 'apart' WHERE state = 'merged' AND (kind, a_id, b_id) IN (
       SELECT iif(u.kind = 'merge_people', 'person', 'company'),
         min(json_extract(u.about, '$[0]'), json_extract(u.about, '$[1]')),
         max(json_extract(u.about, '$[0]'), json_extract(u.about, '$[1]'))
       FROM undo_records u WHERE u.id = @id)`,
  ).run({ id });
}

export interface Offer {
  id: number;
  kind: UndoKind;
  what: string;
  at: number;
}

/** What this person can take back, the latest first. */
export function offeredUndos({ db, clock }: App, user: User): Offer[] {
  const since = clock.now() - OFFERED_DAYS * DAY;
  return undoablesOf(db, { id: user.id, isManager: user.role === "manager" }, since);
}
