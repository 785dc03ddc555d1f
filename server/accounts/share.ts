/** Whose a list, filter, piece, profile or page is, and who else may use or change it: its owner says so. */
import { z } from "zod";
import { SHARINGS, type Sharing } from "../../core/team/may.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { type By, mayNot } from "./may-not.ts";

const TABLES = {
  list: "lists",
  filter: "filters",
  piece: "pieces",
  profile: "profiles",
  page: "page_templates",
} as const;
export type Shared = keyof typeof TABLES;

const form = z.object({
  kind: z.enum(["list", "filter", "piece", "profile", "page"]),
  id: z.coerce.number().int(),
  sharing: z.enum(SHARINGS),
});

/** Whose it is, and who may have it. */
export interface SharedState {
  /** Null: the managers'. */
  owner: string | null;
  sharing: Sharing;
  mayShare: boolean;
}

const OWNER: Record<Shared, string> = {
  list: "owner_id",
  filter: "user_id",
  piece: "user_id",
  profile: "user_id",
  page: "user_id",
};

export function sharingOf(app: App, by: By, kind: Shared, id: number): SharedState {
  const row = sql(
    app.db,
    `SELECT u.name AS owner, x.sharing FROM ${TABLES[kind]} x LEFT JOIN users u ON u.id = x.${OWNER[kind]} WHERE x.id = @id`,
  ).get<{ owner: string | null; sharing: Sharing }>({ id });
  const mayShare = mayNot(app, by, `${kind}.share`, id) === null;
  return { owner: row?.owner ?? null, sharing: row?.sharing ?? "use", mayShare };
}

export function share(app: App, by: By, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused({ form: "Choose who may use it." });
  const { kind, id, sharing } = read.data;
  const no = mayNot(app, by, `${kind}.share`, id);
  if (no) return no;
  const { changes } = sql(app.db, `UPDATE ${TABLES[kind]} SET sharing = @sharing WHERE id = @id`).run({
    id,
    sharing,
  });
  return changes === 1 ? done(null) : refused({ form: "It is no longer here." });
}
