/** Files that go as links: each link is one person's, opens one file, and says by itself which. */

import { asText } from "../../core/writing/merge.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { readLink, signLink } from "../secrets.ts";

/** `look`: by somebody it was not given to, such as whoever gets a copy: nothing that happens there is noted. */
type Purpose = "theirs" | "look";

export interface FileRef {
  fileId: number;
  prospectId: number;
  isLook: boolean;
}

/** What a link names; null for one that we did not make. */
export function readFileLink({ key }: Pick<App, "key">, token: string): FileRef | null {
  const [fileId, prospectId, look] = (readLink("file", token, key) ?? "").split(" ");
  return fileId && prospectId
    ? { fileId: Number(fileId), prospectId: Number(prospectId), isLook: look === "look" }
    : null;
}

/** "/look/…" on our own address. */
export const fileLink = (
  { key }: Pick<App, "key">,
  fileId: number,
  prospectId: number,
  purpose: Purpose = "theirs",
): string =>
  `/look/${signLink("file", [fileId, prospectId, ...(purpose === "look" ? ["look"] : [])].join(" "), key)}`;

const LINK = /\/look\/([\w.-]{1,300})/g;

/** The same text where it names a file for a person, as one on whose pages nothing is noted. */
export const filesWithoutActing = (app: App, text: string): string =>
  text.replace(LINK, (whole, token: string) => {
    const ref = readFileLink(app, token);
    return ref ? fileLink(app, ref.fileId, ref.prospectId, "look") : whole;
  });

/** Some files as lines of Markdown, each a link for one person; "" for none, null where one is no longer here. */
export function linesOfFiles(
  app: App,
  ids: readonly number[],
  prospectId: number,
  purpose?: Purpose,
): string | null {
  const names = new Map(
    ids.length === 0
      ? []
      : sql(app.db, "SELECT id, name FROM files WHERE id IN (SELECT value FROM json_each(@ids))")
          .all<{ id: number; name: string }>({ ids: JSON.stringify(ids) })
          .map(({ id, name }) => [id, name]),
  );
  if (ids.some((id) => !names.has(id))) return null;
  const lines = ids.map(
    (id) => `[${asText(names.get(id) ?? "")}](${app.config.url}${fileLink(app, id, prospectId, purpose)})`,
  );
  return lines.length === 0 ? "" : `\n\n${lines.join("\n")}`;
}

/** Whoever got a link has been given its file: of each that an email names for its reader, when and by which. */
export function handOutFiles(
  app: Pick<App, "db" | "key">,
  { id, prospectId, body }: { id: number; prospectId: number; body: string },
  at: number,
): void {
  for (const [, token] of body.matchAll(LINK)) {
    const ref = readFileLink(app, token ?? "");
    if (!ref || ref.isLook || ref.prospectId !== prospectId) continue;
    giveFile(app.db, ref, { givenAt: at, touchId: id, pageEndsAt: null });
  }
}

export function giveFile(
  db: Db,
  { fileId, prospectId }: Pick<FileRef, "fileId" | "prospectId">,
  given: { givenAt: number; touchId: number | null; pageEndsAt: number | null },
): void {
  sql(
    db,
    `INSERT INTO file_looks (file_id, prospect_id, given_at, touch_id, page_ends_at)
     SELECT id, @prospectId, @givenAt, @touchId, @pageEndsAt FROM files WHERE id = @fileId
     ON CONFLICT DO UPDATE SET given_at = iif(excluded.touch_id IS NULL, coalesce(given_at, excluded.given_at), excluded.given_at),
       touch_id = coalesce(excluded.touch_id, touch_id),
       page_ends_at = iif(coalesce(excluded.touch_id, touch_id) IS NULL, excluded.page_ends_at, NULL)`,
  ).run({ fileId, prospectId, ...given });
}
