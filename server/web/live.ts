/**
 * Tells open pages what changed, as server-sent events (https://html.spec.whatwg.org/multipage/server-sent-events.html): one
 * look at the database for all of them, and a message only when something is otherwise.
 */
import type { RequestHandler, Response } from "express";
import { userOfSession } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { readToken } from "./session-cookie.ts";

/** What pages follow; each counts up. */
export interface LiveState {
  /** Emails sent, and what recipients did. */
  events: number;
  /** Letters that came, and what was said of them. */
  replies: number;
  plan: number;
  /** Of the demo's clock. */
  clock: string;
}

const LOOK_EVERY = 400;
/** Proxies end what is silent for a minute. */
const BEAT_EVERY = 20_000;
/** A sign-in may have ended meanwhile; browsers open it again by themselves. */
const LASTS = 10 * 60_000;
const MOST_OPEN = 500;

export function liveState({ db, config }: App): LiveState {
  const row = sql<[], Omit<LiveState, "clock">>(
    db,
    `SELECT (SELECT coalesce(max(id), 0) FROM events) AS events, (SELECT number FROM reply_revision) AS replies,
       (SELECT number FROM plan_revision) AS plan`,
  ).get([]) ?? { events: 0, replies: 0, plan: 0 };
  const clock = config.demo
    ? (sql<[], { words: string }>(
        db,
        `SELECT coalesce((SELECT id || state || coalesce(now, '') FROM clock_moves ORDER BY id DESC LIMIT 1), '') AS words`,
      ).get([])?.words ?? "")
    : "";
  return { ...row, clock };
}

/** The route at which pages listen. */
export function liveDoor(app: App): RequestHandler {
  const open = new Set<Response>();
  let last = "";
  let looking: NodeJS.Timeout | null = null;
  const look = () => {
    let state: string;
    try {
      state = JSON.stringify(liveState(app));
    } catch {
      return; // locked for a moment; the next look tells
    }
    if (state === last) return;
    last = state;
    for (const response of open) response.write(`data: ${state}\n\n`);
  };
  return async (request, response) => {
    const token = await readToken(request.headers.cookie ?? null);
    if (!token || !userOfSession(app, token)) return void response.status(401).end();
    if (open.size >= MOST_OPEN) return void response.status(503).end();
    response.set({
      "Content-Type": "text/event-stream",
      "Cache-Control": "no-store, no-transform",
      // Some proxies keep what they get until there is enough of it.
      "X-Accel-Buffering": "no",
    });
    response.flushHeaders();
    response.write(`retry: 5000\ndata: ${JSON.stringify(liveState(app))}\n\n`);
    open.add(response);
    looking ??= setInterval(look, LOOK_EVERY);
    const beat = setInterval(() => response.write(": still here\n\n"), BEAT_EVERY);
    const end = setTimeout(() => response.end(), LASTS);
    response.on("close", () => {
      clearInterval(beat);
      clearTimeout(end);
      open.delete(response);
      if (open.size === 0 && looking) {
        clearInterval(looking);
        looking = null;
        last = "";
      }
    });
  };
}
