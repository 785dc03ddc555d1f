/** Pictures and attachments, kept in the database with everything else. */
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";

const MB = 1024 * 1024;
/** Pictures are sent with every email; a large one makes a letter that mail servers turn away. */
export const MOST_PICTURE = 2 * MB;
/** Many servers take no message above 10 MB, and Base64 adds a third (RFC 2045 6.8). */
export const MOST_ATTACHMENT = 7 * MB;

export interface KeptFile {
  id: number;
  name: string;
  type: string;
  bytes: Buffer;
}

/** The type of a picture by its first bytes; null for what no mail program shows. */
function pictureType(bytes: Buffer): string | null {
  const starts = (...signs: number[]) => signs.every((sign, at) => bytes[at] === sign);
  if (starts(0x89, 0x50, 0x4e, 0x47)) return "image/png";
  if (starts(0xff, 0xd8, 0xff)) return "image/jpeg";
  if (starts(0x47, 0x49, 0x46, 0x38)) return "image/gif";
  return null;
}

/** Keeps a file. Returns its number. A picture is known by its bytes, whatever its name says. */
export function keepFile(
  { db, clock }: App,
  userId: number,
  { name, bytes, as }: { name: string; bytes: Buffer; as: "picture" | "attachment" },
): Outcome<number> {
  const picture = pictureType(bytes);
  const most = as === "picture" ? MOST_PICTURE : MOST_ATTACHMENT;
  if (bytes.length === 0) return refused({ file: "Choose a file that is not empty." });
  if (bytes.length > most)
    return refused({
      file: `This file has ${(bytes.length / MB).toFixed(1)} MB; ${as === "picture" ? "a picture" : "an attachment"} may have ${most / MB}. Make it smaller, or link to it.`,
    });
  if (as === "picture" && picture === null)
    return refused({ file: "Mail programs show PNG, JPEG and GIF. Choose one of these." });
  // biome-ignore lint/suspicious/noControlCharactersInRegex: what would break a header is left out
  const plain = name.replace(/[\u0000-\u001f"\\/]/g, "").slice(-120) || "file";
  return done(
    Number(
      sql<Record<string, unknown>>(
        db,
        "INSERT INTO files (name, type, bytes, user_id, at) VALUES (@name, @type, @bytes, @userId, @now)",
      ).run({ name: plain, type: picture ?? "application/octet-stream", bytes, userId, now: clock.now() })
        .lastInsertRowid,
    ),
  );
}

export function fileById(db: Db, id: number): KeptFile | undefined {
  return sql<{ id: number }, KeptFile>(db, "SELECT id, name, type, bytes FROM files WHERE id = @id").get({
    id,
  });
}
