/** Web domains and profile addresses out of whatever links people paste. */
import { getDomain } from "tldts";

/** The registrable domain of a URL or host ("https://www.Museum.example/visit" is museum.example), or null. */
export function webDomain(text: string): string | null {
  const typed = text
    .trim()
    .toLowerCase()
    .replace(/^mailto:/, "");
  const host = typed.includes("@") ? typed.slice(typed.lastIndexOf("@") + 1) : typed;
  return host === "" || /\s/.test(host) ? null : getDomain(host);
}

/** A social profile's address without what trackers and phones add to it, or null. */
export function profileAddress(text: string): string | null {
  const typed = text.trim();
  if (!/^(https?:\/\/)?[\w-]+(\.[\w-]+)+\/\S+$/i.test(typed)) return null;
  try {
    const url = new URL(/^https?:/i.test(typed) ? typed : `https://${typed}`);
    const host = url.hostname.toLowerCase().replace(/^(www|m|mobile)\./, "");
    return `https://${host}${decodeURI(url.pathname).replace(/\/+$/, "")}`;
  } catch {
    return null;
  }
}
