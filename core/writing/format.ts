/**
 * From what the rep typed to what a mail program shows: always plain text, and HTML only where
 * something is formatted (Markdown: bold, emphasis, links, lists) or followed (opens and clicks).
 */
import { convert } from "html-to-text";
import { Marked, type Token } from "marked";
import sanitizeHtml from "sanitize-html";
import { unprotected } from "./merge.ts";

const marked = new Marked({ gfm: true, breaks: true });

export interface Tracking {
  /** The address that stands in for a link, so that its click is seen; null: links stay as they are. */
  linkFor: ((url: string) => string) | null;
  /** The address of the one-pixel picture whose loading is counted as an open; null: there is none. */
  pixel: string | null;
}

export interface FormattedEmail {
  text: string;
  html: string | null;
}

const PLAIN_TOKENS = new Set(["paragraph", "text", "space", "br", "escape"]);

/** A letter has some dozen; with thousands, nested, the parser takes seconds or all of the stack. It goes as plain text. */
const MOST_MARKS = 1_500;
/** Lists in lists in quotes, on one line: each is a turn of the parser's own stack. */
const DEEP = /^[ \t]*(?:(?:[-+*>]|\d{1,9}[.)])[ \t]+){20}/m;
const hasTooManyMarks = (markup: string) =>
  (markup.match(/(?<!\\)[*_~`[\]<>]/g)?.length ?? 0) > MOST_MARKS || DEEP.test(markup);

/** Whether a text has any formatting that plain text would lose. A bare address is none. */
export function isFormatted(body: string): boolean {
  const formatted = (token: Token): boolean => {
    if (token.type === "link" && "text" in token && token.raw === token.text) return false;
    if (!PLAIN_TOKENS.has(token.type)) return true;
    return "tokens" in token && (token.tokens ?? []).some(formatted);
  };
  return !hasTooManyMarks(body) && marked.lexer(body).some(formatted);
}

/**
 * The parts of an email. `body` is what is read as plain text, `markup` the same as Markdown, in which merged values
 * are protected. Scripts, styles and every attribute but a link's address are dropped. `movingAt`: where a page's moving picture is,
 * by what its link says behind "/for/".
 */
export function formatEmail(
  body: string,
  tracking: Tracking | null,
  markup = body,
  pictureAt: (fileId: number) => string = (id) => `/files/${id}`,
  movingAt: (page: string) => string = (page) => `/for/${page}/picture.gif`,
): FormattedEmail {
  if (hasTooManyMarks(markup)) return { text: body, html: null };
  const formatted = isFormatted(markup);
  // Signs that were protected are read as what they are.
  const plain = unprotected(markup);
  if (!formatted && !tracking) return { text: plain, html: null };

  const html = toHtml(markup, null, pictureAt, movingAt);
  const text = formatted
    ? convert(html, {
        wordwrap: false,
        selectors: [{ selector: "a", options: { hideLinkHrefIfSameAsText: true } }],
      })
    : plain;
  if (!tracking) return { text, html };
  const pixel = tracking.pixel === null ? "" : `<img src="${tracking.pixel}" width="1" height="1" alt="">`;
  return { text, html: toHtml(markup, tracking, pictureAt, movingAt) + pixel };
}

/** An email's text as it is read where nothing is formatted: what stands in the conversation, in words. */
export const textAsRead = (body: string, markup: string | null): string =>
  formatEmail(body, null, markup ?? body).text;

/** A text as HTML whether anything is formatted in it or not, without pictures. */
export const formatHtml = (markup: string): string =>
  hasTooManyMarks(markup)
    ? sanitizeHtml(`<p>${unprotected(markup).replaceAll("<", "&lt;")}</p>`, { allowedTags: ["p"] })
    : toHtml(
        markup,
        null,
        () => "",
        () => "",
      );

function toHtml(
  body: string,
  tracking: Tracking | null,
  pictureAt: (fileId: number) => string,
  movingAt: (page: string) => string,
): string {
  return sanitizeHtml(marked.parse(body, { async: false }), {
    allowedTags: ["p", "br", "a", "strong", "em", "ul", "ol", "li", "blockquote", "h3", "img"],
    allowedAttributes: { a: ["href"], img: ["src", "alt", "style"] },
    // Only pictures that the app keeps, as they are named below; another's could tell who reads.
    allowedSchemesByTag: { img: ["cid", "http", "https"] },
    exclusiveFilter: ({ tag, attribs }) => tag === "img" && !attribs.src,
    allowedSchemes: ["http", "https", "mailto", "tel"],
    transformTags: {
      img: (tagName, { src = "", alt = "" }) => {
        const fileId = Number(/^file:(\d{1,9})$/.exec(src)?.[1]);
        const page = /^page:([\w.-]{1,300})$/.exec(src)?.[1];
        const at = fileId > 0 ? pictureAt(fileId) : page === undefined ? "" : movingAt(page);
        const attribs: Record<string, string> = at === "" ? {} : { src: at, alt, style: "max-width:100%" };
        return { tagName, attribs };
      },
      a: (tagName, attribs) =>
        tracking?.linkFor && /^https?:/.test(attribs.href ?? "")
          ? { tagName, attribs: { href: tracking.linkFor(attribs.href as string) } }
          : { tagName, attribs },
    },
  });
}
