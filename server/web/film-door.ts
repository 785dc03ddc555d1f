/** Films as their makers send and see them: parts as they come over the wire, which no page's form could carry. For who is signed in. */
import { type Request, type Response, Router } from "express";
import { userOfSession } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { addPart, filmById } from "../pages/films.ts";
import { sendFilm, sendPoster } from "./page-door.ts";
import { readToken } from "./session-cookie.ts";

export function filmDoor(app: App): Router {
  const door = Router();
  const userOf = async (request: Request, response: Response) => {
    const token = await readToken(request.headers.cookie ?? null);
    const user = token === null ? null : userOfSession(app, token);
    if (!user) response.status(401).json({ ok: false, errors: { form: "Sign in first." } });
    return user;
  };
  door.post("/:id/part", async (request, response) => {
    const user = await userOf(request, response);
    if (user)
      response.json(
        await addPart(app, user.id, Number(request.params.id), Number(request.query.at), request),
      );
  });
  for (const [path, send] of [
    ["/:id/file", sendFilm],
    ["/:id/poster.jpg", sendPoster],
  ] as const)
    door.get(path, async (request, response) => {
      if (!(await userOf(request, response))) return;
      const film = filmById(app.db, Number(request.params.id));
      if (film && film.type !== "") send(app, film, response);
      else response.status(404).type("text").send("This film is no longer here.");
    });
  return door;
}
