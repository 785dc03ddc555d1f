import { z } from "zod";
import { isZone } from "../../core/calendar.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { hashPassword, newToken } from "../secrets.ts";

const form = z.object({
  name: z.string().trim().min(1, "Type your name.").max(100),
  email: z.email("Type an email address.").transform((email) => email.toLowerCase()),
  password: z.string().min(10, "At least 10 characters.").max(200),
  zone: z.string().refine(isZone, "Choose a time zone."),
});

/** Adds a user; returns the id. */
export async function createUser(app: App, input: unknown): Promise<Outcome<number>> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, email, password, zone } = read.data;
  const passwordHash = await hashPassword(password);
  const slug = `${
    name
      .toLowerCase()
      .normalize("NFD")
      .replace(/[^a-z]+/g, "-")
      .replace(/^-|-$/g, "") || "rep"
  }-${newToken()
    .slice(0, 5)
    .toLowerCase()
    .replace(/[^a-z0-9]/g, "x")}`;
  const result = sql<Record<string, unknown>>(
    app.db,
    `INSERT INTO users (email, name, password_hash, time_zone, booking_slug, created_at)
     VALUES (@email, @name, @passwordHash, @zone, @slug, @now) ON CONFLICT (email) DO NOTHING`,
  ).run({ email, name, passwordHash, zone, slug, now: app.clock.now() });
  if (result.changes === 0) return refused({ email: "Somebody has this address already." });
  return done(Number(result.lastInsertRowid));
}

/** The first user, made on the first-run page; refused once there is any. */
export async function createFirstUser(app: App, input: unknown): Promise<Outcome<number>> {
  if (hasUsers(app)) return refused({ form: "This installation has its first user already. Sign in." });
  return createUser(app, input);
}

export function hasUsers(app: App): boolean {
  return sql<[], unknown>(app.db, "SELECT 1 FROM users LIMIT 1").get([]) !== undefined;
}
