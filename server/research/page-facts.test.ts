/** What is read of thirty kinds of pages, written by somebody else than the reader: the stand-in's web. */
import iconv from "iconv-lite";
import { describe, expect, it } from "vitest";
import { nextPage, readingOf, type SiteReading } from "../../core/research/site.ts";
import { DESIGNS, feedOf, pageOf } from "../../standins/sites/designs.ts";
import { saidBy } from "../../standins/sites/said.ts";
import { feedItems, pageFacts, textOf } from "./page-facts.ts";

const page = (url: string, html: string) => ({
  url,
  contentType: "text/html; charset=utf-8",
  bytes: Buffer.from(html),
});

function readAll(domain: string, nth: number): SiteReading {
  const said = saidBy(domain);
  const design = DESIGNS[nth] as (typeof DESIGNS)[number];
  const at = (path: string) => {
    const html = pageOf(said, design, path);
    return html === null ? [] : [pageFacts(page(`http://${domain}${path}`, html))];
  };
  const [home] = at("/");
  if (!home) throw new Error("no home");
  const pages = [home];
  const tried = [home.url];
  for (let url = nextPage(pages, tried); url !== null; url = nextPage(pages, tried)) {
    tried.push(url);
    pages.push(...at(new URL(url).pathname));
  }
  if (home.feed !== "" && design.listed === "feed")
    home.news.push(...feedItems(page(home.feed, feedOf(said))));
  return readingOf(pages);
}

const DOMAINS = [
  "paper-harbour.example",
  "sammlung-nord.example",
  "museu-do-sal.example",
  "musee-du-lin.example",
];
const houses = DESIGNS.flatMap((design, nth) =>
  DOMAINS.map((domain) => ({ design, nth, domain, said: saidBy(domain) })),
);
/** What is drawn by a program of the page's own is not there to be read. */
const readable = houses.filter(({ design }) => design.made !== "scripted");
const shareOf = <T>(all: readonly T[], holds: (each: T) => boolean) => {
  const missed = all.filter((each) => !holds(each));
  return { share: 1 - missed.length / all.length, missed };
};
const wrong = (missed: typeof houses) => [
  ...new Set(missed.map(({ nth, design }) => `${nth} ${Object.values(design).slice(0, 5).join(" ")}`)),
];

describe("of thirty designs in four languages", () => {
  it("the company's own name is found", () => {
    const { missed } = shareOf(houses, ({ domain, nth, said }) => readAll(domain, nth).name === said.name);
    expect(wrong(missed)).toEqual([]);
  });

  it("what they do is found wherever it is said", () => {
    const { missed } = shareOf(
      readable.filter(({ design }) => design.described !== "nowhere"),
      ({ domain, nth, said }) => readAll(domain, nth).line?.value === said.line,
    );
    expect(wrong(missed)).toEqual([]);
  });

  it("the newest news is found by its day, title and text", () => {
    const { missed } = shareOf(
      readable.filter(({ design }) => design.listed !== "none"),
      ({ domain, nth, said }) => {
        const news = readAll(domain, nth).news;
        return (
          news?.day === said.news[0]?.day &&
          news?.title === said.news[0]?.title &&
          news?.text === said.news[0]?.text
        );
      },
    );
    expect(wrong(missed)).toEqual([]);
  });

  it("a logo is found wherever there is one", () => {
    const { missed } = shareOf(
      houses.filter(
        ({ design }) => design.marked !== "none" && design.marked !== "favicon" && design.made !== "frames",
      ),
      ({ domain, nth }) => readAll(domain, nth).logos.length > 0,
    );
    expect(wrong(missed)).toEqual([]);
  });

  it("addresses are found, and what nobody said is not", () => {
    for (const { domain, nth, said, design } of readable) {
      const reading = readAll(domain, nth);
      // Six pages are not enough for one whose frames are two of them.
      if (design.made !== "frames") expect(reading.addresses, String(nth)).toEqual([said.email]);
      if (design.listed === "none") expect(reading.news).toBeNull();
      expect(reading.line?.value ?? "", `${nth}`).not.toMatch(/cookies/i);
      expect(reading.pages.length).toBeLessThanOrEqual(6);
    }
  });
});

describe("letters", () => {
  const html = (letters: string) =>
    `<html><head><meta charset="${letters}"><title>Évora</title></head><body><p>“Café”</p></body></html>`;
  it.each([
    ["as said", "iso-8859-1", "text/html; charset=iso-8859-1", "Évora", "iso-8859-1"],
    ["said by the page only", "windows-1252", "text/html", "“Café”", "windows-1252"],
    ["said to be UTF-8 and not", "windows-1252", "text/html; charset=utf-8", "Évora", "utf-8"],
    ["said nowhere", "utf-8", "text/html", "“Café”", ""],
  ])("%s", (_, written, contentType, expected, said) => {
    expect(textOf({ contentType, bytes: iconv.encode(html(said), written) })).toContain(expected);
  });
});

describe("hostile pages", () => {
  const facts = (html: string) => pageFacts(page("http://x.example/", html));
  it.each([
    ["nothing", ""],
    ["no HTML", "\0\0\u0001binary"],
    ["tags that nothing closes", `<body>${"<div>".repeat(20_000)}`],
    ["attributes without an end", `<a href="${"x".repeat(500_000)}`],
    ["a thousand thousand dates", "<p>4 March 2026 a b c d e f g</p>".repeat(20_000)],
    ["JSON-LD that turns in circles", `<script type="application/ld+json">${"[".repeat(50_000)}</script>`],
  ])("%s: an answer or an error, in time", (_, html) => {
    const began = performance.now();
    try {
      expect(facts(html).text.length).toBeLessThanOrEqual(20_000);
    } catch (error) {
      expect(String(error)).toMatch(/deep/);
    }
    // Ten times what it takes on a slow machine; one that went through all pairs would take hours.
    expect(performance.now() - began).toBeLessThan(60_000);
  });

  it("links lead to web pages only", () => {
    expect(
      facts(
        `<a href="javascript:alert(1)">About</a><a href="file:///etc/passwd">About</a><a href="/about">About</a>`,
      ).links,
    ).toEqual([{ url: "http://x.example/about", text: "About" }]);
  });
});
