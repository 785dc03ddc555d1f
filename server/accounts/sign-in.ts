import { z } from "zod";
import { DAY, MINUTE } from "../../core/calendar.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { AppError, done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { hashToken, newToken, passwordMatches } from "../secrets.ts";

/** Sessions and failures run on the machine's clock: the demo's jumps sign nobody out. */
export const SESSION_LASTS = 30 * DAY;
const MOST_FAILURES = 5;
const FAILURES_COUNT_FOR = 15 * MINUTE;

const form = z.object({
  email: z.string().trim().toLowerCase().min(1, "Type your email address."),
  password: z.string().min(1, "Type your password."),
});

// Compared with when nobody has the address, so that the answer takes as long.
const NOBODY = "scrypt.AAAAAAAAAAAAAAAAAAAAAA.AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA";

/** Opens a session; returns its token, of which the database keeps only the hash. */
export async function signIn(app: App, input: unknown, wall = Date.now()): Promise<Outcome<string>> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { email, password } = read.data;
  const { db } = app;
  sql<{ before: number }>(db, "DELETE FROM sign_in_failures WHERE at < @before").run({
    before: wall - FAILURES_COUNT_FOR,
  });
  const failures = sql<{ email: string }, { count: number }>(
    db,
    "SELECT count(*) AS count FROM sign_in_failures WHERE email = @email",
  ).get({ email });
  if ((failures?.count ?? 0) >= MOST_FAILURES)
    return refused({ form: new AppError("sign_in_paused").message });

  const user = sql<{ email: string }, { id: number; hash: string }>(
    db,
    "SELECT id, password_hash AS hash FROM users WHERE email = @email",
  ).get({ email });
  if (!(await passwordMatches(password, user?.hash ?? NOBODY)) || !user) {
    sql<Record<string, unknown>>(db, "INSERT INTO sign_in_failures (email, at) VALUES (@email, @at)").run({
      email,
      at: wall,
    });
    return refused({ form: new AppError("sign_in_failed").message });
  }
  return done(openSession(app, user.id, wall));
}

export function openSession({ db }: App, userId: number, wall = Date.now()): string {
  const token = newToken();
  sql<{ wall: number }>(db, "DELETE FROM sessions WHERE expires_at < @wall").run({ wall });
  sql<Record<string, unknown>>(
    db,
    "INSERT INTO sessions (token_hash, user_id, expires_at) VALUES (@hash, @userId, @expires)",
  ).run({ hash: hashToken(token), userId, expires: wall + SESSION_LASTS });
  return token;
}

export function signOut({ db }: App, token: string): void {
  sql<{ hash: string }>(db, "DELETE FROM sessions WHERE token_hash = @hash").run({ hash: hashToken(token) });
}

/** The demo's door: signs in one of its users without a password. Refused outside the demo. */
export function signInToDemo(app: App, email: string): Outcome<string> {
  const user = app.config.demo ? demoUsers(app).find((each) => each.email === email) : undefined;
  return user
    ? done(openSession(app, user.id))
    : refused({ form: "Only the demo opens without a password." });
}

/** The users that the demo offers; none outside it. */
export function demoUsers({ db, config }: App): { id: number; name: string; email: string }[] {
  if (!config.demo) return [];
  return sql<[], { id: number; name: string; email: string }>(
    db,
    "SELECT id, name, email FROM users ORDER BY id",
  ).all([]);
}
