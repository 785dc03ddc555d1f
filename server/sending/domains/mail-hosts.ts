/** Who runs the mail of a domain: the registrable domain of its first mail exchanger. Mailboxes are matched by it. */
import { getDomain } from "tldts";
import type { App } from "../../app.ts";
import { type Db, sql } from "../../db/open.ts";
import { askDomain, resolverOf } from "../../mail/dns.ts";

const MOST_AT_ONCE = 40;

export const providerOf = (hosts: readonly string[]): string =>
  hosts[0] ? (getDomain(hosts[0]) ?? hosts[0]).toLowerCase() : "";

export function keepMailHost(db: Db, domain: string, provider: string, at: number): void {
  sql(
    db,
    `INSERT INTO mail_hosts (domain, provider, at) VALUES (@domain, @provider, @at)
     ON CONFLICT (domain) DO UPDATE SET provider = @provider, at = @at`,
  ).run({ domain, provider, at });
}

/** Asks about some domains of people under way, and of mailboxes, of whom nobody has asked. Returns how many it asked. */
export async function learnMailHosts(app: App): Promise<number> {
  const { db, config, clock } = app;
  const people = sql(
    db,
    `SELECT DISTINCT substr(p.email, instr(p.email, '@') + 1) AS domain FROM journeys j JOIN prospects p ON p.id = j.prospect_id
     WHERE j.state = 'active' AND p.email IS NOT NULL
       AND NOT EXISTS (SELECT 1 FROM mail_hosts h WHERE h.domain = substr(p.email, instr(p.email, '@') + 1)) LIMIT ${MOST_AT_ONCE}`,
  ).all<{ domain: string }>([]);
  const mailboxes = sql(
    db,
    "SELECT id, substr(address, instr(address, '@') + 1) AS domain FROM mailboxes WHERE provider = '' AND removed_at IS NULL",
  ).all<{ id: number; domain: string }>([]);
  const resolver = resolverOf(config);
  const ask = async (domain: string): Promise<string | null> => {
    const answer = await askDomain(resolver, domain);
    return answer.kind === "silent" ? null : answer.kind === "mail" ? providerOf(answer.hosts) : "";
  };
  await Promise.all(
    people.map(async ({ domain }) => {
      // One that stays silent counts as unknown, and is asked no more.
      keepMailHost(db, domain, (await ask(domain)) ?? "", clock.now());
    }),
  );
  for (const { id, domain } of mailboxes) {
    const provider = await ask(domain);
    // A domain without one is its own.
    if (provider !== null)
      sql(db, "UPDATE mailboxes SET provider = @provider WHERE id = @id").run({
        id,
        provider: provider || domain,
      });
  }
  return people.length;
}
