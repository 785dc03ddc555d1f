/**
 * What stands in front of every page: how much a request may bring, where it may come from, and that it waits its turn
 * to write. All of it without reading a body.
 */
import type { IncomingMessage } from "node:http";
import type { RequestHandler, Response } from "express";
import { userOfSession } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { isBusy } from "../errors.ts";
import { readToken } from "./session-cookie.ts";

const MB = 1024 * 1024;
const MOST = MB;
/** Pages that take files: their own words for a file that is too large come before this. */
const UPLOADS: { path: RegExp; most: number }[] = [
  { path: /^\/prospects\/import(\.data)?$/, most: 51 * MB },
  { path: /^\/block-list(\.data)?$/, most: 11 * MB },
  { path: /^\/files(\.data)?$/, most: 12 * MB },
  { path: /^\/films\/\d+\/part$/, most: 5 * MB },
  { path: /^\/pages\/\d+\/links(\.data)?$/, most: 11 * MB },
  // With a film's poster and its first seconds.
  { path: /^\/films(\.data)?$/, most: 7 * MB },
];

/** In words; to a program as problem details (RFC 9457). */
const tell = (response: Response, status: number, words: string) => {
  if (response.headersSent) return;
  response.status(status).set("Connection", "close");
  if (!FOR_PROGRAMS.test(response.req.originalUrl)) response.type("text").send(words);
  else
    response
      .type("application/problem+json")
      .send(JSON.stringify({ type: "about:blank", title: words, status }));
};
const FOR_PROGRAMS = /^\/(api|hook)\//;

/** Whoever is still sending reads no answer; so what comes is thrown away for a moment before the answer. */
const THROWN_AWAY_FOR = 1_500;
function refuseBody(request: IncomingMessage, response: Response, words: string): void {
  const answer = () => {
    clearTimeout(enough);
    tell(response, 413, words);
    response.once("finish", () => request.socket.destroySoon());
    // Whoever reads the body learns that no more comes.
    if (request.listenerCount("error") > 0)
      request.emit("error", new Error("The body is larger than it may be."));
  };
  const enough = setTimeout(answer, THROWN_AWAY_FOR);
  request.once("end", answer);
  request.resume();
}

/** Counts what a request brings, announced or not, and ends it where it is too much. Files are for who is signed in. */
export function bodyDoor(app: App): RequestHandler {
  return async (request, response, next) => {
    if (request.method === "GET" || request.method === "HEAD") return next();
    const upload = UPLOADS.find(({ path }) => path.test(request.path));
    const token = upload ? await readToken(request.headers.cookie ?? null) : null;
    const mayUpload = upload && token !== null && userOfSession(app, token) !== null;
    const most = mayUpload ? upload.most : MOST;
    const words = `This is more than the ${Math.floor(most / MB)} MB that may be sent here. Nothing was stored.`;
    // A page that takes files says so itself, beside the file, without reading it.
    if (!mayUpload && Number(request.headers["content-length"] ?? 0) > most) {
      refuseBody(request, response, words);
      return;
    }
    count(request, most, () => refuseBody(request, response, words));
    next();
  };
}

/** Calls `tooMuch` once the bytes that arrived are more than `most`, and lets nothing further through. */
function count(request: IncomingMessage, most: number, tooMuch: () => void): void {
  let bytes = 0;
  const push = request.push.bind(request);
  // Node's parser hands over what arrives by `push`; a listener for "data" would start the flow before anybody reads.
  request.push = (chunk: Buffer | null, ...rest) => {
    bytes += chunk?.length ?? 0;
    if (bytes <= most) return push(chunk, ...rest);
    request.push = () => true;
    tooMuch();
    return true;
  };
}

/** Doors for programs and other people's sites, which no cookie opens. */
const OPEN_TO_ALL = /^\/(f|t|opt-out|hook)\//;

/** Refuses what another site's page makes a browser send here (a forged request carries its origin, RFC 6454 7). */
export function originDoor({ config }: App): RequestHandler {
  const own = new URL(config.url);
  return (request, response, next) => {
    const { origin } = request.headers;
    if (request.method === "GET" || request.method === "HEAD" || OPEN_TO_ALL.test(request.path)) {
      delete request.headers.origin; // the framework compares it with an address that a proxy may have changed
      return next();
    }
    const isOurs = (text: string) => {
      if (!URL.canParse(text)) return false;
      const from = new URL(text);
      return from.origin === own.origin || from.host === request.headers.host;
    };
    const site = request.headers["sec-fetch-site"];
    const allowed =
      origin === undefined ? site === undefined || site === "same-origin" || site === "none" : isOurs(origin);
    if (!allowed) {
      tell(
        response,
        403,
        `This was sent from another address than ${own.origin}. Open Saudade there, or set SAUDADE_URL to the address that you use.`,
      );
      return;
    }
    delete request.headers.origin;
    next();
  };
}

const TURN_COMES_WITHIN = 12_000;
const LOOKS_EVERY = 25;

/**
 * A request that may write waits here, without holding up anybody who only looks, until nobody else writes. If that
 * takes too long it was not begun, and says so (`Retry-After`), so that the page sends it again.
 */
export function writeDoor({ db }: App): RequestHandler {
  const isFree = (): boolean => {
    const patience = db.pragma("busy_timeout", { simple: true }) as number;
    db.pragma("busy_timeout = 0");
    try {
      db.exec("BEGIN IMMEDIATE");
      db.exec("ROLLBACK");
      return true;
    } catch (error) {
      if (isBusy(error)) return false;
      throw error;
    } finally {
      db.pragma(`busy_timeout = ${patience}`);
    }
  };
  return async (request, response, next) => {
    if (request.method === "GET" || request.method === "HEAD") return next();
    const until = Date.now() + TURN_COMES_WITHIN;
    while (!isFree()) {
      if (Date.now() > until) {
        response
          .status(503)
          .set("Retry-After", "2")
          .type("text")
          .send(
            "The database is busy with another program's work. Nothing was changed; try again in a moment.",
          );
        return;
      }
      await new Promise((resolve) => setTimeout(resolve, LOOKS_EVERY));
    }
    next();
  };
}
