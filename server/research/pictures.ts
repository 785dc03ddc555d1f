/** Pictures of strangers, made anew before anybody sees them: what is shown is ours, whatever was fetched. */
import { createHash } from "node:crypto";
import { fileTypeFromBuffer } from "file-type";
import sharp from "sharp";
import { type Db, sql } from "../db/open.ts";
import "../mail/picture-readers.ts";

const MB = 1024 * 1024;
const MOST_BYTES = 2 * MB;
const MOST_DRAWING = 300 * 1024;
const MOST_PIXELS = 25_000_000;
const DECODED_WITHIN_S = 5;
/** The longer side of each, in points: a logo is shown small, a picture across a page. */
const SIDES = { logo: 256, picture: 1_200 };
/** Less is a speck that nobody knows for a logo. */
const LEAST_SIDE = 24;

export interface Picture {
  bytes: Buffer;
  type: "image/png" | "image/jpeg";
}

/** What was fetched as a picture of ours; the words say why not. */
export async function redrawn(bytes: Buffer, as: keyof typeof SIDES): Promise<Picture | { problem: string }> {
  if (bytes.length > MOST_BYTES) return { problem: `The picture has more than ${MOST_BYTES / MB} MB.` };
  const format = (await fileTypeFromBuffer(bytes).catch(() => undefined))?.ext;
  const begins = bytes.subarray(0, 2_000).toString("utf8").trimStart();
  const isDrawing = begins.startsWith("<") && /<svg[\s>]/i.test(begins);
  if (!isDrawing && !["png", "jpg", "gif", "webp"].includes(format ?? ""))
    return { problem: "It is no picture that can be read." };
  // Entities unfold to far more than a drawing is long; logos have none.
  if (isDrawing && (bytes.length > MOST_DRAWING || bytes.includes("<!ENTITY")))
    return { problem: "The drawing is too large." };
  try {
    const read = () =>
      sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: "error", pages: 1 }).timeout({
        seconds: DECODED_WITHIN_S,
      });
    const { width = 0, height = 0 } = await read().metadata();
    if (width * height > MOST_PIXELS)
      return { problem: `The picture has ${Math.round((width * height) / 1e6)} million points.` };
    if (Math.max(width, height) < LEAST_SIDE && !isDrawing)
      return { problem: "The picture is too small to be shown." };
    const side = SIDES[as];
    const resized = read().resize({
      width: side,
      height: side,
      fit: "inside",
      withoutEnlargement: !isDrawing,
    });
    return as === "logo"
      ? { bytes: await resized.png({ compressionLevel: 9 }).toBuffer(), type: "image/png" }
      : {
          bytes: await resized
            .flatten({ background: "#ffffff" })
            .jpeg({ quality: 80, mozjpeg: true })
            .toBuffer(),
          type: "image/jpeg",
        };
  } catch {
    return { problem: "The picture is damaged, or more than is shown." };
  }
}

/** Keeps a picture under a name that says what it holds; returns its path on our pages. */
export function keepPicture(db: Db, { bytes, type }: Picture, now: number): string {
  const name = `${createHash("sha256").update(bytes).digest("hex").slice(0, 40)}.${type === "image/png" ? "png" : "jpg"}`;
  sql(
    db,
    "INSERT INTO pictures (name, type, bytes, at) VALUES (@name, @type, @bytes, @now) ON CONFLICT DO NOTHING",
  ).run({ name, type, bytes, now });
  return `/pictures/${name}`;
}

export function pictureByName(db: Db, name: string): { type: string; bytes: Buffer } | undefined {
  return sql(db, "SELECT type, bytes FROM pictures WHERE name = @name").get<{ type: string; bytes: Buffer }>({
    name,
  });
}
