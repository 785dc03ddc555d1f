/**
 * Fifty users who each press something every five seconds, beside an engine that sends, 500 open lines and 300 clients who
 * are slow: a hundred whose headers, a hundred whose bodies and a hundred whose reading never end, half of these strangers, half
 * one user's.
 */
import { connect, type Socket } from "node:net";
import { setTimeout as pause } from "node:timers/promises";
import { openSession } from "../server/accounts/session.ts";
import { sql } from "../server/db/open.ts";
import { startProcess } from "../server/processes.ts";
import { startSequence } from "../server/sequences/start-sequence.ts";
import { freePort } from "../server/tests/free-port.ts";
import { addMailbox, addPeople, addSequence, createWorld } from "../server/tests/world.ts";
import { sessionCookie } from "../server/web/session-cookie.ts";
import type { Figure } from "./figure.ts";

const PEOPLE = 3_000;
const USERS = 50;
const LINES = 500;
const SLOW_OF_A_KIND = 100;
const PRESSES_EVERY = 5_000;
const LASTS = 60_000;
/** What somebody at work does not notice as waiting. */
const P95_MS = 300;
const PAGES = ["/_root.data", "/replies.data?show=people", "/prospects.data"];
/** The last press of each round writes. */
const NOTE = "/prospects/7.data";
const PRESSES = [...PAGES, NOTE];

export async function benchLoad(): Promise<Figure> {
  const port = await freePort();
  const world = await createWorld({ env: { SAUDADE_PORT: String(port) } });
  const names = Array.from({ length: PEOPLE }, (_, nth) => `person${nth}`);
  const mailbox = await addMailbox(world, "marta@quillwater.example", {
    dailyLimit: 500,
    gapLeast: 0,
    gapMost: 0,
  });
  startSequence(world.app, world.userId, addSequence(world, addPeople(world, names), [mailbox]));
  const cookies: string[] = [];
  for (let nth = 0; nth < USERS; nth++) {
    const { lastInsertRowid } = sql(
      world.app.db,
      `INSERT INTO users (email, name, password_hash, time_zone, booking_slug, created_at)
       VALUES (@email, 'Rep', '', 'Europe/Lisbon', @email, 1)`,
    ).run({ email: `rep${nth}@quillwater.example` });
    const cookie = await sessionCookie.serialize(openSession(world.app, Number(lastInsertRowid)));
    cookies.push(cookie.split(";")[0] ?? "");
  }
  const web = await startProcess("web server", "server/web/main.ts", world.env);
  const engine = await startProcess("engine", "server/engine/main.ts", world.env);
  const url = `http://127.0.0.1:${port}`;
  const ask = async (nth: number, path: string) => {
    const began = performance.now();
    const cookie = cookies[nth % USERS] ?? "";
    const answer = await fetch(
      url + path,
      path === NOTE
        ? {
            method: "POST",
            headers: { cookie, origin: url },
            body: new URLSearchParams({ intent: "note", text: "Called." }),
          }
        : { headers: { cookie } },
    );
    await answer.arrayBuffer();
    if (answer.status !== 200) throw new Error(`${path} answered ${answer.status}.`);
    return performance.now() - began;
  };
  for (let round = 0; round < 3; round++) for (const path of PAGES) await ask(0, path);
  const alone: number[] = [];
  for (let round = 0; round < 5; round++) for (const path of PAGES) alone.push(await ask(0, path));

  const strangers: Socket[] = [];
  const open = (words: string): Socket => {
    const socket = connect(port, "127.0.0.1");
    socket.on("error", () => {}).write(words);
    strangers.push(socket);
    return socket;
  };
  for (let nth = 0; nth < LINES; nth++)
    open(`GET /live HTTP/1.1\r\nHost: x\r\nCookie: ${cookies[nth % USERS]}\r\n\r\n`).resume();
  const crowd = () => {
    for (let nth = 0; nth < SLOW_OF_A_KIND; nth++) {
      open("GET / HTTP/1.1\r\nHost: x\r\n");
      open(
        "POST /sign-in HTTP/1.1\r\nHost: x\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: 900\r\n\r\n",
      );
      const who = nth % 2 === 0 ? `Cookie: ${cookies[0]}\r\n` : "";
      open(`GET /prospects HTTP/1.1\r\nHost: x\r\n${who}\r\n`).pause();
    }
  };
  crowd();
  // Each sends a letter a second, and whoever was let go comes again.
  const trickle = setInterval(() => {
    for (const socket of strangers.slice(LINES)) if (socket.writable) socket.write("a");
  }, 1_000);
  await pause(3_000);

  const took: number[] = [];
  const began = Date.now();
  await Promise.all(
    cookies.map(async (_, nth) => {
      await pause((nth / USERS) * PRESSES_EVERY);
      for (let press = nth; Date.now() - began < LASTS; press++) {
        const ms = await ask(nth, PRESSES[press % PRESSES.length] as string);
        took.push(ms);
        await pause(Math.max(0, PRESSES_EVERY - ms));
      }
    }),
  );
  clearInterval(trickle);
  const lines = strangers
    .slice(0, LINES)
    .filter((socket) => !socket.destroyed && !socket.readableEnded).length;
  for (const socket of strangers) socket.destroy();
  const sent = sql(world.app.db, "SELECT count(*) AS n FROM touches WHERE state = 'sent'").get<{ n: number }>(
    [],
  )?.n;
  await Promise.all([web.stop(), engine.stop()]);
  await world.close();
  const at = (part: number) => took.toSorted((a, b) => a - b)[Math.floor(took.length * part)] as number;
  return {
    bench: "load",
    ratio: Number((at(0.95) / P95_MS).toFixed(2)),
    limit: 0.4,
    kind: "most",
    aloneMs: Math.round(alone.reduce((sum, each) => sum + each, 0) / alone.length),
    medianMs: Math.round(at(0.5)),
    p95Ms: Math.round(at(0.95)),
    worstMs: Math.round(at(0.9999)),
    presses: took.length,
    linesOpen: lines,
    sentMeanwhile: sent ?? 0,
  };
}
