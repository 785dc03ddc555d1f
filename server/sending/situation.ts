/**
 * What the plan is made from. It is read once and kept; after that only those journeys are read anew of which something
 * changed (the table `replan`, filled by triggers), so that one change costs the same among a hundred as among 100,000.
 */
import { alwaysOpen, DAY, dayNumberOf, HOUR, startOfDay } from "../../core/calendar.ts";
import { isSilent, journeyHold, mailboxHold } from "../../core/sending/hold.ts";
import { dueAfter, type Pace, type PlanJourney } from "../../core/sending/plan.ts";
import type { Wait, WaitReason } from "../../core/sending/reasons.ts";
import { returnRamp } from "../../core/sending/rest.ts";
import type { Sender } from "../../core/sending/sender.ts";
import type { Newcomer } from "../../core/sending/what-if.ts";
import type { Walker } from "../../core/sequence/advance.ts";
import { type ExpectedEmail, expectedEmails } from "../../core/sequence/expected-path.ts";
import type { Facts } from "../../core/sequence/holds.ts";
import { isEmail, type Path, spotsOf } from "../../core/sequence/path.ts";
import { openFrom } from "../../core/sequence/wait.ts";
import { type ActiveJourney, activeJourneys, activeJourneysAmong, activeJourneysOf } from "../db/journeys.ts";
import { isClaimed } from "../db/ledger.ts";
import { allMailboxes, type Mailbox, senderOf } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import { allSequences, pathOfVersion, type Sequence } from "../db/sequences.ts";
import { allAccounts, type SocialAccount } from "../db/social.ts";
import { isApproved } from "../sequences/consider.ts";
import { calendarFor, factsOf } from "../sequences/walk.ts";
import { readSendingSettings, rulesOf } from "./rules.ts";

/** What is known of one journey, as long as nothing of it changes. */
interface Known {
  row: ActiveJourney;
  /** What holds this journey, whatever its mailbox and its sequence do. */
  hold: Wait | null;
  journey: PlanJourney;
  /** The email ahead is not the step before which they stand: it goes then at the soonest, and never in the past. */
  expectedAt: number | null;
}

export interface PlanParts {
  senders: Sender[];
  journeys: PlanJourney[];
  rules: ReturnType<typeof rulesOf>;
  domainsLately: Map<string, number[]>;
}

/** Of somebody of whom nothing is known but that they can be written to. */
const NO_FACTS: Facts = {
  hasAddress: true,
  hasProfile: false,
  fieldValue: () => "",
  acceptedAt: null,
  openedAt: new Map(),
  clickedAt: new Map(),
  labels: [],
};

/** Why one person's email does not come up; it holds nobody else. */
const OWN_TROUBLE: WaitReason[] = [
  ...(["merge_field_empty", "text_broken", "no_address", "address_not_good", "refused_for_now"] as const),
  ...(["paused_by_rep", "colleague_replied", "away", "came_back_twice", "challenged"] as const),
  ...(["refused_by_host", "after_restore", "likely_reply", "undecided"] as const),
];

export class Situation {
  mailboxes: Mailbox[] = [];
  sequences = new Map<number, Sequence>();
  private readonly known = new Map<number, Known>();
  private readonly marks = new Map<number, string>();
  private readDay = Number.NaN;
  private settings = "";
  private accounts: SocialAccount[] = [];
  private readAt = 0;
  private mailHosts = new Map<string, string>();
  private singles = new Map<number, readonly number[]>();
  private firstOnes = new Map<number, boolean>();
  private ahead = new Map<string, { path: Path; same: Map<string, ExpectedEmail[]> | null }>();

  constructor(private readonly db: Db) {}

  get size(): number {
    return this.known.size;
  }

  /**
   * Brings it up to date. `changed`: the journeys of which something changed, null for everybody. Returns whom that may
   * move: nobody, some (those that changed), or all.
   */
  refresh(now: number, changed: readonly number[] | null): "nobody" | "some" | "all" {
    const { db } = this;
    const day = dayNumberOf(now, "UTC");
    // Holidays are kept by the year, and a day's first look makes up for whatever was missed.
    const isNew =
      changed === null || day !== this.readDay || changed.length > Math.max(500, this.known.size / 4);
    this.readDay = day;
    this.mailboxes = allMailboxes(db);
    this.sequences = new Map(allSequences(db).map((sequence) => [sequence.id, sequence]));
    this.firstOnes.clear();
    const accountsBefore = JSON.stringify(this.accounts);
    this.accounts = allAccounts(db);
    this.readAt = now;
    const isAccountChanged = JSON.stringify(this.accounts) !== accountsBefore;
    const settings = JSON.stringify([
      readSendingSettings(db),
      this.mailboxes.map((mailbox) => ({ ...mailbox, readWall: 0, connectedWall: 0, copies: "" })),
      // What ends by itself: a rest, or the time for which a server is left alone.
      this.mailboxes.map((mailbox) => [mailboxHold(mailbox, now)?.reason, isSilent(mailbox, now)]),
    ]);
    let isChanged = settings !== this.settings;
    this.settings = settings;
    if (isNew) {
      this.known.clear();
      this.ahead.clear();
      this.mailHosts = readMailHosts(db);
      for (const sequence of this.sequences.values()) this.marks.set(sequence.id, markOf(sequence));
      for (const row of activeJourneys(db)) this.know(row, now);
      return "all";
    }
    for (const sequence of this.sequences.values()) {
      const mark = markOf(sequence);
      const isAsked =
        sequence.settings.approval === "first" &&
        changed.some((id) => this.known.get(id)?.row.sequenceId === sequence.id);
      if (this.marks.get(sequence.id) === mark && !isAsked) continue;
      this.marks.set(sequence.id, mark);
      isChanged = true;
      for (const row of activeJourneysOf(db, sequence.id)) this.know(row, now);
    }
    if (isAccountChanged)
      for (const { row } of [...this.known.values()]) if (row.placeAccountId !== null) this.know(row, now);
    const all = isChanged || isAccountChanged;
    if (changed.length === 0) return all ? "all" : "nobody";
    if (this.mailHosts.size < countMailHosts(db)) this.mailHosts = readMailHosts(db);
    for (const id of changed) this.known.delete(id);
    for (const row of activeJourneysAmong(db, changed)) this.know(row, now);
    return all ? "all" : "some";
  }

  /** Those who are under way, and the recorded decision of each. */
  *rows(): Generator<ActiveJourney> {
    for (const { row } of this.known.values()) yield row;
  }

  row(id: number): ActiveJourney | undefined {
    return this.known.get(id)?.row;
  }

  /** What the plan asks of somebody, if nothing holds them (`divide`). */
  journey(id: number): PlanJourney | undefined {
    return this.known.get(id)?.journey;
  }

  /** Whom nothing holds, with what the plan asks of them; and the others, with what holds them. Of everybody, or of these. */
  divide(now: number, ids?: readonly number[]): { ready: PlanJourney[]; held: Map<number, Wait> } {
    const ready: PlanJourney[] = [];
    const held = new Map<number, Wait>();
    const holds = new Map(this.mailboxes.map((mailbox) => [mailbox.id, mailboxHold(mailbox, now)]));
    const holdOf = (id: number) => (holds.has(id) ? (holds.get(id) ?? null) : mailboxHold(undefined, now));
    const silent = new Set(this.mailboxes.filter((each) => isSilent(each, now)).map(({ id }) => id));
    const pools = new Map<
      number,
      { usable: readonly number[]; awake: readonly number[]; hold: Wait | null; pace: Pace | null }
    >();
    for (const sequence of this.sequences.values()) {
      const usable = sequence.mailboxIds.filter((id) => holdOf(id) === null);
      const first = sequence.mailboxIds[0] ?? -1;
      pools.set(sequence.id, {
        usable,
        awake: usable.filter((id) => !silent.has(id)),
        hold:
          sequence.state !== "running"
            ? { reason: "sequence_paused", until: null, detail: null }
            : usable.length > 0
              ? null
              : holdOf(first),
        pace: paceOf(this.db, sequence, now),
      });
    }
    const whom = ids ? ids.flatMap((id) => this.known.get(id) ?? []) : this.known.values();
    for (const { row, hold, journey, expectedAt } of whom) {
      const sequence = this.sequences.get(row.sequenceId);
      const pool = pools.get(row.sequenceId);
      // Deleted, and about to be stopped.
      if (!sequence || !pool) continue;
      const ownHold = row.mailboxId === null ? null : holdOf(row.mailboxId);
      const movesOn =
        row.mailboxId !== null &&
        (ownHold !== null || silent.has(row.mailboxId)) &&
        sequence.settings.threadElsewhere === "new_thread" &&
        pool.awake.length > 0;
      const wait =
        (row.settling === 0 && sequence.state !== "running" ? pool.hold : null) ??
        hold ??
        (row.mailboxId === null || movesOn ? pool.hold : ownHold);
      if (wait) {
        held.set(row.id, wait);
        continue;
      }
      journey.senderIds =
        row.mailboxId === null ? pool.usable : movesOn ? pool.awake : this.single(row.mailboxId);
      journey.pace = pool.pace;
      if (expectedAt !== null) journey.dueAt = Math.max(row.dueAt, now, expectedAt);
      ready.push(journey);
    }
    return { ready, held };
  }

  /** Everything that `makePlan` asks. */
  parts(now: number, ready: PlanJourney[]): PlanParts {
    const { db } = this;
    const settings = readSendingSettings(db);
    const rules = rulesOf(settings);
    return {
      senders: this.mailboxes.map((mailbox): Sender => {
        const sender = senderOf(db, mailbox, now);
        if (mailbox.state !== "resting") return sender;
        // It comes back on a lowered limit.
        return { ...sender, ramp: { ...returnRamp(mailbox.dailyLimit, settings.rest), daysSoFar: 0 } };
      }),
      journeys: ready,
      rules,
      domainsLately: rules.domainADay === null ? new Map() : domainsLately(db, now),
    };
  }

  /** How somebody new would begin: as in the running sequence with the most people. Null if none runs. */
  newcomer(now: number): Newcomer | null {
    const sizes = new Map<number, number>();
    for (const { row } of this.known.values())
      sizes.set(row.sequenceId, (sizes.get(row.sequenceId) ?? 0) + 1);
    const running = [...this.sequences.values()].filter(
      ({ state, kind, mailboxIds }) => state === "running" && kind === "shared" && mailboxIds.length > 0,
    );
    const sequence = running.sort((a, b) => (sizes.get(b.id) ?? 0) - (sizes.get(a.id) ?? 0))[0];
    if (!sequence) return null;
    const calendar = calendarFor(sequence, sequence.zone, "", now);
    const walker = { path: sequence.path, begun: new Map() };
    const place = { nodeId: sequence.path[0]?.id ?? null, since: now };
    return {
      calendar,
      senderIds: sequence.mailboxIds,
      ahead: expectedEmails(walker, place, NO_FACTS),
      pace: paceOf(this.db, sequence, now),
      dueAt: openFrom(now, calendar),
    };
  }

  /** One array for each mailbox: the plan puts alike journeys into one queue by it. */
  private single(mailboxId: number): readonly number[] {
    let single = this.singles.get(mailboxId);
    if (!single) {
      single = [mailboxId];
      this.singles.set(mailboxId, single);
    }
    return single;
  }

  private know(row: ActiveJourney, now: number): void {
    const sequence = this.sequences.get(row.sequenceId);
    if (!sequence) {
      this.known.delete(row.id);
      return;
    }
    const ahead = this.emailsAhead(sequence, row, now);
    const first = ahead[0];
    const usual = calendarFor(sequence, row.prospectZone, row.prospectCountry, now);
    const calendar = this.goesAtAnyHour(sequence, row) ? alwaysOpen(usual) : usual;
    const domain = row.email?.split("@")[1] ?? "";
    const isExpected = first !== undefined && first.id !== row.placeId;
    this.known.set(row.id, {
      row,
      hold:
        journeyHold(row, { state: "running", writesTo: sequence.writesTo }) ??
        this.placeHold(sequence, row, ahead.length),
      journey: {
        id: row.id,
        calendar,
        ...(calendar !== usual && { calendarAfter: usual }),
        senderIds: [],
        followUp: row.mailboxId !== null,
        dueAt: row.dueAt,
        ahead,
        domain,
        provider: this.mailHosts.get(domain) || null,
        lastTouchAt: row.lastTouchAt,
      },
      expectedAt: isExpected ? dueAfter(row.since, first.waits, calendar, row.id, first.id) : null,
    });
  }

  private pathOf(sequence: Sequence, version: number) {
    const key = `${sequence.id} ${version}`;
    let known = this.ahead.get(key);
    if (!known) {
      const path =
        version === sequence.version ? sequence.path : pathOfVersion(this.db, sequence.id, version);
      const asks = /"about":"(address|profile|field)"/.test(JSON.stringify(path));
      known = { path, same: asks ? null : new Map() };
      this.ahead.set(key, known);
    }
    return known;
  }

  /** Whether they stand before an email that goes at the time that was named. */
  private goesAtAnyHour(sequence: Sequence, row: ActiveJourney): boolean {
    if (sequence.kind !== "single" || row.placeId === null) return false;
    const node = spotsOf(this.pathOf(sequence, row.version).path).get(row.placeId)?.node;
    return node !== undefined && isEmail(node) && node.anyHour === true;
  }

  /** Where no condition asks who somebody is, everybody at a place has the same ahead. */
  private emailsAhead(sequence: Sequence, row: ActiveJourney, now: number): ExpectedEmail[] {
    const { path, same } = this.pathOf(sequence, row.version);
    const place = row.placeId ?? "";
    const known = same?.get(place);
    if (known) return known;
    const walker: Walker = {
      path,
      calendar: calendarFor(sequence, row.prospectZone, row.prospectCountry, now),
      seed: row.id,
      begun: new Map(),
    };
    const emails = expectedEmails(walker, { nodeId: row.placeId, since: row.since }, factsOf(this.db, row));
    same?.set(place, emails);
    return emails;
  }

  /** Why somebody does not go on by themselves from where they stand; null if an email of theirs is the plan's matter. */
  private placeHold(sequence: Sequence, row: ActiveJourney, emailsAhead: number): Wait | null {
    const wait = (reason: Wait["reason"], until: number | null = null): Wait => ({
      reason,
      until,
      detail: null,
    });
    const node =
      row.placeId === null
        ? undefined
        : spotsOf(this.pathOf(sequence, row.version).path).get(row.placeId)?.node;
    if (row.placeState === "draft") return wait("draft_open");
    if (row.placeState === "open")
      return row.placeAccountId === null
        ? wait("task_open", row.wakeAt)
        : this.accountHold(row.placeAccountId);
    if (node?.kind === "fork" && emailsAhead === 0) return wait("fork_open", row.wakeAt);
    if (node && isEmail(node) && row.placeState === null && this.waitsForFirstOnes(sequence, row))
      return wait("first_ones");
    return null;
  }

  /** Why the touch of a social account is not done yet. */
  private accountHold(id: number): Wait {
    const account = this.accounts.find((each) => each.id === id);
    const reason =
      account?.state === "signed_out"
        ? "account_signed_out"
        : account?.retryAt != null && account.retryAt > this.readAt
          ? "account_limit"
          : "in_line";
    return { reason, until: account?.retryAt ?? null, detail: account?.name ?? null };
  }

  /**
   * With "the first N by hand", the others wait until somebody has decided about the first email of each of those. Whoever has a
   * yes from before the start goes; and of the N nobody is waited for whose email cannot come up, for a trouble of their own.
   */
  private waitsForFirstOnes({ id, settings }: Sequence, row: ActiveJourney): boolean {
    if (settings.approval !== "first" || row.mailboxId !== null) return false;
    if (isApproved(this.db, id, row.placeId ?? "", row.prospectId)) return false;
    let open = this.firstOnes.get(id);
    if (open === undefined) {
      open =
        sql<Record<string, unknown>>(
          this.db,
          `SELECT 1 FROM (SELECT id, prospect_id, state, wait_reason FROM journeys WHERE sequence_id = @id ORDER BY id LIMIT @first) j
           WHERE j.state = 'active' AND coalesce(j.wait_reason, '') NOT IN (SELECT value FROM json_each(@own))
             AND NOT EXISTS (SELECT 1 FROM approvals a WHERE a.sequence_id = @id AND a.prospect_id = j.prospect_id)
             AND NOT EXISTS (
               SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.kind IN ('email', 'approved_email') AND t.state != 'draft')
           LIMIT 1`,
        ).get({ id, first: settings.approveFirst, own: JSON.stringify(OWN_TROUBLE) }) !== undefined;
      this.firstOnes.set(id, open);
    }
    return open;
  }
}

/** What of a sequence its journeys' plans go by. */
const markOf = ({ id, revision, version, mailboxIds, settings, hours, zone, writesTo }: Sequence): string =>
  JSON.stringify([id, revision, version, mailboxIds, settings, hours, zone, writesTo]);

function readMailHosts(db: Db): Map<string, string> {
  const rows = sql<[], { domain: string; provider: string }>(
    db,
    "SELECT domain, provider FROM mail_hosts",
  ).all([]);
  return new Map(rows.map(({ domain, provider }) => [domain, provider]));
}

const countMailHosts = (db: Db): number =>
  sql<[], { count: number }>(db, "SELECT count(*) AS count FROM mail_hosts").get([])?.count ?? 0;

/** A sequence's own pace with what it has spent of it; null if it has none. */
export function paceOf(db: Db, { id, settings, zone }: Sequence, now: number): Pace | null {
  const { newADay, perHour, minutesBetween } = settings;
  if (newADay === null && perHour === null && minutesBetween === null) return null;
  const since = Math.min(startOfDay(now, zone), now - HOUR, now - (minutesBetween ?? 0) * 60_000);
  const rows = sql<Record<string, unknown>, { at: number; isFirst: 0 | 1 }>(
    db,
    `SELECT coalesce(t.sent_at, t.claimed_at) AS at,
       NOT EXISTS (SELECT 1 FROM touches e WHERE e.journey_id = t.journey_id AND e.sent_at < coalesce(t.sent_at, t.claimed_at)) AS isFirst
     FROM touches t JOIN journeys j ON j.id = t.journey_id
     WHERE t.id IN (SELECT id FROM touches WHERE sent_at >= @since
         UNION SELECT id FROM touches WHERE ${isClaimed()})
       AND j.sequence_id = @id AND t.kind IN ('email', 'approved_email')`,
  ).all({ id, since });
  return {
    newADay,
    begunToday: rows.filter(({ at, isFirst }) => isFirst === 1 && at >= startOfDay(now, zone)).length,
    perHour,
    minutesBetween,
    sentLately: rows.map(({ at }) => at),
    zone,
  };
}

/** When the emails of the last 24 hours went, by recipient domain; of all domains or of one. */
export function domainsLately(db: Db, now: number, domain: string | null = null): Map<string, number[]> {
  const rows = sql<Record<string, unknown>, { domain: string; at: number }>(
    db,
    `SELECT substr(recipient, instr(recipient, '@') + 1) AS domain, coalesce(sent_at, claimed_at) AS at
     FROM (SELECT * FROM touches WHERE sent_at >= @since
       UNION SELECT * FROM touches WHERE ${isClaimed()})
     WHERE journey_id IS NOT NULL AND (@domain IS NULL OR recipient LIKE '%@' || @domain)`,
  ).all({ since: now - DAY, domain });
  const lately = new Map<string, number[]>();
  for (const { domain: to, at } of rows) lately.set(to, [...(lately.get(to) ?? []), at]);
  return lately;
}
