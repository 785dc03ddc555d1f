import { domainOf } from "../../../core/prospects/address.ts";
import {
  ASK_AGAIN,
  type DomainEvidence,
  type Evidence,
  type Judged,
  judgeAddress,
  type ProbeEvidence,
} from "../../../core/prospects/judge-address.ts";
import { type By, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { askJob } from "../../db/jobs.ts";
import { sql } from "../../db/open.ts";
import { done, type Outcome } from "../../errors.ts";
import type { Report } from "../../jobs/report.ts";
import { askDomain, type Dns, hostAddress, resolverOf } from "../../mail/dns.ts";
import { probeAddresses } from "./probe.ts";
import { isProbeOn, probePause } from "./probe-setting.ts";

/** Whom to look at: a list, some people, or everybody; those with a verdict only if asked for `anew`. */
export interface VerifyScope {
  listId?: number | null;
  prospectIds?: number[];
  anew?: boolean;
}

interface Row {
  id: number;
  email: string;
  history: Evidence["history"];
}

/** Domains asked at the same time. */
const AT_ONCE = 16;
/** Addresses that one server is asked about in one run; the others wait for the next. */
const MOST_A_DOMAIN = 40;
/** What did not answer is asked again after this time, on the machine's clock. */
const AGAIN_AFTER = 15 * 60_000;

/** So many people are asked about by one piece of work that has not begun. */
const MOST_TOGETHER = 500;

/** Somebody who comes while others still wait is looked at with them: one conversation for each domain. */
export function askVerify(app: App, userId: number | null, scope: VerifyScope): number {
  const { prospectIds, ...more } = scope;
  if (prospectIds?.length === 1 && Object.keys(more).length === 0) {
    const joined = sql(
      app.db,
      `UPDATE jobs SET input = json_insert(input, '$.prospectIds[#]', @prospectId) WHERE id = (
         SELECT max(id) FROM jobs WHERE state = 'waiting' AND kind = 'verify' AND user_id IS @userId AND not_before = 0)
         AND input -> '$.anew' IS NULL AND json_array_length(input, '$.prospectIds') BETWEEN 1 AND ${MOST_TOGETHER - 1}
       RETURNING id`,
    ).get<{ id: number }>({ prospectId: prospectIds[0] as number, userId });
    if (joined) return joined.id;
  }
  return askJob(app.db, { kind: "verify", input: scope, userId, now: app.clock.now() });
}

/** Has a list's addresses verified, on somebody's word. */
export function askVerifyList(app: App, by: By, scope: { listId: number; anew: boolean }): Outcome<number> {
  return mayNot(app, by, "list.use", scope.listId) ?? done(askVerify(app, by, scope));
}

/** Gives each address its verdict with the evidence. What gave no answer is asked again later. */
export async function verifyAddresses(app: App, scope: VerifyScope, report: Report): Promise<void> {
  const { db } = app;
  const rows = sql(
    db,
    `SELECT p.id, p.email, CASE
         WHEN EXISTS (SELECT 1 FROM replies r WHERE r.prospect_id = p.id AND r.kind = 'person') THEN 'answered'
         WHEN EXISTS (SELECT 1 FROM block_list b WHERE b.kind = 'address' AND b.value = p.email AND b.reason = 'bounced')
           THEN 'bounced' END AS history
     FROM prospects p
     WHERE p.live = 1 AND p.email IS NOT NULL
       AND (@listId IS NULL OR p.id IN (SELECT prospect_id FROM list_prospects WHERE list_id = @listId))
       AND (@ids IS NULL OR p.id IN (SELECT value FROM json_each(@ids)))
       AND (@anew = 1 OR p.verdict IS NULL OR p.verdict_reason IN (SELECT value FROM json_each(@again)))
     ORDER BY p.id`,
  ).all<Row>({
    listId: scope.listId ?? null,
    ids: scope.prospectIds ? JSON.stringify(scope.prospectIds) : null,
    anew: scope.anew ? 1 : 0,
    again: JSON.stringify([...ASK_AGAIN]),
  });
  const byDomain = new Map<string, Row[]>();
  for (const row of rows) {
    const domain = domainOf(row.email);
    byDomain.set(domain, [...(byDomain.get(domain) ?? []), row]);
  }
  const resolver = resolverOf(app.config);
  const probes = isProbeOn(app);
  let done = 0;
  let isCancelled = false;
  let asksAgain = false;

  const domains = [...byDomain.entries()];
  const workThrough = async () => {
    for (let next = domains.pop(); next && !isCancelled; next = domains.pop()) {
      const [domain, people] = next;
      const judged = await judgeDomain(app, resolver, domain, people, probes);
      db.transaction(() => {
        for (const [id, verdict] of judged) recordVerdict(app, id, verdict);
      }).immediate();
      asksAgain ||= [...judged.values()].some(({ reason }) => ASK_AGAIN.has(reason));
      done += people.length;
      if (await report(done, rows.length)) isCancelled = true;
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, workThrough));
  if (asksAgain && !isCancelled)
    askJob(db, {
      kind: "verify",
      input: { listId: scope.listId ?? null },
      userId: null,
      now: app.clock.now(),
      notBefore: Date.now() + AGAIN_AFTER,
    });
}

async function judgeDomain(
  app: App,
  resolver: Dns,
  domain: string,
  people: Row[],
  probes: boolean,
): Promise<Map<number, Judged>> {
  const evidence = await askDomain(resolver, domain);
  const toAsk = people.filter(({ history }) => history === null).slice(0, MOST_A_DOMAIN);
  const answers =
    probes && toAsk.length > 0
      ? await askServer(
          app,
          resolver,
          evidence,
          toAsk.map(({ email }) => email),
        )
      : null;
  return new Map(
    people.map(({ id, email, history }) => {
      const probe = answers?.get(email) ?? null;
      return [id, judgeAddress(email, { domain: evidence, probe, history })];
    }),
  );
}

/** What the domain's first mail server says of the addresses; null if there is none to ask. */
export async function askServer(
  app: App,
  resolver: Dns,
  domain: DomainEvidence,
  addresses: string[],
  untilAccepted = false,
): Promise<Map<string, ProbeEvidence> | null> {
  if (domain.kind !== "mail") return null;
  try {
    const address = await hostAddress(resolver, domain.hosts[0] as string);
    const name = new URL(app.config.url).hostname;
    return await probeAddresses({ address, port: app.config.mxPort, name }, addresses, {
      pauseMs: probePause(app),
      untilAccepted,
    });
  } catch (error) {
    const words = `${domain.hosts[0]} has no address (${error instanceof Error ? error.message : error})`;
    return new Map(addresses.map((each) => [each, { kind: "silent", words }]));
  }
}

export function recordVerdict(
  { db, clock }: App,
  prospectId: number,
  { verdict, reason, detail }: Judged,
): void {
  sql(
    db,
    `UPDATE prospects SET verdict = @verdict, verdict_reason = @reason, verdict_detail = @detail, verdict_at = @now
     WHERE id = @prospectId`,
  ).run({ prospectId, verdict, reason, detail, now: clock.now() });
}
