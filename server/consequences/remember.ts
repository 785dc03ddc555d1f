/**
 * What a press changes is written down row by row, so that one press takes it back. What somebody
 * else has changed since stays as it is.
 */
import { type Db, sql, type Tx } from "../db/open.ts";
import { keyOf, type Row, type Scope } from "./scopes.ts";

/** What was done, for what follows from taking it back. */
export const UNDO_KINDS = [
  "label",
  "merge_people",
  "merge_companies",
  "block",
  "unblock",
  "list",
  "stop",
  "pause",
] as const;
export type UndoKind = (typeof UNDO_KINDS)[number];

interface Change {
  table: string;
  /** Null: the row was not there before, or is not there after. */
  before: Row | null;
  after: Row | null;
}

export interface Remembered {
  kind: UndoKind;
  prospectId: number | null;
  replyId?: number | null;
  userId: number | null;
  /** The ids of what it was done to, where the kind has several. */
  of?: readonly number[];
  /** In words, for the button that takes it back. */
  what: string;
  at: number;
}

/**
 * Does the work and keeps what it changed of the rows in `scope`. Returns the id
 * by which it is undone.
 */
export function remember(db: Tx, about: Remembered, scope: Scope, work: () => void): number {
  const before = snapshot(db, scope);
  work();
  const after = snapshot(db, scope);
  const changes: Change[] = [];
  for (const [nth, { table, isAppendOnly = false }] of scope.rows.entries()) {
    const [was, is] = [before[nth] as Map<string, Row>, after[nth] as Map<string, Row>];
    for (const [key, row] of was) {
      const now = is.get(key) ?? null;
      if (JSON.stringify(now) !== JSON.stringify(row)) changes.push({ table, before: row, after: now });
    }
    for (const [key, row] of is)
      if (!was.has(key) && !isAppendOnly) changes.push({ table, before: null, after: row });
  }
  return Number(
    sql(
      db,
      `INSERT INTO undo_records (kind, about, reply_id, prospect_id, user_id, what, changes, at)
       VALUES (@kind, @of, @replyId, @prospectId, @userId, @what, @changes, @at)`,
    ).run({ replyId: null, ...about, of: JSON.stringify(about.of ?? []), changes: JSON.stringify(changes) })
      .lastInsertRowid,
  );
}

function snapshot(db: Db, { rows, values }: Scope): Map<string, Row>[] {
  return rows.map(({ table, columns, where }) => {
    const key = keyOf(table);
    return new Map(
      sql(db, `SELECT ${[...key, ...columns].join()} FROM ${table} WHERE ${where}`)
        .all<Row>(values)
        .map((row) => [key.map((each) => row[each]).join(), row]),
    );
  });
}

export interface TakenBack {
  kind: UndoKind;
  /** Rows that stayed as they are, because something else changed them since. */
  kept: number;
  prospectId: number | null;
  replyId: number | null;
}

/** Takes back what was remembered. Null if there is nothing to take back. */
export function takeBack(db: Tx, id: number, at: number): TakenBack | null {
  const record = sql(
    db,
    `UPDATE undo_records SET undone_at = @at WHERE id = @id AND undone_at IS NULL
     RETURNING kind, changes, prospect_id AS prospectId, reply_id AS replyId`,
  ).get<{ kind: UndoKind; changes: string; prospectId: number | null; replyId: number | null }>({ id, at });
  if (!record) return null;
  let waiting = JSON.parse(record.changes) as Change[];
  // An address that goes back from one person to another is free only after the first has lost it; so some wait.
  for (let before = waiting.length + 1; waiting.length > 0 && waiting.length < before; ) {
    before = waiting.length;
    waiting = waiting.filter((change) => !restore(db, change));
  }
  const { kind, prospectId, replyId } = record;
  sql(
    db,
    "INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE prospect_id = @prospectId AND state = 'active'",
  ).run({ prospectId });
  return { kind, kept: waiting.length, prospectId, replyId };
}

/** Sets one row back; false if it is no longer as it was left, or something stands in the way (a second journey). */
function restore(db: Db, { table, before, after }: Change): boolean {
  const one = keyOf(table)
    .map((each) => `${each} = @${each}`)
    .join(" AND ");
  try {
    if (before && after) {
      const changed = Object.keys(before).filter((column) => before[column] !== after[column]);
      const left = Object.fromEntries(changed.map((column) => [`after_${column}`, after[column]]));
      return (
        sql(
          db,
          `UPDATE ${table} SET ${changed.map((each) => `${each} = @${each}`).join()}
           WHERE ${one} AND ${changed.map((each) => `${each} IS @after_${each}`).join(" AND ")}`,
        ).run({ ...before, ...left } as Row).changes > 0
      );
    }
    if (after) {
      const asLeft = Object.keys(after).map((column) => `${column} IS @${column}`);
      return sql(db, `DELETE FROM ${table} WHERE ${asLeft.join(" AND ")}`).run(after).changes > 0;
    }
    const row = before ?? {};
    return (
      sql(
        db,
        `INSERT INTO ${table} (${Object.keys(row).join()}) VALUES (${Object.keys(row)
          .map((each) => `@${each}`)
          .join()}) ON CONFLICT DO NOTHING`,
      ).run(row).changes > 0
    );
  } catch {
    return false;
  }
}

export interface Undoable {
  id: number;
  what: string;
  at: number;
}

/** What can still be taken back about a reply, or null. */
export function undoableOf(db: Db, replyId: number): Undoable | null {
  return (
    sql(
      db,
      "SELECT id, what, at FROM undo_records WHERE reply_id = @replyId AND undone_at IS NULL ORDER BY id DESC LIMIT 1",
    ).get<Undoable>({ replyId }) ?? null
  );
}

/** What somebody did lately and can take back, the latest first; a manager sees what was done by rule, too. */
export function undoablesOf(
  db: Db,
  user: { id: number; isManager: boolean },
  since: number,
): (Undoable & { kind: UndoKind })[] {
  return sql(
    db,
    `SELECT id, kind, what, at FROM undo_records
     WHERE undone_at IS NULL AND at >= @since AND (user_id = @userId OR (@isManager = 1 AND user_id IS NULL AND kind != 'label'))
     ORDER BY id DESC LIMIT 100`,
  ).all<Undoable & { kind: UndoKind }>({ userId: user.id, isManager: user.isManager ? 1 : 0, since });
}
