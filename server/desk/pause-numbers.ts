/** Before a pause, or before something goes on: what that will do, in numbers. */
import { startOfNextDay } from "../../core/calendar.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import type { Pausable } from "../db/pauses.ts";
import { done, type Outcome } from "../errors.ts";

/** The people under way whom a pause is about, by the ids of what is paused (JSON, `@ids`). */
const THEIRS: Record<Pausable, string> = {
  sequence: "j.sequence_id IN (SELECT value FROM json_each(@ids))",
  journey: "j.id IN (SELECT value FROM json_each(@ids))",
  mailbox:
    "(j.mailbox_id IN (SELECT value FROM json_each(@ids)) OR j.next_mailbox_id IN (SELECT value FROM json_each(@ids)))",
  account: `j.sequence_id IN (SELECT id FROM sequences WHERE settings ->> '$.accountId' IN (SELECT value FROM json_each(@ids)))`,
};

const ACTS = { sequence: "sequence.change", mailbox: "mailbox.change", account: "account.change" } as const;

/** Who may not pause these, asked before anything of them is told. */
function mayNotPause(app: App, user: User, of: Pausable, ids: readonly number[]) {
  if (of !== "journey") return mayNot(app, user.id, ACTS[of], [...ids]);
  const sequences = sql(
    app.db,
    "SELECT DISTINCT sequence_id AS id FROM journeys WHERE id IN (SELECT value FROM json_each(@ids))",
  ).all<{ id: number }>({ ids: JSON.stringify(ids) });
  return mayNot(
    app,
    user.id,
    "sequence.change",
    sequences.map(({ id }) => id),
  );
}

export interface PauseNumbers {
  /** People under way. */
  people: number;
  /** Before a pause: their emails that are planned. Before going on: those that are due by the evening. */
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
  const no = mayNotPause(app, user, of, ids);
  if (no) return no;
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
