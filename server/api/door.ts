/** The door of the API: whose key it is, what it is good for, how much it asks; then the operation (operations.ts). */
import express, { type Request, type RequestHandler, type Response, Router } from "express";
import { rateLimit } from "express-rate-limit";
import { reaches } from "../../core/team/scopes.ts";
import type { App } from "../app.ts";
import { noteFailure } from "../db/failures.ts";
import { AppError, isBusy } from "../errors.ts";
import { type Answer, carryOut, tagOf, tagsMatch } from "./carry-out.ts";
import { type Bearer, bearerOf } from "./keys.ts";
import { openApi } from "./openapi.ts";
import { type Operation, powerOf } from "./operation.ts";
import { OPERATIONS } from "./operations.ts";
import { type Problem, problem } from "./problems.ts";

/** Of one key: 250 a second for a minute, which is more than a program that works needs. */
export const MOST_A_MINUTE = 15_000;
/** Of one caller: keys that are none. */
const MOST_WRONG_A_MINUTE = 60;
const LONGEST_KEY = 200;

/** Answers a problem; its body says what the status does. */
export function tellProblem(response: Response, found: Problem): void {
  if (response.headersSent) return;
  response.status(found.status).type("application/problem+json").send(JSON.stringify(found));
}

const bearers = new WeakMap<Request, Bearer>();
const bodies = new WeakMap<object, string>();
const bearer = (request: Request): Bearer => bearers.get(request) as Bearer;

export function apiDoor(app: App): Router {
  const door = Router();
  door.get("/openapi.json", (_request, response) => void response.json(openApi(app.config.url)));
  door.use(
    rateLimit({
      windowMs: 60_000,
      limit: MOST_WRONG_A_MINUTE,
      standardHeaders: false,
      legacyHeaders: false,
      skipSuccessfulRequests: true,
      requestWasSuccessful: (_request, response) => response.statusCode !== 401,
      handler: (_request, response) =>
        tellProblem(response, problem("too_many", "Too many keys that are none. Wait a minute.")),
    }),
    (request, response, next) => {
      const [, key] = /^Bearer ([\x21-\x7e]+)$/.exec(request.headers.authorization ?? "") ?? [];
      const known = key === undefined || key.length > LONGEST_KEY ? null : bearerOf(app, key);
      if (!known) {
        response.set("WWW-Authenticate", 'Bearer realm="Saudade"');
        return tellProblem(
          response,
          problem(
            "no_key",
            "Send a key that is in use: Authorization: Bearer …. Keys are made under Connections.",
          ),
        );
      }
      bearers.set(request, known);
      next();
    },
    rateLimit({
      windowMs: 60_000,
      limit: MOST_A_MINUTE,
      standardHeaders: "draft-8",
      legacyHeaders: false,
      keyGenerator: (request) => String(bearer(request).keyId),
      identifier: "requests",
      handler: (_request, response) =>
        tellProblem(response, problem("too_many", "Wait as Retry-After says.")),
    }),
  );
  const readsBody = express.json({
    limit: "1mb",
    type: () => true,
    strict: true,
    verify: (request, _response, raw) => void bodies.set(request, raw.toString("utf8")),
  });
  for (const operation of OPERATIONS)
    door[operation.method](
      operation.path.replace(/\{(\w+)\}/g, ":$1"),
      mayAsk(operation),
      ...(operation.method === "get" ? [] : [readsBody]),
      (request, response, next) => {
        answer(app, operation, request, response).catch(next);
      },
    );
  door.use((_request, response) =>
    tellProblem(response, problem("not_found", "There is no such operation.")),
  );
  door.use(((error: unknown, _request, response, _next) => {
    const { type } = (error ?? {}) as { type?: string };
    if (type === "entity.too.large") return tellProblem(response, problem("too_large"));
    if (type !== undefined) return tellProblem(response, problem("unreadable", "Send JSON, in UTF-8."));
    if (error instanceof AppError && error.code === "not_found")
      return tellProblem(response, problem("not_found"));
    if (isBusy(error)) {
      response.set("Retry-After", "2");
      return tellProblem(response, problem("busy", "Nothing was changed; try again in a moment."));
    }
    noteFailure(app.db, "request", "api", error);
    return tellProblem(response, problem("failed", "The server's log says more. It was not you."));
  }) satisfies express.ErrorRequestHandler);
  return door;
}

const mayAsk =
  (operation: Operation): RequestHandler =>
  (request, response, next) => {
    const { area } = operation;
    const power = powerOf(operation);
    if (reaches(bearer(request).scopes, area, power)) return next();
    tellProblem(
      response,
      problem("scope_missing", `It needs the scope ${area}:${power}. Make a key that has it.`),
    );
  };

const LONGEST_IDEMPOTENCY = 200;

async function answer(app: App, operation: Operation, request: Request, response: Response): Promise<void> {
  const { keyId, user } = bearer(request);
  const idempotencyKey = request.get("idempotency-key") ?? null;
  if (idempotencyKey !== null && (idempotencyKey === "" || idempotencyKey.length > LONGEST_IDEMPOTENCY))
    return tellProblem(
      response,
      problem("invalid", `An Idempotency-Key has 1 to ${LONGEST_IDEMPOTENCY} characters.`),
    );
  const { status, body }: Answer = await carryOut({
    ...{ app, user, keyId, operation, idempotencyKey },
    params: request.params,
    query: request.query,
    body: request.body as unknown,
    rawBody: bodies.get(request) ?? "",
    ifMatch: request.get("if-match") ?? null,
  });
  if (status >= 400) return tellProblem(response, body as Problem);
  if (operation.method === "get") {
    const tag = tagOf(body);
    response.set("ETag", tag);
    if (tagsMatch(request.get("if-none-match") ?? "", tag)) return void response.status(304).end();
  }
  response.status(status).type("json").send(JSON.stringify(body));
}
