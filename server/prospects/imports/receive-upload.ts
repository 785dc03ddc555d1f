/** Takes a file from a form onto the disk as it arrives; memory holds a piece of it at a time. */
import { randomUUID } from "node:crypto";
import { createWriteStream, rmSync } from "node:fs";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import type { ReadableStream } from "node:stream/web";
import busboy from "busboy";
import { MOST_BYTES } from "../../../core/prospects/table.ts";
import type { App } from "../../app.ts";
import { type Outcome, refused } from "../../errors.ts";
import { arrivalPath } from "./import-file.ts";
import { TOO_LARGE, uploadImport } from "./upload-import.ts";

const EMPTY = "Choose a file that is not empty.";

/** The file of a multipart form (RFC 7578) becomes an import. Returns its id. */
export async function receiveUpload(app: App, userId: number, request: Request): Promise<Outcome<number>> {
  if (Number(request.headers.get("content-length")) > MOST_BYTES + 100_000)
    return refused({ file: TOO_LARGE });
  const type = request.headers.get("content-type") ?? "";
  if (!request.body || !/^multipart\/form-data/i.test(type)) return refused({ file: EMPTY });
  const path = arrivalPath(app, randomUUID());
  try {
    const name = await receive(request.body as ReadableStream, type, path);
    if (name === null) return refused({ file: EMPTY });
    if (name === "too large") return refused({ file: TOO_LARGE });
    return uploadImport(app, userId, { name: name.file, path });
  } catch {
    return refused({ file: "The file did not arrive whole. Choose it again." });
  } finally {
    rmSync(path, { force: true });
  }
}

async function receive(
  body: ReadableStream,
  type: string,
  path: string,
): Promise<{ file: string } | "too large" | null> {
  const form = busboy({
    headers: { "content-type": type },
    defParamCharset: "utf8",
    limits: { files: 1, fileSize: MOST_BYTES, fields: 10, fieldSize: 1_000 },
  });
  let file: string | null = null;
  let bytes = 0;
  let isCut = false;
  let written: Promise<unknown> = Promise.resolve();
  let closed: Promise<unknown> = Promise.resolve();
  form.on("file", (field, stream, { filename }) => {
    if (field !== "file") {
      // It breaks off with the form, which says so.
      stream.on("error", () => {}).resume();
      return;
    }
    file = filename ?? "file";
    stream
      .on("data", (piece: Buffer) => (bytes += piece.length))
      .on("limit", () => {
        isCut = true;
      });
    const onDisk = createWriteStream(path, { mode: 0o600 });
    // What breaks off before the file was opened is over before there is one; it is there, and closed, a moment later.
    closed = new Promise<void>((resolve) => onDisk.once("close", () => resolve()));
    // A file that breaks off fails here and with the form; whoever waits for the form hears of it first.
    written = pipeline(stream, onDisk);
    written.catch(() => {});
  });
  try {
    await pipeline(Readable.fromWeb(body), form);
  } finally {
    // Closed before it is deleted, whatever came of it.
    await Promise.allSettled([written, closed]);
  }
  await written;
  if (isCut) return "too large";
  return file === null || bytes === 0 ? null : { file };
}
