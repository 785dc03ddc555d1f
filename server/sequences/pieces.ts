/** Reusable pieces of text, shared by the team. */

import { z } from "zod";
import { type Brought, bestFirst } from "../../core/results/worked.ts";
import { MAX_BODY } from "../../core/sequence/limits.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import { type SharedState, sharingOf } from "../accounts/share.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { broughtWithPiece } from "./brought.ts";

export interface Piece {
  id: number;
  name: string;
  body: string;
  shared: SharedState;
  /** What the emails brought that hold it. */
  brought: Brought;
}

/** As one puts it in. */
export type ReadyPiece = Pick<Piece, "id" | "name" | "body">;

/** Those that somebody may use, by name. */
export const readyPieces = (app: App, by: By): ReadyPiece[] =>
  sql(app.db, "SELECT id, name, body FROM pieces ORDER BY name")
    .all<ReadyPiece>([])
    .filter(({ id }) => mayNot(app, by, "piece.use", id) === null);

/** The same with what they brought: what worked first. */
export async function allPieces(app: App, by: By): Promise<Piece[]> {
  const broughtWith = await broughtWithPiece(app, by);
  return bestFirst(
    readyPieces(app, by).map((piece) => ({
      ...piece,
      shared: sharingOf(app, by, "piece", piece.id),
      brought: broughtWith(piece.body),
    })),
  );
}

const form = z.object({
  name: z.string().trim().min(1, "Give the piece a name.").max(60),
  body: z.string().trim().min(1, "Select some text first.").max(MAX_BODY),
});

/** Keeps a piece; of the same name, in the place of the one before. */
export function keepPiece(app: App, userId: By, input: unknown): Outcome<null> {
  const { db, clock } = app;
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const known = sql(db, "SELECT id FROM pieces WHERE name = @name").get<{ id: number }>(read.data);
  const no = known ? mayNot(app, userId, "piece.change", known.id) : mayNot(app, userId, "piece.create");
  if (no) return no;
  sql(
    db,
    `INSERT INTO pieces (name, body, user_id, at) VALUES (@name, @body, @userId, @now)
     ON CONFLICT (name) DO UPDATE SET body = excluded.body, at = excluded.at`,
  ).run({ ...read.data, userId, now: clock.now() });
  return done(null);
}

export function dropPiece(app: App, by: By, id: number): Outcome<null> {
  const no = mayNot(app, by, "piece.change", id);
  if (no) return no;
  sql(app.db, "DELETE FROM pieces WHERE id = @id").run({ id });
  return done(null);
}
