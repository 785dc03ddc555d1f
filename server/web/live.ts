/**
 * Tells open pages what changed, as server-sent events (https://html.spec.whatwg.org/multipage/server-sent-events.html): one
 * look at the database for all of them, and a message only when something is otherwise. A line ends with its session.
 */
import type { RequestHandler, Response } from "express";
import { openSessionsAmong, userOfSession } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { liveState } from "../desk/live-state.ts";
import { isBusy } from "../errors.ts";
import { log } from "../log.ts";
import { hashToken } from "../secrets.ts";
import { readToken } from "./session-cookie.ts";

const LOOK_EVERY = 400;
/** Every so many looks it is asked whose sessions have ended. */
const SESSIONS_EVERY = 5;
/** Proxies end what is silent for a minute. */
const BEAT_EVERY = 20_000;
/** After this a line ends; browsers open it again by themselves. */
const LASTS = 10 * 60_000;
const MOST_OPEN = 500;
/** Somebody's eleventh page takes the place of the first, which goes on by asking (app/desk/live.ts). */
const MOST_OF_A_USER = 10;
/** Whoever does not read what they asked for is let go. */
const MOST_UNREAD_BYTES = 64 * 1024;

interface Line {
  response: Response;
  userId: number;
  sessionHash: string;
  opened: number;
  beaten: number;
}

/** The route at which pages listen, and what ends all of its lines. */
export function liveDoor(app: App): { door: RequestHandler; end: () => void } {
  /** The oldest first. */
  const open = new Set<Line>();
  let last = "";
  let looks = 0;
  let looking: NodeJS.Timeout | null = null;

  const say = (line: Line, words: string) => {
    line.response.write(words);
    if (line.response.writableLength > MOST_UNREAD_BYTES) line.response.destroy();
  };
  const close = (line: Line, words = "") => {
    open.delete(line);
    line.response.end(words);
  };
  const look = () => {
    const now = Date.now();
    let state = last;
    try {
      state = JSON.stringify(liveState(app));
      if (++looks % SESSIONS_EVERY === 0) {
        const alive = openSessionsAmong(
          app,
          [...open].map(({ sessionHash }) => sessionHash),
        );
        for (const line of open) if (!alive.has(line.sessionHash)) close(line);
      }
    } catch (error) {
      if (!isBusy(error)) log.warn({ error: String(error) }, "open pages could not be told what changed");
    }
    for (const line of open)
      if (now - line.opened > LASTS) close(line);
      else if (state !== last) say(line, `data: ${state}\n\n`);
      else if (now - line.beaten > BEAT_EVERY) {
        line.beaten = now;
        say(line, ": still here\n\n");
      }
    last = state;
  };
  const door: RequestHandler = async (request, response) => {
    const token = await readToken(request.headers.cookie ?? null);
    const user = token === null ? null : userOfSession(app, token);
    if (!token || !user) return void response.status(401).end();
    const own = [...open].filter(({ userId }) => userId === user.id);
    const [oldest] = own;
    if (own.length >= MOST_OF_A_USER && oldest) close(oldest, "event: elsewhere\ndata: {}\n\n");
    if (open.size >= MOST_OPEN) return void response.status(503).end();
    response.set({
      "Content-Type": "text/event-stream",
      "Cache-Control": "no-store, no-transform",
      // Some proxies keep what they get until there is enough of it.
      "X-Accel-Buffering": "no",
    });
    response.flushHeaders();
    const now = Date.now();
    const line: Line = {
      response,
      userId: user.id,
      sessionHash: hashToken(token),
      opened: now,
      beaten: now,
    };
    say(line, `retry: 5000\ndata: ${JSON.stringify(liveState(app))}\n\n`);
    open.add(line);
    looking ??= setInterval(look, LOOK_EVERY);
    response.on("close", () => {
      open.delete(line);
      if (open.size === 0 && looking) {
        clearInterval(looking);
        looking = null;
        last = "";
      }
    });
  };
  const end = () => {
    for (const line of open) close(line);
  };
  return { door, end };
}
