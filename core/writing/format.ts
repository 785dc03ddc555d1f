/**
 * From what the rep typed to what a mail program shows: always plain text, and HTML only where
 * something is formatted (Markdown: bold, emphasis, links, lists) or followed (opens and clicks).
 */
import { convert } from "html-to-text";
import { Marked, type Token } from "marked";
import sanitizeHtml from "sanitize-html";

const marked = new Marked({ gfm: true, breaks: true });

export interface Tracking {
  /** The address that stands in for a link, so that its click is seen. */
  linkFor: (url: string) => string;
  /** The address of the one-pixel picture whose loading is counted as an open. */
  pixel: string;
}

export interface FormattedEmail {
  text: string;
  html: string | null;
}

const PLAIN_TOKENS = new Set(["paragraph", "text", "space", "br", "escape"]);

/** Whether a text has any formatting that plain text would lose. A bare address is none. */
export function isFormatted(body: string): boolean {
  const formatted = (token: Token): boolean => {
    if (token.type === "link" && "text" in token && token.raw === token.text) return false;
    if (!PLAIN_TOKENS.has(token.type)) return true;
    return "tokens" in token && (token.tokens ?? []).some(formatted);
  };
  return marked.lexer(body).some(formatted);
}

/** The parts of an email. Scripts, styles and every attribute but a link's address are dropped. */
export function formatEmail(body: string, tracking: Tracking | null): FormattedEmail {
  const formatted = isFormatted(body);
  if (!formatted && !tracking) return { text: body, html: null };

  const html = toHtml(body, null);
  const text = formatted
    ? convert(html, {
        wordwrap: false,
        selectors: [{ selector: "a", options: { hideLinkHrefIfSameAsText: true } }],
      })
    : body;
  if (!tracking) return { text, html };
  const pixel = `<img src="${tracking.pixel}" width="1" height="1" alt="">`;
  return { text, html: toHtml(body, tracking) + pixel };
}

function toHtml(body: string, tracking: Tracking | null): string {
  return sanitizeHtml(marked.parse(body, { async: false }), {
    allowedTags: ["p", "br", "a", "strong", "em", "ul", "ol", "li", "blockquote", "h3"],
    allowedAttributes: { a: ["href"] },
    allowedSchemes: ["http", "https", "mailto", "tel"],
    transformTags: {
      a: (tagName, attribs) =>
        tracking && /^https?:/.test(attribs.href ?? "")
          ? { tagName, attribs: { href: tracking.linkFor(attribs.href as string) } }
          : { tagName, attribs },
    },
  });
}
