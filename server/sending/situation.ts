/**
 * What the plan is made from. It is read once and kept; after that only those journeys are read anew of which something
 * changed (the table `replan`, filled by triggers), so that one change costs the same among a hundred as among 100,000.
 */
import { alwaysOpen, dayNumberOf } from "../../core/calendar.ts";
import { isSilent, mayNotGoFor } from "../../core/sending/may-go.ts";
import type { Pace } from "../../core/sending/pace.ts";
import { dueAfter } from "../../core/sending/plan.ts";
import type { PlanJourney } from "../../core/sending/plan-parts.ts";
import type { Wait } from "../../core/sending/reasons.ts";
import { returnRamp } from "../../core/sending/rest.ts";
import type { Sender } from "../../core/sending/sender.ts";
import type { Newcomer } from "../../core/sending/what-if.ts";
import type { Walker } from "../../core/sequence/advance.ts";
import { type ExpectedEmail, expectedEmails } from "../../core/sequence/expected-path.ts";
import type { Facts } from "../../core/sequence/holds.ts";
import { isEmail, type Path, spotsOf } from "../../core/sequence/path.ts";
import { openFrom } from "../../core/sequence/wait.ts";
import { type ActiveJourney, activeJourneys, activeJourneysAmong, activeJourneysOf } from "../db/journeys.ts";
import { allMailboxes, type Mailbox, senderOf } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import { allSequences, pathOfVersion, type Sequence } from "../db/sequences.ts";
import { allAccounts, type SocialAccount } from "../db/social.ts";
import { calendarFor, factsOf } from "../sequences/walk.ts";
import { comesAfterFirstOnes, waitingState } from "./known.ts";
import { readSendingSettings, rulesOf } from "./rules.ts";
import { domainsLately, paceOf } from "./spent.ts";

/** What is known of one journey, as long as nothing of it changes. */
interface Standing {
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
  visitedAt: null,
  watchedAt: new Map(),
  labels: [],
};

export class Situation {
  mailboxes: Mailbox[] = [];
  sequences = new Map<number, Sequence>();
  private readonly known = new Map<number, Standing>();
  private readonly marks = new Map<number, string>();
  private readDay = Number.NaN;
  private settings = "";
  private accounts: SocialAccount[] = [];
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
    const isAccountChanged = JSON.stringify(this.accounts) !== accountsBefore;
    const settings = JSON.stringify([
      readSendingSettings(db),
      this.mailboxes.map((mailbox) => ({ ...mailbox, readWall: 0, connectedWall: 0, copies: "" })),
      // What ends by itself: a rest, or the time for which a server is left alone.
      this.mailboxes.map((mailbox) => [mailboxWait(mailbox, now)?.reason, isSilent(mailbox, now)]),
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
    const waits = new Map(this.mailboxes.map((mailbox) => [mailbox.id, mailboxWait(mailbox, now)]));
    const waitOf = (id: number) => (waits.has(id) ? (waits.get(id) ?? null) : mailboxWait(undefined, now));
    const silent = new Set(this.mailboxes.filter((each) => isSilent(each, now)).map(({ id }) => id));
    const pools = new Map<
      number,
      { usable: readonly number[]; awake: readonly number[]; hold: Wait | null; pace: Pace | null }
    >();
    for (const sequence of this.sequences.values()) {
      const usable = sequence.mailboxIds.filter((id) => waitOf(id) === null);
      const first = sequence.mailboxIds[0] ?? -1;
      pools.set(sequence.id, {
        usable,
        awake: usable.filter((id) => !silent.has(id)),
        hold:
          mayNotGoFor("plan", ["sequence"], { sequence }, now) ?? (usable.length > 0 ? null : waitOf(first)),
        pace: paceOf(this.db, sequence, now),
      });
    }
    const whom = ids ? ids.flatMap((id) => this.known.get(id) ?? []) : this.known.values();
    for (const { row, hold, journey, expectedAt } of whom) {
      const sequence = this.sequences.get(row.sequenceId);
      const pool = pools.get(row.sequenceId);
      // Deleted, and about to be stopped.
      if (!sequence || !pool) continue;
      const ownHold = row.mailboxId === null ? null : waitOf(row.mailboxId);
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

  /** How somebody new would begin a sequence, or else the running one with the most people. Null if there is none. */
  newcomer(now: number, sequenceId: number | null): Newcomer | null {
    const sizes = new Map<number, number>();
    for (const { row } of this.known.values())
      sizes.set(row.sequenceId, (sizes.get(row.sequenceId) ?? 0) + 1);
    const running = [...this.sequences.values()].filter(
      ({ state, kind, mailboxIds }) => state === "running" && kind === "shared" && mailboxIds.length > 0,
    );
    const sequence =
      sequenceId === null
        ? running.sort((a, b) => (sizes.get(b.id) ?? 0) - (sizes.get(a.id) ?? 0))[0]
        : this.sequences.get(sequenceId);
    if (!sequence || sequence.mailboxIds.length === 0) return null;
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
      hold: this.ownWait(sequence, row, ahead.length, now),
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

  /** Why somebody does not go on by themselves, whatever their mailbox and their sequence do; null if an email of theirs is the plan's matter. */
  private ownWait(sequence: Sequence, row: ActiveJourney, emailsAhead: number, now: number): Wait | null {
    const { placeState, wakeAt } = row;
    const node =
      row.placeId === null
        ? undefined
        : spotsOf(this.pathOf(sequence, row.version).path).get(row.placeId)?.node;
    const { db, firstOnes, accounts } = this;
    return mayNotGoFor(
      "plan",
      ["journey", "person", "address", "place"],
      {
        journey: row,
        // A block has stopped them by now (consider.ts).
        person: { isBlocked: false, held: row.held },
        address: {
          email: row.email,
          state: row.addressState,
          writesTo: sequence.writesTo,
          isNeeded: true,
        },
        place: {
          touch: waitingState(placeState),
          wakeAt,
          account: accounts.find(({ id }) => placeState === "open" && id === row.placeAccountId) ?? null,
          isOpenFork: node?.kind === "fork" && emailsAhead === 0,
          get comesAfterFirstOnes() {
            return node !== undefined && isEmail(node) && comesAfterFirstOnes(db, sequence, row, firstOnes);
          },
        },
      },
      now,
    );
  }
}

/** Why nothing goes from a mailbox now. */
const mailboxWait = (mailbox: Mailbox | undefined, now: number): Wait | null =>
  mayNotGoFor("plan", ["mailbox"], { mailbox }, now);

/** What of a sequence its journeys' plans go by. */
const markOf = ({ id, revision, version, mailboxIds, settings, hours, zone, writesTo }: Sequence): string =>
  JSON.stringify([id, revision, version, mailboxIds, settings, hours, zone, writesTo]);

function readMailHosts(db: Db): Map<string, string> {
  const rows = sql(db, "SELECT domain, provider FROM mail_hosts").all<{ domain: string; provider: string }>(
    [],
  );
  return new Map(rows.map(({ domain, provider }) => [domain, provider]));
}

const countMailHosts = (db: Db): number =>
  sql(db, "SELECT count(*) AS count FROM mail_hosts").get<{ count: number }>([])?.count ?? 0;
