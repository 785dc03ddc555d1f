/** The web server's process: the interface, and the doors that programs knock at. */
import { existsSync } from "node:fs";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { createRequestHandler } from "@react-router/express";
import express from "express";
import type { ServerBuild } from "react-router";
import { openApp } from "../app.ts";
import { projectRoot } from "../config.ts";
import { migrate, sql } from "../db/open.ts";
import { log } from "../log.ts";
import { formDoor } from "./form-door.ts";
import { PIXEL, recordClick, recordOpen } from "./tracking.ts";

const app = openApp();
migrate(app.db);
const { host, port } = app.config;

const buildFile = join(projectRoot, "build/server/index.js");
if (!existsSync(buildFile)) throw new Error("The interface is not built. Run: npm run build");
const build = (await import(pathToFileURL(buildFile).href)) as ServerBuild;

const web = express();
web.disable("x-powered-by");
web.use((_request, response, next) => {
  response.set({
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
  });
  next();
});
web.use(
  "/assets",
  express.static(join(projectRoot, "build/client/assets"), { immutable: true, maxAge: "1y" }),
);
web.use(express.static(join(projectRoot, "build/client"), { maxAge: "1h" }));

/** Healthy: the database answers, and the engine has ticked lately. */
const ENGINE_MAY_BE_SILENT = 60_000;
web.get("/healthz", (_request, response) => {
  const lease = sql<[], { at: number | null }>(app.db, "SELECT ticked_wall AS at FROM engine_lease").get([]);
  const engine = lease?.at != null && Date.now() - lease.at < ENGINE_MAY_BE_SILENT;
  response.status(engine ? 200 : 503).json({ ok: engine, database: true, engine });
});
web.get("/t/o/:token.gif", (request, response) => {
  recordOpen(app, request.params.token);
  response.set({ "Content-Type": "image/gif", "Cache-Control": "no-store" }).send(PIXEL);
});
web.get("/t/c/:token", (request, response) => {
  const url = recordClick(app, request.params.token);
  if (url) response.redirect(302, url);
  else response.status(404).type("text").send("This link is not complete. Open it again from the email.");
});
web.use("/f", formDoor(app));
web.use(createRequestHandler({ build, mode: "production" }));

const server = web.listen(port, host, () => process.send?.("ready"));
server.on("error", (error: NodeJS.ErrnoException) => {
  log.error({ error: error.message }, "web server");
  process.exit(1);
});
// A supervisor that is gone takes the web server with it.
process.on("disconnect", () => process.exit(0));
for (const signal of ["SIGINT", "SIGTERM"] as const)
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
