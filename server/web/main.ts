/** The web server's process: the interface, and the doors that programs knock at. */
import { join } from "node:path";
import * as build from "virtual:react-router/server-build";
import { createRequestHandler } from "@react-router/express";
import express from "express";
import { rateLimit } from "express-rate-limit";
import expressStaticGzip from "express-static-gzip";
import helmet from "helmet";
import { userOfSession } from "../accounts/session.ts";
import { apiDoor } from "../api/door.ts";
import { webApp } from "../app.ts";
import { projectRoot } from "../config.ts";
import { migrate } from "../db/open.ts";
import { damageWords } from "../errors.ts";
import { log } from "../log.ts";
import { endOnUncaught } from "../orderly-end.ts";
import type { Asker } from "../pages/email-before.ts";
import { sayReady } from "../processes.ts";
import { traceOf } from "../trace.ts";
import { callDoor } from "./call-door.ts";
import { bodyDoor, originDoor, writeDoor } from "./doors.ts";
import { filmDoor } from "./film-door.ts";
import { formDoor } from "./form-door.ts";
import { health, publicHealth } from "./health.ts";
import { liveDoor } from "./live.ts";
import { lookDoor } from "./look-door.ts";
import { isFromHere, metricsDoor } from "./metrics.ts";
import { pageDoor } from "./page-door.ts";
import { readToken } from "./session-cookie.ts";
import { PIXEL, recordClick, recordOpen } from "./tracking.ts";
import { turnDoor } from "./turns.ts";

const app = webApp();
migrate(app.db);
// Whoever writes has waited for their turn already (`writeDoor`); nobody else may hold up the others for long.
app.db.pragma("busy_timeout = 2000");
const { host, port, url } = app.config;
const isPublic = url.startsWith("https:");

const web = express();
web.disable("x-powered-by");
// A proxy on this machine says who asks; from elsewhere anybody could.
web.set("trust proxy", "loopback");
web.use(
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: { defaultSrc: ["'none'"], styleSrc: ["'unsafe-inline'"], frameAncestors: ["'none'"] },
    },
    strictTransportSecurity: isPublic ? { maxAge: 31_536_000, includeSubDomains: false } : false,
    referrerPolicy: { policy: "same-origin" },
    xFrameOptions: { action: "deny" },
  }),
);
// Files are the same for everybody, and come compressed as the build left them.
const files = (folder: string, maxAge: string, immutable: boolean) =>
  expressStaticGzip(join(projectRoot, folder), {
    enableBrotli: true,
    orderPreference: ["br", "gz"],
    serveStatic: { maxAge, immutable },
  });
// Whoever reads PDF does so in a worker, which asks for letterforms and decoders here and has a policy of its own (CSP 3, 4.2).
const PDF_POLICY = "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self'";
web.use((request, response, next) => {
  if (/^\/(assets\/pdf\.worker|pdf\/)/.test(request.path))
    response.set("Content-Security-Policy", PDF_POLICY);
  next();
});
web.use("/assets", files("build/client/assets", "1y", true));
for (const folder of ["cmaps", "standard_fonts", "wasm", "iccs"])
  web.use(
    `/pdf/${folder}`,
    express.static(join(projectRoot, "node_modules/pdfjs-dist", folder), { maxAge: "1d" }),
  );
web.use(files("build/client", "1h", false));

web.use((request, response, next) => {
  // Who asks, for the pages' own limits; nobody outside may say it for themselves.
  request.headers["x-saudade-caller"] = request.ip ?? "";
  // What is kept of people is kept here only.
  response.set("Cache-Control", "no-store");
  next();
});
web.use(bodyDoor(app), originDoor(app));

web.get("/healthz", (request, response) => {
  const state = health(app);
  response.status(state.ok ? 200 : 503).json(isFromHere(request.ip) ? state : publicHealth(state));
});
web.get("/metrics", metricsDoor(app));
const live = liveDoor(app);
web.get("/live", live.door);
async function askerOf({ headers, ip = "", method }: express.Request): Promise<Asker> {
  const token = await readToken(headers.cookie ?? null);
  return {
    ...{ agent: headers["user-agent"] ?? "", ip, isHead: method === "HEAD" },
    isOwn: token !== null && userOfSession(app, token) !== null,
  };
}
web.get("/t/o/:token.gif", async (request, response) => {
  recordOpen(app, request.params.token, await askerOf(request));
  response.set("Content-Type", "image/gif").send(PIXEL);
});
web.get("/t/c/:token", async (request, response) => {
  const target = recordClick(app, request.params.token, await askerOf(request));
  if (target) response.redirect(302, target);
  else response.status(404).type("text").send("This link is not complete. Open it again from the email.");
});
web.use("/f", formDoor(app));
web.use("/films", filmDoor(app));

/** A person looks for a time, changes their mind and comes back; a program does so a hundred times a minute. */
const publicLimit = rateLimit({
  windowMs: 60_000,
  limit: 40,
  standardHeaders: true,
  legacyHeaders: false,
  handler: (_request, response) =>
    void response.status(429).type("text").send("Too many requests at once. Wait a minute, then try again."),
});
const writesOnly: express.RequestHandler = (request, response, next) =>
  request.method === "GET" || request.method === "HEAD" ? next() : publicLimit(request, response, next);
/** A film tells a few times how far somebody is, and a whole office may look at theirs from one address. */
const pageLimit = rateLimit({
  windowMs: 60_000,
  limit: 300,
  skip: ({ method }) => method !== "POST",
  standardHeaders: true,
  legacyHeaders: false,
});
web.use(["/book", "/booked", "/confirm", "/opt-out"], writesOnly);
web.use(writeDoor(app));
web.use("/for", pageLimit, pageDoor(app, askerOf));
web.use("/look", pageLimit, lookDoor(app, askerOf));
// Programs ask with keys of their own, each with its own measure.
web.use("/api/v1", apiDoor(app));
web.use("/hook", callDoor(app));
web.use(turnDoor(app));
web.use((_request, response, next) => {
  // The pages' own policy has a nonce, and is set where they are made (app/entry.server.tsx).
  response.removeHeader("Content-Security-Policy");
  next();
});
web.use(createRequestHandler({ build, mode: "production" }));

const onError: express.ErrorRequestHandler = (error, _request, response, _next) => {
  const status = Number((error as { status?: unknown }).status);
  const isTheirs = status >= 400 && status < 500;
  const damage = damageWords(error);
  if (!isTheirs) log.error({ error: traceOf(error) }, damage ?? "request failed");
  if (response.headersSent) return void response.end();
  response
    .status(isTheirs ? status : 500)
    .type("text")
    .send(
      isTheirs
        ? "This request cannot be read."
        : (damage ?? "Something went wrong here. Nothing was lost; the server's log says more."),
    );
};
web.use(onError);

const server = web.listen(port, host, sayReady);
// Whoever takes their time holds a connection, not a turn: headers come at once, and no connection is silent for long.
server.headersTimeout = 15_000;
server.requestTimeout = 5 * 60_000;
server.keepAliveTimeout = 20_000;
server.setTimeout(60_000);
/** From one address at a time; a proxy on this machine speaks for many and is not counted. */
const MOST_CONNECTIONS = 200;
const connections = new Map<string, number>();
server.on("connection", (socket) => {
  const address = socket.remoteAddress ?? "";
  if (isFromHere(address)) return;
  const open = (connections.get(address) ?? 0) + 1;
  connections.set(address, open);
  socket.once("close", () => {
    const left = (connections.get(address) ?? 1) - 1;
    if (left > 0) connections.set(address, left);
    else connections.delete(address);
  });
  if (open > MOST_CONNECTIONS) socket.destroy();
});
server.on("error", (error: NodeJS.ErrnoException) => {
  log.error({ error: error.message }, "web server");
  process.exit(1);
});
for (const signal of ["SIGINT", "SIGTERM"] as const)
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
endOnUncaught(
  app,
  "web server",
  () =>
    new Promise((resolve) => {
      // Answers under way are finished; open lines and idle connections end.
      server.close(() => resolve());
      live.end();
      server.closeIdleConnections();
    }),
);
