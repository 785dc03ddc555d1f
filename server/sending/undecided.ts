/** Emails of which nobody can tell whether they left, and what the rep decides about them. */
import type { Act } from "../../core/team/may.ts";
import { allowedAmong, type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { isClaimed, releaseClaim, settleRefused, type Touch, touchById } from "../db/ledger.ts";
import { nameSql } from "../db/names.ts";
import { sql, transact } from "../db/open.ts";
import { done, type Outcome } from "../errors.ts";
import { markSent } from "./settle.ts";

export interface UndecidedEmail {
  id: number;
  prospectId: number;
  name: string;
  recipient: string;
  subject: string;
  mailbox: string;
  claimedAt: number;
}

const MOST_SHOWN = 100;

/** The first of those that wait for a person, and how many wait. */
export interface OpenCases<T> {
  shown: T[];
  total: number;
}

/** Of all rows those that somebody decides about. */
function openCases<T extends { id: number }>(app: App, by: By, act: Act, rows: T[]): OpenCases<T> {
  const mine = allowedAmong(
    app,
    by,
    act,
    rows.map(({ id }) => id),
  );
  const own = rows.filter(({ id }) => mine.has(id));
  return { shown: own.slice(0, MOST_SHOWN), total: own.length };
}

export function undecidedEmails(app: App, by: By): OpenCases<UndecidedEmail> {
  const rows = sql(
    app.db,
    `SELECT t.id, t.prospect_id AS prospectId, t.recipient, t.subject, m.address AS mailbox, t.claimed_at AS claimedAt,
       ${nameSql()} AS name
     FROM touches t JOIN prospects p ON p.id = t.prospect_id JOIN mailboxes m ON m.id = t.mailbox_id
     WHERE ${isClaimed("t")} AND t.undecided_at IS NOT NULL
     ORDER BY t.id`,
  ).all<UndecidedEmail>([]);
  return openCases(app, by, "undecided.decide", rows);
}

export const DECISIONS = ["send", "arrived", "drop"] as const;
export type Decision = (typeof DECISIONS)[number];

/**
 * `send`: it is sent (again) in its turn. `arrived`: it counts as sent, and the follow-up waits its days. `drop`: it
 * is left out, as if refused without a reason; the sequence goes on with the next step. Returns how many changed.
 */
export function decide(app: App, by: By, ids: readonly number[], decision: Decision): Outcome<number> {
  const { clock } = app;
  const no = mayNot(app, by, "undecided.decide", ids);
  if (no) return no;
  return transact(app, (app): Outcome<number> => {
    const { db } = app;
    const open = ids
      .map((id) => touchById(db, id))
      .filter((touch): touch is Touch => touch?.state === "claimed" && touch.undecidedAt !== null);
    for (const touch of open)
      if (decision === "send") releaseClaim(db, touch);
      else if (decision === "arrived" || touch.journeyId !== null)
        markSent(app, touch, touch.claimedAt ?? clock.now(), null);
      else settleRefused(db, touch, "You left it out.");
    return done(open.length);
  });
}

export interface SetAside {
  id: number;
  mailbox: string;
  path: string;
  fromAddress: string;
  subject: string;
  reason: string;
  at: number;
}

/** Messages that could not be read, the newest first. */
export function setAsideMessages(app: App, by: By): OpenCases<SetAside> {
  const rows = sql(
    app.db,
    `SELECT s.id, m.address AS mailbox, s.path, s.from_address AS fromAddress, s.subject, s.reason, s.at
     FROM set_aside s JOIN mailboxes m ON m.id = s.mailbox_id ORDER BY s.id DESC`,
  ).all<SetAside>([]);
  return openCases(app, by, "set_aside.close", rows);
}

/** Once a person has looked at it in their mail program. */
export function forgetSetAside(app: App, by: By, ids: readonly number[]): Outcome<number> {
  const no = mayNot(app, by, "set_aside.close", ids);
  if (no) return no;
  const gone = sql(app.db, "DELETE FROM set_aside WHERE id IN (SELECT value FROM json_each(@ids))").run({
    ids: JSON.stringify(ids),
  }).changes;
  return done(gone);
}
