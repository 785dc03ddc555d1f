/** How each domain of the simulated world takes mail; DNS and the mail exchanger tell the same story. */
import { directory } from "./directory/people.ts";
import { seeded, shareOf } from "./seeded.ts";

export const DOMAIN_KINDS = [
  "mail",
  "accepts-all",
  "no-domain",
  "null-mx",
  "silent",
  "later",
  "implicit",
] as const;
export type DomainKind = (typeof DOMAIN_KINDS)[number];

const SHARES: [DomainKind, number][] = [
  ["accepts-all", 0.08],
  ["no-domain", 0.03],
  ["null-mx", 0.015],
  ["silent", 0.015],
  ["later", 0.02],
  ["implicit", 0.03],
];

let domains: Set<string> | null = null;
let addresses: Set<string> | null = null;

/**
 * Domains of the directory draw their kind; a domain whose name begins with a kind ("silent-museum.example")
 * is of that kind, and any other takes mail.
 */
export function kindOf(domain: string): DomainKind {
  const named = DOMAIN_KINDS.find((kind) => domain.startsWith(`${kind}-`));
  if (named) return named;
  domains ??= new Set(directory().companies.map((company) => company.domain));
  if (!domains.has(domain)) return "mail";
  const drawn = shareOf(
    SHARES.map(([, share]) => share),
    seeded("domain", domain)(),
  );
  return SHARES[drawn]?.[0] ?? "mail";
}

/**
 * Whether somebody is there: in the directory's domains those who have not left; in others everybody
 * whose name has no digit and is not "nobody".
 */
export function isThere(address: string): boolean {
  const domain = address.slice(address.lastIndexOf("@") + 1);
  domains ??= new Set(directory().companies.map((company) => company.domain));
  addresses ??= new Set(directory().people.map(({ trueEmail }) => trueEmail));
  if (domains.has(domain)) return addresses.has(address);
  return !/^nobody|\d/.test(address.slice(0, address.lastIndexOf("@")));
}
