/** Fetches a calendar from an address that a rep typed, by the client that leads nowhere inside (server/outside/ask.ts). */
import type { Config } from "../config.ts";
import { askOutside, NoAnswer } from "../outside/ask.ts";

const MB = 1024 * 1024;
const MOST_BYTES = 20 * MB;
const PATIENCE = 15_000;

export type Fetched =
  | { text: string; etag: string }
  /** It is as it was. */
  | { unchanged: true }
  /** In words, for the rep. */
  | { trouble: string };

export interface FetchOptions {
  config: Pick<Config, "demo" | "inside">;
  etag?: string;
  patience?: number;
}

export async function fetchCalendar(
  address: string,
  { config, etag = "", patience = PATIENCE }: FetchOptions,
): Promise<Fetched> {
  const url = address.replace(/^webcals?:/i, "https:");
  try {
    const { status, headers, text } = await askOutside(config, url, {
      headers: {
        accept: "text/calendar, text/plain;q=0.5",
        ...(etag === "" ? {} : { "if-none-match": etag }),
      },
      patience,
      mostBytes: MOST_BYTES,
      follows: true,
    });
    if (status === 304) return { unchanged: true };
    if (status === 401 || status === 403)
      return { trouble: "Its host wants somebody to sign in. Use the calendar's secret address." };
    if (status !== 200) return { trouble: `Its host answered ${status}. Check the address.` };
    return /BEGIN:VCALENDAR/i.test(text.slice(0, 5_000))
      ? { text, etag: String(headers.etag ?? "") }
      : { trouble: "There is a page at this address, but no calendar (iCalendar) in it." };
  } catch (error) {
    if (!(error instanceof NoAnswer)) throw error;
    if (error.reason === "too_long") return { trouble: `The calendar has more than ${MOST_BYTES / MB} MB.` };
    if (error.reason === "astray" && error.message.includes("on and on"))
      return { trouble: "The address leads on and on without a calendar at its end." };
    const isPassing = error.reason === "late" || error.reason === "unreached";
    return { trouble: isPassing ? `${error.message} It is tried again later.` : error.message };
  }
}
