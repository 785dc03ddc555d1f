/** Addresses and domains never written to. */
import { type Db, sql } from "./open.ts";

export type BlockReason = "opted_out" | "bounced" | "added_by_rep";

export interface Block {
  kind: "address" | "domain";
  value: string;
  reason: BlockReason;
  at: number;
  note?: string;
  userId?: number | null;
}

/**
 * Puts an entry on the block list; whether that changed anything. It stays with its first reason, but for an
 * opt-out, which is the strictest. Nothing else writes there but what takes a press back (server/consequences/remember.ts).
 */
export const blockEntry = (db: Db, entry: Block): boolean =>
  sql(
    db,
    `INSERT INTO block_list (kind, value, reason, at, note, user_id) VALUES (@kind, @value, @reason, @at, @note, @userId)
     ON CONFLICT (kind, value) DO UPDATE SET reason = excluded.reason, at = excluded.at, note = excluded.note,
       user_id = excluded.user_id WHERE excluded.reason = 'opted_out' AND block_list.reason != 'opted_out'`,
  ).run({ note: "", userId: null, ...entry }).changes === 1;

/** Takes an entry off, and keeps who did it and why. */
export function unblockEntry(
  db: Db,
  removal: Pick<Block, "kind" | "value"> & { why: string; userId: number | null; now: number },
): void {
  sql(
    db,
    `INSERT INTO block_removals (kind, value, reason, why, user_id, at)
     SELECT kind, value, reason, @why, @userId, @now FROM block_list WHERE kind = @kind AND value = @value`,
  ).run(removal);
  sql(db, "DELETE FROM block_list WHERE kind = @kind AND value = @value").run({
    kind: removal.kind,
    value: removal.value,
  });
}

/** The strictest reason for which one of these addresses is blocked for its owner's sake; null if none is. */
export const strictestBlock = (db: Db, addresses: readonly string[]): Omit<Block, "kind" | "value"> | null =>
  sql(
    db,
    `SELECT reason, at, note, user_id AS userId FROM block_list
     WHERE kind = 'address' AND reason != 'bounced' AND value IN (SELECT value FROM json_each(@addresses))
     ORDER BY reason = 'opted_out' DESC LIMIT 1`,
  ).get<Omit<Block, "kind" | "value">>({ addresses: JSON.stringify(addresses) }) ?? null;

/** In SQL: whether an address or its domain is on the list. `email`: an expression. */
export const blockedSql = (email: string): string =>
  `EXISTS (SELECT 1 FROM block_list b WHERE (b.kind = 'address' AND b.value = ${email})
     OR (b.kind = 'domain' AND b.value = substr(${email}, instr(${email}, '@') + 1)))`;

export const isBlocked = (db: Db, email: string): boolean =>
  sql(db, `SELECT ${blockedSql("@email")} AS isBlocked`).get<{ isBlocked: 0 | 1 }>({
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
