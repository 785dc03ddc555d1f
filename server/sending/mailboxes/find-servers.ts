/** Finds a mailbox's servers from its address: DNS first, then the usual names that exist, asked one by one. */
import { connect } from "node:net";
import { connect as connectTls } from "node:tls";
import { getDomain } from "tldts";
import {
  fromSrv,
  type Protocol,
  SERVICES,
  type ServerGuess,
  usualServers,
} from "../../../core/sending/find-servers.ts";
import type { App } from "../../app.ts";
import { isLoopback } from "../../config.ts";
import { askDomain, hostAddress, isSilence, resolverOf } from "../../mail/dns.ts";

export interface FoundServers {
  smtp: ServerGuess | null;
  imap: ServerGuess | null;
  /** DNS gave no answer: where nothing was found, that says nothing about the domain. */
  isSilent: boolean;
  /** A host of a usual name that is there and gave no answer in time; null: none. */
  late: string | null;
}

/** What was heard besides what was found. */
type Heard = Pick<FoundServers, "isSilent" | "late">;

/** A server that is there answers within this. */
const PATIENCE = 2_500;
/** Somebody waits for it, but typing server names by hand is worse: one more try than usual. */
const DNS_PATIENCE = { timeout: 2_000, tries: 3 };
const MOST_TRIED = 8;

export async function findServers(app: App, address: string): Promise<FoundServers> {
  const domain = address.split("@")[1]?.toLowerCase() ?? "";
  if (!/^[a-z0-9.-]+\.[a-z0-9-]+$/.test(domain))
    return { smtp: null, imap: null, isSilent: false, late: null };
  const heard: Heard = { isSilent: false, late: null };
  const [smtp, imap] = await Promise.all([
    find(app, "smtp", domain, heard),
    find(app, "imap", domain, heard),
  ]);
  return { smtp, imap, ...heard };
}

async function find(
  { config }: App,
  protocol: Protocol,
  domain: string,
  heard: Heard,
): Promise<ServerGuess | null> {
  const resolver = resolverOf(config, DNS_PATIENCE);
  const noteSilence = (error: unknown): null => {
    if (isSilence(error)) heard.isSilent = true;
    return null;
  };
  const announced = await Promise.all(
    SERVICES[protocol].map(async ({ service, security }) =>
      fromSrv(
        await resolver.resolveSrv(`${service}.${domain}`).catch((error: unknown) => {
          noteSilence(error);
          return [];
        }),
        security,
      ),
    ),
  );
  const mail = await askDomain(resolver, domain);
  if (mail.kind === "silent") heard.isSilent = true;
  const providers = mail.kind === "mail" ? mail.hosts.slice(0, 1).map((host) => getDomain(host) ?? host) : [];
  const guesses = [...announced.flat(), ...usualServers(protocol, domain, providers)];
  const absent = new Set<string>();
  for (const guess of guesses.slice(0, MOST_TRIED + announced.flat().length)) {
    if (absent.has(guess.host)) continue;
    const to = await hostAddress(resolver, guess.host).catch(noteSilence);
    if (to === null) absent.add(guess.host);
    else if (isLoopback(to)) {
      // A relay on this machine needs no encryption, and seldom has any.
      const here: ServerGuess = { ...guess, host: to, security: "none" };
      if (guess.by === "srv" && (await asked(to, here)) === "answers") return here;
    } else {
      const answer = await asked(to, guess);
      if (answer === "answers") return guess;
      if (answer === "late") heard.late ??= guess.host;
    }
  }
  // What DNS announces is worth showing, also where it cannot be reached from here.
  return announced.flat()[0] ?? null;
}

/** Whether something listens there. Its certificate and its words are the check's matter. */
function asked(
  host: string,
  { port, security, host: name }: ServerGuess,
): Promise<"answers" | "refuses" | "late"> {
  return new Promise((resolve) => {
    const socket =
      security === "tls"
        ? connectTls({ host, port, servername: name, rejectUnauthorized: false })
        : connect({ host, port });
    const end = (answer: "answers" | "refuses" | "late") => {
      clearTimeout(timer);
      socket.destroy();
      resolve(answer);
    };
    const timer = setTimeout(() => end("late"), PATIENCE);
    socket
      .once(security === "tls" ? "secureConnect" : "connect", () => end("answers"))
      .once("error", () => end("refuses"));
  });
}
