/** Work that takes longer than a page: asked for by the web server, done by the worker process. */
import { type Db, sql } from "./open.ts";

export type JobKind =
  | "look_through"
  | "import"
  | "search"
  | "verify"
  | "find_addresses"
  | "duplicates"
  | "learn"
  | "archive"
  | "research"
  | "try_research"
  | "page_pictures";
export type JobState = "waiting" | "working" | "done" | "failed" | "cancelled";

export interface Job {
  id: number;
  kind: JobKind;
  /** JSON, as the job's use case expects it. */
  input: string;
  userId: number | null;
  state: JobState;
  done: number;
  total: number;
  problem: string | null;
}

const COLUMNS = "id, kind, input, user_id AS userId, state, done, total, problem";

export function askJob(
  db: Db,
  job: { kind: JobKind; input: unknown; userId: number | null; now: number; notBefore?: number },
): number {
  const { kind, userId, now } = job;
  return Number(
    sql(
      db,
      `INSERT INTO jobs (kind, input, user_id, asked_at, not_before) VALUES (@kind, @input, @userId, @now, @notBefore)`,
    ).run({ kind, input: JSON.stringify(job.input), userId, now, notBefore: job.notBefore ?? 0 })
      .lastInsertRowid,
  );
}

export function jobById(db: Db, id: number): Job | null {
  return sql(db, `SELECT ${COLUMNS} FROM jobs WHERE id = @id`).get<Job>({ id }) ?? null;
}

/** The newest job of a kind that is due, about something, by a value of its input, or about anything. */
export function latestJob(db: Db, kind: JobKind, about?: { key: string; value: number }): Job | null {
  return (
    sql(
      db,
      `SELECT ${COLUMNS} FROM jobs WHERE kind = @kind AND not_before = 0
         AND (@key IS NULL OR json_extract(input, '$.' || @key) = @value) ORDER BY id DESC LIMIT 1`,
    ).get<Job>({ kind, key: about?.key ?? null, value: about?.value ?? null }) ?? null
  );
}

/** The oldest job that may begin, taken on; null if there is none, which is found without writing. One worker takes jobs. */
export function takeJob(db: Db, kinds: readonly JobKind[], now: number): Job | null {
  const next = sql(
    db,
    `SELECT id FROM jobs WHERE state = 'waiting' AND not_before <= @now
       AND kind IN (SELECT value FROM json_each(@kinds)) ORDER BY id LIMIT 1`,
  ).get<{ id: number }>({ now, kinds: JSON.stringify(kinds) });
  if (!next) return null;
  return (
    sql(
      db,
      `UPDATE jobs SET state = 'working' WHERE id = @id AND state = 'waiting' RETURNING ${COLUMNS}`,
    ).get<Job>(next) ?? null
  );
}

/** At the worker's start: what its predecessor left unfinished waits again. */
export function requeueJobs(db: Db): void {
  sql(db, "UPDATE jobs SET state = 'waiting' WHERE state = 'working'").run([]);
}

export function reportProgress(db: Db, id: number, done: number, total: number): void {
  sql(db, "UPDATE jobs SET done = @done, total = @total WHERE id = @id").run({
    id,
    done,
    total,
  });
}

export function endJob(db: Db, id: number, state: "done" | "failed", problem: string | null = null): void {
  sql(db, "UPDATE jobs SET state = @state, problem = @problem WHERE id = @id AND state = 'working'").run({
    id,
    state,
    problem,
  });
}

export function cancelJob(db: Db, id: number): void {
  sql(db, "UPDATE jobs SET state = 'cancelled' WHERE id = @id AND state IN ('waiting', 'working')").run({
    id,
  });
}

export const isCancelled = (db: Db, id: number) => jobById(db, id)?.state === "cancelled";
