/** A provider's token server: gives access for refresh tokens (RFC 6749 6), and tells a mail server what a token is worth (RFC 7662). */
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";

export interface Tokens {
  url: string;
  /** The forms with which access was asked for. */
  asked: URLSearchParams[];
  stop(): Promise<void>;
}

/**
 * Gives `access-1`, `access-2` … , each good for `life` seconds by its word; each refresh token works once, from
 * `refresh-0`, the next is `refresh-<n>`. The access is `username`'s.
 */
export async function serveTokens({ life = 3600, port = 0, username = "" } = {}): Promise<Tokens> {
  const asked: URLSearchParams[] = [];
  let valid = "refresh-0";
  const give = (form: URLSearchParams): [status: number, answer: object] => {
    asked.push(form);
    if (form.get("refresh_token") !== valid)
      return [400, { error: "invalid_grant", error_description: "This consent was taken back" }];
    valid = `refresh-${asked.length}`;
    const access = `access-${asked.length}`;
    return [200, { access_token: access, token_type: "bearer", expires_in: life, refresh_token: valid }];
  };
  const worth = (form: URLSearchParams) =>
    /^access-\d+$/.test(form.get("token") ?? "") ? { active: true, username } : { active: false };
  const server = createServer(async (request, response) => {
    let body = "";
    for await (const chunk of request) body += chunk;
    const form = new URLSearchParams(body);
    const [status, answer] = request.url === "/token" ? give(form) : [200, worth(form)];
    response.writeHead(status, { "Content-Type": "application/json" }).end(JSON.stringify(answer));
  });
  await new Promise<void>((ready) => server.listen(port, "127.0.0.1", ready));
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/token`,
    asked,
    stop: () => new Promise<void>((closed) => server.close(() => closed())),
  };
}
