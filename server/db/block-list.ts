/** Addresses and domains never written to. */
import { type Db, sql } from "./open.ts";

/**
 * Puts an address on the block list; whether that changed anything. It stays with its first reason, but for an
 * opt-out, which is the strictest.
 */
export function blockAddress(
  db: Db,
  address: string,
  reason: "opted_out" | "bounced" | "added_by_rep",
  at: number,
): boolean {
  return (
    sql<Record<string, unknown>>(
      db,
      `INSERT INTO block_list (kind, value, reason, at) VALUES ('address', @address, @reason, @at)
       ON CONFLICT (kind, value) DO UPDATE SET reason = excluded.reason, at = excluded.at
         WHERE excluded.reason = 'opted_out' AND block_list.reason != 'opted_out'`,
    ).run({ address, reason, at }).changes === 1
  );
}

/** In SQL: whether an address or its domain is on the list. `email`: an expression. */
export const blockedSql = (email: string): string =>
  `EXISTS (SELECT 1 FROM block_list b WHERE (b.kind = 'address' AND b.value = ${email})
     OR (b.kind = 'domain' AND b.value = substr(${email}, instr(${email}, '@') + 1)))`;

export const isBlocked = (db: Db, email: string): boolean =>
  sql<{ email: string }, { isBlocked: 0 | 1 }>(db, `SELECT ${blockedSql("@email")} AS isBlocked`).get({
    email,
  })?.isBlocked === 1;

/**
 * The ids of everybody who is blocked, as a query: from the block list's side, which is short, and not from everybody's.
 * The plus takes its affinity from the value: with it the index on an expression is not used.
 */
export const blockedIds = `
  SELECT x.id FROM block_list b CROSS JOIN prospects x ON x.email = b.value WHERE b.kind = 'address'
  UNION ALL SELECT x.id FROM block_list b CROSS JOIN prospects x ON substr(x.email, instr(x.email, '@') + 1) = +b.value
  WHERE b.kind = 'domain'`;
