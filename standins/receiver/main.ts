/**
 * Somebody else's program that is told of things by webhooks: it takes them, looks whether they are signed with the secret
 * that it was given, and shows on a plain page what it heard. POST /hooks/… takes one; POST /secret {secret} and POST
 * /misbehave {status} (0: well again) say how it is to behave; GET /heard is all of it as JSON, GET / the page.
 */
import { createHmac, timingSafeEqual } from "node:crypto";
import { createServer, type IncomingHttpHeaders, type IncomingMessage } from "node:http";
import { z } from "zod";
import { listen, serve } from "../process.ts";

const { RECEIVER_PORT } = z.object({ RECEIVER_PORT: z.coerce.number().int() }).parse(process.env);

const MOST_HEARD = 200;
/** Signatures older than this are a replay (https://www.standardwebhooks.com). */
const TOLERANCE_S = 5 * 60;

interface Heard {
  id: string;
  path: string;
  /** Null while no secret was given. */
  isGenuine: boolean | null;
  body: unknown;
}

let secret: string | null = null;
let misbehaves = 0;
const heard: Heard[] = [];

function isGenuine(headers: IncomingHttpHeaders, body: string): boolean | null {
  if (secret === null) return null;
  const [id, seconds] = [String(headers["webhook-id"]), String(headers["webhook-timestamp"])];
  if (Math.abs(Date.now() / 1_000 - Number(seconds)) > TOLERANCE_S) return false;
  const key = Buffer.from(secret.replace(/^whsec_/, ""), "base64");
  const expected = createHmac("sha256", key).update(`${id}.${seconds}.${body}`).digest();
  return String(headers["webhook-signature"])
    .split(" ")
    .some((each) => {
      const given = Buffer.from(each.replace(/^v1,/, ""), "base64");
      return given.length === expected.length && timingSafeEqual(given, expected);
    });
}

const readBody = async (request: IncomingMessage): Promise<string> => {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks).toString("utf8");
};

const escaped = (text: string) => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);

const page =
  () => `<!doctype html><html lang="en"><meta charset="utf-8"><title>What the other program heard</title>
<style>body{font:15px/1.5 system-ui,sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem}li{margin:.4rem 0}pre{overflow:auto;background:#f4f4f4;padding:.6rem}</style>
<h1>What the other program heard</h1><p>${misbehaves === 0 ? "It takes what it is told." : `It answers ${misbehaves} to everything.`}</p>
<ol reversed>${heard
    .toReversed()
    .map(
      ({ id, path, isGenuine, body }) =>
        `<li><details><summary>${escaped(String((body as { type?: unknown } | null)?.type ?? "?"))} · ${escaped(id)} · ${escaped(path)} · ${isGenuine === null ? "not checked" : isGenuine ? "genuine" : "forged"}</summary><pre>${escaped(JSON.stringify(body, null, 2))}</pre></details></li>`,
    )
    .join("")}</ol>`;

const lineSchema = z.object({
  text: z.string(),
  links: z.array(z.object({ text: z.string(), url: z.string() })).default([]),
});

/** A chat channel as its people see it: the lines that came, the newest last. */
const channelPage = (
  path: string,
) => `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escaped(path)}</title>
<style>body{font:15px/1.5 system-ui,sans-serif;max-width:46rem;margin:2rem auto;padding:0 1rem}li{margin:.7rem 0;list-style:none}a{margin-right:.8rem}</style>
<h1>${escaped(path)}</h1><ul>${heard
  .filter((each) => each.path === path)
  .flatMap(({ body }) => {
    const line = lineSchema.safeParse(body);
    if (!line.success) return [];
    const links = line.data.links
      .filter(({ url }) => /^https?:/.test(url))
      .map(({ text, url }) => `<a href="${escaped(url)}">${escaped(text)}</a>`);
    return [`<li>${escaped(line.data.text)}<br>${links.join("")}</li>`];
  })
  .join("")}</ul>`;

const server = createServer(async (request, response) => {
  const { pathname } = new URL(request.url ?? "/", "http://receiver.example");
  const tell = (status: number, body: unknown) =>
    void response.writeHead(status, { "content-type": "application/json" }).end(JSON.stringify(body));
  if (request.method === "GET") {
    if (pathname === "/heard") return tell(200, heard);
    const html = pathname.startsWith("/channel/") ? channelPage(pathname) : page();
    return void response.writeHead(200, { "content-type": "text/html; charset=utf-8" }).end(html);
  }
  const text = await readBody(request);
  try {
    if (pathname === "/secret") {
      secret = z.object({ secret: z.string() }).parse(JSON.parse(text)).secret;
      return tell(200, {});
    }
    if (pathname === "/misbehave") {
      misbehaves = z.object({ status: z.number().int() }).parse(JSON.parse(text)).status;
      return tell(200, {});
    }
    if (misbehaves !== 0) return tell(misbehaves, { error: "The other program has a bad day." });
    const id = String(request.headers["webhook-id"]);
    // The same id is the same happening: told again, it is heard once.
    if (!heard.some((each) => each.id === id && each.path === pathname))
      heard.push({ id, path: pathname, isGenuine: isGenuine(request.headers, text), body: JSON.parse(text) });
    heard.splice(0, heard.length - MOST_HEARD);
    tell(200, { heard: heard.length });
  } catch {
    tell(400, { error: "This is no JSON as agreed." });
  }
});
await serve(() => listen(server, RECEIVER_PORT));
