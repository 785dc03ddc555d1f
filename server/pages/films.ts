/**
 * Films: they come in parts, so that a connection that breaks loses little, lie as files beside the database, and are judged by
 * what is in them. Trimming changes no byte: a film is played from where it begins to where it ends.
 */
import { createWriteStream, existsSync, rmSync, statSync, truncateSync } from "node:fs";
import type { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { fileTypeFromBuffer } from "file-type";
import sharp, { type Sharp } from "sharp";
import { z } from "zod";
import { PUBLIC_LANGUAGES } from "../../core/languages.ts";
import { readCaptions } from "../../core/pages/captions.ts";
import { FRAME, FRAMES } from "../../core/pages/moving-picture.ts";
import { plainLine } from "../../core/plain-line.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { redrawPictures } from "../db/pages.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import "../mail/picture-readers.ts";
import { makeMediaFolder, mediaPath, newMediaName } from "../mail/media.ts";
import { GuardedThread } from "../threads.ts";
import type { FilmFacts } from "./film-worker.ts";

const MB = 1024 * 1024;
export const MOST_OF_A_FILM = 200 * MB;
/** Of all films of a team. */
const MOST_OF_A_TEAM = 20_000 * MB;
/** A film of an hour is no greeting. */
const LONGEST_MS = 3_600_000;
/** Shorter is a press by mistake. */
const SHORTEST_MS = 1_000;
const MOST_PICTURE = 3 * MB;
const POSTER_WIDTH = 1_280;

export interface Film {
  id: number;
  name: string;
  file: string;
  type: "" | "video/mp4" | "video/webm";
  bytes: number;
  durationMs: number;
  startsMs: number;
  endsMs: number;
  /** As it was typed. */
  captions: string;
  captionsLanguage: string;
  userId: number | null;
  prospectId: number | null;
  madeAt: number;
}

const COLUMNS = `id, name, file, type, bytes, duration_ms AS durationMs, starts_ms AS startsMs, ends_ms AS endsMs, captions,
  captions_language AS captionsLanguage, user_id AS userId, prospect_id AS prospectId, made_at AS madeAt`;

export const filmById = (db: Db, id: number): Film | undefined =>
  sql(db, `SELECT ${COLUMNS} FROM films WHERE id = @id`).get<Film>({ id });

/** Those that are whole and made for everybody, the newest first. */
export const filmsForAll = (db: Db): Film[] =>
  sql(db, `SELECT ${COLUMNS} FROM films WHERE prospect_id IS NULL AND type != '' ORDER BY id DESC`).all<Film>(
    [],
  );

/** The newest that was made for one person. */
export const filmOfPerson = (db: Db, prospectId: number): Film | undefined =>
  sql(
    db,
    `SELECT ${COLUMNS} FROM films WHERE prospect_id = @prospectId AND prospect_id IS NOT NULL AND type != '' ORDER BY id DESC LIMIT 1`,
  ).get<Film>({ prospectId });

export const posterOf = (db: Db, id: number): Buffer | null =>
  sql(db, "SELECT poster FROM films WHERE id = @id").get<{ poster: Buffer | null }>({ id })?.poster ?? null;

const beginForm = z.object({
  name: z.string().trim().min(1, "Give the film a name.").max(200),
  bytes: z.coerce.number().int().min(1, "This file is empty. Choose another."),
  prospectId: z.coerce.number().int().nullish(),
});

export interface Coming {
  id: number;
  /** Bytes that have arrived: it goes on behind them. */
  have: number;
}

/** Makes room for a film. The same file of the same user, of which a part has come before, goes on where it broke off. */
export function beginFilm(app: App, by: By, input: unknown): Outcome<Coming> {
  const read = beginForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { bytes, prospectId = null } = read.data;
  const no =
    mayNot(app, by, "film.add") ??
    (prospectId === null ? null : mayNot(app, by, "prospect.change", prospectId));
  if (no) return no;
  if (bytes > MOST_OF_A_FILM)
    return refused({
      file: `This film has ${Math.ceil(bytes / MB)} MB; ${MOST_OF_A_FILM / MB} MB are the most. Save it smaller, or cut it.`,
    });
  const { db, clock } = app;
  makeMediaFolder(app);
  const name = plainLine(read.data.name, 120);
  return transact(app, (): Outcome<Coming> => {
    const begun = sql(
      db,
      `SELECT id, file FROM films WHERE type = '' AND name = @name AND bytes = @bytes AND user_id IS @by AND prospect_id IS @prospectId
       ORDER BY id DESC LIMIT 1`,
    ).get<{ id: number; file: string }>({ name, bytes, by, prospectId });
    if (begun) return done({ id: begun.id, have: sizeOf(app, begun.file) });
    const taken =
      sql(db, "SELECT coalesce(sum(bytes), 0) AS bytes FROM films").get<{ bytes: number }>([])?.bytes ?? 0;
    if (taken + bytes > MOST_OF_A_TEAM)
      return refused({
        file: `The team's films have ${Math.round(taken / MB / 1000)} GB, which is nearly the most. Remove some first.`,
      });
    const { lastInsertRowid } = sql(
      db,
      `INSERT INTO films (name, file, bytes, user_id, prospect_id, made_at) VALUES (@name, @file, @bytes, @by, @prospectId, @now)`,
    ).run({ name, bytes, by, prospectId, file: newMediaName("film"), now: clock.now() });
    return done({ id: Number(lastInsertRowid), have: 0 });
  });
}

const sizeOf = (app: App, file: string): number => {
  const path = mediaPath(app, file);
  return existsSync(path) ? statSync(path).size : 0;
};

/** Films of which a part is being written: two tabs do not write into each other. */
const writing = new Set<number>();

/**
 * Writes the part that begins at byte `at`. One that is cut off counts as far as it came; one that does not begin where the film
 * ends so far is not written, and the answer says where it goes on.
 */
export async function addPart(
  app: App,
  by: By,
  id: number,
  at: number,
  part: Readable,
): Promise<Outcome<Coming>> {
  const no = mayNot(app, by, "film.change", id);
  const film = no ? undefined : filmById(app.db, id);
  if (no || !film || film.type !== "") {
    part.resume();
    return no ?? refused({ file: "This film is not being uploaded any more. Choose it again." });
  }
  const have = sizeOf(app, film.file);
  if (at !== have || writing.has(id)) {
    part.resume();
    return done({ id, have });
  }
  const path = mediaPath(app, film.file);
  writing.add(id);
  try {
    await pipeline(part, createWriteStream(path, { flags: "a", mode: 0o600 }));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOSPC") {
      truncateSync(path, have);
      return refused({
        file: "The disk of this installation is full. Make room, then go on with the same file.",
      });
    }
    // The connection broke: what came stays.
  } finally {
    writing.delete(id);
  }
  if (sizeOf(app, film.file) > film.bytes) {
    rmSync(path, { force: true });
    return refused({ file: "More came than the file has. Choose it again." });
  }
  return done({ id, have: sizeOf(app, film.file) });
}

const thread = new GuardedThread<string, FilmFacts>("server/pages/film-worker.ts", {
  ...{ memoryMb: 256, stays: false, patience: 20_000 },
  warmUp: "",
});

/** Ends the thread that reads films; the next film starts another. */
export const stopReadingFilms = (): Promise<void> => thread.stop();

const finishForm = z.object({
  /** As the browser that plays it says: what a browser records does not say itself how long it is. */
  durationMs: z.coerce
    .number()
    .min(0)
    .max(LONGEST_MS * 4)
    .default(0),
});

/** Takes a film that has come whole, with its poster and its first seconds as pictures, which the browser took out of it. */
export async function finishFilm(
  app: App,
  by: By,
  id: number,
  input: unknown,
  pictures: { poster: Buffer | null; frames: Buffer | null },
): Promise<Outcome<Film>> {
  const no = mayNot(app, by, "film.change", id);
  if (no) return no;
  const { db } = app;
  const film = filmById(db, id);
  const read = finishForm.safeParse(input);
  if (!film || !read.success) return refused({ file: "This film is no longer here. Choose it again." });
  if (film.type !== "") return done(film);
  const have = sizeOf(app, film.file);
  if (have < film.bytes)
    return refused({
      file: `${Math.ceil((film.bytes - have) / 1024)} kB have not arrived. Choose the same file again: it goes on.`,
    });
  const facts = await thread.ask(mediaPath(app, film.file)).catch(
    (): FilmFacts => ({
      ok: false,
      problem: "It could not be read in time. Save it again as MP4 or WebM.",
    }),
  );
  const durationMs = facts.ok ? Math.round(facts.durationMs || read.data.durationMs) : 0;
  const problem = facts.ok
    ? durationMs < SHORTEST_MS
      ? "It is shorter than a second."
      : durationMs > LONGEST_MS
        ? "It is longer than an hour. Cut it."
        : null
    : facts.problem;
  if (!facts.ok || problem !== null) {
    // Nothing is kept of what nobody can play.
    dropFilm(app, film);
    return refused({ file: `“${film.name}” is not taken. ${problem}` });
  }
  const poster = await pictureOr(pictures.poster, (picture) =>
    picture.resize({ width: POSTER_WIDTH, withoutEnlargement: true }),
  );
  const frames = await pictureOr(pictures.frames, (picture) =>
    picture.resize({ width: FRAME.width * FRAMES, height: FRAME.height, fit: "fill" }),
  );
  sql(
    db,
    `UPDATE films SET type = @type, duration_ms = @durationMs, ends_ms = @durationMs, poster = @poster, frames = @frames WHERE id = @id`,
  ).run({ id, type: facts.type, durationMs, poster, frames });
  redrawPictures(db, film.prospectId === null ? { filmId: id } : { prospectId: film.prospectId });
  return done(filmById(db, id) as Film);
}

/** A picture that a browser sent, made anew; null where it is none. */
async function pictureOr(bytes: Buffer | null, shape: (picture: Sharp) => Sharp): Promise<Buffer | null> {
  if (!bytes || bytes.length > MOST_PICTURE) return null;
  const kind = (await fileTypeFromBuffer(bytes).catch(() => undefined))?.ext ?? "";
  if (!["jpg", "png", "webp"].includes(kind)) return null;
  try {
    const read = sharp(bytes, { limitInputPixels: 12_000_000, failOn: "error" }).timeout({ seconds: 5 });
    return await shape(read)
      .flatten({ background: "#000000" })
      .jpeg({ quality: 78, mozjpeg: true })
      .toBuffer();
  } catch {
    return null;
  }
}

const changeForm = z.object({
  name: z.string().trim().min(1, "Give the film a name.").max(120),
  startsMs: z.coerce.number().int().min(0),
  endsMs: z.coerce.number().int().min(0),
  captions: z.string().max(50_000, "At most 50,000 characters.").default(""),
  captionsLanguage: z.enum(PUBLIC_LANGUAGES).default("en"),
});

/** Trims a film at its ends, and writes what is said in it. */
export async function changeFilm(
  app: App,
  by: By,
  id: number,
  input: unknown,
  pictures: { poster: Buffer | null; frames: Buffer | null } = { poster: null, frames: null },
): Promise<Outcome<null>> {
  const no = mayNot(app, by, "film.change", id);
  if (no) return no;
  const read = changeForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { db } = app;
  const film = filmById(db, id);
  if (!film || film.type === "") return refused({ form: "This film is no longer here. Reload the page." });
  const { startsMs, captions } = read.data;
  const endsMs = Math.min(read.data.endsMs, film.durationMs);
  if (endsMs - startsMs < SHORTEST_MS)
    return refused({ endsMs: "Nothing of it would be left. Let it end later." });
  const said = readCaptions(captions);
  if ("problem" in said) return refused({ captions: said.problem });
  const poster = await pictureOr(pictures.poster, (picture) =>
    picture.resize({ width: POSTER_WIDTH, withoutEnlargement: true }),
  );
  const frames = await pictureOr(pictures.frames, (picture) =>
    picture.resize({ width: FRAME.width * FRAMES, height: FRAME.height, fit: "fill" }),
  );
  sql(
    db,
    `UPDATE films SET name = @name, starts_ms = @startsMs, ends_ms = @endsMs, captions = @captions, captions_language = @captionsLanguage,
       poster = coalesce(@poster, poster), frames = coalesce(@frames, frames) WHERE id = @id`,
  ).run({ ...read.data, id, endsMs, poster, frames });
  if (frames) redrawPictures(db, film.prospectId === null ? { filmId: id } : { prospectId: film.prospectId });
  return done(null);
}

/** Removes a film; a page that shows it goes on without one. */
export function removeFilm(app: App, by: By, id: number): Outcome<null> {
  const no = mayNot(app, by, "film.change", id);
  if (no) return no;
  const film = filmById(app.db, id);
  if (film) dropFilm(app, film);
  return done(null);
}

function dropFilm(app: App, { id, file, prospectId }: Film): void {
  redrawPictures(app.db, prospectId === null ? { filmId: id } : { prospectId });
  sql(app.db, "DELETE FROM films WHERE id = @id").run({ id });
  rmSync(mediaPath(app, file), { force: true });
}
