/** Sends a film in parts, and goes on where a connection broke off; takes its poster and first seconds out of it, in the browser. */
import { FRAME, FRAME_MS, FRAMES } from "../../core/pages/moving-picture";
import type { Outcome } from "../../server/errors";
import type { Film } from "../../server/pages/films";
import { askServer } from "../components/ask-server";

const PART = 4 * 1024 * 1024;
/** ms between two tries; after the last it is given up, and what has come stays. */
const TRIES = [0, 1_000, 3_000, 8_000, 20_000];
const POSTER_WIDTH = 1_280;

const failed = (words: string): Outcome<never> => ({ ok: false, errors: { file: words } });
const fields = (values: Record<string, string | number | Blob | null | undefined>): FormData => {
  const form = new FormData();
  for (const [name, value] of Object.entries(values))
    if (value != null) form.set(name, value instanceof Blob ? value : String(value));
  return form;
};

export interface Sending {
  name: string;
  /** For one person. */
  prospectId?: number | null;
  signal?: AbortSignal;
  /** From 0 to 1. */
  onProgress: (part: number) => void;
}

export async function sendFilm(
  film: Blob,
  { name, prospectId = null, signal, onProgress }: Sending,
): Promise<Outcome<Film>> {
  const seen = await picturesOf(film).catch(() => null);
  if (!seen) return failed("No browser plays this file. Save it as MP4 or WebM.");
  const begun = await askServer<{ id: number; have: number }>(
    "/films",
    fields({ intent: "begin", name, bytes: film.size, prospectId }),
  );
  if (!begun.ok) return begun;
  const { id } = begun.value;
  let { have } = begun.value;
  for (let tries = 0; have < film.size; ) {
    onProgress(have / film.size);
    // As bytes, whatever kind of film they are a part of.
    const bytes = film.slice(have, have + PART, "application/octet-stream");
    const part = await askServer<{ have: number }>(`/films/${id}/part?at=${have}`, bytes, signal);
    if (signal?.aborted) return failed("Stopped. Choose the same file again: it goes on where it was.");
    if (part.ok) {
      tries = part.value.have > have ? 0 : tries + 1;
      have = part.value.have;
    } else if (part.errors.file) return part;
    else tries++;
    const pause = TRIES[tries];
    if (pause === undefined)
      return failed("The connection broke off. Choose the same file again: it goes on where it was.");
    if (pause > 0) await new Promise((resolve) => setTimeout(resolve, pause));
  }
  onProgress(1);
  return askServer<Film>(
    "/films",
    fields({ intent: "finish", id, durationMs: seen.durationMs, poster: seen.poster, frames: seen.frames }),
  );
}

export interface FilmPictures {
  durationMs: number;
  poster: Blob | null;
  frames: Blob | null;
}

/** What a film looks like from a moment on. Throws where the browser cannot play it. */
export async function picturesOf(film: Blob | string, fromMs = 0): Promise<FilmPictures> {
  const url = typeof film === "string" ? film : URL.createObjectURL(film);
  const video = document.createElement("video");
  video.muted = true;
  video.preload = "auto";
  try {
    video.src = url;
    await happened(video, "loadedmetadata");
    // What a browser has just recorded does not say how long it is, until it is asked for its end.
    if (!Number.isFinite(video.duration)) await goTo(video, 1e7);
    const duration = Number.isFinite(video.duration) ? video.duration : video.currentTime;
    const strip = canvasOf(FRAME.width * FRAMES, FRAME.height);
    const from = fromMs / 1000;
    for (let nth = 0; nth < FRAMES; nth++) {
      await goTo(video, Math.min(from + (nth * FRAME_MS) / 1000, Math.max(0, duration - 0.05)));
      cover(strip.pen, video, nth * FRAME.width, FRAME);
    }
    await goTo(video, Math.min(from + 0.4, duration / 2));
    const width = Math.min(POSTER_WIDTH, video.videoWidth);
    const size = { width, height: Math.round((width * video.videoHeight) / Math.max(1, video.videoWidth)) };
    const poster = canvasOf(size.width, size.height);
    cover(poster.pen, video, 0, size);
    return {
      durationMs: Math.round(duration * 1000),
      poster: await jpegOf(poster.canvas),
      frames: await jpegOf(strip.canvas),
    };
  } finally {
    video.removeAttribute("src");
    video.load();
    if (typeof film !== "string") URL.revokeObjectURL(url);
  }
}

const PATIENCE = 15_000;

function happened(video: HTMLVideoElement, event: "loadedmetadata" | "seeked"): Promise<void> {
  return new Promise((resolve, reject) => {
    const fail = () => reject(new Error("It does not play."));
    const late = setTimeout(fail, PATIENCE);
    const end = (then: () => void) => () => {
      clearTimeout(late);
      then();
    };
    video.addEventListener(event, end(resolve), { once: true });
    video.addEventListener("error", end(fail), { once: true });
  });
}

async function goTo(video: HTMLVideoElement, seconds: number): Promise<void> {
  const done = happened(video, "seeked");
  video.currentTime = seconds;
  await done;
}

function canvasOf(width: number, height: number) {
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, width);
  canvas.height = Math.max(1, height);
  return { canvas, pen: canvas.getContext("2d") as CanvasRenderingContext2D };
}

/** Draws the middle of the film, as much as fits the shape. */
export function cover(
  pen: CanvasRenderingContext2D,
  video: HTMLVideoElement,
  left: number,
  to: { width: number; height: number },
): void {
  const { videoWidth: w, videoHeight: h } = video;
  const scale = Math.max(to.width / w, to.height / h);
  const [part, tall] = [to.width / scale, to.height / scale];
  pen.drawImage(video, (w - part) / 2, (h - tall) / 2, part, tall, left, 0, to.width, to.height);
}

const jpegOf = (canvas: HTMLCanvasElement): Promise<Blob | null> =>
  new Promise((resolve) => canvas.toBlob(resolve, "image/jpeg", 0.82));
