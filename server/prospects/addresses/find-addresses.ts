import { type DomainEvidence, judgeAddress } from "../../../core/prospects/judge-address.ts";
import {
  addressCandidates,
  type KnownAddress,
  type Learned,
  learnPattern,
} from "../../../core/prospects/patterns.ts";
import { isRole } from "../../../core/prospects/roles.ts";
import { type By, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { recordChange } from "../../db/changes.ts";
import { writeField } from "../../db/fields.ts";
import { askJob } from "../../db/jobs.ts";
import { wordsIn } from "../../db/json.ts";
import { type Db, sql } from "../../db/open.ts";
import { prospectIdByEmail } from "../../db/prospects.ts";
import { done, type Outcome } from "../../errors.ts";
import type { Report } from "../../jobs/report.ts";
import { askDomain, type Dns, resolverOf } from "../../mail/dns.ts";
import { isProbeOn } from "./probe-setting.ts";
import { askServer, recordVerdict } from "./verify-addresses.ts";

interface Lacking {
  id: number;
  first: string;
  last: string;
  country: string;
  domain: string;
}

/** Where no server can be asked, a pattern counts if this many known addresses and this share of them follow it. */
const SURE_FROM = 2;
const SURE_SHARE = 0.6;

/** Who has no address, and enough for one to be put together from. */
const LACKING = `FROM prospects p JOIN companies c ON c.id = p.company_id
  WHERE p.live = 1 AND p.email IS NULL AND c.domain IS NOT NULL AND p.last_name != ''
    AND (@listId IS NULL OR p.id IN (SELECT prospect_id FROM list_prospects WHERE list_id = @listId))`;

/** So many companies are looked at before it is said that no address can be found. */
const MOST_LOOKED_AT = 60;

/** Whether looking for the missing addresses of a list can find any. */
export function canFindAddresses(app: App, listId: number): boolean {
  const { db } = app;
  const domains = sql(db, `SELECT DISTINCT c.domain ${LACKING} LIMIT ${MOST_LOOKED_AT}`).all<{
    domain: string;
  }>({ listId });
  return (
    domains.length > 0 &&
    (isProbeOn(app) ||
      domains.some(
        ({ domain }) =>
          isSure(learnPattern(knownAddresses(db, domain))) ||
          knownFromSite(db, domain, addressesOnSite(db, domain)).length > 0,
      ))
  );
}

const isSure = (learned: Learned | null): learned is Learned =>
  learned !== null && learned.count >= SURE_FROM && learned.count / learned.of >= SURE_SHARE;

export function askFindAddresses(app: App, userId: By, listId: number | null): Outcome<number> {
  const no = mayNot(app, userId, "list.use", listId ?? []);
  if (no) return no;
  return done(askJob(app.db, { kind: "find_addresses", input: { listId }, userId, now: app.clock.now() }));
}

/** Finds addresses for those of a list who have none, by what their companies' known addresses show. */
export async function findAddresses(app: App, listId: number | null, report: Report): Promise<void> {
  const { db } = app;
  const lacking = sql(
    db,
    `SELECT p.id, p.first_name AS first, p.last_name AS last, p.country, c.domain ${LACKING} ORDER BY c.id`,
  ).all<Lacking>({ listId });
  const resolver = resolverOf(app.config);
  const domains = new Map<string, DomainEvidence>();
  for (const [at, person] of lacking.entries()) {
    let domain = domains.get(person.domain);
    if (!domain) {
      domain = await askDomain(resolver, person.domain);
      domains.set(person.domain, domain);
    }
    await findOne(app, resolver, person, domain);
    if (await report(at + 1, lacking.length)) return;
  }
}

/** People whose address is of the domain, whatever company they are kept under; functions teach no pattern. */
function knownAddresses(db: Db, domain: string): KnownAddress[] {
  return sql(
    db,
    `SELECT first_name AS first, last_name AS last, email FROM prospects
     WHERE substr(email, instr(email, '@') + 1) = @domain AND coalesce(verdict, '') != 'bad' AND erased_at IS NULL
     LIMIT 300`,
  )
    .all<KnownAddress>({ domain })
    .filter(({ first, last, email }) => first !== "" && last !== "" && !isRole(email));
}

/** Addresses of the domain that stand on its own web site, as far as it was read. */
function addressesOnSite(db: Db, domain: string): ReadonlySet<string> {
  const row = sql(db, "SELECT reading ->> '$.addresses' AS addresses FROM sites WHERE domain = @domain").get<{
    addresses: string | null;
  }>({ domain });
  return new Set(wordsIn(row?.addresses ?? "[]"));
}

/** Whose address stands on the site: people known here without one, by any of the usual ways of writing it. They teach the pattern as any other. */
function knownFromSite(db: Db, domain: string, shown: ReadonlySet<string>): KnownAddress[] {
  if (shown.size === 0) return [];
  return sql(
    db,
    `SELECT p.first_name AS first, p.last_name AS last, p.country FROM prospects p JOIN companies c ON c.id = p.company_id
     WHERE c.domain = @domain AND p.email IS NULL AND p.live = 1 AND p.last_name != '' LIMIT 300`,
  )
    .all<{ first: string; last: string; country: string }>({ domain })
    .flatMap(({ first, last, country }) => {
      const found = addressCandidates({ first, last }, domain, null, country).find(({ email }) =>
        shown.has(email),
      );
      return found ? [{ first, last, email: found.email }] : [];
    });
}

async function findOne(app: App, resolver: Dns, person: Lacking, domain: DomainEvidence): Promise<void> {
  const { db } = app;
  const shown = addressesOnSite(db, person.domain);
  const learned = learnPattern([
    ...knownAddresses(db, person.domain),
    ...knownFromSite(db, person.domain, shown),
  ]);
  const candidates = addressCandidates(person, person.domain, learned, person.country).filter(
    ({ email }) => prospectIdByEmail(db, email) === null,
  );
  if (candidates.length === 0 || domain.kind !== "mail") return;
  const answers = isProbeOn(app)
    ? await askServer(
        app,
        resolver,
        domain,
        candidates.map(({ email }) => email),
        true,
      )
    : null;
  const taken = candidates.find(({ email }) => {
    const answer = answers?.get(email);
    return answer?.kind === "accepted" && !answer.acceptsAll;
  });
  const stands = candidates.find(({ email }) => shown.has(email));
  // A server that takes everybody, or is not asked, says nothing; then the pattern must be sure by itself.
  const chosen =
    stands ??
    taken ??
    (isSure(learned) && candidates[0]?.pattern === learned.pattern ? candidates[0] : undefined);
  if (!chosen || answers?.get(chosen.email)?.kind === "refused") return;
  db.transaction(() => {
    // Somebody may have got this address while the server was asked.
    if (prospectIdByEmail(db, chosen.email) !== null) return;
    writeField(db, person.id, "email", chosen.email);
    recordChange(db, {
      prospectId: person.id,
      field: "email",
      before: "",
      after: chosen.email,
      source: "pattern",
      sourceId: null,
      detail: stands
        ? `it stands on their web site, ${person.domain}`
        : evidenceWords(learned, chosen.pattern, person.domain, taken !== undefined),
      userId: null,
      at: app.clock.now(),
    });
    recordVerdict(
      app,
      person.id,
      judgeAddress(chosen.email, { domain, probe: answers?.get(chosen.email) ?? null, history: null }),
    );
  }).immediate();
}

/** "7 of 8 known addresses at kai.example are first.last; its server takes mail for this one" */
function evidenceWords(learned: Learned | null, pattern: string, domain: string, isTaken: boolean): string {
  const known =
    learned?.pattern === pattern
      ? `${learned.count} of ${learned.of} known addresses at ${domain} are ${pattern}`
      : `no known address at ${domain} shows the pattern; ${pattern} is a usual one`;
  return isTaken ? `${known}; its server takes mail for this one and not for an invented one` : known;
}
