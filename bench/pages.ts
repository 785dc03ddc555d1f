/** Moving pictures: the processor time of each, against the picture library writing the same frames; and Today beside fifty people who watch. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { Readable } from "node:stream";
import { setTimeout as pause } from "node:timers/promises";
import sharp from "sharp";
import { FRAME, FRAMES, SIZE } from "../core/pages/moving-picture.ts";
import { usualDefinition } from "../core/pages/template.ts";
import { SHARES } from "../core/pages/watching.ts";
import { openSession } from "../server/accounts/session.ts";
import { projectRoot } from "../server/config.ts";
import { sql } from "../server/db/open.ts";
import { pageLink } from "../server/mail/page-links.ts";
import { drawPicture, type SiteLook } from "../server/pages/draw-picture.ts";
import { addPart, beginFilm, finishFilm, stopReadingFilms } from "../server/pages/films.ts";
import { createTemplate, saveTemplate } from "../server/pages/templates.ts";
import { startProcess } from "../server/processes.ts";
import { startSequence } from "../server/sequences/start-sequence.ts";
import { freePort } from "../server/tests/free-port.ts";
import { addMailbox, addPeople, addSequence, createWorld } from "../server/tests/world.ts";
import { sessionCookie } from "../server/web/session-cookie.ts";
import type { Figure } from "./figure.ts";

const demoFile = (name: string) => readFileSync(join(projectRoot, "demo/film", name));
const PICTURES = Number(process.env.BENCH_PICTURES ?? 200);
const ALLOWED_MS = 150;

/** No two companies are the same: nothing is kept from the one before but the film. */
const siteOf = (nth: number): SiteLook => ({
  ...{
    domain: `house-${nth}.example`,
    name: `House ${nth}`,
    line: `House ${nth} lends what it keeps to other houses`,
  },
  ...{ colour: `#${((nth * 7_919) % 0x7fffff).toString(16).padStart(6, "0")}`, logo: null, picture: null },
  headings: ["What we lend", "Our reading room", "News", "Visit us"],
  words: [
    `Every piece of house ${nth} travels in a case of its own, with a sheet that says how it was.`,
    "",
    "",
    "",
  ],
});

/** Processor time of this process in ms, all of its threads together. */
const usedMs = (since?: NodeJS.CpuUsage) => {
  const { user, system } = process.cpuUsage(since);
  return (user + system) / 1_000;
};

export async function benchPictures(): Promise<Figure> {
  const frames = demoFile("film-frames.jpg");
  const draw = (nth: number) =>
    drawPicture({ site: siteOf(nth), frames, label: `For person ${nth}`, accent: "#1f4f8f" });
  for (let nth = 0; nth < 5; nth++) await draw(-nth);
  const strip = await sharp(frames)
    .resize({ width: FRAME.width * FRAMES, height: FRAME.height })
    .removeAlpha()
    .raw()
    .toBuffer();
  const same = Buffer.alloc(SIZE.width * SIZE.height * 3 * FRAMES);
  for (let at = 0; at < same.length; at += strip.length) strip.copy(same, at);
  let since = process.cpuUsage();
  for (let nth = 0; nth < 5; nth++)
    await sharp(same, {
      raw: { width: SIZE.width, height: SIZE.height * FRAMES, channels: 3, pageHeight: SIZE.height },
    })
      .gif()
      .toBuffer();
  const baseline = usedMs(since) / 5;
  let largest = 0;
  since = process.cpuUsage();
  const began = performance.now();
  for (let nth = 0; nth < PICTURES; nth++) largest = Math.max(largest, (await draw(nth)).length);
  const cpuMs = usedMs(since) / PICTURES;
  return {
    ...{
      bench: "pictures",
      ratio: Number((cpuMs / baseline).toFixed(2)),
      limit: 0.1,
      kind: "most",
      pictures: PICTURES,
    },
    ...{ baselineMs: Math.round(baseline), cpuMs: Math.round(cpuMs), allowedMs: ALLOWED_MS },
    ...{ wallMs: Math.round((performance.now() - began) / PICTURES), largestKb: Math.round(largest / 1024) },
  };
}

const WATCHERS = 50;
const LASTS = 30_000;
const p95 = (times: readonly number[]) =>
  times.toSorted((a, b) => a - b)[Math.floor(times.length * 0.95)] ?? 0;

export async function benchWatchers(): Promise<Figure> {
  const port = await freePort();
  const world = await createWorld({ env: { SAUDADE_PORT: String(port) } });
  const { app, userId } = world;
  const names = Array.from({ length: 2_000 }, (_, nth) => `person${nth}`);
  const mailbox = await addMailbox(world, "marta@quillwater.example", {
    dailyLimit: 500,
    gapLeast: 0,
    gapMost: 0,
  });
  startSequence(app, userId, addSequence(world, addPeople(world, names), [mailbox]));
  const template = createTemplate(app, userId, { name: "Page" });
  const film = demoFile("film.webm");
  const begun = beginFilm(app, userId, { name: "Film", bytes: film.length });
  if (!template.ok || !begun.ok) throw new Error("The page was not made.");
  await addPart(app, userId, begun.value.id, 0, Readable.from([film]));
  await finishFilm(app, userId, begun.value.id, {}, { poster: demoFile("film-poster.jpg"), frames: null });
  await stopReadingFilms();
  saveTemplate(app, userId, template.value, {
    name: "Page",
    definition: { ...usualDefinition("en"), filmId: begun.value.id },
  });
  const cookie = (await sessionCookie.serialize(openSession(app, userId))).split(";")[0] ?? "";
  const [web, engine] = [
    await startProcess("web server", "server/web/main.ts", world.env),
    await startProcess("engine", "server/engine/main.ts", world.env),
  ];
  const url = `http://127.0.0.1:${port}`;
  const today = async () => {
    const began = performance.now();
    await (await fetch(`${url}/_root.data`, { headers: { cookie } })).arrayBuffer();
    return performance.now() - began;
  };
  const looks = async (until: number) => {
    const times: number[] = [];
    while (Date.now() < until) {
      times.push(await today());
      await pause(150);
    }
    return times;
  };
  await looks(Date.now() + 5_000);
  const alone = await looks(Date.now() + LASTS / 2);
  const ends = Date.now() + LASTS;
  const headers = { "user-agent": "Mozilla/5.0 (X11; Linux x86_64) Firefox/140.0" };
  let asked = 0;
  /** Opens their page, and plays its film: a piece of it and a word of how far they are, every few seconds. */
  const watch = async (nth: number) => {
    const path = new URL(pageLink(app, template.value, nth + 1)).pathname;
    // Each from their own address.
    const from = { ...headers, "x-forwarded-for": `198.51.100.${nth + 1}` };
    const ask = async (what: string, more: RequestInit = {}) => {
      const answer = await fetch(url + what, { ...more, headers: { ...from, ...(more.headers as object) } });
      await answer.arrayBuffer();
      if (!answer.ok) throw new Error(`${what} answered ${answer.status}.`);
      asked++;
    };
    await pause((nth / WATCHERS) * 5_000);
    await ask(path);
    await ask(`${path}/poster.jpg`);
    for (let nthPiece = 0; Date.now() < ends; nthPiece++) {
      const begins = (nthPiece % 4) * 25_000;
      await ask(`${path}/film`, { headers: { range: `bytes=${begins}-${begins + 24_999}` } });
      const share = SHARES[Math.min(nthPiece, SHARES.length - 1)];
      await ask(`${path}/seen`, {
        ...{ method: "POST", body: JSON.stringify({ what: "watched", share }) },
        headers: { "content-type": "application/json", origin: url },
      });
      await pause(2_000);
    }
  };
  const [beside] = await Promise.all([
    looks(ends),
    ...Array.from({ length: WATCHERS }, (_, nth) => watch(nth)),
  ]);
  const told =
    sql(app.db, "SELECT count(*) AS n FROM events WHERE kind = 'film_watched'").get<{ n: number }>([])?.n ??
    0;
  const sent =
    sql(app.db, "SELECT count(*) AS n FROM touches WHERE state = 'sent'").get<{ n: number }>([])?.n ?? 0;
  await Promise.all([web.stop(), engine.stop()]);
  await world.close();
  return {
    ...{
      bench: "watchers",
      ratio: Number((p95(beside) / Math.max(1, p95(alone))).toFixed(2)),
      limit: 3,
      kind: "most",
    },
    ...{
      watchers: WATCHERS,
      aloneP95Ms: Math.round(p95(alone)),
      besideP95Ms: Math.round(p95(beside)),
      asked,
      told,
      sentMeanwhile: sent,
    },
  };
}
