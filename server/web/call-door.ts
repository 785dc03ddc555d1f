/** The door at which other programs call rules, and the CRM says that something changed: JSON, no session and no key but the address itself, a measure for each address. */
import express, { Router } from "express";
import { rateLimit } from "express-rate-limit";
import { tellProblem } from "../api/door.ts";
import { problem, problemOf } from "../api/problems.ts";
import type { App } from "../app.ts";
import { pokeCrm } from "../crm/crm.ts";
import { takeCall } from "../rules/take-call.ts";

const MOST_A_MINUTE = 120;

export function callDoor(app: App): Router {
  const door = Router();
  door.use(
    rateLimit({
      windowMs: 60_000,
      limit: MOST_A_MINUTE,
      standardHeaders: "draft-8",
      legacyHeaders: false,
      handler: (_request, response) =>
        tellProblem(response, problem("too_many", "Wait a minute, then call again.")),
    }),
  );
  const bodies = new WeakMap<object, string>();
  const json = express.json({
    ...{ limit: "100kb", type: () => true },
    // What is signed is signed as it came.
    verify: (request, _response, bytes) => void bodies.set(request, bytes.toString("utf8")),
  });
  door.post("/:address", json, (request, response) => {
    if (pokeCrm(app, String(request.params.address), request.headers, bodies.get(request) ?? ""))
      return void response.json({});
    const outcome = takeCall(app, String(request.params.address), request.body);
    if (outcome.ok) response.json(outcome.value);
    else tellProblem(response, problemOf(outcome));
  });
  door.use(((error: { type?: string }, _request, response, next) => {
    if (error.type === undefined) return next(error);
    tellProblem(
      response,
      error.type === "entity.too.large"
        ? problem("too_large")
        : problem("unreadable", "Send JSON, in UTF-8."),
    );
  }) satisfies express.ErrorRequestHandler);
  return door;
}
