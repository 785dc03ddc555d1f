/**
 * Somebody else's CRM: people, companies, deals and what was done, over an HTTP API of its own (docs/crm.md), and a plain page
 * on which its people work. POST /oauth/token changes a refresh token for access of a minute, and the refresh token with it;
 * lists are read by cursor and by what changed since; more than so many requests in a second are asked to wait; POST
 * /webhooks has an address told, signed, that something changed. The simulated world is steered by POST /clock, /seed,
 * /forget-tokens and /misbehave, and read by GET /all.
 */
import { createHmac, randomBytes } from "node:crypto";
import { createServer, type IncomingMessage, type Server } from "node:http";
import { z } from "zod";
import { crmPage } from "./page.ts";
import { KINDS, type Thing, Things } from "./things.ts";

type Answer = [status: number, body: unknown, headers?: Record<string, string>];

const object = z.record(z.string(), z.unknown());
const bodies = {
  clock: z.object({ now: z.number(), runs: z.boolean() }),
  seed: z.object({
    refreshToken: z.string(),
    things: z.array(z.object({ kind: z.enum(KINDS), body: object })).max(200_000),
  }),
  /** `isTerse`: to what is made or changed it answers the id alone. */
  misbehave: z.object({
    status: z.number().int(),
    retryAfter: z.string().default(""),
    isTerse: z.boolean().default(false),
  }),
  forget: z.object({ all: z.boolean() }),
  hook: z.object({ url: z.url(), secret: z.string() }),
};

const readBody = async (request: IncomingMessage): Promise<string> => {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks).toString("utf8");
};
const objectIn = (text: string): unknown => JSON.parse(text || "{}");

/** Signed as Standard Webhooks ask (https://www.standardwebhooks.com). */
function tellHook({ url, secret }: { url: string; secret: string }): void {
  const body = JSON.stringify({ type: "changed" });
  const id = `crm_${randomBytes(8).toString("hex")}`;
  const seconds = Math.floor(Date.now() / 1_000);
  const key = Buffer.from(secret.replace(/^whsec_/, ""), "base64");
  const signature = createHmac("sha256", key).update(`${id}.${seconds}.${body}`).digest("base64");
  const headers = {
    "content-type": "application/json",
    "webhook-id": id,
    "webhook-timestamp": String(seconds),
    "webhook-signature": `v1,${signature}`,
    connection: "close",
  };
  fetch(url, { method: "POST", body, headers, signal: AbortSignal.timeout(5_000) }).catch(() => {});
}

/** `rate`: requests in a second. */
export function createCrm({ state, rate }: { state: string; rate: number }): Server {
  /** Each address hears that something changed, and asks itself what; once for what comes close together. */
  let telling: NodeJS.Timeout | null = null;
  const things = new Things(state, () => {
    telling ??= setTimeout(() => {
      telling = null;
      for (const hook of things.hooks()) tellHook(hook);
    }, 100);
  });

  let second = 0;
  let requests = 0;
  const isTooFast = (): boolean => {
    const at = Math.floor(Date.now() / 1_000);
    if (at !== second) requests = 0;
    second = at;
    return ++requests > rate;
  };
  let misbehaves = { status: 0, retryAfter: "", isTerse: false };

  const shown = (thing: Thing | undefined) => (misbehaves.isTerse && thing ? { id: thing.id } : thing);

  function api(request: IncomingMessage, { pathname, searchParams }: URL, text: string): Answer {
    const [bearer, token] = String(request.headers.authorization ?? "").split(" ");
    if (bearer !== "Bearer" || !things.isAccess(token ?? "")) return [401, { error: "Sign in." }];
    if (misbehaves.status !== 0)
      return [
        misbehaves.status,
        { error: "It has a bad day." },
        misbehaves.retryAfter ? { "retry-after": misbehaves.retryAfter } : {},
      ];
    if (isTooFast()) return [429, { error: "Slower, please." }, { "retry-after": "1" }];
    if (pathname === "/webhooks" && request.method === "POST") {
      const { url, secret } = bodies.hook.parse(objectIn(text));
      things.addHook(url, secret);
      return [201, {}];
    }
    const [, name, id] = pathname.split("/");
    const kind = KINDS.find((each) => each === name);
    if (!kind) return [404, { error: "There is no such thing." }];
    const { method } = request;
    if (id === undefined) {
      if (method === "GET") return [200, things.list(kind, searchParams)];
      const given = object.parse(objectIn(text));
      if (kind === "people" && /@refused[.-]/.test(String(given.email)))
        return [422, { error: "This domain is not taken here." }];
      const { isNew, thing } = things.make(kind, given);
      return [isNew ? 201 : 200, shown(thing)];
    }
    const thing = things.get(kind, id);
    if (!thing) return [404, { error: "There is no such thing." }];
    if (thing.deleted) return [410, { error: "It was deleted." }];
    if (method === "PATCH") return [200, shown(things.change(kind, id, object.parse(objectIn(text))))];
    if (method === "DELETE") return [things.remove(kind, id) ? 204 : 410, {}];
    return [200, thing];
  }

  function steer(pathname: string, text: string): Answer | null {
    switch (pathname) {
      case "/oauth/token": {
        const form = new URLSearchParams(text);
        if (form.get("grant_type") !== "refresh_token") return [400, { error: "unsupported_grant_type" }];
        const access = things.access(form.get("refresh_token") ?? "");
        return access ? [200, access] : [400, { error: "invalid_grant" }];
      }
      case "/clock": {
        const { now, runs } = bodies.clock.parse(objectIn(text));
        things.setClock(now, runs);
        return [200, { next: null }];
      }
      case "/seed": {
        const seed = bodies.seed.parse(objectIn(text));
        return [200, { ids: things.seed(seed.refreshToken, seed.things) }];
      }
      case "/misbehave":
        misbehaves = bodies.misbehave.parse(objectIn(text));
        return [200, {}];
      case "/forget-tokens":
        things.forgetTokens(bodies.forget.parse(objectIn(text)).all);
        return [200, {}];
      default:
        return null;
    }
  }

  /** What its people do on the page: a form with what is to be so. */
  function byHand(pathname: string, text: string): boolean {
    const [, , name, id] = pathname.split("/");
    const kind = KINDS.find((each) => each === name);
    if (!kind || !id) return false;
    const form = Object.fromEntries(new URLSearchParams(text));
    if (form.remove !== undefined) return things.remove(kind, id);
    return things.change(kind, id, form) !== undefined;
  }

  const server = createServer(async (request, response) => {
    const url = new URL(request.url ?? "/", "http://crm.example");
    const tell = ([status, body, headers = {}]: Answer) =>
      void response
        .writeHead(status, { "content-type": "application/json", ...headers })
        .end(status === 204 ? "" : JSON.stringify(body));
    try {
      if (request.method === "GET" && url.pathname === "/all") return tell([200, things.all()]);
      if (request.method === "GET" && url.pathname === "/")
        return void response
          .writeHead(200, { "content-type": "text/html; charset=utf-8" })
          .end(crmPage(things.all()));
      const text = await readBody(request);
      if (request.method === "POST" && url.pathname.startsWith("/page/"))
        return void response.writeHead(byHand(url.pathname, text) ? 303 : 404, { location: "/" }).end();
      tell((request.method === "POST" ? steer(url.pathname, text) : null) ?? api(request, url, text));
    } catch {
      tell([400, { error: "This is no JSON as agreed." }]);
    }
  });
  server.on("close", () => {
    if (telling) clearTimeout(telling);
    things.close();
  });
  return server;
}
