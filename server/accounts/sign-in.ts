import { z } from "zod";
import { MINUTE } from "../../core/calendar.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { AppError, done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { passwordMatches, readLink, signLink } from "../secrets.ts";
import { openSession } from "./session.ts";

const COUNTS_FOR = 15 * MINUTE;
/** Tries from one caller for one address, from one caller at all, and for one address from callers who never got in. */
const MOST_OF_PAIR = 5;
const MOST_OF_CALLER = 30;
const MOST_OF_STRANGERS = 60;

const form = z.object({
  email: z.string().trim().toLowerCase().min(1, "Type your email address.").max(320),
  password: z.string().min(1, "Type your password.").max(200, "This is too long for a password."),
});

/** Who asks: where from, and what their browser remembers. */
export interface Caller {
  address: string;
  agent: string;
  /** What `deviceToken` gave this browser after an earlier sign-in, if any. */
  device: string | null;
}

// Compared with when nobody has the address, so that the answer takes as long.
const NOBODY = "scrypt.AAAAAAAAAAAAAAAAAAAAAA.AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA";

/** Opens a session; returns its token. */
export async function signIn(
  app: App,
  input: unknown,
  caller: Caller,
  wall = Date.now(),
): Promise<Outcome<string>> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const proved = await provePassword(app, read.data, caller, wall);
  if (typeof proved === "string") return refused({ form: new AppError(proved).message });
  return done(openSession(app, proved.userId, caller.agent, wall));
}

/**
 * Whose address and password these are, or why that is not said: the one door at which a password is tried, so that its
 * limits hold wherever one is asked for.
 */
export async function provePassword(
  app: App,
  { email, password }: { email: string; password: string },
  caller: Caller,
  wall = Date.now(),
): Promise<{ userId: number } | "sign_in_paused" | "sign_in_busy" | "sign_in_failed"> {
  const { db } = app;
  const counted = countTry(app, email, caller, wall);
  if (counted === null) return "sign_in_paused";
  const user = sql(
    db,
    "SELECT id, password_hash AS hash FROM users WHERE email = @email AND removed_at IS NULL",
  ).get<{ id: number; hash: string }>({ email });
  const matches = await passwordMatches(password, user?.hash ?? NOBODY);
  if (matches === "busy") return "sign_in_busy";
  if (!matches || !user) return "sign_in_failed";
  sql(db, "DELETE FROM sign_in_tries WHERE email = @email AND caller = @caller").run({
    email,
    caller: counted,
  });
  return { userId: user.id };
}

/**
 * Counts a try before anything slow is done about it; null if there were too many. A browser that signed in before is
 * counted by itself, so that strangers who try an address do not keep its owner out, wherever they try from.
 */
function countTry(app: App, email: string, { address, device }: Caller, wall: number): string | null {
  const { db } = app;
  const isKnown = device !== null && deviceOf(app, device) === email;
  const caller = isKnown ? `device ${device.slice(-40)}` : address;
  return db
    .transaction(() => {
      sql(db, "DELETE FROM sign_in_tries WHERE at < @before").run({
        before: wall - COUNTS_FOR,
      });
      const counts = sql(
        db,
        `SELECT (SELECT count(*) FROM sign_in_tries WHERE email = @email AND caller = @caller) AS pair,
           (SELECT count(*) FROM sign_in_tries WHERE caller = @caller) AS caller,
           (SELECT count(*) FROM sign_in_tries WHERE email = @email AND caller NOT LIKE 'device %') AS strangers`,
      ).get<{ pair: number; caller: number; strangers: number }>({ email, caller }) as {
        pair: number;
        caller: number;
        strangers: number;
      };
      if (counts.pair >= MOST_OF_PAIR || counts.caller >= MOST_OF_CALLER) return null;
      if (!isKnown && counts.strangers >= MOST_OF_STRANGERS) return null;
      sql(db, "INSERT INTO sign_in_tries (email, caller, at) VALUES (@email, @caller, @wall)").run({
        email,
        caller,
        wall,
      });
      return caller;
    })
    .immediate();
}

/** What a browser keeps after a sign-in, to be known by at the next. It opens nothing. */
export function deviceToken({ key }: App, email: string): string {
  return signLink("device", email.toLowerCase(), key);
}

const deviceOf = ({ key }: App, token: string): string | null => readLink("device", token, key);

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
  return sql(db, "SELECT id, name, email FROM users WHERE removed_at IS NULL ORDER BY id").all<{
    id: number;
    name: string;
    email: string;
  }>([]);
}
