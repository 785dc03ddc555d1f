/** What the worker thread does: says what a film's file is, by what is in it. */
import { open } from "node:fs/promises";
import { fileTypeFromFile } from "file-type";
import { parseFile } from "music-metadata";

export type FilmFacts =
  | {
      ok: true;
      type: "video/mp4" | "video/webm";
      /** 0 where it does not say. */
      durationMs: number;
    }
  | { ok: false; problem: string };

const NONE: FilmFacts = { ok: false, problem: "It is no film that browsers play. Save it as MP4 or WebM." };
const TYPES = { mp4: "video/mp4", m4v: "video/mp4", webm: "video/webm" } as const;

export default async function read(path: string): Promise<FilmFacts> {
  if (path === "") return NONE;
  const kind = (await fileTypeFromFile(path).catch(() => undefined))?.ext ?? "";
  const type = Object.hasOwn(TYPES, kind) ? TYPES[kind as keyof typeof TYPES] : null;
  if (type === null) return NONE;
  try {
    const { format } = await parseFile(path, { skipCovers: true, skipPostHeaders: true });
    if (format.hasVideo === false) return NONE;
    return {
      ...{ ok: true, type },
      durationMs: Number.isFinite(format.duration) ? (format.duration ?? 0) * 1000 : 0,
    };
  } catch {
    // What browsers record is written as it comes: its pieces do not say how long they are, and the reader stops there.
    return type === "video/webm" && (await namesVideo(path)) ? { ok: true, type, durationMs: 0 } : NONE;
  }
}

/** Tracks are described at the beginning; a video's codec has one of these names (https://www.matroska.org/technical/codec_specs.html). */
const DESCRIBED_WITHIN = 64 * 1024;
const VIDEO = /V_(VP8|VP9|AV1|MPEG4|MPEGH)/;

async function namesVideo(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(DESCRIBED_WITHIN), 0, DESCRIBED_WITHIN, 0);
    return VIDEO.test(buffer.subarray(0, bytesRead).toString("latin1"));
  } finally {
    await file.close();
  }
}
