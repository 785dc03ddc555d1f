import { z } from "zod";
import { isZone } from "../../core/calendar.ts";
import { ROLES } from "../../core/team/may.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { hashPassword, newToken } from "../secrets.ts";
import { passwordWeakness } from "./password.ts";

export const profileForm = z.object({
  name: z.string().trim().min(1, "Type your name.").max(100),
  zone: z.string().refine(isZone, "Choose a time zone."),
});

const form = profileForm.extend({
  email: z.email("Type an email address.").transform((email) => email.toLowerCase()),
  password: z.string().max(200, "At most 200 characters."),
  role: z.enum(ROLES).default("rep"),
});

/** Adds a user; returns the id. */
export function createUser(app: App, input: unknown): Promise<Outcome<number>> {
  return insertUser(app, input, "TRUE", "Somebody has this address already.");
}

/** The first user, a manager, made on the first-run page; refused once there is any. Of several at once, one wins. */
export async function createFirstUser(app: App, input: unknown): Promise<Outcome<number>> {
  const taken = "This installation has its first user already. Sign in.";
  if (hasUsers(app)) return refused({ form: taken });
  const manager = { ...(input as Record<string, unknown>), role: "manager" };
  return insertUser(app, manager, "NOT EXISTS (SELECT 1 FROM users)", taken);
}

async function insertUser(app: App, input: unknown, only: string, problem: string): Promise<Outcome<number>> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, email, password, zone, role } = read.data;
  const weakness = await passwordWeakness(password, [name, email]);
  if (weakness) return refused({ password: weakness });
  const passwordHash = await hashPassword(password);
  const result = sql(
    app.db,
    `INSERT INTO users (email, name, password_hash, time_zone, booking_slug, role, created_at)
     SELECT @email, @name, @passwordHash, @zone, @slug, @role, @now WHERE ${only}
     ON CONFLICT (email) DO NOTHING`,
  ).run({ email, name, passwordHash, zone, slug: newSlug(name), role, now: app.clock.now() });
  if (result.changes === 0) return refused({ [only === "TRUE" ? "email" : "form"]: problem });
  return done(Number(result.lastInsertRowid));
}

/** The last part of a booking page's address: the name, and letters that nobody guesses. */
export function newSlug(name: string): string {
  const words = name
    .toLowerCase()
    .normalize("NFD")
    .replace(/[^a-z]+/g, "-")
    .replace(/^-|-$/g, "");
  const rest = newToken()
    .slice(0, 5)
    .toLowerCase()
    .replace(/[^a-z0-9]/g, "x");
  return `${words || "rep"}-${rest}`;
}

export function hasUsers(app: App): boolean {
  return sql(app.db, "SELECT 1 FROM users LIMIT 1").get<unknown>([]) !== undefined;
}
