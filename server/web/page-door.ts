/** What a prospect's page is made of besides its words: the film in ranges (RFC 9110 14), pictures, the way to its files; and what its browser tells of them. */
import { create as contentDisposition } from "content-disposition";
import express, { type Request, type Response, Router } from "express";
import { readCaptions, toWebVtt } from "../../core/pages/captions.ts";
import type { App } from "../app.ts";
import { AppError } from "../errors.ts";
import { fileById, type KeptFile } from "../mail/files.ts";
import { movingPictureOf } from "../mail/page-links.ts";
import type { Asker } from "../pages/email-before.ts";
import { fileOfPage } from "../pages/file-looks.ts";
import { type Film, posterOf } from "../pages/films.ts";
import { makePicture } from "../pages/make-pictures.ts";
import { filmFor, type Opened, openPage, showsFile } from "../pages/personal-page.ts";
import { noteSeen } from "../pages/visits.ts";

/** Kept by the reader's own browser for a while, so that nobody waits twice. */
const KEPT_FOR = "private, max-age=3600";
export function pageDoor(app: App, askerOf: (request: Request) => Promise<Asker>): Router {
  const door = Router();
  /** What a link opens, as long as it lasts; null, and the answer is given. */
  const opened = (request: Request, response: Response): Opened | null => {
    try {
      const page = openPage(app, String(request.params.token));
      if (page.endsAt === null || page.endsAt > app.clock.now()) return page;
    } catch (error) {
      if (!(error instanceof AppError)) throw error;
    }
    response.status(404).type("text").send("This is no longer here.");
    return null;
  };
  const filmOf = (request: Request, response: Response): Film | null => {
    const page = opened(request, response);
    const film = page && filmFor(app.db, page.template.definition, page.prospect.id);
    if (page && !film) response.status(404).type("text").send("There is no film here.");
    return film;
  };
  door.get("/:token/film", (request, response) => {
    const film = filmOf(request, response);
    if (film) sendFilm(app, film, response);
  });
  door.get("/:token/poster.jpg", (request, response) => {
    const film = filmOf(request, response);
    if (film) sendPoster(app, film, response);
  });
  door.get("/:token/captions.vtt", (request, response) => {
    const film = filmOf(request, response);
    if (!film) return;
    const said = readCaptions(film.captions);
    response
      .set("Cache-Control", KEPT_FOR)
      .type("text/vtt")
      .send(toWebVtt("captions" in said ? said.captions : []));
  });
  door.get("/:token/picture.gif", async (request, response) => {
    // Mail programs that are web pages show it in theirs (Fetch, cross-origin resource policy).
    response.set("Cross-Origin-Resource-Policy", "cross-origin");
    const page = opened(request, response);
    if (!page) return;
    const known = movingPictureOf(app, String(request.params.token))?.file;
    // Whoever writes sees it before it is sent; for all others it is drawn ahead.
    const file =
      known ??
      ((await askerOf(request)).isOwn
        ? (await makePicture(app, page.template.id, page.prospect.id))?.picture
        : null);
    if (file)
      return void response
        .set("Cache-Control", KEPT_FOR)
        .type("gif")
        .sendFile(file, { root: app.config.media });
    // Not drawn yet: what the film begins with says as much.
    const film = filmFor(app.db, page.template.definition, page.prospect.id);
    if (film) return sendPoster(app, film, response);
    response.status(404).type("text").send("This picture is not made yet.");
  });
  door.get("/:token/files/:id", (request, response) => {
    const page = opened(request, response);
    if (!page) return;
    const id = Number(request.params.id);
    const file = showsFile(page.template.definition, id) ? fileById(app.db, id) : undefined;
    if (!file) return void response.status(404).type("text").send("This file is no longer here.");
    // Pictures stand in the page; all else is looked at by itself.
    if (request.query.look === undefined && file.type.startsWith("image/"))
      return sendFile(response, file, "inline");
    const { lang } = request.query;
    response.redirect(
      302,
      `${fileOfPage(app, page, id)}${typeof lang === "string" ? `?lang=${encodeURIComponent(lang)}` : ""}`,
    );
  });
  door.post("/:token/seen", express.json({ limit: "2kb", type: () => true }), async (request, response) => {
    const page = opened(request, response);
    if (!page) return;
    const isTaken = noteSeen(app, page, await askerOf(request), request.body);
    response.status(isTaken ? 204 : 400).end();
  });
  return door;
}

/** As what it is, and never as a page of ours, whatever it says of itself. */
export function sendFile(
  response: Response,
  { name, type, bytes }: Pick<KeptFile, "name" | "type" | "bytes">,
  as: "inline" | "attachment",
): void {
  response
    .set({
      "X-Content-Type-Options": "nosniff",
      "Content-Disposition": contentDisposition(name, { type: as }),
      "Cache-Control": KEPT_FOR,
    })
    .type(as === "inline" ? type : "application/octet-stream")
    .send(bytes);
}

/** The film in ranges, as players ask for it. */
export function sendFilm({ config }: App, film: Film, response: Response): void {
  response.set("Cache-Control", KEPT_FOR).type(film.type);
  response.sendFile(
    film.file,
    { root: config.media, headers: { "X-Content-Type-Options": "nosniff" } },
    (error) => {
      if (!error || response.headersSent) return;
      // RFC 9110 15.5.17: a range that lies behind its end.
      const isBehind = (error as { status?: number }).status === 416;
      response
        .status(isBehind ? 416 : 404)
        .type("text")
        .send(isBehind ? "The film is shorter." : "This film is no longer here.");
    },
  );
}

export function sendPoster({ db }: App, film: Film, response: Response): void {
  const poster = posterOf(db, film.id);
  if (poster) response.set("Cache-Control", KEPT_FOR).type("jpeg").send(poster);
  else response.status(404).end();
}
