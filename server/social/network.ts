/** The social network's API over HTTP (docs/social-network.md): what it was asked, and what it said. */
import { z } from "zod";
import type { Config } from "../config.ts";
import { unreachedWords } from "../errors.ts";
import { askOutside } from "../outside/ask.ts";

const PATIENCE = 15_000;
/** An answer is a few lines; more is not read. */
const MOST_BYTES = 500_000;

export type SocialKind = "profile_view" | "invitation" | "social_message";
const PATHS: Record<SocialKind, string> = {
  profile_view: "/views",
  invitation: "/invitations",
  social_message: "/messages",
};

export type SocialAnswer =
  | { result: "done" }
  /** It will not be, whatever happens. */
  | { result: "refused"; words: string }
  /** The network's own limit; at the latest it is asked again at `retryAt`. */
  | { result: "limit"; words: string; retryAt: number | null }
  | { result: "signed_out" }
  /** Nobody can tell; asked again under the same key, it is done once. */
  | { result: "unreachable"; words: string };

/** Its words stay there: the address is one that somebody typed, and may be anybody's. */
const failure = z.object({ retryAt: z.number().nullish() });
const newsSchema = z.object({
  news: z
    .array(z.object({ kind: z.literal("accepted"), profile: z.string().max(500), at: z.number() }))
    .max(1_000),
});

export interface SocialSignIn {
  url: string;
  token: string;
  /** Says whether the address may be one inside. */
  config: Pick<Config, "demo" | "inside">;
}

async function ask(
  { url, token, config }: SocialSignIn,
  path: string,
  init: { method: "GET" | "POST"; body?: unknown; key?: string },
): Promise<{ status: number; body: unknown }> {
  const { status, text } = await askOutside(config, url.replace(/\/$/, "") + path, {
    method: init.method,
    headers: {
      authorization: `Bearer ${token}`,
      "content-type": "application/json",
      ...(init.key ? { "idempotency-key": init.key } : {}),
    },
    ...(init.body === undefined ? {} : { body: JSON.stringify(init.body) }),
    patience: PATIENCE,
    mostBytes: MOST_BYTES,
  });
  let body: unknown = {};
  try {
    body = JSON.parse(text);
  } catch {
    // What is no JSON says nothing but its status.
  }
  return { status, body };
}

const REFUSALS: Record<number, string> = {
  403: "The network does not allow it.",
  404: "The network knows no such profile.",
  409: "The network says that it was done before.",
  422: "The network does not take this text.",
};

/** Carries out one touch. `key` makes a repeated request the same one. Never throws. */
export async function carryOut(
  signIn: SocialSignIn,
  kind: SocialKind,
  touch: { profile: string; text: string; key: string },
): Promise<SocialAnswer> {
  try {
    const { status, body } = await ask(signIn, PATHS[kind], {
      method: "POST",
      body: { profile: touch.profile, text: touch.text },
      key: touch.key,
    });
    if (status >= 200 && status < 300) return { result: "done" };
    const { retryAt } = failure.catch({ retryAt: null }).parse(body);
    if (status === 401) return { result: "signed_out" };
    if (status === 429)
      return { result: "limit", words: "The network's limit is reached.", retryAt: retryAt ?? null };
    if (status >= 500) return { result: "unreachable", words: `The network answered ${status}.` };
    return { result: "refused", words: REFUSALS[status] ?? `The network refuses it (${status}).` };
  } catch (error) {
    return { result: "unreachable", words: unreachedWords(error) };
  }
}

/** Whose sign-in it is; null if the network knows none. Throws what keeps the network from answering. */
export async function whoAmI(signIn: SocialSignIn): Promise<string | null> {
  const { status, body } = await ask(signIn, "/me", { method: "GET" });
  if (status === 401 || status === 403) return null;
  const read = z.object({ name: z.string().min(1).max(200) }).safeParse(body);
  if (status !== 200 || !read.success) throw new Error(`It answered ${status}, and not as a network does.`);
  return read.data.name;
}

/** Who accepted since an instant; null if signed out. Throws what keeps the network from answering. */
export async function acceptances(
  signIn: SocialSignIn,
  after: number,
): Promise<{ profile: string; at: number }[] | null> {
  const { status, body } = await ask(signIn, `/news?after=${after}`, { method: "GET" });
  if (status === 401) return null;
  if (status !== 200) throw new Error(`It answered ${status}.`);
  return newsSchema.parse(body).news;
}
