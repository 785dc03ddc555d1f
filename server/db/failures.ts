/** What failed in a process besides what it was asked for: counted for the metrics, and shown on health while it is young. */
import { log } from "../log.ts";
import { traceOf } from "../trace.ts";
import { type Db, sql } from "./open.ts";

/** Stable names, for programs that watch. */
export type FailureKind = "thread" | "job" | "tick" | "uncaught" | "copy" | "outside" | "request";

export interface Failure {
  kind: FailureKind;
  /** Which of them: the thread's name, the job's kind. */
  name: string;
  count: number;
  lastWall: number;
  words: string;
}

const wordsOf = (error: unknown): string =>
  (error instanceof Error ? error.message : String(error)).slice(0, 300);

/** Logs a failure with its error and counts it. Never throws: where the database takes no notes, the log has it. */
export function noteFailure(db: Db, kind: FailureKind, name: string, error: unknown): void {
  log.error({ kind, name, error: traceOf(error) }, `${kind} failed`);
  try {
    sql(
      db,
      `INSERT INTO failures (kind, name, count, last_wall, words) VALUES (@kind, @name, 1, @wall, @words)
       ON CONFLICT (kind, name) DO UPDATE SET count = count + 1, last_wall = @wall, words = @words`,
    ).run({ kind, name, wall: Date.now(), words: wordsOf(error) });
  } catch (noting) {
    log.warn({ error: wordsOf(noting) }, "the failure could not be counted");
  }
}

/** All that were ever counted, the latest first. */
export const failures = (db: Db): Failure[] =>
  sql(
    db,
    "SELECT kind, name, count, last_wall AS lastWall, words FROM failures ORDER BY last_wall DESC",
  ).all<Failure>([]);
