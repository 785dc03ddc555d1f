/** Reusable pieces of text, shared by the team. */
import { z } from "zod";
import { MAX_BODY } from "../../core/sequence/path.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

export interface Piece {
  id: number;
  name: string;
  body: string;
}

export function allPieces({ db }: App): Piece[] {
  return sql<[], Piece>(db, "SELECT id, name, body FROM pieces ORDER BY name").all([]);
}

const form = z.object({
  name: z.string().trim().min(1, "Give the piece a name.").max(60),
  body: z.string().trim().min(1, "Select some text first.").max(MAX_BODY),
});

/** Keeps a piece; of the same name, in the place of the one before. */
export function keepPiece({ db, clock }: App, userId: number, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  sql<Record<string, unknown>>(
    db,
    `INSERT INTO pieces (name, body, user_id, at) VALUES (@name, @body, @userId, @now)
     ON CONFLICT (name) DO UPDATE SET body = excluded.body, user_id = excluded.user_id, at = excluded.at`,
  ).run({ ...read.data, userId, now: clock.now() });
  return done(null);
}

export function dropPiece({ db }: App, id: number): void {
  sql<{ id: number }>(db, "DELETE FROM pieces WHERE id = @id").run({ id });
}
