/** Renders a page on the server, with the policy that lets only our own scripts run in it (CSP, W3C level 3). */
import { randomBytes } from "node:crypto";
import { PassThrough } from "node:stream";
import { createReadableStreamFromReadable } from "@react-router/node";
import { isbot } from "isbot";
import { renderToPipeableStream } from "react-dom/server";
import {
  type EntryContext,
  type HandleErrorFunction,
  isRouteErrorResponse,
  ServerRouter,
} from "react-router";
import { damageWords } from "../server/errors";
import { log } from "../server/log";
import { traceOf } from "../server/trace";
import { Nonce } from "./desk/nonce";

export const streamTimeout = 5_000;

const policy = (nonce: string) =>
  [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}'`,
    // The components' styles are written as they are rendered.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data:",
    // What is being recorded is looked at before it is sent.
    "media-src 'self' blob:",
    "font-src 'self' data:",
    "worker-src 'self'",
    "object-src 'none'",
    "base-uri 'self'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");

export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  routerContext: EntryContext,
): Promise<Response> | Response {
  const nonce = randomBytes(16).toString("base64");
  headers.set("Content-Security-Policy", policy(nonce));
  headers.set("Content-Type", "text/html; charset=utf-8");
  if (status >= 500 && damage) {
    headers.set("Content-Type", "text/plain; charset=utf-8");
    return new Response(damage, { status, headers });
  }
  // RFC 9110 9.3.2
  if (request.method === "HEAD") return new Response(null, { status, headers });
  const ready = isbot(request.headers.get("user-agent") ?? "") ? "onAllReady" : "onShellReady";
  return new Promise((resolve, reject) => {
    let code = status;
    let hasBegun = false;
    const late = setTimeout(() => abort(), streamTimeout + 1_000);
    const { pipe, abort } = renderToPipeableStream(
      <Nonce value={nonce}>
        <ServerRouter context={routerContext} url={request.url} nonce={nonce} />
      </Nonce>,
      {
        nonce,
        [ready]() {
          hasBegun = true;
          const body = new PassThrough({
            final(done) {
              clearTimeout(late);
              done();
            },
          });
          pipe(body);
          resolve(new Response(createReadableStreamFromReadable(body), { headers, status: code }));
        },
        onShellError: reject,
        onError(error: unknown) {
          code = 500;
          if (hasBegun) log.error({ error: traceOf(error) }, "page");
        },
      },
    );
  });
}

/** What to do about a damaged database, once that was met: the page's own error is kept from browsers. */
let damage: string | null = null;

/** What nobody expected is for the log; what a form got wrong is not. */
export const handleError: HandleErrorFunction = (error, { request }) => {
  if (request.signal.aborted || isRouteErrorResponse(error)) return;
  damage = damageWords(error) ?? damage;
  log.error({ error: traceOf(error) }, damageWords(error) ?? "request failed");
};
