/**
 * The web of the invented houses, over HTTP with their own names: whatever "Host" asks for is there, in one of thirty designs.
 * A domain whose name begins with a kind ("slow-museum.example") is of that kind, as badly kept, hostile or shy as such sites are.
 */
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import iconv from "iconv-lite";
import { z } from "zod";
import { kindOf } from "../domains.ts";
import { listen, serve } from "../process.ts";
import { seeded } from "../seeded.ts";
import { DESIGNS, feedOf, pageOf } from "./designs.ts";
import { bombPng, logoPng, logoSvg, widePicture } from "./pictures.ts";
import { type Said, saidBy } from "./said.ts";

const { SITES_PORT } = z.object({ SITES_PORT: z.coerce.number().int() }).parse(process.env);

/** Milliseconds between two pieces of a slow answer. */
const SLOW = 1_500;
const TEXT = "text/html; charset=utf-8";

type Odd = (request: IncomingMessage, response: ServerResponse, said: Said, path: string) => unknown;

/** What is odd about a site of each kind; the first word of its domain says which. */
const ODD: Record<string, Odd> = {
  slow: (_, response, said, path) => setTimeout(() => usual(response, said, path), SLOW),
  endless: (request, response) => {
    response.writeHead(200, { "content-type": TEXT }).write("<html><title>Endless</title><body>");
    const timer = setInterval(() => response.write("<p>and on and on</p>"), 200);
    request.once("close", () => clearInterval(timer));
  },
  huge: (request, response) => {
    response.writeHead(200, { "content-type": TEXT, "content-length": 2_000_000_000 });
    const piece = Buffer.alloc(256 * 1024, "<p>paper </p>");
    const pour = () => {
      while (!response.destroyed && response.write(piece));
    };
    response.on("drain", pour);
    request.once("close", () => response.destroy());
    pour();
  },
  circle: (_, response, __, path) =>
    response.writeHead(302, { location: path === "/" ? "/again" : "/" }).end(),
  inward: (_, response) => response.writeHead(302, { location: "http://127.0.0.1:1/keys" }).end(),
  closed: (_, response, said, path) =>
    path === "/robots.txt" ? plain(response, "User-agent: *\nDisallow: /\n") : usual(response, said, path),
  shy: (_, response, said, path) =>
    path === "/robots.txt"
      ? plain(response, "User-agent: *\nDisallow: /about\nDisallow: /people\n")
      : usual(response, said, path),
  broken: (_, response, said) =>
    response
      .writeHead(200, { "content-type": TEXT })
      .end(`<html><head><title>${said.name}</title><body><div><table><p ${"<div>".repeat(3_000)}`),
  liar: (_, response, said, path) => inLetters(response, said, path, "windows-1252", "utf-8"),
  latin: (_, response, said, path) => inLetters(response, said, path, "iso-8859-1", "iso-8859-1"),
  kanji: (_, response) => {
    const page = `<html lang="ja"><head><meta charset="shift_jis"><title>紙の港資料館</title><meta name="description" content="港の紙を守る資料館です。"></head><body><h1>紙の港資料館</h1><p>三月に展覧会「塩と羊皮紙」が始まります。</p></body></html>`;
    response.writeHead(200, { "content-type": "text/html" }).end(iconv.encode(page, "shift_jis"));
  },
  moved: (_, response, { domain }, path) =>
    response.writeHead(301, { location: `http://${domain.replace(/^moved-/, "new-home-of-")}${path}` }).end(),
  gone: (_, response) => response.writeHead(410, { "content-type": TEXT }).end("<h1>Gone</h1>"),
  failing: (_, response) => response.writeHead(503, { "content-type": TEXT }).end("<h1>Later</h1>"),
  limited: (_, response) => response.writeHead(429, { "retry-after": "3600" }).end(),
  paper: (_, response) =>
    response.writeHead(200, { "content-type": "application/pdf" }).end("%PDF-1.7 and no page"),
  trap: (_, response, said, path) =>
    path === "/logo.svg"
      ? picture(
          response,
          "image/svg+xml",
          Buffer.from(
            logoSvg(
              said,
              '<script>alert(1)</script><image href="http://127.0.0.1:1/x" width="9" height="9"/>',
            ),
          ),
        )
      : usual(response, said, path, 0),
  bomb: async (_, response, said, path) =>
    /\.(png|svg|jpg)$/.test(path)
      ? picture(response, "image/png", bombPng())
      : usual(response, said, path, 5),
};

const plain = (response: ServerResponse, text: string) =>
  response.writeHead(200, { "content-type": "text/plain" }).end(text);
const picture = (response: ServerResponse, type: string, bytes: Buffer) =>
  response.writeHead(200, { "content-type": type, "content-length": bytes.length }).end(bytes);

function inLetters(response: ServerResponse, said: Said, path: string, letters: string, told: string): void {
  const page = pageOf({ ...said, name: `${said.name} Évora` }, DESIGNS[0] as (typeof DESIGNS)[number], path);
  if (page === null) return void response.writeHead(404).end();
  response
    .writeHead(200, { "content-type": `text/html; charset=${told}` })
    .end(iconv.encode(page.replace('charset="utf-8"', `charset="${told}"`), letters));
}

async function usual(response: ServerResponse, said: Said, path: string, nth?: number): Promise<void> {
  const design = DESIGNS[nth ?? designOf(said.domain)];
  if (!design) return void response.writeHead(500).end();
  const size = path.match(/^\/icon-(\d+)\.png$/)?.[1];
  if (path === "/logo.svg") return void picture(response, "image/svg+xml", Buffer.from(logoSvg(said)));
  if (path === "/logo.png") return void picture(response, "image/png", await logoPng(said, 240));
  if (path === "/favicon.ico") return void picture(response, "image/png", await logoPng(said, 48));
  if (path === "/wide.jpg") return void picture(response, "image/jpeg", await widePicture(said));
  if (size !== undefined)
    return void picture(response, "image/png", await logoPng(said, Math.min(512, Number(size))));
  if (path === "/feed.xml" && design.listed === "feed")
    return void response.writeHead(200, { "content-type": "application/rss+xml" }).end(feedOf(said));
  const page = pageOf(said, design, path);
  if (page === null)
    return void response.writeHead(404, { "content-type": TEXT }).end("<h1>Nothing here</h1>");
  response.writeHead(200, { "content-type": TEXT }).end(page);
}

/** "design-07-museum.example" asks for the design of that number. */
const designOf = (domain: string): number => {
  const asked = domain.match(/^design-(\d\d)-/)?.[1];
  return asked === undefined
    ? Math.floor(seeded("design", domain)() * DESIGNS.length)
    : Number(asked) % DESIGNS.length;
};

const server = createServer((request, response) => {
  const domain = (request.headers.host ?? "")
    .replace(/:\d+$/, "")
    .replace(/^www\./, "")
    .toLowerCase();
  const path = new URL(request.url ?? "/", "http://site.example").pathname;
  if (!domain.endsWith(".example") || kindOf(domain) === "no-domain")
    return void response.writeHead(404).end();
  const kind = domain.split("-")[0] ?? "";
  void (
    Object.hasOwn(ODD, kind)
      ? (ODD[kind] as Odd)
      : (_: unknown, answer: ServerResponse, said: Said) => usual(answer, said, path)
  )(request, response, saidBy(domain), path);
});
await serve(() => listen(server, SITES_PORT));
