/** What a mailbox signs in with: its password, or a token that its provider gives for the refresh token we hold. */
import * as oauth from "oauth4webapi";
import type { App } from "../app.ts";
import { type Config, isLoopback } from "../config.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { AppError } from "../errors.ts";
import { askOutside, NoAnswer } from "../outside/ask.ts";
import { seal, unseal } from "../secrets.ts";

export type Credentials = { user: string; pass: string } | { user: string; accessToken: string };

/** A token is changed this long before it runs out, since a connection lives on for a while. */
const EARLY = 60_000;
/** A provider's answer that names no time is believed for so long. */
const USUAL_LIFE = 30 * 60_000;
const PATIENCE = 20_000;

/** Where a token comes from. */
export interface TokenSource {
  tokenUrl: string;
  clientId: string;
  clientSecret: string;
  refreshToken: string;
}

export interface Access {
  accessToken: string;
  expiresAt: number;
  /** A new refresh token, where the provider changes them with each use. */
  refreshToken: string | null;
}

/** The reasons that are agreed on (RFC 6749 5.2); what else it says in words stays there. */
const REFUSALS: Record<string, string> = {
  invalid_grant: "the refresh token has run out, or was taken back. Make a new one there (invalid_grant).",
  invalid_client: "it does not know this client, or its secret (invalid_client).",
  unauthorized_client: "this client may not use refresh tokens (unauthorized_client).",
  invalid_scope: "the access asked for is not allowed (invalid_scope).",
  invalid_request: "it does not understand the request (invalid_request).",
  unsupported_grant_type: "it takes no refresh tokens (unsupported_grant_type).",
};

/** The provider did not say no: it was not reached, or answered as none does. */
export class TokenUnreached extends AppError {}

/** Changes a refresh token into access (RFC 6749 6). Throws `token_refused` with the provider's words. */
export async function fetchAccess(
  config: Pick<Config, "demo" | "inside">,
  source: TokenSource,
  wall: number,
): Promise<Access> {
  const server: oauth.AuthorizationServer = {
    issuer: new URL(source.tokenUrl).origin,
    token_endpoint: source.tokenUrl,
  };
  const client: oauth.Client = { client_id: source.clientId };
  const authentication = source.clientSecret ? oauth.ClientSecretPost(source.clientSecret) : oauth.None();
  try {
    const answer = await oauth.refreshTokenGrantRequest(server, client, authentication, source.refreshToken, {
      [oauth.customFetch]: async (url, { method, headers, body }) => {
        const answer = await askOutside(config, url, {
          method,
          headers,
          ...(body == null ? {} : { body: String(body) }),
          patience: PATIENCE,
          mostBytes: 100_000,
        });
        return new Response(answer.text, {
          status: answer.status,
          headers: { "content-type": String(answer.headers["content-type"] ?? "") },
        });
      },
      // Without TLS only on this machine, for a stand-in.
      [oauth.allowInsecureRequests]: isLoopback(new URL(source.tokenUrl).hostname),
    });
    const read = await oauth.processRefreshTokenResponse(server, client, answer);
    return {
      accessToken: read.access_token,
      expiresAt: wall + (read.expires_in === undefined ? USUAL_LIFE : read.expires_in * 1000),
      refreshToken: read.refresh_token ?? null,
    };
  } catch (error) {
    const { host } = new URL(source.tokenUrl);
    if (error instanceof NoAnswer) throw new TokenUnreached("token_refused", error.message);
    if (!(error instanceof oauth.ResponseBodyError))
      throw new TokenUnreached("token_refused", `${host} does not answer as a provider of tokens does.`);
    throw new AppError(
      "token_refused",
      `${host}: ${REFUSALS[error.error] ?? "it refuses, and gives no reason that is agreed on."}`,
    );
  }
}

/**
 * Refresh tokens that a form's check used up where the provider changes them with each use, and what came in their
 * place: the form still holds the old one when it is saved.
 */
const successors = new Map<string, string>();
const MOST_SUCCESSORS = 1_000;

type Client = Pick<TokenSource, "tokenUrl" | "clientId">;
const keyOf = ({ tokenUrl, clientId }: Client, token: string) => JSON.stringify([tokenUrl, clientId, token]);

export function succeed(client: Client, old: string, fresh: string): void {
  const oldest = successors.keys().next();
  if (successors.size >= MOST_SUCCESSORS && !oldest.done) successors.delete(oldest.value);
  successors.set(keyOf(client, old), fresh);
}

/** The refresh token that is good now for one that somebody typed. */
export function newestToken(client: Client, typed: string): string {
  const next = successors.get(keyOf(client, typed));
  return next === undefined ? typed : newestToken(client, next);
}

/** Keeps the refresh token that came in place of a mailbox's. */
export function keepRefreshToken({ db, key }: App, mailboxId: number, token: string): void {
  sql(db, "UPDATE mailboxes SET password_sealed = @sealed WHERE id = @id").run({
    id: mailboxId,
    sealed: seal(token, key),
  });
}

/** As it is now: a check in another process may have changed it. */
function refreshTokenOf({ db, key }: App, mailboxId: number): string {
  const row = sql(db, "SELECT password_sealed AS sealed FROM mailboxes WHERE id = @id").get<{
    sealed: string;
  }>({ id: mailboxId });
  return unseal(row?.sealed ?? "", key);
}

/** The mailbox's own way in; tokens are kept until they run out. */
export function credentialsOf(app: App, mailbox: Mailbox): () => Promise<Credentials> {
  const user = mailbox.username;
  if (mailbox.auth === "password") {
    const pass = unseal(mailbox.passwordSealed, app.key);
    return () => Promise.resolve({ user, pass });
  }
  let access: Promise<Access> | null = null;
  let expiresAt = 0;
  return async () => {
    if (!access || Date.now() >= expiresAt - EARLY) {
      expiresAt = Number.POSITIVE_INFINITY;
      const clientSecret = mailbox.clientSecretSealed ? unseal(mailbox.clientSecretSealed, app.key) : "";
      const refreshToken = refreshTokenOf(app, mailbox.id);
      access = fetchAccess(
        app.config,
        { tokenUrl: mailbox.tokenUrl, clientId: mailbox.clientId, clientSecret, refreshToken },
        Date.now(),
      );
      try {
        const got = await access;
        expiresAt = got.expiresAt;
        if (got.refreshToken !== null && got.refreshToken !== refreshToken)
          keepRefreshToken(app, mailbox.id, got.refreshToken);
      } catch (error) {
        access = null;
        throw error;
      }
    }
    return { user, accessToken: (await access).accessToken };
  };
}
