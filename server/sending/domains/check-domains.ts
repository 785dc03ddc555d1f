/** Asks DNS about the domains that mail is sent from, and keeps what it said. */
import { z } from "zod";
import {
  type DomainAnswers,
  type Finding,
  judgeDomain,
  readSpf,
  reversed,
} from "../../../core/sending/domain-check.ts";
import type { App } from "../../app.ts";
import { allMailboxes } from "../../db/mailboxes.ts";
import { sql } from "../../db/open.ts";
import { type Dns, resolverOf } from "../../mail/dns.ts";
import { readSendingSettings } from "../rules.ts";

export interface DomainCheck {
  domain: string;
  mailboxes: number;
  at: number | null;
  findings: Finding[];
  problems: number;
}

/** Names under which mail servers usually keep their DKIM key. */
const USUAL_SELECTORS = [
  "default",
  "mail",
  "dkim",
  "key1",
  "s1",
  "s2",
  "selector1",
  "selector2",
  "k1",
  "smtp",
];
/** Records that lead from one to the next; the rule itself allows ten. */
const DEEPEST = 12;

const kept = z.object({ selector: z.string(), findings: z.array(z.custom<Finding>()) });

/** The domains that mail is sent from, with what was last found. */
export function knownDomainChecks({ db }: Pick<App, "db">): DomainCheck[] {
  const counts = new Map<string, number>();
  for (const { address } of allMailboxes(db)) {
    const domain = address.split("@")[1] ?? "";
    counts.set(domain, (counts.get(domain) ?? 0) + 1);
  }
  const rows = sql(db, "SELECT domain, result, at FROM domain_checks").all<{
    domain: string;
    result: string;
    at: number;
  }>([]);
  const results = new Map(
    rows.map(({ domain, result, at }) => [domain, { ...kept.parse(JSON.parse(result)), at }]),
  );
  return [...counts].sort().flatMap(([domain, mailboxes]) => {
    const result = results.get(domain);
    return result
      ? [
          {
            domain,
            mailboxes,
            at: result.at,
            findings: result.findings,
            problems: result.findings.filter(({ state }) => state === "wrong").length,
          },
        ]
      : [];
  });
}

/** Domains that were never checked. */
export const uncheckedDomains = (app: Pick<App, "db">): string[] => {
  const known = new Set(knownDomainChecks(app).map(({ domain }) => domain));
  return [...new Set(allMailboxes(app.db).map(({ address }) => address.split("@")[1] ?? ""))]
    .filter((domain) => !known.has(domain))
    .sort();
};

/** Checks one domain, with the DKIM selector that a person named or the one named before. Never throws for what DNS does. */
export async function checkDomain(app: App, domain: string, selector = ""): Promise<Finding[]> {
  const { db, config, clock } = app;
  const resolver = resolverOf(config);
  const before = sql(db, "SELECT result FROM domain_checks WHERE domain = @domain").get<{ result: string }>({
    domain,
  });
  const known = selector || (before ? kept.parse(JSON.parse(before.result)).selector : "");
  const hosts = [
    ...new Set(
      allMailboxes(db)
        .filter(({ address }) => address.endsWith(`@${domain}`))
        .map(({ smtpHost }) => smtpHost),
    ),
  ];
  const findings = judgeDomain(
    await askAll(resolver, domain, hosts, known, readSendingSettings(db).blockZones),
  );
  sql(
    db,
    `INSERT INTO domain_checks (domain, result, at) VALUES (@domain, @result, @at)
     ON CONFLICT (domain) DO UPDATE SET result = @result, at = @at`,
  ).run({ domain, result: JSON.stringify({ selector: known, findings }), at: clock.now() });
  return findings;
}

const NOTHING_THERE = new Set(["ENODATA", "ENOTFOUND"]);

/** Nothing there is an empty answer; no answer is null. */
async function orNone<T>(answer: Promise<T[]>): Promise<T[] | null> {
  try {
    return await answer;
  } catch (error) {
    return NOTHING_THERE.has((error as NodeJS.ErrnoException).code ?? "") ? [] : null;
  }
}

const textsAt = async (resolver: Dns, name: string): Promise<string[] | null> =>
  (await orNone(resolver.resolveTxt(name)))?.map((parts) => parts.join("")) ?? null;

async function askAll(
  resolver: Dns,
  domain: string,
  hostNames: string[],
  selector: string,
  zones: readonly string[],
): Promise<DomainAnswers> {
  const selectors = selector ? [selector, ...USUAL_SELECTORS] : USUAL_SELECTORS;
  const [texts, dmarc, exchangers, keys, hosts] = await Promise.all([
    textsAt(resolver, domain),
    textsAt(resolver, `_dmarc.${domain}`),
    orNone(resolver.resolveMx(domain)),
    Promise.all(
      selectors.map(async (each) => ({
        selector: each,
        texts: await textsAt(resolver, `${each}._domainkey.${domain}`),
      })),
    ),
    Promise.all(hostNames.slice(0, 5).map((host) => askHost(resolver, host))),
  ]);
  const spf = texts?.find((text) => readSpf(text) !== null);
  const cost = spf ? await spfCost(resolver, spf) : null;
  const listed = await askLists(resolver, domain, hosts, zones);
  const found = keys.flatMap((key) => (key.texts ?? []).map((text) => ({ selector: key.selector, text })));
  return {
    domain,
    texts,
    spfLookups: cost?.lookups ?? null,
    spfBroken: cost?.broken ?? [],
    dkim: found.length === 0 && keys.every((key) => key.texts === null) ? null : found,
    dmarc,
    exchangers:
      exchangers === null ? null : exchangers.map(({ exchange }) => exchange).filter((name) => name !== ""),
    hosts,
    listed,
    zonesAsked: zones.length,
  };
}

async function askHost(resolver: Dns, host: string): Promise<DomainAnswers["hosts"][number]> {
  const addresses = /^[\d.]+$|:/.test(host)
    ? [host]
    : [
        ...((await orNone(resolver.resolve4(host))) ?? []),
        ...((await orNone(resolver.resolve6(host))) ?? []),
      ];
  const first = addresses[0];
  return { host, addresses, names: first ? await orNone(resolver.reverse(first)) : null };
}

/** What an SPF record costs in look-ups with all that it includes (RFC 7208 4.6.4), and which names lead nowhere. */
async function spfCost(resolver: Dns, text: string): Promise<{ lookups: number; broken: string[] }> {
  let lookups = 0;
  const broken: string[] = [];
  const seen = new Set<string>();
  const read = async (record: string, depth: number): Promise<void> => {
    const spf = readSpf(record);
    if (!spf || depth > DEEPEST || lookups > 3 * DEEPEST) return;
    lookups += spf.lookups;
    for (const name of [...spf.includes, ...(spf.redirect ? [spf.redirect] : [])]) {
      if (seen.has(name)) continue;
      seen.add(name);
      const texts = await textsAt(resolver, name);
      const next = texts?.find((each) => readSpf(each) !== null);
      if (next) await read(next, depth + 1);
      else if (texts !== null) broken.push(name);
    }
  };
  await read(text, 0);
  return { lookups, broken };
}

/** A zone that answers 127.0.0.x lists what it was asked for (RFC 5782 2.1, 2.2). */
async function askLists(
  resolver: Dns,
  domain: string,
  hosts: DomainAnswers["hosts"],
  zones: readonly string[],
): Promise<DomainAnswers["listed"]> {
  const asked = zones.flatMap((zone) => [
    { zone, what: domain, name: `${domain}.${zone}` },
    ...hosts.flatMap(({ addresses }) =>
      addresses.flatMap((address) => {
        const name = reversed(address);
        return name ? [{ zone, what: address, name: `${name}.${zone}` }] : [];
      }),
    ),
  ]);
  const answers = await Promise.all(
    asked.map(async ({ zone, what, name }) => {
      const addresses = (await orNone(resolver.resolve4(name))) ?? [];
      if (!addresses.some((address) => address.startsWith("127."))) return [];
      return [{ zone, what, why: (await textsAt(resolver, name))?.[0] ?? "" }];
    }),
  );
  return answers.flat();
}
