/** How a domain takes mail, asked of DNS (RFC 5321 5.1, RFC 7505). */
import type { MxRecord, SrvRecord } from "node:dns";
import { Resolver } from "node:dns/promises";
import type { DomainEvidence } from "../../core/prospects/judge-address.ts";
import type { Config } from "../config.ts";

/** A server that has not answered twice within this time (milliseconds) proves nothing about the domain. */
const PATIENCE = { timeout: 2_000, tries: 2 };

/** What is asked of DNS; each throws what node:dns throws. */
export interface Dns {
  resolve4(host: string): Promise<string[]>;
  resolve6(host: string): Promise<string[]>;
  resolveMx(domain: string): Promise<MxRecord[]>;
  resolveSrv(name: string): Promise<SrvRecord[]>;
  resolveTxt(name: string): Promise<string[][]>;
  reverse(address: string): Promise<string[]>;
}

/**
 * Asks the configured name server, or the machine's. Each question has a resolver of its own: one that has been
 * answered quickly a few times gives the next answer a quarter of a second, and calls a slow domain silent.
 */
export function resolverOf({ dns }: Pick<Config, "dns">, patience = PATIENCE): Dns {
  const fresh = () => {
    const resolver = new Resolver(patience);
    if (dns) resolver.setServers([dns]);
    return resolver;
  };
  return {
    resolve4: (host) => fresh().resolve4(host),
    resolve6: (host) => fresh().resolve6(host),
    resolveMx: (domain) => fresh().resolveMx(domain),
    resolveSrv: (name) => fresh().resolveSrv(name),
    resolveTxt: (name) => fresh().resolveTxt(name),
    reverse: (address) => fresh().reverse(address),
  };
}

const code = (error: unknown) => (error as NodeJS.ErrnoException).code ?? String(error);
const NOTHING_THERE = new Set(["ENODATA", "ENOTFOUND"]);

/** Whether a question failed because nobody answered it, and not because there is nothing to say. */
export const isSilence = (error: unknown): boolean => !NOTHING_THERE.has(code(error));

/** Never throws: what cannot be asked is `silent`. */
export async function askDomain(resolver: Dns, domain: string): Promise<DomainEvidence> {
  try {
    const records = (await resolver.resolveMx(domain)).sort((a, b) => a.priority - b.priority);
    const hosts = records.map(({ exchange }) => exchange).filter((host) => host !== "" && host !== ".");
    if (records.length > 0)
      return hosts.length > 0 ? { kind: "mail", hosts, implicit: false } : { kind: "null_mx" };
  } catch (error) {
    if (code(error) === "ENOTFOUND") return { kind: "no_domain" };
    if (code(error) !== "ENODATA") return { kind: "silent", why: code(error) };
  }
  // Without an MX the domain's own address takes mail.
  try {
    await hostAddress(resolver, domain);
    return { kind: "mail", hosts: [domain], implicit: true };
  } catch (error) {
    return NOTHING_THERE.has(code(error)) ? { kind: "null_mx" } : { kind: "silent", why: code(error) };
  }
}

/** The first address of a host. Throws what the resolver throws. */
export async function hostAddress(resolver: Dns, host: string): Promise<string> {
  try {
    return (await resolver.resolve4(host))[0] as string;
  } catch (error) {
    if (!NOTHING_THERE.has(code(error))) throw error;
    return (await resolver.resolve6(host))[0] as string;
  }
}
