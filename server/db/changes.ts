/** The history of a prospect's fields: who changed what, from where, and the way back. */
import type { ChangeSource } from "../../core/prospects/sources.ts";
import { type Db, sql } from "./open.ts";

export interface Change {
  prospectId: number;
  field: string;
  before: string;
  after: string;
  source: ChangeSource;
  sourceId: number | null;
  detail?: string;
  userId: number | null;
  at: number;
}

export function recordChange(db: Db, change: Change): void {
  sql(
    db,
    `INSERT INTO changes (prospect_id, field, before, after, source, source_id, detail, user_id, at)
     VALUES (@prospectId, @field, @before, @after, @source, @sourceId, @detail, @userId, @at)`,
  ).run({ detail: "", ...change });
}

/** Changes of one source, newest first, with what the field holds now for a look at whether it is still theirs. */
export function changesOf(db: Db, source: Change["source"], sourceId: number): Change[] {
  return sql(
    db,
    `SELECT prospect_id AS prospectId, field, before, after, source, source_id AS sourceId, detail, user_id AS userId, at
     FROM changes WHERE source = @source AND source_id = @sourceId ORDER BY id DESC`,
  ).all<Change>({ source, sourceId });
}
