/** Pauses and going on, of a sequence, a mailbox, a social account or some people: in numbers before, and taken back by one press. */
import { startOfNextDay } from "../../core/calendar.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { type Db, sql, type Tx } from "../db/open.ts";
import type { Pausable } from "../db/pauses.ts";
import { done, type Outcome } from "../errors.ts";
import { remember } from "./remember.ts";
import { ofPause } from "./scopes.ts";

/** The people under way whom a pause is about, by the ids of what is paused (JSON, `@ids`). */
const THEIRS: Record<Pausable, string> = {
  sequence: "j.sequence_id IN (SELECT value FROM json_each(@ids))",
  journey: "j.id IN (SELECT value FROM json_each(@ids))",
  mailbox:
    "(j.mailbox_id IN (SELECT value FROM json_each(@ids)) OR j.next_mailbox_id IN (SELECT value FROM json_each(@ids)))",
  account: `j.sequence_id IN (SELECT id FROM sequences WHERE settings ->> '$.accountId' IN (SELECT value FROM json_each(@ids)))`,
};

const ACTS = {
  sequence: "sequence.change",
  journey: "sequence.see",
  mailbox: "mailbox.change",
  account: "account.change",
} as const;

export interface PauseNumbers {
  /** People under way. */
  people: number;
  /** Before a pause: their emails that are planned for today and the next working day. Before going on: those that are due by this evening. */
  emails: number;
  /** What leaves Today with a pause, or comes back to it: touches and drafts that are open. */
  open: number;
  /** When it was paused; null: it is not. */
  pausedAt: number | null;
}

/** What pausing would hold up, or what going on would set in motion. */
export function pauseNumbers(
  app: App,
  user: User,
  of: Pausable,
  ids: readonly number[],
): Outcome<PauseNumbers> {
  const { db, clock } = app;
  for (const id of ids) {
    const no = of === "journey" ? null : mayNot(app, user.id, ACTS[of], id);
    if (no) return no;
  }
  const now = clock.now();
  const values = { of, ids: JSON.stringify(ids), left: startOfNextDay(now, user.zone) - now };
  const paused = sql(
    db,
    "SELECT min(at) AS at FROM pauses WHERE of = @of AND of_id IN (SELECT value FROM json_each(@ids)) AND ended_at IS NULL",
  ).get<{ at: number | null }>(values);
  const pausedAt = paused?.at ?? null;
  const from = `FROM journeys j WHERE j.state = 'active' AND ${THEIRS[of]}`;
  const counts = sql(
    db,
    `SELECT count(*) AS people,
       coalesce(sum(CASE WHEN @pausedAt IS NULL THEN j.next_at IS NOT NULL ELSE j.due_at <= @pausedAt + @left END), 0) AS emails
     ${from}`,
  ).get<Pick<PauseNumbers, "people" | "emails">>({ ...values, pausedAt });
  const open = sql(
    db,
    `SELECT count(*) AS count FROM touches t WHERE t.state IN ('open', 'draft')
       AND ${of === "account" ? "t.account_id IN (SELECT value FROM json_each(@ids))" : `t.journey_id IN (SELECT j.id ${from})`}`,
  ).get<{ count: number }>(values);
  return done({ people: counts?.people ?? 0, emails: counts?.emails ?? 0, open: open?.count ?? 0, pausedAt });
}

/** Pauses or lets go on, remembered: the id by which it is taken back. `name`: of what it is, as a screen says it. */
export const rememberPause = (
  db: Tx,
  what: {
    of: Pausable;
    ids: readonly number[];
    isPaused: boolean;
    name: string;
    userId: number | null;
    at: number;
  },
  work: () => void,
): number =>
  remember(
    db,
    {
      kind: "pause",
      prospectId: null,
      userId: what.userId,
      of: what.ids,
      what: `${what.isPaused ? "Paused" : "Let go on:"} ${what.name}`,
      at: what.at,
    },
    ofPause(what.of, what.ids),
    work,
  );

/** After a pause was taken back: whatever was drawn from the states that were is not theirs any more. */
export function pauseTakenBack(db: Db, undoId: number): void {
  for (const table of ["sequences", "mailboxes"])
    sql(
      db,
      `UPDATE ${table} SET revision = revision + 1 WHERE id IN (SELECT json_extract(value, '$.after.id')
         FROM undo_records u, json_each(u.changes) WHERE u.id = @undoId AND json_extract(value, '$.table') = '${table}')`,
    ).run({ undoId });
}
