/** What a mailbox signs in with: its password, or a token that its provider gives for the refresh token we hold. */
import * as oauth from "oauth4webapi";
import type { App } from "../app.ts";
import { isLoopback } from "../config.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { AppError } from "../errors.ts";
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

/** Changes a refresh token into access (RFC 6749 6). Throws `token_refused` with the provider's words. */
export async function fetchAccess(source: TokenSource, wall: number): Promise<Access> {
  const server: oauth.AuthorizationServer = {
    issuer: new URL(source.tokenUrl).origin,
    token_endpoint: source.tokenUrl,
  };
  const client: oauth.Client = { client_id: source.clientId };
  const authentication = source.clientSecret ? oauth.ClientSecretPost(source.clientSecret) : oauth.None();
  try {
    const answer = await oauth.refreshTokenGrantRequest(server, client, authentication, source.refreshToken, {
      signal: AbortSignal.timeout(PATIENCE),
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
    const words =
      error instanceof oauth.ResponseBodyError
        ? (error.error_description ?? error.error)
        : error instanceof Error
          ? error.message
          : String(error);
    throw new AppError("token_refused", `${new URL(source.tokenUrl).host} says: ${words.slice(0, 200)}.`);
  }
}

/** The mailbox's own way in; tokens are kept until they run out. */
export function credentialsOf(app: App, mailbox: Mailbox): () => Promise<Credentials> {
  const secret = unseal(mailbox.passwordSealed, app.key);
  const user = mailbox.username;
  if (mailbox.auth === "password") return () => Promise.resolve({ user, pass: secret });
  let refreshToken = secret;
  let access: Promise<Access> | null = null;
  let expiresAt = 0;
  return async () => {
    if (!access || Date.now() >= expiresAt - EARLY) {
      expiresAt = Number.POSITIVE_INFINITY;
      const clientSecret = mailbox.clientSecretSealed ? unseal(mailbox.clientSecretSealed, app.key) : "";
      access = fetchAccess(
        { tokenUrl: mailbox.tokenUrl, clientId: mailbox.clientId, clientSecret, refreshToken },
        Date.now(),
      );
      try {
        const got = await access;
        expiresAt = got.expiresAt;
        if (got.refreshToken !== null && got.refreshToken !== refreshToken) {
          refreshToken = got.refreshToken;
          sql<{ id: number; sealed: string }>(
            app.db,
            "UPDATE mailboxes SET password_sealed = @sealed WHERE id = @id",
          ).run({ id: mailbox.id, sealed: seal(refreshToken, app.key) });
        }
      } catch (error) {
        access = null;
        throw error;
      }
    }
    return { user, accessToken: (await access).accessToken };
  };
}
