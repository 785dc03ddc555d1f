/** Passwords: which are good enough, how they are changed, and the one-time links for who has none. */
import { z } from "zod";
import { DAY } from "../../core/calendar.ts";
import type { App } from "../app.ts";
import { sql, transact } from "../db/open.ts";
import { AppError, done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { hashPassword, hashToken, newToken } from "../secrets.ts";
import { endOtherSessions } from "./session.ts";
import { type Caller, provePassword } from "./sign-in.ts";

export const SHORTEST = 10;
const LONGEST = 200;
/** The estimate's time grows with the length; a longer password is no weaker for its rest. */
const JUDGED = 64;
/** Of zxcvbn's five grades (Wheeler 2016): at least 10^8 guesses. */
const LEAST_SCORE = 3;
const LINK_LASTS = 3 * DAY;

/** Why a password is too easy, or null. It knows the most common leaked ones, names, words, dates and keyboard rows. */
export async function passwordWeakness(password: string, own: readonly string[]): Promise<string | null> {
  if (password.length < SHORTEST) return `At least ${SHORTEST} characters.`;
  const parts = own
    .flatMap((each) => [each, ...each.split(/[^\p{L}\p{N}]+/u)])
    .filter((part) => part.length > 2);
  // Its dictionaries are large, and few processes ever judge a password.
  const { default: zxcvbn } = await import("zxcvbn");
  if (zxcvbn(password.slice(0, JUDGED), parts).score >= LEAST_SCORE) return null;
  return "This password is among those that are tried first. Three or four words that have nothing to do with each other make a good one.";
}

const change = z.object({
  current: z.string().min(1, "Type your present password.").max(LONGEST),
  password: z.string().max(LONGEST, `At most ${LONGEST} characters.`),
});

/** Changes a user's own password and ends their other sessions. */
export async function changePassword(
  app: App,
  user: { id: number; name: string; email: string },
  token: string,
  input: unknown,
  caller: Caller,
  wall = Date.now(),
): Promise<Outcome<null>> {
  const read = change.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { current, password } = read.data;
  const proved = await provePassword(app, { email: user.email, password: current }, caller, wall);
  if (proved === "sign_in_failed") return refused({ current: "This is not your present password." });
  if (typeof proved === "string") return refused({ form: new AppError(proved).message });
  const weakness = await passwordWeakness(password, [user.name, user.email]);
  if (weakness) return refused({ password: weakness });
  await setPassword(app, user.id, password);
  endOtherSessions(app, user.id, token);
  return done(null);
}

async function setPassword({ db }: App, id: number, password: string): Promise<void> {
  const hash = await hashPassword(password);
  sql(db, "UPDATE users SET password_hash = @hash WHERE id = @id").run({
    id,
    hash,
  });
}

/** A one-time link's token for a user; an older one ends. */
export function makePasswordLink({ db }: App, userId: number, wall = Date.now()): string {
  const token = newToken();
  db.transaction(() => {
    sql(db, "DELETE FROM password_links WHERE user_id = @userId").run({ userId });
    sql(
      db,
      "INSERT INTO password_links (token_hash, user_id, expires_at) VALUES (@hash, @userId, @expires)",
    ).run({ hash: hashToken(token), userId, expires: wall + LINK_LASTS });
  }).immediate();
  return token;
}

export interface LinkOwner {
  id: number;
  name: string;
  email: string;
}

/** Whom a one-time link lets in, or null once it was used or ran out. */
export function ownerOfLink({ db }: App, token: string, wall = Date.now()): LinkOwner | null {
  return (
    sql(
      db,
      `SELECT u.id, u.name, u.email FROM password_links l JOIN users u ON u.id = l.user_id
       WHERE l.token_hash = @hash AND l.expires_at > @wall AND u.removed_at IS NULL`,
    ).get<LinkOwner>({ hash: hashToken(token), wall }) ?? null
  );
}

/** Sets the password with a one-time link, which ends with it, as do all sessions. Returns the user's id. */
export async function usePasswordLink(app: App, token: string, password: string): Promise<Outcome<number>> {
  const owner = ownerOfLink(app, token);
  if (!owner) return refused({ form: "This link was used already, or is too old. Ask for another." });
  const weakness = await passwordWeakness(password.slice(0, LONGEST), [owner.name, owner.email]);
  if (weakness) return refused({ password: weakness });
  if (password.length > LONGEST) return refused({ password: `At most ${LONGEST} characters.` });
  const hash = await hashPassword(password);
  const { db } = app;
  return transact(app, (): Outcome<number> => {
    // Of two who press at once, one.
    const used = sql(db, "DELETE FROM password_links WHERE token_hash = @hash").run({
      hash: hashToken(token),
    });
    if (used.changes === 0) return refused({ form: "This link was used already. Sign in." });
    sql(db, "UPDATE users SET password_hash = @hash WHERE id = @id").run({
      id: owner.id,
      hash,
    });
    endOtherSessions(app, owner.id, null);
    return done(owner.id);
  });
}
