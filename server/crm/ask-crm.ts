/** A CRM over HTTP: signed in, its tokens renewed, its limits honoured, and its refusals told apart. */
import { partAt } from "../../core/connections/json-path.ts";
import { retryAfter } from "../../core/connections/retry.ts";
import type { Dialect, Things } from "../../core/crm/dialect.ts";
import { plainLine } from "../../core/plain-line.ts";
import type { Config } from "../config.ts";
import { AppError } from "../errors.ts";
import { fetchAccess, TokenUnreached } from "../mail/credentials.ts";
import { type Answer, askOutside, NoAnswer } from "../outside/ask.ts";

const PATIENCE = 20_000;
const MOST_ANSWER = 8 * 1024 * 1024;
const WORDS_KEPT = 300;
/** Access is renewed this long before it ends. */
const EARLY = 5_000;
/** Things asked for at a time. */
const PAGE = 100;

/**
 * Why something was not done. "wait": it may later; "slower": it may after `waits` ms; "key": not before somebody has signed in
 * anew; "refused": not this thing; "gone": it is no longer there.
 */
export class CrmProblem extends Error {
  constructor(
    readonly what: "wait" | "slower" | "key" | "refused" | "gone",
    words: string,
    readonly waits = 0,
  ) {
    super(words);
  }
}

export interface Access {
  clientId: string;
  clientSecret: string;
  /** The refresh token, or the key itself. */
  key: string;
  access: string;
  accessUntil: number;
}

interface Asked {
  query?: Record<string, string | null>;
  body?: unknown;
}

export class CrmClient {
  /** What it got done: things told, and pages gone through (carry.ts). */
  progress = 0;

  constructor(
    private readonly config: Pick<Config, "demo" | "inside">,
    private readonly at: { url: string; dialect: Dialect },
    private access: Access,
    /** Keeps what a token's renewal brought. */
    private readonly keep: (access: Access) => void,
  ) {}

  /** What it answers, read; throws a `CrmProblem`. */
  async ask(method: "GET" | "POST" | "PATCH" | "DELETE", path: string, asked: Asked = {}): Promise<unknown> {
    let answer = await this.send(method, path, asked);
    if (answer.status === 401 && this.at.dialect.token !== "") {
      // Taken back before its time.
      this.access = { ...this.access, accessUntil: 0 };
      answer = await this.send(method, path, asked);
    }
    const { status, headers, text } = answer;
    const words = `${status}${text === "" ? "" : ` ${plainLine(text, WORDS_KEPT)}`}`;
    if (status === 401 || status === 403)
      throw new CrmProblem(
        "key",
        `It lets us in no more (${words}). Sign in anew there, and paste the new token here.`,
      );
    if (status === 404 || status === 410) throw new CrmProblem("gone", words);
    const waits = retryAfter(headers["retry-after"], Date.now());
    if (status === 429) throw new CrmProblem("slower", "It asks us to go slower.", waits);
    if (status < 200 || (status >= 300 && status < 400) || status >= 500 || status === 408 || status === 425)
      throw new CrmProblem("wait", `It answers ${words}.`, waits);
    if (status >= 400) throw new CrmProblem("refused", words);
    if (method !== "GET") this.progress++;
    if (text === "") return {};
    try {
      return JSON.parse(text);
    } catch {
      throw new CrmProblem("wait", "What it answers is no JSON. Check the address.");
    }
  }

  /** One page of a list, in the order in which things changed. */
  async page(
    things: Things,
    {
      cursor = null,
      since = null,
      view = "",
    }: { cursor?: string | null; since?: string | null; view?: string },
  ): Promise<{ items: unknown[]; next: string | null }> {
    const { dialect } = this.at;
    const answer = await this.ask("GET", things.path, {
      query: {
        [dialect.limit]: String(PAGE),
        [dialect.cursor]: cursor,
        [dialect.since]: since,
        [dialect.view]: view || null,
      },
    });
    const items = partAt(answer, things.items);
    if (!Array.isArray(items))
      throw new CrmProblem("wait", `At ${things.path} it answers no list under “${things.items}”.`);
    const next = partAt(answer, dialect.next);
    const isNext =
      (typeof next === "string" || typeof next === "number") && next !== "" && String(next) !== cursor;
    return { items, next: isNext ? String(next) : null };
  }

  private async send(
    method: "GET" | "POST" | "PATCH" | "DELETE",
    path: string,
    { query = {}, body }: Asked,
  ): Promise<Answer> {
    const url = new URL(`${this.at.url}${path}`);
    for (const [name, value] of Object.entries(query)) if (value !== null) url.searchParams.set(name, value);
    const bearer = await this.bearer();
    try {
      return await askOutside(this.config, url.href, {
        method,
        headers: {
          accept: "application/json",
          authorization: `Bearer ${bearer}`,
          ...(body === undefined ? {} : { "content-type": "application/json" }),
        },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
        patience: PATIENCE,
        mostBytes: MOST_ANSWER,
      });
    } catch (error) {
      if (error instanceof NoAnswer) throw new CrmProblem("wait", error.message);
      throw error;
    }
  }

  private async bearer(): Promise<string> {
    const { url, dialect } = this.at;
    const wall = Date.now();
    if (dialect.token === "") return this.access.key;
    if (this.access.access !== "" && wall < this.access.accessUntil - EARLY) return this.access.access;
    const { clientId, clientSecret, key } = this.access;
    try {
      const got = await fetchAccess(
        this.config,
        {
          tokenUrl: `${url}${dialect.token}`,
          clientId: clientId || "saudade",
          clientSecret,
          refreshToken: key,
        },
        wall,
      );
      this.access = {
        ...{ clientId, clientSecret, access: got.accessToken, accessUntil: got.expiresAt },
        key: got.refreshToken ?? key,
      };
      this.keep(this.access);
      return got.accessToken;
    } catch (error) {
      if (!(error instanceof AppError)) throw error;
      throw new CrmProblem(error instanceof TokenUnreached ? "wait" : "key", error.message);
    }
  }
}
