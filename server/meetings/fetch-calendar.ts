/**
 * Fetches a calendar from an address that a rep typed. It may lead nowhere inside: every host is looked up, and refused where
 * its address is private, at every redirect anew (server-side request forgery, CWE-918).
 */
import { type LookupAddress, lookup } from "node:dns";
import { request as httpRequest } from "node:http";
import { request as httpsRequest } from "node:https";
import { BlockList, isIP } from "node:net";

const MB = 1024 * 1024;
const MOST_BYTES = 20 * MB;
const MOST_REDIRECTS = 3;
const PATIENCE = 15_000;

/** Networks that lead to this machine or to its neighbours (RFC 6890), and where clouds keep their keys. */
const INSIDE = new BlockList();
for (const [net, prefix] of [
  ["0.0.0.0", 8],
  ["10.0.0.0", 8],
  ["100.64.0.0", 10],
  ["127.0.0.0", 8],
  ["169.254.0.0", 16],
  ["172.16.0.0", 12],
  ["192.0.0.0", 24],
  ["192.168.0.0", 16],
  ["198.18.0.0", 15],
  ["224.0.0.0", 3],
] as const)
  INSIDE.addSubnet(net, prefix, "ipv4");
for (const [net, prefix] of [
  ["::", 127],
  ["fc00::", 7],
  ["fe80::", 10],
  ["ff00::", 8],
  ["64:ff9b::", 96],
] as const)
  INSIDE.addSubnet(net, prefix, "ipv6");

/** Whether an address leads inside; one of IPv4 in IPv6's clothes counts as what it is. */
export function leadsInside(address: string): boolean {
  const mapped = address.match(/^::ffff:(\d+\.\d+\.\d+\.\d+)$/i)?.[1];
  if (mapped) return INSIDE.check(mapped, "ipv4");
  return isIP(address) === 6
    ? INSIDE.check(address, "ipv6")
    : isIP(address) === 4
      ? INSIDE.check(address, "ipv4")
      : true;
}

export type Fetched =
  | { text: string; etag: string }
  /** It is as it was. */
  | { unchanged: true }
  /** In words, for the rep. */
  | { trouble: string };

export interface FetchOptions {
  /** Where the demo and the tests keep their calendars. */
  mayBeInside: boolean;
  etag?: string;
  patience?: number;
}

export async function fetchCalendar(address: string, options: FetchOptions): Promise<Fetched> {
  const deadline = Date.now() + (options.patience ?? PATIENCE);
  let url = address.replace(/^webcals?:/i, "https:");
  for (let hop = 0; hop <= MOST_REDIRECTS; hop++) {
    let target: URL;
    try {
      target = new URL(url);
    } catch {
      return { trouble: `“${url.slice(0, 100)}” is no address.` };
    }
    if (target.protocol !== "https:" && target.protocol !== "http:")
      return { trouble: "Calendars are read over http and https only." };
    const answer = await fetchOnce(target, options, deadline - Date.now());
    if (!("location" in answer)) return answer;
    url = new URL(answer.location, target).href;
  }
  return { trouble: "The address leads on and on without a calendar at its end." };
}

function fetchOnce(
  target: URL,
  { mayBeInside, etag = "" }: FetchOptions,
  patience: number,
): Promise<Fetched | { location: string }> {
  return new Promise((resolve) => {
    const late = setTimeout(
      () => {
        request.destroy();
        resolve({ trouble: `${target.host} did not answer in time. It is tried again later.` });
      },
      Math.max(1, patience),
    );
    const end = (answer: Fetched | { location: string }) => {
      clearTimeout(late);
      request.destroy();
      resolve(answer);
    };
    const host = target.hostname.replace(/^\[|\]$/g, "");
    if (!mayBeInside && isIP(host) !== 0 && leadsInside(host)) {
      clearTimeout(late);
      return resolve({ trouble: INSIDE_WORDS });
    }
    const request = (target.protocol === "https:" ? httpsRequest : httpRequest)(
      target,
      {
        headers: {
          accept: "text/calendar, text/plain;q=0.5",
          "user-agent": "Saudade calendar reader",
          ...(etag === "" ? {} : { "if-none-match": etag }),
        },
        // The address that is looked at is the one that is connected to: no second lookup says something else.
        lookup: (name, lookupOptions, callback) =>
          lookup(name, { ...lookupOptions, all: true }, (error, addresses: LookupAddress[]) => {
            if (error) return callback(error, "", 4);
            const fit = addresses.filter(({ address }) => mayBeInside || !leadsInside(address));
            const [first] = fit;
            if (!first) return callback(Object.assign(new Error(INSIDE_WORDS), { code: "EINSIDE" }), "", 4);
            if (lookupOptions.all)
              return (callback as (error: null, all: LookupAddress[]) => void)(null, fit);
            return callback(null, first.address, first.family);
          }),
      },
      (response) => {
        const { statusCode = 0, headers } = response;
        if (statusCode >= 300 && statusCode < 400 && headers.location)
          return end({ location: headers.location });
        if (statusCode === 304) return end({ unchanged: true });
        if (statusCode !== 200)
          return end({
            trouble:
              statusCode === 401 || statusCode === 403
                ? `${target.host} wants somebody to sign in. Use the calendar's secret address.`
                : `${target.host} answered ${statusCode}. Check the address.`,
          });
        const chunks: Buffer[] = [];
        let size = 0;
        response.on("data", (chunk: Buffer) => {
          size += chunk.length;
          if (size > MOST_BYTES) return end({ trouble: `The calendar has more than ${MOST_BYTES / MB} MB.` });
          chunks.push(chunk);
        });
        response.on("end", () => {
          const text = Buffer.concat(chunks).toString("utf8");
          end(
            /BEGIN:VCALENDAR/i.test(text.slice(0, 5_000))
              ? { text, etag: String(headers.etag ?? "") }
              : { trouble: "There is a page at this address, but no calendar (iCalendar) in it." },
          );
        });
        response.on("error", () => end({ trouble: `${target.host} broke off. It is tried again later.` }));
      },
    );
    request.on("error", (error: NodeJS.ErrnoException) =>
      end({
        trouble:
          error.code === "EINSIDE"
            ? INSIDE_WORDS
            : error.code === "ENOTFOUND"
              ? `There is no host ${target.hostname}. Check the address.`
              : `${target.host} cannot be reached (${error.code ?? error.message}).`,
      }),
    );
    request.end();
  });
}

const INSIDE_WORDS = "This address leads inside this network, where no calendar is read.";
