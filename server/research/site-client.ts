/**
 * Web sites, asked as a guest: robots.txt is honoured (RFC 9309), a host is asked once a second, redirects are followed by hand
 * since each may lead to another host, and what is too large, too slow or of another kind is left with a word about it.
 */
import robotsParser from "robots-parser";
import type { Config } from "../config.ts";
import { resolverOf } from "../mail/dns.ts";
import { type Answer, askOutside, NoAnswer } from "../outside/ask.ts";

/** Between two questions to a host, in ms. */
const PAUSE = 1_000;
const PATIENCE = 10_000;
const MB = 1024 * 1024;
const MOST_PAGE = 2 * MB;
/** RFC 9309 2.5. */
const MOST_ROBOTS = 500 * 1024;
/** RFC 9309 2.3.1.2 follows five. */
const MOST_HOPS = 5;
/** RFC 9309 2.4: kept for a day at most. */
const ROBOTS_KEPT = 3_600_000;
const MOST_KEPT = 2_000;
/** What robots.txt calls us, and what servers are told. */
const PRODUCT = "Saudade";

/** Why something on a site was not read, in words for the rep. */
export class SiteProblem extends Error {
  constructor(
    words: string,
    /** Whether the whole site is out of reach, not this page alone. */
    readonly isSites = false,
  ) {
    super(words);
  }
}

export interface Fetched {
  /** Where it was at last. */
  url: string;
  contentType: string;
  bytes: Buffer;
}

interface Rules {
  isAllowed(url: string): boolean;
  until: number;
}

type SiteConfig = Pick<Config, "demo" | "inside" | "sitesPort" | "dns">;

const rules = new Map<string, Rules>();
/** When each host may be asked again: for all who ask in this process. */
const nextAt = new Map<string, number>();

async function turn(host: string): Promise<void> {
  const now = Date.now();
  const at = Math.max(now, nextAt.get(host) ?? 0);
  if (nextAt.size > MOST_KEPT) for (const [known, until] of nextAt) if (until < now) nextAt.delete(known);
  nextAt.set(host, at + PAUSE);
  if (at > now) await new Promise((resolve) => setTimeout(resolve, at - now));
}

async function ask(config: SiteConfig, url: URL, most: number, accept: string): Promise<Answer> {
  await turn(url.host);
  return askOutside(config, url.href, {
    patience: PATIENCE,
    mostBytes: most,
    headers: { accept, "user-agent": `${PRODUCT} (reads public pages)`, "accept-encoding": "identity" },
    port: config.sitesPort,
    resolve: config.dns ? (host) => resolverOf(config).resolve4(host) : null,
  });
}

const isRedirect = ({ status, headers }: Answer) =>
  status >= 300 && status < 400 && headers.location !== undefined;

/** What a site lets be read. Where its robots.txt cannot be had for a fault of the server's, nothing (RFC 9309 2.3.1.4). */
async function rulesOf(config: SiteConfig, at: URL): Promise<Rules> {
  const known = rules.get(at.origin);
  if (known && known.until > Date.now()) return known;
  let url = new URL("/robots.txt", at);
  const until = Date.now() + ROBOTS_KEPT;
  let found: Rules = { isAllowed: () => true, until };
  for (let hop = 0; hop <= MOST_HOPS; hop++) {
    const answer = await ask(config, url, MOST_ROBOTS, "text/plain").catch((error: unknown) => {
      // Longer than anybody has to read: what stands at its beginning is not known either.
      if (error instanceof NoAnswer && error.reason === "too_long") return null;
      throw error;
    });
    if (answer === null) break;
    if (isRedirect(answer) && URL.canParse(answer.headers.location ?? "", url)) {
      url = new URL(answer.headers.location ?? "", url);
      continue;
    }
    if (answer.status >= 500 || answer.status === 429)
      throw new SiteProblem(`${at.host} answers ${answer.status} now. It can be tried again later.`, true);
    const isText = !String(answer.headers["content-type"] ?? "").includes("html");
    if (answer.status === 200 && isText) {
      const robots = robotsParser(url.href.replace(/[^/]*$/, "robots.txt"), answer.text);
      found = { isAllowed: (page) => robots.isAllowed(page, PRODUCT) !== false, until };
    }
    break;
  }
  if (rules.size > MOST_KEPT) rules.clear();
  rules.set(at.origin, found);
  return found;
}

/** One thing of a site. Throws a `SiteProblem`. */
export async function fetchFromSite(
  config: SiteConfig,
  address: string,
  as: "page" | "picture" | "feed",
): Promise<Fetched> {
  try {
    let url = new URL(address);
    for (let hop = 0; hop <= MOST_HOPS; hop++) {
      const { isAllowed } = await rulesOf(config, url);
      if (!isAllowed(url.href))
        throw new SiteProblem(
          `${url.host} asks programs not to read ${url.pathname === "/" ? "it" : url.pathname} (robots.txt).`,
          url.pathname === "/",
        );
      const answer = await ask(
        config,
        url,
        MOST_PAGE,
        as === "page" ? "text/html,application/xhtml+xml" : "*/*",
      );
      if (isRedirect(answer)) {
        const location = answer.headers.location ?? "";
        if (!URL.canParse(location, url))
          throw new SiteProblem(`${url.host} leads on to what is no address.`);
        url = new URL(location, url);
        if (url.protocol !== "http:" && url.protocol !== "https:")
          throw new SiteProblem(`${url.host} leads on to what is no web page.`);
        continue;
      }
      return checked(answer, url, as);
    }
    throw new SiteProblem(`${url.host} leads on and on.`, true);
  } catch (error) {
    if (error instanceof NoAnswer) throw new SiteProblem(wordsFor(error), error.reason !== "too_long");
    throw error;
  }
}

function checked({ status, headers, bytes }: Answer, url: URL, as: "page" | "picture" | "feed"): Fetched {
  if (status === 429 || status >= 500)
    throw new SiteProblem(`${url.host} answers ${status} now. It can be tried again later.`, true);
  if (status !== 200) throw new SiteProblem(`There is nothing at ${url.host}${url.pathname} (${status}).`);
  const contentType = String(headers["content-type"] ?? "");
  if (headers["content-encoding"] !== undefined && headers["content-encoding"] !== "identity")
    throw new SiteProblem(`${url.host} packs its pages although it was asked not to.`);
  if (as === "page" && contentType !== "" && !/html|xml|text\/plain/i.test(contentType))
    throw new SiteProblem(
      `What is at ${url.host}${url.pathname} is no web page (${contentType.split(";")[0]?.slice(0, 60)}).`,
    );
  return { url: url.href, contentType, bytes };
}

function wordsFor({ reason, message }: NoAnswer): string {
  return reason === "inside" ? "Their address leads inside this network, where nothing is read." : message;
}
