/** A file that went as a link: its bytes, for whoever may see it, and what its viewer tells. */
import express, { type Request, type Response, Router } from "express";
import type { App } from "../app.ts";
import { AppError } from "../errors.ts";
import type { Asker } from "../pages/email-before.ts";
import {
  fileBytes,
  isOpenTo,
  isOver,
  noteReading,
  noteSaved,
  type OpenedFile,
  openFile,
} from "../pages/file-looks.ts";
import { sendFile } from "./page-door.ts";
import { readFileKey } from "./session-cookie.ts";

/** Shown by browsers inside a page of ours; all else is only saved. */
const SHOWN = new Set(["application/pdf", "image/png", "image/jpeg", "image/gif"]);

export function lookDoor(app: App, askerOf: (request: Request) => Promise<Asker>): Router {
  const door = Router();
  /** What a link opens, for who may see it; null, and the answer is given. */
  const opened = async (request: Request, response: Response): Promise<OpenedFile | null> => {
    try {
      const file = openFile(app, String(request.params.token));
      const key = await readFileKey(request.headers.cookie ?? null);
      if (!isOver(app, file) && isOpenTo(app, file, key)) return file;
    } catch (error) {
      if (!(error instanceof AppError)) throw error;
    }
    response.status(404).type("text").send("This is no longer here, or it is locked.");
    return null;
  };
  door.get("/:token/file", async (request, response) => {
    const file = await opened(request, response);
    if (!file) return;
    const isSaved = request.query.save !== undefined || !SHOWN.has(file.type);
    if (isSaved) noteSaved(app, file, await askerOf(request));
    sendFile(response, { ...file, bytes: fileBytes(app.db, file.id) }, isSaved ? "attachment" : "inline");
  });
  door.post("/:token/seen", express.json({ limit: "4kb", type: () => true }), async (request, response) => {
    const file = await opened(request, response);
    if (!file) return;
    response.status(noteReading(app, file, await askerOf(request), request.body) ? 204 : 400).end();
  });
  return door;
}
