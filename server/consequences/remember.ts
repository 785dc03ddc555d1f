/**
 * What a press changes about a prospect is written down row by row, so that one press takes it back. Rows that somebody
 * else has changed since stay as they are.
 */
import { type Db, sql } from "../db/open.ts";

type Row = Record<string, string | number | null>;

/** The rows that consequences can change, with the columns that they do. A key says which row is which. */
const WATCHED = [
  { table: "prospects", key: ["id"], columns: ["stage"], where: "id = @prospectId" },
  {
    table: "journeys",
    key: ["id"],
    columns: ["state", "stop_reason", "stop_detail", "ended_at"],
    where: "prospect_id = @prospectId",
  },
  {
    table: "touches",
    key: ["id"],
    columns: ["state", "ended_at"],
    where: "prospect_id = @prospectId AND state NOT IN ('claimed', 'sent', 'done', 'refused')",
  },
  {
    table: "replies",
    key: ["id"],
    columns: ["label_id", "labelled_at", "labelled_by", "read_at"],
    where: "prospect_id = @prospectId",
  },
  {
    table: "holds",
    key: ["id"],
    columns: ["scope", "scope_id", "reason", "detail", "since", "until", "cause_prospect_id"],
    where: `(scope = 'prospect' AND scope_id = @prospectId)
      OR (scope = 'company' AND scope_id = (SELECT company_id FROM prospects WHERE id = @prospectId))
      OR (scope = 'journey' AND scope_id IN (SELECT id FROM journeys WHERE prospect_id = @prospectId))`,
  },
  {
    table: "block_list",
    key: ["id"],
    columns: ["kind", "value", "reason", "at"],
    where: "kind = 'address' AND value IN (SELECT value FROM json_each(@addresses))",
  },
  {
    table: "list_prospects",
    key: ["list_id", "prospect_id"],
    columns: [],
    where: "prospect_id = @prospectId",
  },
  {
    table: "reminders",
    key: ["id"],
    columns: ["user_id", "prospect_id", "reply_id", "kind", "text", "due_at", "at", "ended_at", "how"],
    where: "prospect_id = @prospectId",
  },
] as const;

interface Change {
  table: string;
  /** Null: the row was not there before, or is not there after. */
  before: Row | null;
  after: Row | null;
}

export interface Remembered {
  prospectId: number;
  replyId: number | null;
  userId: number | null;
  /** In words, for the button that takes it back. */
  what: string;
  at: number;
}

/** Does the work and keeps what it changed; run it in a transaction. Returns the id by which it is undone. */
export function remember(db: Db, about: Remembered, work: () => void): number {
  const before = snapshot(db, about.prospectId);
  work();
  const after = snapshot(db, about.prospectId);
  const changes: Change[] = [];
  for (const { table } of WATCHED) {
    const [was, is] = [before.get(table), after.get(table)] as [Map<string, Row>, Map<string, Row>];
    for (const [key, row] of was) {
      const now = is.get(key) ?? null;
      if (JSON.stringify(now) !== JSON.stringify(row)) changes.push({ table, before: row, after: now });
    }
    for (const [key, row] of is) if (!was.has(key)) changes.push({ table, before: null, after: row });
  }
  return Number(
    sql<Record<string, unknown>>(
      db,
      `INSERT INTO undo_records (reply_id, prospect_id, user_id, what, changes, at)
       VALUES (@replyId, @prospectId, @userId, @what, @changes, @at)`,
    ).run({ ...about, changes: JSON.stringify(changes) }).lastInsertRowid,
  );
}

function snapshot(db: Db, prospectId: number): Map<string, Map<string, Row>> {
  const addresses = JSON.stringify(
    sql<{ prospectId: number }, { email: string }>(
      db,
      "SELECT email FROM prospects WHERE (id = @prospectId OR merged_into = @prospectId) AND email IS NOT NULL",
    )
      .all({ prospectId })
      .map(({ email }) => email),
  );
  return new Map(
    WATCHED.map(({ table, key, columns, where }) => [
      table,
      new Map(
        sql<Record<string, unknown>, Row>(
          db,
          `SELECT ${[...key, ...columns].join()} FROM ${table} WHERE ${where}`,
        )
          .all({ prospectId, addresses })
          .map((row) => [key.map((each) => row[each]).join(), row]),
      ),
    ]),
  );
}

/**
 * Takes back what was remembered; run it in a transaction. Returns how many rows stayed as they are because something else
 * changed them since, or null if there is nothing to take back.
 */
export function takeBack(
  db: Db,
  id: number,
  at: number,
): { kept: number; prospectId: number; replyId: number | null } | null {
  const record = sql<
    Record<string, unknown>,
    { changes: string; prospectId: number; replyId: number | null }
  >(
    db,
    `UPDATE undo_records SET undone_at = @at WHERE id = @id AND undone_at IS NULL
     RETURNING changes, prospect_id AS prospectId, reply_id AS replyId`,
  ).get({ id, at });
  if (!record) return null;
  let kept = 0;
  for (const { table, before, after } of JSON.parse(record.changes) as Change[]) {
    const watched = WATCHED.find((each) => each.table === table);
    if (!watched) continue;
    const one = watched.key.map((each) => `${each} = @${each}`).join(" AND ");
    const isAsLeft = (row: Row) =>
      Object.keys(row)
        .map((each) => `${each} IS @after_${each}`)
        .join(" AND ");
    const left = Object.fromEntries(
      Object.entries(after ?? {}).map(([name, value]) => [`after_${name}`, value]),
    );
    try {
      const { changes } =
        before && after
          ? sql<Row>(
              db,
              `UPDATE ${table} SET ${Object.keys(before)
                .map((each) => `${each} = @${each}`)
                .join()}
               WHERE ${one} AND ${isAsLeft(after)}`,
            ).run({ ...before, ...left })
          : after
            ? sql<Row>(db, `DELETE FROM ${table} WHERE ${one}`).run(after)
            : sql<Row>(
                db,
                `INSERT INTO ${table} (${Object.keys(before ?? {}).join()})
                 VALUES (${Object.keys(before ?? {})
                   .map((each) => `@${each}`)
                   .join()}) ON CONFLICT DO NOTHING`,
              ).run(before ?? {});
      if (changes === 0) kept++;
    } catch {
      kept++; // a second journey began meanwhile: there is one at a time
    }
  }
  sql<{ prospectId: number }>(
    db,
    "INSERT OR IGNORE INTO reconsider SELECT id FROM journeys WHERE prospect_id = @prospectId AND state = 'active'",
  ).run(record);
  return { kept, prospectId: record.prospectId, replyId: record.replyId };
}

export interface Undoable {
  id: number;
  what: string;
  at: number;
}

/** What can still be taken back about a reply, or null. */
export function undoableOf(db: Db, replyId: number): Undoable | null {
  return (
    sql<{ replyId: number }, Undoable>(
      db,
      "SELECT id, what, at FROM undo_records WHERE reply_id = @replyId AND undone_at IS NULL ORDER BY id DESC LIMIT 1",
    ).get({ replyId }) ?? null
  );
}
