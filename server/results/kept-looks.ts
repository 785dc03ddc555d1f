/** Looks at results that somebody gave a name, to come back to or to set beside another. They are nobody else's. */
import { z } from "zod";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { type Look, lookQuery } from "./look.ts";

export interface KeptLook {
  id: number;
  name: string;
  /** "/results/3?list=5" */
  address: string;
}

const MOST = 100;

const form = z.object({
  name: z.string().trim().min(1, "Give the look a name.").max(60, "At most 60 characters."),
  path: z.string().regex(/^\/results(?:\/[1-9]\d{0,14})?$/),
  query: z.string().max(1_000),
});

/** Of the same name, in the place of the one before. */
export function keepLook(app: App, userId: number, input: unknown): Outcome<null> {
  const { db, clock } = app;
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const no = mayNot(app, userId, "desk.see");
  if (no) return no;
  const { name, path } = read.data;
  const isNew =
    sql(db, "SELECT 1 FROM looks WHERE user_id = @userId AND name = @name").get({ userId, name }) ===
    undefined;
  if (isNew && keptLooks(app, userId).length >= MOST)
    return refused({ name: `${MOST} looks are kept: drop one first.` });
  sql(
    db,
    `INSERT INTO looks (user_id, name, path, query, at) VALUES (@userId, @name, @path, @query, @now)
     ON CONFLICT (user_id, name) DO UPDATE SET path = excluded.path, query = excluded.query, at = excluded.at`,
  ).run({ userId, name, path, query: tidy(read.data.query), now: clock.now() });
  return done(null);
}

/** Only what a look understands, and which table it shows. */
function tidy(query: string): string {
  const asked = Object.fromEntries(new URLSearchParams(query));
  const look = Object.entries(lookQuery.parse(asked)).filter(
    ([name, value]) => value !== undefined && name in asked,
  );
  return new URLSearchParams([
    ...look.map(([name, value]) => [name, String(value)]),
    ...(asked.show ? [["show", asked.show.slice(0, 20)]] : []),
  ]).toString();
}

/** Whoever acts may drop their own only. */
export function dropLook(app: App, userId: number, id: number): Outcome<null> {
  const no = mayNot(app, userId, "desk.see");
  if (no) return no;
  sql(app.db, "DELETE FROM looks WHERE id = @id AND user_id = @userId").run({ id, userId });
  return done(null);
}

export const keptLooks = ({ db }: App, userId: By): KeptLook[] =>
  sql(db, "SELECT id, name, path, query FROM looks WHERE user_id = @userId ORDER BY name")
    .all<{ id: number; name: string; path: string; query: string }>({ userId })
    .map(({ id, name, path, query }) => ({ id, name, address: query === "" ? path : `${path}?${query}` }));

/** Of one sequence's kept looks, what one looks at; null if it is none of theirs. */
export function lookKept(app: App, userId: By, id: number): { sequenceId: number; look: Look } | null {
  const address = keptLooks(app, userId).find((each) => each.id === id)?.address;
  const sequenceId = Number(/^\/results\/(\d+)/.exec(address ?? "")?.[1]);
  if (!address || !sequenceId) return null;
  const [, query = ""] = address.split("?");
  return { sequenceId, look: lookQuery.parse(Object.fromEntries(new URLSearchParams(query))) };
}
