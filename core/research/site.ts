/**
 * What a company's web site says, put together from its pages: which of them to read, what the company is called and does, its
 * logo, its newest news. Every answer names the page and the words it rests on.
 */
import { fold } from "../fold.ts";

/** What stands on one page, as it was taken out of its HTML (server/research/page-facts.ts). */
export interface PageFacts {
  url: string;
  title: string;
  /** "" where a page says none; the same for all texts here. */
  siteName: string;
  description: string;
  shownDescription: string;
  /** ISO 639-1. */
  language: string;
  /** The color of the browser's frame. */
  color: string;
  organization: { name: string; description: string; logo: string } | null;
  /** The largest first. */
  icons: { url: string; size: number }[];
  shownPicture: string;
  /** Pictures that look as if they were the logo, with what they are said to be. */
  logos: { url: string; alt: string }[];
  headings: string[];
  links: { url: string; text: string }[];
  /** Pages that stand inside this one. */
  frames: string[];
  /** Who says that the page is theirs: what stands behind ©. */
  copyright: string;
  feed: string;
  /** The page's main text, a paragraph a line. */
  text: string;
  addresses: string[];
  news: NewsItem[];
}

export interface NewsItem {
  /** "YYYY-MM-DD". */
  day: string;
  title: string;
  text: string;
  url: string;
}

/** What was read of a site, without what is needed for nothing. */
export interface SiteReading {
  /** The first is the home page. */
  pages: { url: string; title: string; headings: string[]; text: string }[];
  name: string;
  language: string;
  color: string;
  /** What they do; null where no page says it. */
  line: Evidence | null;
  news: (NewsItem & { page: string }) | null;
  addresses: string[];
  /** Where their logo may be, the best first. */
  logos: string[];
  shownPicture: string;
}

export interface Evidence {
  value: string;
  url: string;
  /** The words that it rests on. */
  text: string;
  sureness: Sureness;
}
export const SURENESSES = ["sure", "likely", "doubtful"] as const;
export type Sureness = (typeof SURENESSES)[number];

export const MOST_PAGES = 6;
type PageKind = "about" | "news" | "team" | "contact";

/** What such pages are called, in the languages of the people who are written to; folded. */
const CALLED: Record<PageKind, RegExp> = {
  about:
    /\b(about|who we are|our story|mission|profile|ue?ber ?uns|das haus|wir uber|sobre|quem somos|quienes somos|acerca|qui[- ]sommes[- ]nous|a[- ]propos|chi siamo|over ons|om oss|om os|om museet|tietoa|meista|o nas|about us)\b/,
  news: /\b(news|latest|press|blog|stories|journal|aktuelles|neuigkeiten|presse|nachrichten|noticias|novidades|actualidad|actualites|actus|nouvelles|novita|notizie|nieuws|actueel|nyheter|aktuelt|nyheder|aktuellt|uutiset|ajankohtaista|aktualnosci)\b/,
  team: /\b(team|people|staff|who.s who|mitarbeiter|ansprechpartner|equipa|equipe|equipo|pessoas|personas|persone|mensen|medewerkers|ansatte|medarbeidere|medarbejdere|medarbetare|henkilokunta|zespol|ludzie)\b/,
  contact:
    /\b(contact|kontakt|contactos|contacto|contatti|contatos|nous joindre|yhteystiedot|impressum|imprint)\b/,
};
/** These lead to what nobody writes about. */
const NEVER =
  /\b(privacy|cookies?|terms|login|sign ?in|cart|basket|datenschutz|agb|privacidade|mentions legales|sitemap)\b/;

const words = (text: string) => fold(text).replace(/[-_/+.]+/g, " ");

/** The page to read next, the most telling first; null when enough is read. `tried`: what was asked for, whether it answered or not. */
export function nextPage(read: readonly PageFacts[], tried: readonly string[]): string | null {
  const [home] = read;
  if (!home || tried.length >= MOST_PAGES) return null;
  const isNew = (url: string) => !tried.some((each) => samePage(each, url));
  // A page of frames is what stands in them.
  const framed = home.frames.filter((url) => hostOf(url) === hostOf(home.url));
  const frame = framed.find(isNew);
  if (frame) return frame;
  const links = read
    .filter(({ url }) => url === home.url || framed.includes(url))
    .flatMap((page) => page.links);
  return pagesOf(home.url, links).find(isNew) ?? null;
}

function pagesOf(home: string, links: PageFacts["links"]): string[] {
  const site = hostOf(home);
  const chosen = new Map<PageKind, { url: string; weight: number }>();
  for (const { url, text } of links) {
    if (hostOf(url) !== site || samePage(url, home)) continue;
    const path = words(decodedPath(url));
    const said = words(text);
    if (
      NEVER.test(said) ||
      NEVER.test(path) ||
      /\.(pdf|jpe?g|png|gif|zip|docx?|xlsx?|mp4)$/i.test(pathOf(url))
    )
      continue;
    for (const kind of KINDS) {
      if (!CALLED[kind].test(said) && !CALLED[kind].test(path)) continue;
      // A page high up in the site is the overview, one deep down a single story.
      const weight = path.split(" ").length + said.split(" ").length + (CALLED[kind].test(said) ? 0 : 3);
      const before = chosen.get(kind);
      if (!before || weight < before.weight) chosen.set(kind, { url, weight });
    }
  }
  return KINDS.flatMap((kind) => chosen.get(kind)?.url ?? []);
}
/** The most telling first. */
const KINDS: readonly PageKind[] = ["about", "news", "team", "contact"];

const hostOf = (url: string) => (URL.canParse(url) ? new URL(url).host.replace(/^www\./, "") : "");
const pathOf = (url: string) => (URL.canParse(url) ? new URL(url).pathname : "");
function decodedPath(url: string): string {
  try {
    return decodeURIComponent(pathOf(url));
  } catch {
    return pathOf(url);
  }
}
const samePage = (a: string, b: string) => a.replace(/#.*$/, "") === b.replace(/#.*$/, "");

const MOST_TEXT = 6_000;
const MOST_LINE = 240;
/** Fewer signs say nothing of what somebody does. */
const LEAST_LINE = 25;

export function readingOf(pages: readonly PageFacts[]): SiteReading {
  const [home] = pages;
  const name = nameOf(pages);
  return {
    pages: pages.map(({ url, title, headings, text }) => ({
      url,
      title,
      headings,
      text: text.slice(0, MOST_TEXT),
    })),
    name,
    language: home?.language ?? "",
    color: home?.color ?? "",
    line: lineOf(pages, name),
    news: newestNews(pages),
    addresses: [...new Set(pages.flatMap(({ addresses }) => addresses))].slice(0, 20),
    logos: logosOf(pages),
    shownPicture: home?.shownPicture ?? "",
  };
}

/** What the company calls itself. */
function nameOf(pages: readonly PageFacts[]): string {
  const [home] = pages;
  const said = pages
    .flatMap(({ organization, siteName }) => [organization?.name ?? "", siteName])
    .find((each) => each !== "");
  if (said) return said;
  const titles = (home?.title ?? "").split(/\s+[|–—·:-]\s+/);
  const alt = home?.logos
    .map(({ alt }) => alt.replace(/^(logo|home)\b[\s:,–-]*|[\s:,–-]*\b(logo|home)$/gi, "").trim())
    .find((each) => each.length > 3);
  const heading =
    pages
      .map(({ headings }) => headings[0] ?? "")
      .find((each) => each !== "" && !Object.values(CALLED).some((called) => called.test(words(each)))) ?? "";
  // A title that says no more than "Home" is no name.
  const isPage = (text: string) =>
    /^(home|start|startseite|welcome|inicio|início|accueil|index|untitled)?$/i.test(text.trim());
  const foot = pages.map(({ copyright }) => copyright).find((each) => each !== "");
  return titles.find((each) => !isPage(each)) ?? alt ?? (isPage(heading) ? foot : heading) ?? "";
}

/** What they do, in a line: where they say it for others to show, else the first sentence that is about themselves. */
function lineOf(pages: readonly PageFacts[], name: string): Evidence | null {
  const [home, ...others] = pages;
  if (!home) return null;
  const said: [string, Sureness][] = [
    [home.organization?.description ?? "", "sure"],
    [home.description, "sure"],
    [home.shownDescription, "sure"],
  ];
  for (const [text, sureness] of said) if (isLine(text)) return evidence(text, home.url, sureness);
  const about = others.find(({ url, title, headings }) =>
    CALLED.about.test(words([decodedPath(url), title, ...headings].join(" "))),
  );
  const called = bareWords(name);
  const framed = others.filter(({ url }) => home.frames.includes(url));
  for (const page of [home, ...framed, about])
    for (const paragraph of page?.text.split("\n") ?? []) {
      const isAboutThem = called !== "" && bareWords(paragraph).includes(called);
      if (page && isAboutThem && isLine(paragraph)) return evidence(paragraph, page.url, "likely");
    }
  for (const page of [about, home, ...framed])
    for (const paragraph of page?.text.split("\n") ?? [])
      if (page && isLine(paragraph) && /[.!?。]/.test(paragraph))
        return evidence(paragraph, page.url, "doubtful");
  return null;
}

const bareWords = (text: string) =>
  fold(text)
    .replace(/[^\p{L}\p{N}]+/gu, " ")
    .trim();
/** Chinese and Japanese say in a sign what takes others a word. */
const isLine = (text: string) =>
  text.length >= (/[\u3040-\u30ff\u4e00-\u9fff]/.test(text) ? 8 : LEAST_LINE) && !/cookie/i.test(text);

function evidence(text: string, url: string, sureness: Sureness): Evidence {
  const sentence = text.length <= MOST_LINE ? text : (text.match(/^.{25,}?[.!?。](?=\s|$)/u)?.[0] ?? text);
  return { value: shortened(sentence, MOST_LINE), url, text: text.slice(0, 1_000), sureness };
}

/** At most so many signs, cut between words. */
export function shortened(text: string, most: number): string {
  const plain = text.replace(/\s+/g, " ").trim();
  if (plain.length <= most) return plain;
  const cut = plain.slice(0, most - 1);
  return `${cut.slice(0, Math.max(cut.lastIndexOf(" "), most / 2)).trimEnd()}…`;
}

function newestNews(pages: readonly PageFacts[]): SiteReading["news"] {
  const all = pages.flatMap(({ news, url }) => news.map((item) => ({ ...item, page: url })));
  return (
    all.sort((a, b) => (a.day < b.day ? 1 : a.day > b.day ? -1 : b.text.length - a.text.length))[0] ?? null
  );
}

/** Where the logo may be: what they say it is, a picture that is called so, then icons, if they are large enough to be shown. */
function logosOf(pages: readonly PageFacts[]): string[] {
  const [home] = pages;
  const icons = home?.icons ?? [];
  return [
    ...new Set(
      [
        ...pages.map(({ organization }) => organization?.logo ?? ""),
        ...icons.filter(({ size }) => size >= LEAST_ICON).map(({ url }) => url),
        ...(home?.logos.map(({ url }) => url) ?? []),
        ...icons.filter(({ size }) => size < LEAST_ICON).map(({ url }) => url),
      ].filter((url) => url !== ""),
    ),
  ].slice(0, 4);
}
const LEAST_ICON = 96;

/** All that was read, as one text with the address of each page before it: what a question is answered from. */
export const wholeText = ({ pages }: Pick<SiteReading, "pages">, most: number): string =>
  pages
    .map(({ url, title, headings, text }) => `${url}\n${title}\n${headings.join("\n")}\n${text}`)
    .join("\n\n")
    .slice(0, most);
