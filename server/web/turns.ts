/**
 * Pages are made a few at a time, in turn by who asks: one thread makes them all, and whoever asks for a hundred at once
 * waits behind themselves, not before everybody else.
 */
import type { RequestHandler, Response } from "express";
import { userOfSession } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { readToken } from "./session-cookie.ts";

/** So many pages are made at once. What waits for somebody outside keeps its place for so long at most. */
const AT_ONCE = 4;
const PLACE_LASTS = 1_000;
/** A person's browser asks for a handful; whoever has more waiting is sent away for a moment. */
const MOST_WAITING = 60;

type Begin = () => void;

/** Who waits, each with their own line; served in a circle. */
export class Turns {
  private readonly waiting = new Map<string, Begin[]>();
  private busy = 0;

  constructor(private readonly atOnce: number) {}

  /** Calls `begin` with what gives the place back, when it is this caller's turn. Returns false if too many wait already. */
  ask(caller: string, begin: (giveBack: () => void) => void): boolean {
    const line = this.waiting.get(caller) ?? [];
    if (line.length >= MOST_WAITING) return false;
    line.push(() => {
      let isOver = false;
      begin(() => {
        if (isOver) return;
        isOver = true;
        this.busy--;
        this.next();
      });
    });
    this.waiting.set(caller, line);
    this.next();
    return true;
  }

  private next(): void {
    while (this.busy < this.atOnce) {
      const first = this.waiting.entries().next();
      if (first.done) return;
      const [caller, line] = first.value;
      this.waiting.delete(caller);
      const begin = line.shift();
      // To the end of the circle.
      if (line.length > 0) this.waiting.set(caller, line);
      this.busy++;
      begin?.();
    }
  }
}

/** Only what looks goes in turn; what is sent has waited elsewhere (`writeDoor`). */
export function turnDoor(app: App): RequestHandler {
  const turns = new Turns(AT_ONCE);
  return async (request, response, next) => {
    if (request.method !== "GET" && request.method !== "HEAD") return next();
    const token = await readToken(request.headers.cookie ?? null);
    const user = token === null ? null : userOfSession(app, token);
    const isWelcome = turns.ask(user ? `user ${user.id}` : `address ${request.ip}`, (giveBack) => {
      // Gone while they waited: nothing is made for nobody.
      if (response.destroyed || request.socket.destroyed) return giveBack();
      onAnswer(response, giveBack);
      next();
    });
    if (!isWelcome)
      response
        .status(503)
        .set("Retry-After", "2")
        .type("text")
        .send("Too many pages were asked for at once. Wait a moment, then try again.");
  };
}

/** Calls once the page is made, which is when its first bytes go: however slowly the rest is read, nobody waits for that. */
function onAnswer(response: Response, made: () => void): void {
  const late = setTimeout(made, PLACE_LASTS);
  const over = () => {
    clearTimeout(late);
    made();
  };
  const writeHead = response.writeHead;
  response.writeHead = ((...head: Parameters<typeof writeHead>) => {
    over();
    return writeHead.apply(response, head);
  }) as typeof writeHead;
  response.once("close", over);
}
