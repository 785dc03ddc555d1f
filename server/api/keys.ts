/** The keys by which programs act for a user: shown once, kept as a hash. */
import { z } from "zod";
import { DAY, MINUTE } from "../../core/calendar.ts";
import { SCOPES, type Scope } from "../../core/team/scopes.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { jsonOf } from "../db/json.ts";
import { sql } from "../db/open.ts";
import { unlessBusy } from "../db/unless-busy.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { hashToken, newToken } from "../secrets.ts";

/** By it a key is known wherever it turns up: in a log, in a file that somebody shares. */
const MARK = "saudade_";
/** So much of it is kept to tell one from another. */
const SHOWN = MARK.length + 4;
const NOTED_EVERY = MINUTE;
const MOST_KEYS = 50;

const scopesSchema = z.array(z.enum(SCOPES as [Scope, ...Scope[]]));
const form = z.object({
  name: z.string().trim().min(1, "Name it after the program that gets it.").max(60),
  scopes: scopesSchema.min(1, "Choose what it is good for."),
  /** Days that it lasts; null for no end. */
  days: z.coerce.number().int().min(1).max(3_650).nullable(),
});

export interface ApiKey {
  id: number;
  name: string;
  begins: string;
  scopes: Scope[];
  /** Of the machine's clock, in ms. */
  madeAt: number;
  endsAt: number | null;
  usedAt: number | null;
}

/** Makes a key; returns it, of which the database keeps only the hash. */
export function makeKey(app: App, userId: number, input: unknown, wall = Date.now()): Outcome<string> {
  const no = mayNot(app, userId, "settings.own", userId);
  if (no) return no;
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, scopes, days } = read.data;
  if (keysOf(app, userId).length >= MOST_KEYS)
    return refused({ form: `You have ${MOST_KEYS} keys. Revoke one that is not used any more.` });
  const key = `${MARK}${newToken()}`;
  sql(
    app.db,
    `INSERT INTO api_keys (user_id, name, begins, hash, scopes, made_wall, ends_wall)
     VALUES (@userId, @name, @begins, @hash, @scopes, @wall, @ends)`,
  ).run({
    ...{
      userId,
      name,
      begins: key.slice(0, SHOWN),
      hash: hashToken(key),
      scopes: JSON.stringify(scopes),
      wall,
    },
    ends: days === null ? null : wall + days * DAY,
  });
  return done(key);
}

/** A user's keys that are good, or were until they ended by themselves. */
export function keysOf({ db }: App, userId: number): ApiKey[] {
  return sql(
    db,
    `SELECT id, name, begins, scopes, made_wall AS madeAt, ends_wall AS endsAt, used_wall AS usedAt
     FROM api_keys WHERE user_id = @userId AND revoked_wall IS NULL ORDER BY id DESC`,
  )
    .all<Omit<ApiKey, "scopes"> & { scopes: string }>({ userId })
    .map((row) => ({ ...row, scopes: jsonOf(scopesSchema, row.scopes) }));
}

/** Ends one of a user's own keys with its next request. */
export function revokeKey(app: App, userId: number, id: number, wall = Date.now()): Outcome<null> {
  const no = mayNot(app, userId, "settings.own", userId);
  if (no) return no;
  const { changes } = sql(
    app.db,
    "UPDATE api_keys SET revoked_wall = @wall WHERE id = @id AND user_id = @userId AND revoked_wall IS NULL",
  ).run({ id, userId, wall });
  return changes === 1 ? done(null) : refused({ form: "This key was revoked already." });
}

export interface Bearer {
  keyId: number;
  scopes: Scope[];
  user: User;
}

/** Whose key this is; null where it is none, was revoked, has ended, or its user has left. */
export function bearerOf({ db }: App, key: string, wall = Date.now()): Bearer | null {
  if (!key.startsWith(MARK)) return null;
  const row = sql(
    db,
    `SELECT k.id AS keyId, k.scopes, k.used_wall AS usedAt, u.id, u.name, u.email, u.time_zone AS zone, u.booking_slug AS bookingSlug, u.role
     FROM api_keys k JOIN users u ON u.id = k.user_id
     WHERE k.hash = @hash AND k.revoked_wall IS NULL AND (k.ends_wall IS NULL OR k.ends_wall > @wall) AND u.removed_at IS NULL`,
  ).get<User & { keyId: number; scopes: string; usedAt: number | null }>({ hash: hashToken(key), wall });
  if (!row) return null;
  const { keyId, scopes, usedAt, ...user } = row;
  if (usedAt === null || wall - usedAt > NOTED_EVERY)
    unlessBusy(db, () =>
      sql(db, "UPDATE api_keys SET used_wall = @wall WHERE id = @keyId").run({ keyId, wall }),
    );
  return { keyId, scopes: jsonOf(scopesSchema, scopes), user };
}
