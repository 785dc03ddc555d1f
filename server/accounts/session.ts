import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { hashToken } from "../secrets.ts";

export interface User {
  id: number;
  name: string;
  email: string;
  zone: string;
  bookingSlug: string;
}

/** Who holds this session token, or null if nobody does any more. */
export function userOfSession({ db }: App, token: string, wall = Date.now()): User | null {
  return (
    sql<{ hash: string; wall: number }, User>(
      db,
      `SELECT u.id, u.name, u.email, u.time_zone AS zone, u.booking_slug AS bookingSlug
       FROM sessions s JOIN users u ON u.id = s.user_id
       WHERE s.token_hash = @hash AND s.expires_at > @wall`,
    ).get({ hash: hashToken(token), wall }) ?? null
  );
}
