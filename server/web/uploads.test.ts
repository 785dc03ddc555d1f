/** Files that break off anywhere, and more than a server could hold: whoever sends them, nobody else notices. */
import { existsSync, readdirSync } from "node:fs";
import { connect } from "node:net";
import { dirname, join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openSession } from "../accounts/session.ts";
import { type Started, startProcess } from "../processes.ts";
import { freePort } from "../tests/free-port.ts";
import { createWorld, rows, type World } from "../tests/world.ts";
import { sessionCookie } from "./session-cookie.ts";

let world: World;
let web: Started;
let port: number;
let cookie: string;

beforeAll(async () => {
  port = await freePort();
  world = await createWorld({ standin: false, env: { SAUDADE_PORT: String(port) } });
  cookie = (await sessionCookie.serialize(openSession(world.app, world.userId))).split(";")[0] ?? "";
  web = await startProcess("web server", "server/web/main.ts", world.env);
});
afterAll(async () => {
  await web.stop();
  await world.close();
});

const LINE = "ana@kai.example,Ana,Porto\r\n";
/** A form with a file of about so many bytes. */
function form(fileBytes: number, field = "file"): Buffer {
  return Buffer.from(
    `--cut\r\nContent-Disposition: form-data; name="intent"\r\n\r\npreview\r\n--cut\r\nContent-Disposition: form-data; name="${field}"; filename="a.csv"\r\nContent-Type: text/csv\r\n\r\nemail,first name,city\r\n${LINE.repeat(Math.ceil(fileBytes / LINE.length))}\r\n--cut--\r\n`,
  );
}
const head = (path: string, type: string, length: number) =>
  `POST ${path} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nOrigin: http://127.0.0.1:${port}\r\nCookie: ${cookie}\r\nContent-Type: ${type}\r\nContent-Length: ${length}\r\n\r\n`;

/** Sends the first part of a request and goes away, as a closed tab does: at once, or in order. */
function cutOff(words: Buffer, orderly: boolean): Promise<void> {
  return new Promise((resolve) => {
    const socket = connect(port, "127.0.0.1", () =>
      socket.write(words, () => {
        if (orderly) socket.end();
        setTimeout(() => {
          socket.resetAndDestroy();
          resolve();
        }, 20);
      }),
    );
    socket.on("error", () => resolve());
  });
}

const isAlive = async () => {
  const answer = await fetch(`http://127.0.0.1:${port}/prospects.data`, { headers: { cookie } });
  return answer.status === 200 && web.child.exitCode === null;
};
const arriving = () => {
  const folder = join(dirname(world.app.config.database), "uploads");
  return existsSync(folder) ? readdirSync(folder).filter((name) => name.startsWith("arriving")) : [];
};
const MULTIPART = "multipart/form-data; boundary=cut";
const text = Buffer.from(JSON.stringify({ intent: "look", settings: { x: "y".repeat(5_000) } }));

describe("what breaks off at any of twenty places", () => {
  it.each([
    ["a list", "/prospects/import.data", MULTIPART, form(300_000)],
    ["a block list", "/block-list.data", MULTIPART, form(100_000)],
    ["a picture", "/files", MULTIPART, form(100_000)],
    ["a calendar", "/settings.data", MULTIPART, form(50_000)],
    ["a message of a page", "/prospects/imports/1.data", "application/json", text],
    [
      "a web form",
      "/f/token",
      "application/x-www-form-urlencoded",
      Buffer.from(`email=${"a".repeat(5_000)}`),
    ],
    [
      "a sign-in",
      "/sign-in.data",
      "application/x-www-form-urlencoded",
      Buffer.from(`email=${"a".repeat(5_000)}`),
    ],
  ])("%s ends nothing but itself, and leaves nothing", async (_, path, type, body) => {
    const request = Buffer.concat([Buffer.from(head(path, type, body.length)), body]);
    for (let place = 1; place <= 20; place++) {
      const at = Math.min(request.length - 1, Math.round((request.length * place) / 20) - (place % 3));
      await cutOff(request.subarray(0, at), place % 2 === 0);
    }
    expect(await isAlive()).toBe(true);
    expect(rows(world, "SELECT kind, words FROM failures")).toEqual([]);
    expect(rows(world, "SELECT id FROM imports")).toEqual([]);
    await expect.poll(arriving).toEqual([]);
  });
});

/** Sends a hundred megabytes as fast as they are taken; the status of the answer, or 0 where the line was cut. */
function flood(path: string, isAnnounced: boolean): Promise<number> {
  const total = 100 * 1024 * 1024;
  const piece = form(1024 * 1024);
  return new Promise((resolve) => {
    const socket = connect(port, "127.0.0.1");
    let answer = "";
    let sent = 0;
    socket.on("data", (words) => {
      answer += words;
      // Whoever has their answer goes, as a browser does.
      setTimeout(() => socket.destroy(), 100);
    });
    socket.on("error", () => {});
    socket.on("close", () => resolve(Number(answer.match(/^HTTP\/1\.1 (\d+)/)?.[1] ?? 0)));
    socket.write(
      isAnnounced
        ? head(path, MULTIPART, total)
        : head(path, MULTIPART, 0).replace("Content-Length: 0", "Transfer-Encoding: chunked"),
    );
    const next = () => {
      if (socket.destroyed || !socket.writable) return;
      if (sent >= total) return socket.end();
      sent += piece.length;
      const words = isAnnounced
        ? piece
        : Buffer.concat([Buffer.from(`${piece.length.toString(16)}\r\n`), piece, Buffer.from("\r\n")]);
      socket.write(words, () => setImmediate(next));
    };
    next();
  });
}

it("eight files of a hundred megabytes at once are refused, announced or not, while pages go on and nothing is kept", async () => {
  const paths = ["/prospects/import.data", "/files", "/block-list.data", "/sign-in.data"];
  let isOver = false;
  const floods = Promise.all(paths.flatMap((path) => [flood(path, true), flood(path, false)])).finally(() => {
    isOver = true;
  });
  let pages = 0;
  while (!isOver) {
    expect(await isAlive()).toBe(true);
    pages++;
  }
  const statuses = await floods;
  expect(pages).toBeGreaterThan(0);
  // A refusal in words where the page takes files (200 with errors), 413 elsewhere, or the line is cut: never an error of ours.
  expect(statuses.filter((status) => status >= 500)).toEqual([]);
  expect(rows(world, "SELECT kind, words FROM failures")).toEqual([]);
  expect(rows(world, "SELECT id FROM imports")).toEqual([]);
  expect(rows(world, "SELECT id FROM files")).toEqual([]);
  await expect.poll(arriving).toEqual([]);
  expect(web.child.exitCode).toBeNull();
});
