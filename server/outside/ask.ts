/**
 * The one client with which others are asked over HTTP: calendars, providers of tokens, the social network, the writing
 * assistant, the directory. It may lead nowhere inside but where the installation's configuration says so; the address that is
 * looked at is the one that is connected to; size and time are bounded; and what the other side says in words stays there.
 */
import { type LookupAddress, type LookupOptions, lookup } from "node:dns";
import { type ClientRequest, request as httpRequest, type IncomingHttpHeaders } from "node:http";
import { request as httpsRequest } from "node:https";
import { isIP } from "node:net";
import { z } from "zod";
import type { Config } from "../config.ts";
import { leadsInside } from "./inside.ts";

const MB = 1024 * 1024;
const MOST_REDIRECTS = 3;

export interface Question {
  method?: "GET" | "POST" | "PATCH" | "DELETE";
  headers?: Record<string, string>;
  body?: string;
  /** The whole of it, redirects included, in milliseconds. */
  patience: number;
  mostBytes?: number;
  /** Whether it is followed elsewhere: never with a body or a secret. */
  follows?: boolean;
  signal?: AbortSignal;
  /** For an address that the installation's own configuration names. */
  isConfigured?: boolean;
  /** Asked of this port instead, and at the addresses that this says: where the stand-ins' world is asked. */
  port?: number | null;
  resolve?: ((host: string) => Promise<string[]>) | null;
}

export interface Answer {
  status: number;
  headers: IncomingHttpHeaders;
  bytes: Buffer;
  /** The same as UTF-8. */
  text: string;
}

/** Why there is no answer, in words for whoever typed the address; none of them the other side's. */
export class NoAnswer extends Error {
  constructor(
    readonly reason:
      | "address"
      | "inside"
      | "unknown_host"
      | "unreached"
      | "late"
      | "too_long"
      | "astray"
      | "ended",
    words: string,
  ) {
    super(words);
  }
}

const INSIDE_WORDS =
  "This address leads inside this network, where nothing is asked. Whoever runs the installation can allow it (SAUDADE_INSIDE).";

/** Whether a host, or a host with its port, is one that the configuration lets be asked inside. */
export function mayBeInside(
  { demo, inside }: Pick<Config, "demo" | "inside">,
  { hostname, host }: Pick<URL, "hostname" | "host">,
): boolean {
  return demo || inside.includes("*") || inside.includes(hostname) || inside.includes(host);
}

/** Whether a typed address says itself that it leads inside, where it may not; what a name leads to is looked at when it is asked. */
export function isRefusedInside(config: Pick<Config, "demo" | "inside">, url: URL): boolean {
  const host = url.hostname.replace(/^\[|\]$/g, "");
  const isInside = (isIP(host) !== 0 && leadsInside(host)) || /^(localhost|.*\.localhost)$/i.test(host);
  return isInside && !mayBeInside(config, url);
}

/** An address of another program, as it is typed. */
export const addressSchema = z
  .string()
  .trim()
  .max(1_000)
  .refine(
    (text) => URL.canParse(text) && /^https?:$/.test(new URL(text).protocol),
    "Type an address with https://.",
  )
  .refine(
    (text) => !URL.canParse(text) || new URL(text).username === "",
    "Leave user names out of the address.",
  );

/** Throws `NoAnswer`; a status of any kind is an answer. */
export async function askOutside(
  config: Pick<Config, "demo" | "inside">,
  address: string,
  question: Question,
): Promise<Answer> {
  const deadline = Date.now() + question.patience;
  let url = parse(address);
  for (let hop = 0; hop <= MOST_REDIRECTS; hop++) {
    const answer = await askOnce(config, url, question, deadline - Date.now());
    const { location } = answer.headers;
    const isElsewhere = answer.status >= 300 && answer.status < 400 && answer.status !== 304 && location;
    if (!isElsewhere || !question.follows) return answer;
    if (!URL.canParse(location, url))
      throw new NoAnswer("astray", `${url.host} leads on to what is no address. Check the address.`);
    url = parse(new URL(location, url).href);
  }
  throw new NoAnswer("astray", "The address leads on and on.");
}

function parse(address: string): URL {
  if (!URL.canParse(address)) throw new NoAnswer("address", `“${address.slice(0, 100)}” is no address.`);
  const url = new URL(address);
  if (url.protocol !== "https:" && url.protocol !== "http:")
    throw new NoAnswer("address", "Only http and https are asked.");
  return url;
}

function askOnce(
  config: Pick<Config, "demo" | "inside">,
  url: URL,
  question: Question,
  patience: number,
): Promise<Answer> {
  const { method = "GET", headers = {}, body, mostBytes = MB, signal, isConfigured = false } = question;
  const isOpen = isConfigured || mayBeInside(config, url);
  const mayAsk = (address: string) => isOpen || !leadsInside(address);
  return new Promise((resolve, reject) => {
    let request: ClientRequest | null = null;
    const end = (settle: () => void) => {
      clearTimeout(late);
      signal?.removeEventListener("abort", stop);
      request?.destroy();
      settle();
    };
    const fail = (reason: NoAnswer["reason"], words: string) =>
      end(() => reject(new NoAnswer(reason, words)));
    const late = setTimeout(() => fail("late", `${url.host} did not answer in time.`), Math.max(1, patience));
    const stop = () => fail("ended", "It was ended.");
    if (signal?.aborted) return stop();
    signal?.addEventListener("abort", stop);
    const host = url.hostname.replace(/^\[|\]$/g, "");
    if (isIP(host) !== 0 && !mayAsk(host)) return fail("inside", INSIDE_WORDS);
    request = (url.protocol === "https:" ? httpsRequest : httpRequest)(
      url,
      {
        method,
        headers: {
          "user-agent": "Saudade",
          ...headers,
          ...(body === undefined ? {} : { "content-length": Buffer.byteLength(body) }),
        },
        // No connection of an earlier question, which another address may have been looked up for.
        agent: false,
        ...(question.port ? { port: question.port } : {}),
        lookup: (name, options, callback) =>
          look(question, name, options, (error, addresses) => {
            if (error) return callback(error, "", 4);
            const fit = addresses.filter(({ address }) => mayAsk(address));
            const [first] = fit;
            if (!first) return callback(Object.assign(new Error(INSIDE_WORDS), { code: "EINSIDE" }), "", 4);
            if (options.all) return (callback as (error: null, all: LookupAddress[]) => void)(null, fit);
            return callback(null, first.address, first.family);
          }),
      },
      (response) => {
        const said = Number(response.headers["content-length"]);
        if (said > mostBytes) return fail("too_long", tooLong(mostBytes));
        const chunks: Buffer[] = [];
        let size = 0;
        response.on("data", (chunk: Buffer) => {
          size += chunk.length;
          if (size > mostBytes) return fail("too_long", tooLong(mostBytes));
          chunks.push(chunk);
        });
        response.on("end", () =>
          end(() => {
            const bytes = Buffer.concat(chunks);
            resolve({
              ...{ status: response.statusCode ?? 0, headers: response.headers, bytes },
              get text() {
                return bytes.toString("utf8");
              },
            });
          }),
        );
        response.on("error", () => fail("unreached", `${url.host} broke off.`));
        response.on("aborted", () => fail("unreached", `${url.host} broke off.`));
      },
    );
    request.on("socket", (socket) =>
      socket.once("connect", () => {
        if (!mayAsk(socket.remoteAddress ?? "")) fail("inside", INSIDE_WORDS);
      }),
    );
    request.on("error", (error: NodeJS.ErrnoException) => {
      if (error.code === "EINSIDE") return fail("inside", INSIDE_WORDS);
      if (error.code === "ENOTFOUND")
        return fail("unknown_host", `There is no host ${url.hostname}. Check the address.`);
      fail("unreached", `${url.host} cannot be reached.`);
    });
    request.end(body);
  });
}

const tooLong = (most: number) => `Its answer has more than ${Math.ceil(most / MB)} MB.`;

/** The addresses of a name, by the machine's own resolver or by the one that the question brings. */
function look(
  { resolve }: Question,
  name: string,
  options: LookupOptions,
  tell: (error: NodeJS.ErrnoException | null, addresses: LookupAddress[]) => void,
): void {
  if (!resolve) lookup(name, { ...options, all: true }, tell);
  else
    resolve(name).then(
      (addresses) =>
        tell(
          null,
          addresses.map((address) => ({ address, family: isIP(address) })),
        ),
      (error: NodeJS.ErrnoException) =>
        tell(Object.assign(error, error.code === "ENODATA" ? { code: "ENOTFOUND" } : {}), []),
    );
}
