/** The door at which web forms knock: no session, a limit for each caller, an answer a person can read. */
import express, { Router } from "express";
import { rateLimit } from "express-rate-limit";
import type { App } from "../app.ts";
import { takeEntry } from "../prospects/forms/forms.ts";

/** A person fills in a form once or twice; a program does so all day. */
const MOST_A_MINUTE = 6;

const page = (title: string, text: string) =>
  `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${title}</title><body style="font:17px/1.5 Georgia,serif;max-width:32em;margin:15vh auto;padding:0 1em">
<h1 style="font-weight:500">${title}</h1><p>${text}</p>`;

export function formDoor(app: App): Router {
  const door = Router();
  door.use(
    rateLimit({
      windowMs: 60_000,
      limit: MOST_A_MINUTE,
      standardHeaders: true,
      legacyHeaders: false,
      handler: (_request, response) =>
        void response.status(429).send(page("Too many at once", "Wait a minute, then send the form again.")),
    }),
  );
  door.post(
    "/:token",
    express.urlencoded({ extended: false, limit: "20kb" }),
    express.json({ limit: "20kb" }),
    (request, response) => {
      const outcome = takeEntry(app, String(request.params.token), request.body ?? {});
      const problem = outcome.ok ? null : (Object.values(outcome.errors)[0] ?? "");
      const status = outcome.ok ? 200 : 400;
      if (request.is("json"))
        response.status(status).json(outcome.ok ? { ok: true } : { ok: false, problem });
      else
        response
          .status(status)
          .send(
            outcome.ok
              ? page("Thank you", "We will write to you soon.")
              : page("Something is missing", problem ?? ""),
          );
    },
  );
  return door;
}
