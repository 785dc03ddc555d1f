/** What stands on one page of a web site, taken out of its HTML. Runs where a hostile page can be given up (read-page.ts). */
import { Readability } from "@mozilla/readability";
import htmlEncodingSniffer from "html-encoding-sniffer";
import { DomUtils, parseDocument } from "htmlparser2";
import iconv from "iconv-lite";
import { parseHTML } from "linkedom";
import { plainLine } from "../../core/plain-line.ts";
import { decodeText } from "../../core/prospects/decode.ts";
import { dayIn } from "../../core/research/dates-said.ts";
import type { NewsItem, PageFacts } from "../../core/research/site.ts";

export interface Page {
  url: string;
  /** The header's word for the letters, as in "text/html; charset=utf-8"; "" for none. */
  contentType: string;
  bytes: Uint8Array;
}

const MOST_LINKS = 300;
const MOST_HEADINGS = 20;
const MOST_TEXT = 20_000;
const MOST_ITEMS = 50;
/** Deeper than this nobody nests a page by hand; readers that go down step by step would run out of stack. */
const DEEPEST = 400;

/** The HTML as text: by its mark, its header, its own word or, where that is not true, by what the bytes look like. */
export function textOf({ bytes, contentType }: Pick<Page, "bytes" | "contentType">): string {
  const charset = contentType.match(/charset\s*=\s*"?([\w-]+)/i)?.[1];
  const said = htmlEncodingSniffer(bytes, {
    // Where nothing says it, its bytes do.
    defaultEncoding: "UTF-8",
    ...(charset ? { transportLayerEncodingLabel: charset } : {}),
  });
  if (said === "UTF-8" || !iconv.encodingExists(said)) {
    const decoded = decodeText(bytes);
    return decoded.ok ? decoded.text : "";
  }
  return iconv.decode(Buffer.from(bytes), said);
}

/** Throws where it is no page that can be read. */
export function pageFacts(page: Page): PageFacts {
  const html = textOf(page);
  if (depthOf(html) > DEEPEST) throw new Error("Its page is nested too deep to be read.");
  const { document } = parseHTML(
    html.includes("<body") || html.includes("<html") ? html : `<html><body>${html}</body></html>`,
  );
  const absolute = (href: string | null | undefined): string => {
    const base = page.url;
    if (!href || href.startsWith("#") || !URL.canParse(href, base)) return "";
    const { href: whole, protocol } = new URL(href, base);
    return protocol === "http:" || protocol === "https:" ? whole.slice(0, 500) : "";
  };
  const meta = (...names: string[]) => {
    for (const name of names) {
      const said = document
        .querySelector(`meta[name="${name}"],meta[property="${name}"]`)
        ?.getAttribute("content");
      if (said?.trim()) return plainLine(said, 600);
    }
    return "";
  };
  const linked = structuredData(document);
  const language = (document.documentElement?.getAttribute("lang") ?? meta("og:locale", "content-language"))
    .slice(0, 2)
    .toLowerCase();
  const news = [...linkedNews(linked, absolute), ...datedBlocks(document, absolute)].slice(0, MOST_ITEMS);
  const links = [...document.querySelectorAll("a[href]")].slice(0, MOST_LINKS).map((link) => ({
    url: absolute(link.getAttribute("href")),
    text: plainLine(link.textContent || link.getAttribute("title") || "", 80),
  }));
  const lines = paragraphsOf(document.body);
  const organization = organizationOf(linked, absolute);
  const facts = {
    url: page.url,
    title: plainLine(document.querySelector("title")?.textContent ?? "", 200),
    siteName: meta("og:site_name", "application-name"),
    description: meta("description"),
    shownDescription: meta("og:description", "twitter:description"),
    language: /^[a-z]{2}$/.test(language) ? language : "",
    color: meta("theme-color").slice(0, 30),
    organization,
    icons: iconsOf(document, absolute),
    shownPicture: absolute(meta("og:image", "twitter:image")),
    logos: [...document.querySelectorAll("img[src]")]
      .filter((img) =>
        /logo|brand/i.test(
          ["src", "alt", "class", "id"].map((name) => img.getAttribute(name) ?? "").join(" ") +
            (img.parentElement?.getAttribute("class") ?? ""),
        ),
      )
      .slice(0, 5)
      .map((img) => ({
        url: absolute(img.getAttribute("src")),
        alt: plainLine(img.getAttribute("alt") ?? "", 100),
      })),
    headings: [...document.querySelectorAll("h1,h2,h3")]
      .map((each) => plainLine(each.textContent ?? "", 160))
      .filter((each) => each !== "")
      .slice(0, MOST_HEADINGS),
    links: links.filter(({ url }) => url !== ""),
    frames: [...document.querySelectorAll("frame[src]")]
      .map((frame) => absolute(frame.getAttribute("src")))
      .filter((url) => url !== "")
      .slice(0, 3),
    copyright:
      lines.match(/(?:©|\(c\))\s*(?:\d{4}(?:\s?[-–]\s?\d{4})?)?\s*([^·|.,\n©]{3,80})/i)?.[1]?.trim() ?? "",
    feed: absolute(
      document
        .querySelector('link[type="application/rss+xml"],link[type="application/atom+xml"]')
        ?.getAttribute("href"),
    ),
    addresses: addressesIn(document, lines),
    news,
  };
  return { ...facts, text: mainText(document) };
}

/** How deep tags are nested, as far as it matters here: opening ones that nothing closes count on. */
function depthOf(html: string): number {
  let depth = 0;
  let deepest = 0;
  for (const [, closing, name = ""] of html.matchAll(
    /<(\/?)(div|table|span|section|ul|ol|li|b|i|font|center|blockquote|p|tr|td)\b/gi,
  )) {
    if (/^(p|li|tr|td|b|i)$/i.test(name)) continue;
    depth = closing ? Math.max(0, depth - 1) : depth + 1;
    deepest = Math.max(deepest, depth);
  }
  return deepest;
}

type Absolute = (href: string | null | undefined) => string;
type Thing = Record<string, unknown>;

/** All things of a page's JSON-LD (schema.org), those inside each other, too. */
function structuredData(document: Document): Thing[] {
  const things: Thing[] = [];
  const add = (value: unknown, depth: number): void => {
    if (typeof value !== "object" || value === null || depth > 6 || things.length > 200) return;
    if (Array.isArray(value)) for (const each of value) add(each, depth + 1);
    else {
      things.push(value as Thing);
      for (const each of Object.values(value)) add(each, depth + 1);
    }
  };
  for (const script of [...document.querySelectorAll('script[type="application/ld+json"]')].slice(0, 20))
    try {
      add(JSON.parse((script.textContent ?? "").slice(0, 200_000)), 0);
    } catch {
      // What is no JSON says nothing.
    }
  return things;
}

const isA = (thing: Thing, types: RegExp) =>
  [thing["@type"]].flat().some((type) => typeof type === "string" && types.test(type));
const said = (value: unknown, most: number): string =>
  typeof value === "string" ? plainLine(value, most) : "";
const addressOf = (value: unknown, absolute: Absolute): string => {
  const [first] = [value].flat();
  return absolute(typeof first === "string" ? first : said((first as Thing | null)?.url, 500));
};

function organizationOf(things: Thing[], absolute: Absolute): PageFacts["organization"] {
  const found = things.find((thing) =>
    isA(thing, /Organization|Museum|Library|LocalBusiness|Corporation|Store|Archive/),
  );
  return found
    ? {
        name: said(found.name, 200),
        description: said(found.description, 600),
        logo: addressOf(found.logo, absolute),
      }
    : null;
}

const linkedNews = (things: Thing[], absolute: Absolute): NewsItem[] =>
  things
    .filter((thing) => isA(thing, /NewsArticle|BlogPosting|Article|Event/))
    .flatMap((thing) => {
      const day = dayIn(said(thing.datePublished ?? thing.startDate, 40));
      const title = said(thing.headline ?? thing.name, 200);
      return day && title
        ? [{ day, title, text: said(thing.description, 500), url: addressOf(thing.url, absolute) }]
        : [];
    });

/** Blocks with one date in them: what a page of news is made of, however it is made. */
function datedBlocks(document: Document, absolute: Absolute): NewsItem[] {
  const items: NewsItem[] = [];
  const taken = new Set<string>();
  for (const element of document.querySelectorAll("article,li,tr,dt,div,p,section,time")) {
    if (items.length >= MOST_ITEMS) break;
    if ((element.textContent ?? "").length > 900) continue;
    const own = paragraphsOf(element);
    const next = element.localName === "dt" ? element.nextElementSibling : null;
    const block = next ? `${own}\n${paragraphsOf(next)}` : own;
    const day =
      dayIn(element.querySelector("time[datetime]")?.getAttribute("datetime") ?? "") ?? dayIn(block);
    if (!day || datesIn(block) > 1) continue;
    const written = plainLine(block, 900);
    const named = element.querySelector("h1,h2,h3,h4,b,strong,a,.t,.title");
    const rest = plainLine(block.replace(DATE, ""), 900).replace(/^[\s:–—-]+/, "");
    const title =
      named && dayIn(named.textContent ?? "") === null
        ? plainLine(named.textContent ?? "", 200)
        : element.localName === "dt"
          ? plainLine(own.replace(DATE, ""), 200).replace(/^[\s:–—-]+/, "")
          : (linesOf(block)[0] ?? "");
    // The date alone, in a block of its own: what it dates is around it.
    if (title.length < 4 || rest.length < 12 || taken.has(`${day}${title}`)) continue;
    taken.add(`${day}${title}`);
    const text = plainLine(
      rest.startsWith(title) ? rest.slice(title.length).replace(/^[\s:–—-]+/, "") : rest,
      500,
    );
    items.push({
      day,
      title,
      text: text === "" ? written.slice(0, 500) : text,
      url: absolute(element.querySelector("a[href]")?.getAttribute("href")),
    });
  }
  return items;
}
/** The lines of a block without its date. */
const linesOf = (block: string) =>
  block
    .replace(DATE, "")
    .split("\n")
    .map((line) => line.replace(/^[\s:–—-]+/, "").trim())
    .filter((line) => line !== "");
const DATE =
  /\d{4}-\d{2}-\d{2}|\d{1,2}[./]\d{1,2}[./]\d{4}|\d{1,2}(?:st|nd|rd|th|\.|er)?\s+(?:de\s+)?\p{L}{3,12}\.?,?\s+(?:de\s+)?\d{4}|\p{L}{3,12}\s+\d{1,2},\s+\d{4}/u;
const datesIn = (text: string) =>
  [...text.matchAll(new RegExp(DATE, "gu"))].filter(([each]) => dayIn(each) !== null).length;

/** Icons by the size that they say they have; a drawing fits any. */
function iconsOf(document: Document, absolute: Absolute): PageFacts["icons"] {
  return [...document.querySelectorAll('link[rel~="icon"][href],link[rel="apple-touch-icon"][href]')]
    .map((link) => {
      const href = link.getAttribute("href");
      const isDrawing = link.getAttribute("type") === "image/svg+xml" || /\.svg(\?|$)/i.test(href ?? "");
      const size = Number(
        link.getAttribute("sizes")?.match(/^\d+/)?.[0] ??
          (link.getAttribute("rel") === "apple-touch-icon" ? 180 : 16),
      );
      return { url: absolute(href), size: isDrawing ? 1_000 : size };
    })
    .filter(({ url }) => url !== "")
    .sort((a, b) => b.size - a.size)
    .slice(0, 5);
}

function addressesIn(document: Document, text: string): string[] {
  const linked = [...document.querySelectorAll('a[href^="mailto:"]')].map(
    (link) => (link.getAttribute("href") ?? "").slice("mailto:".length).split("?")[0] ?? "",
  );
  const written = [
    ...text.matchAll(/[a-z0-9][a-z0-9._+-]{0,63}@[a-z0-9][a-z0-9.-]{1,100}\.[a-z]{2,20}/gi),
  ].map(([address]) => address);
  return [...new Set([...linked, ...written].map((each) => each.trim().toLowerCase()))]
    .filter((each) => /^[^\s@]+@[^\s@]+\.[a-z]{2,}$/.test(each))
    .slice(0, 20);
}

/** What a reader would read, a paragraph a line: by the readability package, or all of the page where that finds nothing. */
function mainText(document: Document): string {
  for (const each of document.querySelectorAll(
    "script,style,noscript,template,svg,nav,header,footer,aside,form,[id*=cookie],[class*=cookie],[class*=menu],[class*=bottom]",
  ))
    each.remove();
  const whole = paragraphsOf(document.body);
  if (whole.length < 400) return whole;
  const article = new Readability(document, {
    charThreshold: 100,
    maxElemsToParse: 20_000,
    serializer: (element) => element as unknown as string,
  }).parse();
  const read = article?.content ? paragraphsOf(article.content as unknown as Element) : "";
  return read.length > whole.length / 4 ? read : whole;
}

const BLOCKS = new Set(
  "p div li tr td dd dt h1 h2 h3 h4 h5 h6 article section main table ul ol dl blockquote br address center".split(
    " ",
  ),
);

function paragraphsOf(root: Element | null): string {
  const lines: string[] = [];
  let line = "";
  const end = () => {
    const plain = plainLine(line, 2_000);
    if (plain !== "") lines.push(plain);
    line = "";
  };
  const walk = (node: Node): void => {
    if (node.nodeType === 3) line += node.textContent ?? "";
    else if (node.nodeType === 1) {
      const isBlock = BLOCKS.has((node as Element).localName);
      if (isBlock) end();
      for (const child of node.childNodes) walk(child);
      if (isBlock) end();
    }
  };
  if (root) walk(root);
  end();
  return lines.join("\n").slice(0, MOST_TEXT);
}

/** The items of a feed (RSS 2.0, RFC 4287); empty where it is none. */
export function feedItems(page: Page): NewsItem[] {
  const feed = DomUtils.getFeed(parseDocument(textOf(page), { xmlMode: true }).children);
  return (feed?.items ?? []).slice(0, MOST_ITEMS).flatMap(({ title, pubDate, description, link }) => {
    const at = pubDate && !Number.isNaN(pubDate.getTime()) ? pubDate.toISOString().slice(0, 10) : null;
    const { document } = parseHTML(`<html><body>${(description ?? "").slice(0, 5_000)}</body></html>`);
    return at && title
      ? [
          {
            day: at,
            title: plainLine(title, 200),
            text: plainLine(document.body?.textContent ?? "", 500),
            url: link && URL.canParse(link, page.url) ? new URL(link, page.url).href : "",
          },
        ]
      : [];
  });
}
