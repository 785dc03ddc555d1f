/** Reads a company's web site, at most six pages of it; what was read is kept, for every column that asks. */
import { nextPage, type PageFacts, readingOf, type SiteReading } from "../../core/research/site.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { GuardedThread } from "../threads.ts";
import type { Page } from "./page-facts.ts";
import type { PageAnswer } from "./page-worker.ts";
import { fetchFromSite, SiteProblem } from "./site-client.ts";

/** A usual page takes some milliseconds. */
const READ_PATIENCE = 5_000;
/** All of a site, its own slowness included: six pages, a second between two, and some that take their time. */
const SITE_PATIENCE = 60_000;

const thread = new GuardedThread<{ page: Page; as: "page" | "feed" }, PageAnswer>(
  "server/research/page-worker.ts",
  {
    ...{ memoryMb: 256, stays: false, patience: READ_PATIENCE },
    warmUp: {
      page: { url: "http://warm.example/", contentType: "text/html", bytes: Buffer.from("<p>warm</p>") },
      as: "page",
    },
  },
);

/** Ends the thread; the next page starts another. */
export const stopReadingPages = (): Promise<void> => thread.stop();

export type SiteRead = { ok: true; reading: SiteReading; isFresh: boolean } | { ok: false; problem: string };

/** The reading of a site that is not older than `since`, made now if there is none. Never throws for the site's sake. */
export async function readSite(app: App, domain: string, since: number): Promise<SiteRead> {
  const kept = sql(
    app.db,
    "SELECT state, problem, reading, at FROM sites WHERE domain = @domain AND at >= @since",
  ).get<{
    state: "read" | "failed";
    problem: string | null;
    reading: string;
    at: number;
  }>({ domain, since });
  if (kept?.state === "read")
    return { ok: true, reading: JSON.parse(kept.reading) as SiteReading, isFresh: false };
  // What did not answer a moment ago is not asked again for the next column.
  if (kept && app.clock.now() - kept.at < AGAIN_AFTER) return { ok: false, problem: kept.problem ?? "" };
  const read = await readAnew(app, domain);
  sql(
    app.db,
    `INSERT INTO sites (domain, state, problem, reading, at) VALUES (@domain, @state, @problem, @reading, @now)
     ON CONFLICT (domain) DO UPDATE SET state = excluded.state, problem = excluded.problem, at = excluded.at,
       reading = iif(excluded.state = 'read', excluded.reading, reading)`,
  ).run({
    domain,
    state: read.ok ? "read" : "failed",
    problem: read.ok ? null : read.problem,
    reading: read.ok ? JSON.stringify(read.reading) : "{}",
    now: app.clock.now(),
  });
  return read;
}
const AGAIN_AFTER = 5 * 60_000;

async function readAnew({ config }: App, domain: string): Promise<SiteRead> {
  const ends = Date.now() + SITE_PATIENCE;
  try {
    const home = await homeOf(config, domain);
    const pages = [home];
    const tried = [home.url];
    for (let url = nextPage(pages, tried); url !== null && Date.now() < ends; url = nextPage(pages, tried)) {
      tried.push(url);
      const page = await pageAt(config, url).catch(unlessSites);
      if (page) pages.push(page);
    }
    if (home.feed !== "" && Date.now() < ends) {
      const feed = await fetchFromSite(config, home.feed, "feed").catch(unlessSites);
      const items = feed && (await thread.ask({ page: feed, as: "feed" }).catch(() => null));
      if (items && "items" in items) home.news.push(...items.items);
    }
    return { ok: true, reading: readingOf(pages), isFresh: true };
  } catch (error) {
    if (error instanceof SiteProblem) return { ok: false, problem: error.message };
    throw error;
  }
}

/** One page that cannot be had is left out; the others are read all the same. */
function unlessSites(error: unknown): null {
  if (error instanceof SiteProblem) return null;
  throw error;
}

/** The home page, over TLS first; a house that has none is asked without, and by the name of old. */
async function homeOf(config: App["config"], domain: string): Promise<PageFacts> {
  const ways =
    config.sitesPort === null
      ? [`https://${domain}/`, `http://${domain}/`, `https://www.${domain}/`]
      : [`http://${domain}/`];
  let first: unknown = null;
  for (const way of ways)
    try {
      return await pageAt(config, way);
    } catch (error) {
      first ??= error;
      if (!(error instanceof SiteProblem) || !/cannot be reached|broke off|no host/.test(error.message))
        throw error;
    }
  throw first;
}

async function pageAt(config: App["config"], url: string): Promise<PageFacts> {
  const page = await fetchFromSite(config, url, "page");
  const answer = await thread.ask({ page, as: "page" }).catch((error: unknown) => {
    throw new SiteProblem(
      `${new URL(url).host}: ${error instanceof Error ? error.message : "its page cannot be read."}`,
    );
  });
  if (!("facts" in answer)) throw new SiteProblem("Its page cannot be read.");
  return answer.facts;
}
