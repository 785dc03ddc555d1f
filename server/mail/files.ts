/** Pictures and attachments, kept in the database with everything else. */
import { DAY } from "../../core/calendar.ts";
import { plainFileName } from "../../core/plain-line.ts";
import { everyStep, isEmail, type Path } from "../../core/sequence/path.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { readAttachment, readPicture } from "./file-content.ts";

const MB = 1024 * 1024;
/** Many servers take no message above 10 MB, and Base64 adds a third (RFC 2045 6.8). */
export const MOST_ATTACHMENT = 7 * MB;
/** Of all files of a team: they are in every copy of the database. */
const MOST_OF_A_TEAM = 500 * MB;

export interface KeptFile {
  id: number;
  name: string;
  type: string;
  bytes: Buffer;
}

export interface Kept {
  id: number;
  /** As it is called from now on. */
  name: string;
  /** What whoever sends it should know of it, or null. */
  note: string | null;
}

/** Keeps a file, judged by its content (file-content.ts). */
export async function keepFile(
  app: App,
  by: By,
  { name, bytes, as }: { name: string; bytes: Buffer; as: "picture" | "attachment" },
  mostOfATeam = MOST_OF_A_TEAM,
): Promise<Outcome<Kept>> {
  const { db, clock } = app;
  const no = mayNot(app, by, "file.add");
  if (no) return no;
  if (bytes.length === 0) return refused({ file: "Choose a file that is not empty." });
  if (as === "attachment" && bytes.length > MOST_ATTACHMENT)
    return refused({
      file: `This file has ${(bytes.length / MB).toFixed(1)} MB; an attachment may have ${MOST_ATTACHMENT / MB}. Make it smaller, or link to it.`,
    });
  const plain = plainFileName(name);
  const read = await (as === "picture" ? readPicture(bytes) : readAttachment(plain, bytes));
  if (!read.ok) return read;
  const { ending, note, ...content } = read.value;
  const called = ending === null ? plain : plain.replace(/\.[^.]*$/, `.${ending}`);
  return transact(app, (): Outcome<Kept> => {
    const taken = sql(db, "SELECT coalesce(sum(length(bytes)), 0) AS bytes FROM files").get<{
      bytes: number;
    }>([]) ?? { bytes: 0 };
    if (taken.bytes + content.bytes.length > mostOfATeam)
      return refused({
        file: `The team's pictures and attachments have ${Math.round(mostOfATeam / MB)} MB, which is the most. Take some out of sequences: what none uses goes by itself after ${UNUSED_FOR / DAY} days. Or link to this one.`,
      });
    const { lastInsertRowid } = sql(
      db,
      "INSERT INTO files (name, type, bytes, user_id, at) VALUES (@name, @type, @bytes, @by, @now)",
    ).run({ name: called, ...content, by, now: clock.now() });
    return done({ id: Number(lastInsertRowid), name: called, note });
  });
}

export function fileById(db: Db, id: number): KeptFile | undefined {
  return sql(db, "SELECT id, name, type, bytes FROM files WHERE id = @id").get<KeptFile>({
    id,
  });
}

/** What the attachments of a path are called, by their numbers. */
export function attachmentNames(db: Db, path: Path): Record<number, string> {
  const ids = everyStep(path).flatMap((step) => (isEmail(step) ? step.attachments : []));
  return Object.fromEntries(
    sql(db, "SELECT id, name FROM files WHERE id IN (SELECT value FROM json_each(@ids))")
      .all<{ id: number; name: string }>({ ids: JSON.stringify(ids) })
      .map(({ id, name }) => [id, name]),
  );
}

/** So long a file may wait in an editor that nobody has saved yet. */
const UNUSED_FOR = 14 * DAY;

/** Where files are named: pictures in texts, attachments and what pages show by their number, and what somebody has the link of. */
const TEXTS = [
  "SELECT path AS text FROM sequence_versions",
  "SELECT path AS text FROM shelf",
  "SELECT body AS text FROM own_texts",
  "SELECT body AS text FROM pieces",
  "SELECT text FROM answer_drafts",
  "SELECT coalesce(markup, body) AS text FROM touches WHERE instr(coalesce(markup, body), '(file:') > 0",
  `SELECT '"attachments":' || attachments AS text FROM touches WHERE attachments != '[]'`,
  "SELECT DISTINCT '(file:' || file_id || ')' AS text FROM file_looks",
  "SELECT definition AS text FROM page_templates",
];

/** Deletes what no sequence, text or email names any more; how many. */
export function sweepFiles({ db, clock }: App): number {
  const old = sql(db, "SELECT id FROM files WHERE at < @before").all<{ id: number }>({
    before: clock.now() - UNUSED_FOR,
  });
  if (old.length === 0) return 0;
  const used = new Set<number>();
  for (const query of TEXTS)
    for (const { text } of sql(db, query).iterate<{ text: string }>([])) {
      for (const [, id] of text.matchAll(/\(file:(\d+)\)/g)) used.add(Number(id));
      for (const [, id] of text.matchAll(/"fileId":\s*(\d+)/g)) used.add(Number(id));
      for (const [, ids] of text.matchAll(/"(?:attachments|files)":\s*\[([\d,\s]+)\]/g))
        for (const id of (ids ?? "").split(",")) used.add(Number(id));
    }
  const drop = sql(db, "DELETE FROM files WHERE id = @id");
  const unused = old.filter(({ id }) => !used.has(id));
  for (const { id } of unused) drop.run({ id });
  return unused.length;
}
