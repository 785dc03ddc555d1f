/**
 * Where a mailbox's servers may be, from its address's domain alone: what DNS says (RFC 6186, RFC 8314), then the names
 * that servers usually have.
 */

export interface ServerGuess {
  host: string;
  port: number;
  /** `none` only for a server on this machine. */
  security: "tls" | "starttls" | "none";
  /** How it was found. */
  by: "srv" | "mx" | "name";
}

export interface SrvAnswer {
  name: string;
  port: number;
  priority: number;
  weight: number;
}

/** The services to ask for, the ones with TLS from the start first (RFC 8314 3). */
export const SERVICES = {
  smtp: [
    { service: "_submissions._tcp", security: "tls" },
    { service: "_submission._tcp", security: "starttls" },
  ],
  imap: [
    { service: "_imaps._tcp", security: "tls" },
    { service: "_imap._tcp", security: "starttls" },
  ],
} as const;
export type Protocol = keyof typeof SERVICES;

const USUAL = {
  smtp: {
    names: ["smtp", "mail"],
    ports: [
      { port: 465, security: "tls" },
      { port: 587, security: "starttls" },
    ],
  },
  imap: {
    names: ["imap", "mail"],
    ports: [
      { port: 993, security: "tls" },
      { port: 143, security: "starttls" },
    ],
  },
} as const;

/** In the order of RFC 2782: the lowest priority, of these the greatest weight. A single "." says that there is none. */
export function fromSrv(answers: readonly SrvAnswer[], security: "tls" | "starttls"): ServerGuess[] {
  return answers
    .filter(({ name }) => name !== "" && name !== ".")
    .toSorted((a, b) => a.priority - b.priority || b.weight - a.weight)
    .map(({ name, port }) => ({ host: name, port, security, by: "srv" }));
}

/** The usual names under the domain itself, and under that of whoever takes its mail. */
export function usualServers(
  protocol: Protocol,
  domain: string,
  providers: readonly string[],
): ServerGuess[] {
  const { names, ports } = USUAL[protocol];
  const domains: [string, ServerGuess["by"]][] = [
    ...providers.filter((each) => each !== domain).map((each): [string, "mx"] => [each, "mx"]),
    [domain, "name"],
  ];
  return domains.flatMap(([under, by]) =>
    names.flatMap((name) =>
      ports.map(({ port, security }) => ({ host: `${name}.${under}`, port, security, by })),
    ),
  );
}
