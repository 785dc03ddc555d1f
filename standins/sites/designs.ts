/**
 * Thirty ways in which a house's pages are made: what stands in which tag, what the pages are called, how the news are listed.
 * Each is a row of choices, as those who made such pages over twenty-five years chose.
 */
import type { News, Said } from "./said.ts";

export const escaped = (text: string) => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);

type Named = "title" | "og" | "ld" | "h1" | "alt" | "footer";
type Described = "meta" | "og" | "ld" | "lead" | "about" | "nowhere";
type Marked = "svg-icon" | "png-icon" | "apple" | "ld" | "og" | "img" | "favicon" | "none";
type Listed = "articles" | "table" | "dl" | "divs" | "ld" | "home" | "feed" | "list" | "none";
type Made =
  | "semantic"
  | "tables"
  | "divs"
  | "frames"
  | "scripted"
  | "one-page"
  | "xhtml"
  | "unclosed"
  | "shouting";

export interface Design {
  named: Named;
  described: Described;
  marked: Marked;
  listed: Listed;
  made: Made;
  /** The width of the text, and how it is set. */
  look: string;
}

const row = (
  named: Named,
  described: Described,
  marked: Marked,
  listed: Listed,
  made: Made,
  look: string,
): Design => ({
  ...{ named, described, marked, listed, made, look },
});

export const DESIGNS: readonly Design[] = [
  row("og", "meta", "svg-icon", "articles", "semantic", "max-width:60rem;font:17px/1.5 Georgia,serif"),
  row("ld", "ld", "ld", "articles", "semantic", "max-width:52rem;font:16px/1.6 sans-serif"),
  row("title", "meta", "favicon", "table", "tables", "width:760px;font:13px Verdana,sans-serif"),
  row("h1", "lead", "img", "divs", "divs", "max-width:70rem;font:15px/1.5 sans-serif"),
  row("og", "og", "og", "list", "semantic", "max-width:64rem;font:18px/1.4 serif"),
  row("title", "about", "png-icon", "dl", "semantic", "max-width:44rem;font:16px/1.6 monospace"),
  row("alt", "meta", "img", "divs", "divs", "max-width:80rem;font:14px/1.5 sans-serif"),
  row("footer", "lead", "apple", "articles", "semantic", "max-width:48rem;font:20px/1.5 serif"),
  row("title", "meta", "png-icon", "home", "one-page", "max-width:40rem;font:17px/1.6 serif"),
  row("h1", "about", "none", "none", "unclosed", "font:16px serif"),
  row("og", "meta", "apple", "feed", "divs", "max-width:66rem;font:15px/1.7 sans-serif"),
  row("ld", "meta", "ld", "ld", "semantic", "max-width:58rem;font:16px/1.5 serif"),
  row("title", "lead", "favicon", "table", "frames", "font:12px Arial,sans-serif"),
  row("h1", "meta", "svg-icon", "list", "xhtml", "max-width:50rem;font:15px/1.5 serif"),
  row("og", "og", "og", "articles", "scripted", "max-width:60rem;font:16px sans-serif"),
  row("title", "nowhere", "img", "divs", "shouting", "width:700px;font:bold 14px sans-serif"),
  row("alt", "lead", "svg-icon", "dl", "divs", "max-width:56rem;font:17px/1.5 sans-serif"),
  row("og", "ld", "png-icon", "home", "semantic", "max-width:62rem;font:16px/1.6 serif"),
  row("title", "og", "apple", "articles", "one-page", "max-width:46rem;font:18px/1.6 serif"),
  row("h1", "lead", "img", "table", "tables", "width:900px;font:13px Georgia,serif"),
  row("footer", "meta", "none", "list", "divs", "max-width:60rem;font:16px/1.4 sans-serif"),
  row("ld", "about", "ld", "feed", "semantic", "max-width:54rem;font:15px/1.6 serif"),
  row("title", "meta", "png-icon", "articles", "semantic", "max-width:72rem;font:19px/1.5 sans-serif"),
  row("og", "lead", "og", "divs", "unclosed", "max-width:50rem;font:16px/1.5 serif"),
  row("h1", "ld", "favicon", "ld", "divs", "max-width:68rem;font:14px/1.6 sans-serif"),
  row("alt", "about", "svg-icon", "none", "semantic", "max-width:42rem;font:20px/1.6 serif"),
  row("title", "meta", "img", "dl", "xhtml", "max-width:58rem;font:15px/1.5 serif"),
  row("og", "meta", "svg-icon", "feed", "one-page", "max-width:48rem;font:17px/1.7 sans-serif"),
  row("ld", "lead", "apple", "list", "divs", "max-width:64rem;font:16px/1.5 sans-serif"),
  row("h1", "meta", "png-icon", "table", "tables", "width:800px;font:14px Tahoma,sans-serif"),
];

const WORDS: Record<
  Said["language"],
  {
    home: string;
    about: string;
    team: string;
    news: string;
    contact: string;
    paths: [string, string, string, string];
  }
> = {
  en: {
    home: "Home",
    about: "About us",
    team: "People",
    news: "News",
    contact: "Contact",
    paths: ["about", "people", "news", "contact"],
  },
  de: {
    home: "Start",
    about: "Über uns",
    team: "Team",
    news: "Aktuelles",
    contact: "Kontakt",
    paths: ["ueber-uns", "team", "aktuelles", "kontakt"],
  },
  pt: {
    home: "Início",
    about: "Sobre nós",
    team: "Equipa",
    news: "Notícias",
    contact: "Contactos",
    paths: ["sobre-nos", "equipa", "noticias", "contactos"],
  },
  fr: {
    home: "Accueil",
    about: "Qui sommes-nous",
    team: "Équipe",
    news: "Actualités",
    contact: "Contact",
    paths: ["qui-sommes-nous", "equipe", "actualites", "contact"],
  },
};

const COOKIES =
  "We use cookies so that this page works and to count visits. By going on you agree to our cookies and our privacy policy.";

/** A page of the house, or null where there is none at this path. */
export function pageOf(said: Said, design: Design, path: string): string | null {
  const words = WORDS[said.language];
  const at = path.replace(/\.html$|\/$/g, "").replace(/^\//, "");
  if (design.made === "frames" && at === "")
    return `<html><head><title>${escaped(said.name)}</title></head><frameset cols="160,*"><frame src="/menu.html" name="menu"><frame src="/start.html" name="main"><noframes><body><a href="/start.html">${words.home}</a></body></noframes></frameset></html>`;
  const part =
    at === "" || at === "start"
      ? "home"
      : at === "menu"
        ? "menu"
        : (["about", "team", "news", "contact"] as const)[words.paths.indexOf(at)];
  if (part === undefined) return null;
  if (design.made === "scripted")
    return `<!doctype html><html lang="${said.language}"><head>${head(said, design, part)}</head><body><div id="root"></div><noscript>Please switch on JavaScript.</noscript><script>document.getElementById("root").textContent="loading"</script></body></html>`;
  return framed(said, design, part, { home, about, team, news, contact, menu: () => "" }[part](said, design));
}

function head(said: Said, { named, described, marked, look }: Design, part: string): string {
  const name = escaped(said.name);
  const title =
    named === "title" || named === "og"
      ? part === "home"
        ? name
        : `${escaped(WORDS[said.language][part as "about"] ?? "")} | ${name}`
      : named === "ld"
        ? `${name} – ${escaped(said.city)}`
        : escaped(WORDS[said.language].home);
  const ld = [
    ...(named === "ld" || described === "ld" || marked === "ld"
      ? [
          {
            "@context": "https://schema.org",
            "@type": "Organization",
            name: said.name,
            url: `http://${said.domain}/`,
            ...(described === "ld" ? { description: said.line } : {}),
            ...(marked === "ld" ? { logo: { "@type": "ImageObject", url: "/logo.png" } } : {}),
          },
        ]
      : []),
  ];
  return [
    `<title>${title}</title>`,
    ...(named === "og" ? [`<meta property="og:site_name" content="${name}">`] : []),
    ...(described === "meta" ? [`<meta name="description" content="${escaped(said.line)}">`] : []),
    ...(described === "og" ? [`<meta property="og:description" content="${escaped(said.line)}">`] : []),
    ...(marked === "svg-icon"
      ? [
          '<link rel="icon" type="image/svg+xml" href="/logo.svg">',
          '<link rel="icon" sizes="16x16" href="/icon-16.png">',
        ]
      : []),
    ...(marked === "png-icon"
      ? [
          '<link rel="icon" sizes="32x32" href="/icon-32.png">',
          '<link rel="icon" sizes="192x192" href="/icon-192.png">',
        ]
      : []),
    ...(marked === "apple" ? ['<link rel="apple-touch-icon" sizes="180x180" href="/icon-180.png">'] : []),
    ...(marked === "og"
      ? [
          '<meta property="og:image" content="/wide.jpg">',
          '<link rel="icon" sizes="96x96" href="/icon-96.png">',
        ]
      : []),
    ...ld.map((each) => `<script type="application/ld+json">${JSON.stringify(each)}</script>`),
    ...(part === "home" ? feedLink : []),
    `<meta name="theme-color" content="${said.look.ink}">`,
    `<style>body{margin:0 auto;padding:1rem;${look};background:${said.look.ground};color:#222}a{color:${said.look.ink}}h1,h2{color:${said.look.ink}}</style>`,
  ].join("\n");
}
const feedLink = ['<link rel="alternate" type="application/rss+xml" href="/feed.xml">'];

function menu(said: Said, { made, listed }: Design): string {
  const { paths, ...words } = WORDS[said.language];
  const ending = made === "tables" || made === "frames" ? ".html" : "";
  const links = [
    [made === "frames" ? "/start.html" : "/", words.home],
    [`/${paths[0]}${ending}`, words.about],
    [`/${paths[1]}${ending}`, words.team],
    ...(listed === "home" || listed === "none" ? [] : [[`/${paths[2]}${ending}`, words.news]]),
    [`/${paths[3]}${ending}`, words.contact],
    ["/privacy", "Privacy"],
    ["https://social.example/house", "Follow us"],
  ].map(([to, word]) => `<a href="${to}">${word}</a>`);
  return made === "tables"
    ? `<table width="100%"><tr><td>${links.join("</td><td>")}</td></tr></table>`
    : made === "semantic"
      ? `<nav><ul><li>${links.join("</li><li>")}</li></ul></nav>`
      : `<div class="menu">${links.join(" | ")}</div>`;
}

function framed(said: Said, design: Design, part: string, body: string): string {
  const { made, named, marked } = design;
  const name = escaped(said.name);
  const banner = `${marked === "img" || named === "alt" ? `<a href="/" class="logo"><img src="/logo.png" alt="${named === "alt" ? name : "Logo"}" width="96"></a>` : ""}${named === "h1" ? `<h1>${name}</h1>` : ""}`;
  const foot = `<p>© 2026 ${named === "footer" ? name : ""} · ${escaped(said.city)} · ${COOKIES}</p>`;
  const inside = `<html lang="${said.language}"><head><meta charset="utf-8">${head(said, design, part)}</head><body>`;
  switch (made) {
    case "tables":
    case "frames":
      return `<!DOCTYPE HTML PUBLIC "-//W3C//DTD HTML 4.01 Transitional//EN">${inside}<center><table border=0 cellpadding=6><tr><td colspan=2>${banner}${menu(said, design)}</td></tr><tr><td valign=top><font size=2>${body}</font></td></tr><tr><td><font size=1>${foot}</font></td></tr></table></center></body></html>`;
    case "divs":
      return `<!doctype html>${inside}<div id="cookie-banner"><div>${COOKIES}<button>OK</button></div></div><div class="wrap"><div class="top">${banner}${menu(said, design)}</div><div class="c1"><div class="c2">${body}</div></div><div class="bottom">${foot}</div></div></body></html>`;
    case "xhtml":
      return `<?xml version="1.0" encoding="utf-8"?><!DOCTYPE html>${inside}<div>${banner}${menu(said, design)}<div>${body}</div><div>${foot}</div></div></body></html>`;
    case "unclosed":
      return `${inside}${banner}${menu(said, design)}<p>${body}<p>${foot}<br><b><i>`;
    case "shouting":
      return `<!doctype html>${inside}<center>${banner}${menu(said, design)}<blink>WELCOME</blink>${body}<marquee>${COOKIES}</marquee></center></body></html>`;
    default:
      return `<!doctype html>${inside}<header>${banner}${menu(said, design)}</header><main>${body}</main><aside><p>${COOKIES}</p></aside><footer>${foot}</footer></body></html>`;
  }
}

const paragraphs = (sentences: string[]) => sentences.map((each) => `<p>${escaped(each)}</p>`).join("");

function home(said: Said, design: Design): string {
  const lead = design.described === "lead" ? `<p class="lead">${escaped(said.line)}</p>` : "";
  const everything = design.made === "one-page" ? about(said, design) + team(said) + contact(said) : "";
  const shown =
    design.listed === "home" || design.made === "one-page"
      ? news(said, { ...design, listed: design.listed === "feed" ? "feed" : "articles" })
      : "";
  return `${lead}${design.described === "nowhere" ? "<p>Open Tuesday to Sunday.</p>" : paragraphs([said.about[1] ?? ""])}${everything}${shown}`;
}

function about(said: Said, { described }: Design): string {
  return `<h2>${WORDS[said.language].about}</h2>${paragraphs([...(described === "about" ? [said.line] : []), ...said.about, ...(said.beside === "" ? [] : [said.beside])])}`;
}

function team(said: Said): string {
  return `<h2>${WORDS[said.language].team}</h2><ul>${said.people.map(({ name, title, email }) => `<li><b>${escaped(name)}</b>, ${escaped(title)}${email ? ` <a href="mailto:${email}">${email}</a>` : ""}</li>`).join("")}</ul>`;
}

function contact({ email, city, language }: Said): string {
  return `<h2>${WORDS[language].contact}</h2><address>${escaped(city)}<br><a href="mailto:${email}">${email}</a></address>`;
}

function news(said: Said, { listed }: Design): string {
  const shown = (item: News) =>
    new Date(`${item.day}T12:00:00Z`).toLocaleDateString(said.language === "en" ? "en-GB" : said.language, {
      day: "numeric",
      month: "long",
      year: "numeric",
      timeZone: "UTC",
    });
  const of = (make: (item: News) => string) => said.news.map(make).join("");
  const heading = `<h2>${WORDS[said.language].news}</h2>`;
  switch (listed) {
    case "none":
      return "";
    case "table":
      return `${heading}<table>${of((item) => `<tr><td>${shown(item)}</td><td><b>${escaped(item.title)}</b><br>${escaped(item.text)}</td></tr>`)}</table>`;
    case "dl":
      return `${heading}<dl>${of((item) => `<dt>${shown(item)}: ${escaped(item.title)}</dt><dd>${escaped(item.text)}</dd>`)}</dl>`;
    case "divs":
      return `${heading}${of((item) => `<div class="post"><div class="date">${item.day.split("-").reverse().join(".")}</div><div class="t">${escaped(item.title)}</div><div>${escaped(item.text)}</div></div>`)}`;
    case "list":
      return `${heading}<ul>${of((item) => `<li>${shown(item)} – <a href="/news/${item.day}">${escaped(item.title)}</a>: ${escaped(item.text)}</li>`)}</ul>`;
    case "ld":
      return `${heading}${of((item) => `<script type="application/ld+json">${JSON.stringify({ "@context": "https://schema.org", "@type": "NewsArticle", headline: item.title, datePublished: item.day, description: item.text })}</script><h3>${escaped(item.title)}</h3>`)}`;
    case "feed":
      return `${heading}<p>${of((item) => `<a href="/news/${item.day}">${escaped(item.title)}</a> `)}</p>`;
    default:
      return `${heading}${of((item) => `<article><h3>${escaped(item.title)}</h3><time datetime="${item.day}">${shown(item)}</time><p>${escaped(item.text)}</p></article>`)}`;
  }
}

/** The house's feed (RSS 2.0). */
export const feedOf = ({ name, domain, news: items }: Said): string =>
  `<?xml version="1.0" encoding="UTF-8"?><rss version="2.0"><channel><title>${escaped(name)}</title><link>http://${domain}/</link>${items
    .map(
      ({ day, title, text }) =>
        `<item><title>${escaped(title)}</title><link>http://${domain}/news/${day}</link><pubDate>${new Date(`${day}T09:00:00Z`).toUTCString()}</pubDate><description>${escaped(text)}</description></item>`,
    )
    .join("")}</channel></rss>`;
