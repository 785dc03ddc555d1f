/** A typed client of the API: every path, body and answer is known to the compiler. */
import createClient, { type Client } from "openapi-fetch";
import type { paths } from "./api";

/** `url`: where Saudade is reached; `key`: made under Connections. Each request carries it. */
export const saudade = ({ url, key }: { url: string; key: string }): Client<paths> =>
  createClient<paths>({
    baseUrl: `${url.replace(/\/$/, "")}/api/v1`,
    headers: { authorization: `Bearer ${key}` },
  });
