/** Connecting a social account, and letting it go. */

import { z } from "zod";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { isLoopback } from "../config.ts";
import { rememberPause } from "../consequences/pausing.ts";
import { sql, transact } from "../db/open.ts";
import { notePause, type Pause, pauseOf } from "../db/pauses.ts";
import { accountById, actsSince, allAccounts, noteAccount } from "../db/social.ts";
import { done, fieldErrors, type Outcome, refused, unreachedWords } from "../errors.ts";
import { seal, unseal } from "../secrets.ts";
import { whoAmI } from "./network.ts";

const limit = (most: number) =>
  z.coerce.number("Type a number.").int().min(0, "Not below 0.").max(most, `At most ${most}.`);
const form = z
  .object({
    id: z.coerce.number().int().optional(),
    url: z.string().trim().max(500).refine(isSafe, "Write the network's address, beginning with https://."),
    /** "" keeps the one that is stored. */
    token: z.string().trim().max(5_000).default(""),
    dailyLimit: limit(500).default(40),
    weeklyViews: limit(2_000).default(200),
    weeklyInvitations: limit(2_000).default(80),
    weeklyMessages: limit(2_000).default(150),
  })
  .refine(({ id, token }) => id !== undefined || token !== "", {
    path: ["token"],
    message: "Paste the account's token.",
  });

function isSafe(text: string): boolean {
  if (!URL.canParse(text)) return false;
  const { protocol, hostname } = new URL(text);
  return protocol === "https:" || (protocol === "http:" && isLoopback(hostname));
}

export interface AccountStanding {
  id: number;
  name: string;
  url: string;
  ownerName: string;
  isMine: boolean;
  state: "active" | "paused" | "signed_out";
  trouble: string | null;
  pause: Pause | null;
  /** Its owner's. */
  zone: string;
  dailyLimit: number;
  weeklyViews: number;
  weeklyInvitations: number;
  weeklyMessages: number;
  /** Within the last seven days. */
  done: { views: number; invitations: number; messages: number };
}

const WEEK = 7 * 86_400_000;

export function accountStandings(app: App, user: User): AccountStanding[] {
  const { db, clock } = app;
  return allAccounts(db).map((account) => {
    const acts = actsSince(db, account.id, clock.now() - WEEK);
    const count = (kind: string) => acts.filter((each) => each.kind === kind).length;
    const {
      tokenSealed: _token,
      gapLeast: _least,
      gapMost: _most,
      newsMark: _mark,
      retryAt: _retry,
      userId: _owner,
      ...open
    } = account;
    return {
      ...open,
      pause: pauseOf(db, "account", account.id),
      isMine: mayNot(app, user.id, "account.change", account.id) === null,
      done: {
        views: count("profile_view"),
        invitations: count("invitation"),
        messages: count("social_message"),
      },
    };
  });
}

/** Connects an account, or signs one in again, after asking the network whose it is. */
export async function connectAccount(app: App, user: User, input: unknown): Promise<Outcome<number>> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, token, ...settings } = read.data;
  const { db, key, clock } = app;
  const known = id === undefined ? undefined : accountById(db, id);
  if (id !== undefined && !known) return refused({ form: "This account is no longer connected." });
  const no = known
    ? mayNot(app, user.id, "account.change", known.id)
    : mayNot(app, user.id, "account.create");
  if (no) return no;
  // Another address never gets the token that was meant for the one before.
  if (known && token === "" && known.url !== settings.url)
    return refused({ token: "Paste the token again: the address is another one now." });
  const secret = token || unseal(known?.tokenSealed ?? "", key);
  let name: string | null;
  try {
    name = await whoAmI({ url: settings.url, token: secret, config: app.config });
  } catch (error) {
    return refused({ url: `The network cannot be reached. ${unreachedWords(error)}` });
  }
  if (name === null) return refused({ token: "The network does not know this token. Make a new one there." });
  const row = { ...settings, name, sealed: seal(secret, key) };
  if (known) {
    transact(app, ({ db: tx }) => {
      sql(
        tx,
        `UPDATE social_accounts SET name = @name, url = @url, token_sealed = @sealed, daily_limit = @dailyLimit,
           weekly_views = @weeklyViews, weekly_invitations = @weeklyInvitations, weekly_messages = @weeklyMessages,
           state = 'active', trouble = NULL, retry_at = NULL WHERE id = @id`,
      ).run({ ...row, id: known.id });
      notePause(tx, "account", known.id, false, user.id, clock.now());
    });
    return done(known.id);
  }
  const added = sql(
    db,
    `INSERT INTO social_accounts (user_id, name, url, token_sealed, daily_limit, weekly_views, weekly_invitations, weekly_messages, created_at)
     VALUES (@userId, @name, @url, @sealed, @dailyLimit, @weeklyViews, @weeklyInvitations, @weeklyMessages, @now)`,
  ).run({ ...row, userId: user.id, now: clock.now() });
  return done(Number(added.lastInsertRowid));
}

/** Pauses an account or lets it go on. Returns the id by which it is undone. */
export function setAccountPaused(app: App, user: User, id: number, isPaused: boolean): Outcome<number> {
  const no = mayNot(app, user.id, "account.change", id);
  if (no) return no;
  const account = accountById(app.db, id);
  if (!account) return refused({ form: "This account is no longer connected." });
  return transact(app, ({ db, clock }) => {
    const at = clock.now();
    const what = { of: "account", ids: [id], isPaused, name: account.name, userId: user.id, at } as const;
    return done(
      rememberPause(db, what, () => {
        notePause(db, "account", id, isPaused, user.id, at);
        noteAccount(db, id, { state: isPaused ? "paused" : "active", trouble: null, retryAt: null });
      }),
    );
  });
}

/** Disconnects it: what it had still to do becomes the reps' own. */
export function removeAccount(app: App, user: User, id: number): Outcome<null> {
  const no = mayNot(app, user.id, "account.change", id);
  if (no) return no;
  transact(app, ({ db, clock }) => {
    // Its number may be given to another one.
    notePause(db, "account", id, false, user.id, clock.now());
    sql(db, "UPDATE touches SET account_id = NULL WHERE account_id = @id").run({ id });
    sql(
      db,
      `UPDATE sequences SET settings = json_set(settings, '$.accountId', NULL), revision = revision + 1
       WHERE settings ->> '$.accountId' = @id`,
    ).run({ id });
    sql(db, "DELETE FROM social_accounts WHERE id = @id").run({ id });
  });
  return done(null);
}
