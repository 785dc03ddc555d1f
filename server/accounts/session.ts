import { DAY, MINUTE } from "../../core/calendar.ts";
import type { Role } from "../../core/team/may.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { unlessBusy } from "../db/unless-busy.ts";
import { hashToken, newToken } from "../secrets.ts";

export interface User {
  id: number;
  name: string;
  email: string;
  zone: string;
  bookingSlug: string;
  role: Role;
  /** Whose things Today and Replies show (whose.ts). */
  looksAt?: "mine" | "all" | number;
}

/** Sessions and failures run on the machine's clock: the demo's jumps sign nobody out. */
export const SESSION_LASTS = 30 * DAY;
/** A session that nobody uses ends sooner. */
export const SESSION_IDLES = 7 * DAY;
/** How often its last use is written down. */
const NOTED_EVERY = 10 * MINUTE;

/** Somebody who is still here. */
export const userById = (db: Db, id: number): User | undefined =>
  sql(
    db,
    `SELECT id, name, email, time_zone AS zone, booking_slug AS bookingSlug, role FROM users WHERE id = @id AND removed_at IS NULL`,
  ).get<User>({ id });

/** Who holds this session token, or null if nobody does any more. Notes the use now and then. */
export function userOfSession({ db }: App, token: string, wall = Date.now()): User | null {
  const found = sql(
    db,
    `SELECT u.id, u.name, u.email, u.time_zone AS zone, u.booking_slug AS bookingSlug, u.role,
       -- A colleague who left leaves nothing to look at.
       CASE WHEN u.settings ->> '$.looksAt' = 'all' THEN 'all' ELSE coalesce(
         (SELECT o.id FROM users o WHERE o.id = u.settings ->> '$.looksAt' AND o.id != u.id AND o.removed_at IS NULL), 'mine') END AS looksAt,
       s.id AS sessionId, s.seen_at AS seenAt
     FROM sessions s JOIN users u ON u.id = s.user_id
     WHERE s.token_hash = @hash AND s.expires_at > @wall AND s.seen_at > @idle AND u.removed_at IS NULL`,
  ).get<User & { sessionId: number; seenAt: number }>({
    hash: hashToken(token),
    wall,
    idle: wall - SESSION_IDLES,
  });
  if (!found) return null;
  const { sessionId, seenAt, ...user } = found;
  if (wall - seenAt > NOTED_EVERY)
    unlessBusy(db, () =>
      sql(db, "UPDATE sessions SET seen_at = @wall WHERE id = @id").run({ id: sessionId, wall }),
    );
  return user;
}

/** Which of these sessions, by their tokens' hashes, are still open. */
export function openSessionsAmong({ db }: App, hashes: readonly string[], wall = Date.now()): Set<string> {
  const rows = sql(
    db,
    `SELECT s.token_hash AS hash FROM sessions s JOIN users u ON u.id = s.user_id
     WHERE s.token_hash IN (SELECT value FROM json_each(@hashes))
       AND s.expires_at > @wall AND s.seen_at > @idle AND u.removed_at IS NULL`,
  ).all<{ hash: string }>({ hashes: JSON.stringify(hashes), wall, idle: wall - SESSION_IDLES });
  return new Set(rows.map(({ hash }) => hash));
}

/** Opens a session; returns its token, of which the database keeps only the hash. `agent` is what the browser calls itself. */
export function openSession({ db }: App, userId: number, agent = "", wall = Date.now()): string {
  const token = newToken();
  sql(db, "DELETE FROM sessions WHERE expires_at < @wall OR seen_at < @idle").run({
    wall,
    idle: wall - SESSION_IDLES,
  });
  sql(
    db,
    `INSERT INTO sessions (token_hash, user_id, agent, created_at, seen_at, expires_at)
     VALUES (@hash, @userId, @agent, @wall, @wall, @expires)`,
  ).run({ hash: hashToken(token), userId, agent: agent.slice(0, 200), wall, expires: wall + SESSION_LASTS });
  return token;
}

export interface OpenSession {
  id: number;
  agent: string;
  createdAt: number;
  seenAt: number;
  /** The one that asks. */
  isThis: boolean;
}

export function listSessions({ db }: App, userId: number, token: string): OpenSession[] {
  return sql(
    db,
    `SELECT id, agent, created_at AS createdAt, seen_at AS seenAt, token_hash = @hash AS isThis
     FROM sessions WHERE user_id = @userId ORDER BY seen_at DESC, id DESC`,
  )
    .all<Omit<OpenSession, "isThis"> & { isThis: number }>({ userId, hash: hashToken(token) })
    .map((row) => ({ ...row, isThis: row.isThis === 1 }));
}

/** Ends one of a user's own sessions. */
export function endSession({ db }: App, userId: number, id: number): void {
  sql(db, "DELETE FROM sessions WHERE id = @id AND user_id = @userId").run({
    userId,
    id,
  });
}

/** Ends every session of a user but the one of `keepToken`. */
export function endOtherSessions({ db }: App, userId: number, keepToken: string | null): void {
  sql(db, "DELETE FROM sessions WHERE user_id = @userId AND token_hash IS NOT @hash").run({
    userId,
    hash: keepToken === null ? null : hashToken(keepToken),
  });
}

export function signOut({ db }: App, token: string): void {
  sql(db, "DELETE FROM sessions WHERE token_hash = @hash").run({ hash: hashToken(token) });
}
