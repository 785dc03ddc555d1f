/**
 * The social network's process: an HTTP API for accounts that view profiles, invite people and write to those who accepted.
 * People accept days later, or never, by a seeded persona; each account has weekly limits, and a sign-in that can expire.
 * Requests carry "Authorization: Bearer <token>" and may carry an Idempotency-Key, under which a repeated request is answered
 * as the first was. GET /me, POST /views, POST /invitations, POST /messages, GET /news?after=0. The simulated world is
 * steered by POST /clock, /accounts and /expire.
 */
import { createServer } from "node:http";
import Database from "better-sqlite3";
import { z } from "zod";
import { listen, serve } from "../process.ts";
import { seeded } from "../seeded.ts";

const settings = z
  .object({
    SOCIAL_PORT: z.coerce.number().int(),
    SOCIAL_STATE: z.string(),
    SOCIAL_SEED: z.string().default("social"),
  })
  .parse(process.env);

const DAY = 86_400_000;
const WEEK = 7 * DAY;
/** Of those who are invited so many accept, within this time. */
const ACCEPT = 0.42;
const LONGEST_DAYS = 9;

const db = new Database(settings.SOCIAL_STATE);
db.pragma("journal_mode = WAL");
db.exec(`
  CREATE TABLE IF NOT EXISTS clock (id INTEGER PRIMARY KEY CHECK (id = 1), now INTEGER NOT NULL, wall INTEGER);
  CREATE TABLE IF NOT EXISTS accounts (token TEXT PRIMARY KEY, name TEXT NOT NULL, expired INTEGER NOT NULL DEFAULT 0,
    views INTEGER NOT NULL, invitations INTEGER NOT NULL, messages INTEGER NOT NULL);
  CREATE TABLE IF NOT EXISTS acts (id INTEGER PRIMARY KEY, token TEXT NOT NULL, kind TEXT NOT NULL, profile TEXT NOT NULL,
    text TEXT NOT NULL, at INTEGER NOT NULL, idempotency_key TEXT UNIQUE, answers_at INTEGER);
  CREATE INDEX IF NOT EXISTS acts_by_account ON acts (token, kind, at);
`);

const KINDS = { "/views": "view", "/invitations": "invitation", "/messages": "message" } as const;
type Kind = (typeof KINDS)[keyof typeof KINDS];
const LIMIT_OF = { view: "views", invitation: "invitations", message: "messages" } as const;

const bodies = {
  clock: z.object({ now: z.number(), runs: z.boolean() }),
  account: z.object({
    token: z.string(),
    name: z.string(),
    views: z.number().default(1_000),
    invitations: z.number().default(100),
    messages: z.number().default(500),
  }),
  expire: z.object({ token: z.string(), expired: z.boolean() }),
  act: z.object({ profile: z.string().min(1).max(500), text: z.string().max(8_000).default("") }),
};

interface Account {
  token: string;
  name: string;
  expired: number;
  views: number;
  invitations: number;
  messages: number;
}

function now(): number {
  const row = db.prepare("SELECT now, wall FROM clock").get() as
    | { now: number; wall: number | null }
    | undefined;
  if (!row) return Date.now();
  return row.wall === null ? row.now : row.now + Date.now() - row.wall;
}

/** When somebody accepts an invitation of that instant; null: never. */
function acceptsAt(profile: string, at: number): number | null {
  const draw = seeded(settings.SOCIAL_SEED, profile);
  if (draw() >= ACCEPT) return null;
  return Math.round(at + (0.1 + draw() * (LONGEST_DAYS - 0.1)) * DAY);
}

const isFriend = (token: string, profile: string, at: number): boolean =>
  db
    .prepare("SELECT 1 FROM acts WHERE token = ? AND kind = 'invitation' AND profile = ? AND answers_at <= ?")
    .get(token, profile, at) !== undefined;

type Answer = [number, unknown];

function act(account: Account, kind: Kind, body: unknown, key: string | null): Answer {
  const read = bodies.act.safeParse(body);
  if (!read.success) return [400, { error: "profile is missing" }];
  const { profile, text } = read.data;
  if (key) {
    const known = db.prepare("SELECT id FROM acts WHERE idempotency_key = ?").get(key) as
      | { id: number }
      | undefined;
    if (known) return [201, { id: known.id }];
  }
  const at = now();
  if (/gone|nobody/.test(profile)) return [404, { error: "There is no such profile." }];
  if (kind === "message" && !isFriend(account.token, profile, at))
    return [403, { error: "Only people who accepted an invitation can be written to." }];
  if (kind === "invitation") {
    const before = db
      .prepare("SELECT 1 FROM acts WHERE token = ? AND kind = 'invitation' AND profile = ?")
      .get(account.token, profile);
    if (before) return [409, { error: "This person was invited before." }];
  }
  const week = db
    .prepare("SELECT count(*) AS count, min(at) AS oldest FROM acts WHERE token = ? AND kind = ? AND at > ?")
    .get(account.token, kind, at - WEEK) as { count: number; oldest: number | null };
  if (week.count >= account[LIMIT_OF[kind]])
    return [429, { error: "The week's limit is reached.", retryAt: (week.oldest ?? at) + WEEK }];
  const { lastInsertRowid } = db
    .prepare(
      "INSERT INTO acts (token, kind, profile, text, at, idempotency_key, answers_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
    )
    .run(account.token, kind, profile, text, at, key, kind === "invitation" ? acceptsAt(profile, at) : null);
  return [201, { id: Number(lastInsertRowid) }];
}

/** Acceptances up to now, oldest first, each numbered by its invitation's instant of acceptance. */
function news(account: Account, after: number): Answer {
  const rows = db
    .prepare(
      `SELECT answers_at AS at, profile FROM acts WHERE token = ? AND kind = 'invitation' AND answers_at > ? AND answers_at <= ?
       ORDER BY answers_at LIMIT 200`,
    )
    .all(account.token, after, now());
  return [200, { news: rows.map((row) => ({ kind: "accepted", ...(row as object) })) }];
}

function answer(method: string, url: URL, headers: Record<string, unknown>, body: unknown): Answer {
  const path = url.pathname;
  if (method === "POST" && path === "/clock") {
    const { now: at, runs } = bodies.clock.parse(body);
    db.prepare(
      "INSERT INTO clock VALUES (1, ?, ?) ON CONFLICT (id) DO UPDATE SET now = excluded.now, wall = excluded.wall",
    ).run(at, runs ? Date.now() : null);
    const { next } = db.prepare("SELECT min(answers_at) AS next FROM acts WHERE answers_at > ?").get(at) as {
      next: number | null;
    };
    return [200, { next }];
  }
  if (method === "POST" && path === "/accounts") {
    const account = bodies.account.parse(body);
    db.prepare(
      `INSERT INTO accounts VALUES (@token, @name, 0, @views, @invitations, @messages)
       ON CONFLICT (token) DO UPDATE SET views = @views, invitations = @invitations, messages = @messages`,
    ).run(account);
    return [200, {}];
  }
  if (method === "POST" && path === "/expire") {
    const { token, expired } = bodies.expire.parse(body);
    db.prepare("UPDATE accounts SET expired = ? WHERE token = ?").run(expired ? 1 : 0, token);
    return [200, {}];
  }
  if (method === "GET" && path === "/acts")
    return [200, { acts: db.prepare("SELECT kind, profile, text, at FROM acts ORDER BY id").all() }];
  const token = /^Bearer (.+)$/.exec(String(headers.authorization ?? ""))?.[1] ?? "";
  const account = db.prepare("SELECT * FROM accounts WHERE token = ?").get(token) as Account | undefined;
  if (!account || account.expired === 1) return [401, { error: "Sign in again." }];
  if (method === "GET" && path === "/me") return [200, { name: account.name }];
  if (method === "GET" && path === "/news") return news(account, Number(url.searchParams.get("after")) || 0);
  const kind = KINDS[path as keyof typeof KINDS];
  if (method === "POST" && kind)
    return act(account, kind, body, (headers["idempotency-key"] as string) ?? null);
  return [404, { error: "There is no such thing here." }];
}

const server = createServer((request, response) => {
  const parts: Buffer[] = [];
  request.on("data", (part: Buffer) => parts.push(part));
  request.on("end", () => {
    let result: Answer;
    try {
      const text = Buffer.concat(parts).toString();
      const url = new URL(request.url ?? "/", "http://social.example");
      result = answer(request.method ?? "GET", url, request.headers, text === "" ? {} : JSON.parse(text));
    } catch (error) {
      result = [400, { error: error instanceof Error ? error.message : String(error) }];
    }
    response.writeHead(result[0], { "content-type": "application/json" }).end(JSON.stringify(result[1]));
  });
});
await serve(() => listen(server, settings.SOCIAL_PORT));
