/** What the worker thread does: says what a film's file is, by what is in it. */
import { parseFile } from "music-metadata";

export type FilmFacts =
  | { ok: true; type: "video/mp4" | "video/webm" /** 0 where it does not say. */; durationMs: number }
  | { ok: false; problem: string };

const NONE = "It is no film that browsers play. Save it as MP4 or WebM.";

export default async function read(path: string): Promise<FilmFacts> {
  if (path === "") return { ok: false, problem: NONE };
  try {
    const { format } = await parseFile(path, { skipCovers: true, skipPostHeaders: true });
    const container = format.container ?? "";
    const type = /webm|matroska/i.test(container)
      ? "video/webm"
      : /^(mp4|iso|m4v|avc|dash)/i.test(container)
        ? "video/mp4"
        : null;
    if (type === null || format.hasVideo === false) return { ok: false, problem: NONE };
    return {
      ok: true,
      type,
      durationMs: Number.isFinite(format.duration) ? (format.duration ?? 0) * 1000 : 0,
    };
  } catch {
    return { ok: false, problem: NONE };
  }
}
