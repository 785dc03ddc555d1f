/** Gathers what the plan needs, makes it, and records the decision of every journey. */
import { DAY, startOfNextDay } from "../../core/calendar.ts";
import { journeyHold, mailboxHold } from "../../core/sending/hold.ts";
import {
  dueAfter,
  type PlanJourney,
  type PlannedTouch,
  planTouches,
  whyWaiting,
} from "../../core/sending/plan.ts";
import type { Wait } from "../../core/sending/reasons.ts";
import type { Walker } from "../../core/sequence/advance.ts";
import { type ExpectedEmail, expectedEmails } from "../../core/sequence/expected-path.ts";
import { isEmail, type Path, spotsOf } from "../../core/sequence/path.ts";
import type { App } from "../app.ts";
import { type ActiveJourney, activeJourneys, recordDecision } from "../db/journeys.ts";
import { allMailboxes, type Mailbox, planMailbox } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import { allSequences, pathOfVersion, type Sequence } from "../db/sequences.ts";
import { considerDue } from "../sequences/consider.ts";
import { calendarFor, factsOf } from "../sequences/walk.ts";

/** How far the plan looks ahead. */
export const HORIZON = 28 * DAY;

export interface Situation {
  mailboxes: Mailbox[];
  sequences: Map<number, Sequence>;
  rows: ActiveJourney[];
  /** Journeys that may go, with what the plan asks of them. */
  ready: PlanJourney[];
  /** Journeys that may not, and why. */
  held: Map<number, Wait>;
}

/** What the plan is made from, as the database stands. */
export function readSituation(db: Db, now: number): Situation {
  const mailboxes = allMailboxes(db);
  const byId = new Map(mailboxes.map((mailbox) => [mailbox.id, mailbox]));
  const sequences = new Map(allSequences(db).map((sequence) => [sequence.id, sequence]));
  const rows = activeJourneys(db);
  const ready: PlanJourney[] = [];
  const held = new Map<number, Wait>();
  // One array for the journeys of a sequence: the plan puts alike journeys into one queue by it.
  const pools = new Map<number, { usable: number[]; hold: Wait | null }>();
  for (const sequence of sequences.values()) {
    const usable = sequence.mailboxIds.filter((id) => mailboxHold(byId.get(id), now) === null);
    const first = sequence.mailboxIds[0];
    pools.set(sequence.id, {
      usable,
      hold: usable.length > 0 ? null : mailboxHold(first === undefined ? undefined : byId.get(first), now),
    });
  }

  const ahead = new Ahead(db, now);
  for (const row of rows) {
    const sequence = sequences.get(row.sequenceId);
    // Deleted, and about to be stopped.
    if (!sequence) continue;
    const pool = pools.get(sequence.id) as { usable: number[]; hold: Wait | null };
    const wait =
      journeyHold(row, sequence) ??
      ahead.hold(sequence, row) ??
      (row.mailboxId !== null ? mailboxHold(byId.get(row.mailboxId), now) : pool.hold);
    if (wait) held.set(row.id, wait);
    else {
      const calendar = calendarFor(sequence, row.prospectZone, row.prospectCountry, now);
      const emails = ahead.emails(sequence, row);
      const first = emails[0];
      ready.push({
        id: row.id,
        calendar,
        mailboxIds: row.mailboxId === null ? pool.usable : [row.mailboxId],
        followUp: row.mailboxId !== null,
        // Before an email its due date stands; before anything else the email behind it is only expected.
        dueAt:
          first === undefined || first.id === row.placeId
            ? row.dueAt
            : Math.max(row.dueAt, now, dueAfter(row.since, first.waits, calendar, row.id, first.id)),
        ahead: emails,
      });
    }
  }
  return { mailboxes, sequences, rows, ready, held };
}

/** What journeys have ahead. Where no condition asks who somebody is, everybody at a place has the same ahead. */
class Ahead {
  private readonly paths = new Map<string, { path: Path; same: Map<string, ExpectedEmail[]> | null }>();
  private readonly firstOnes = new Map<number, boolean>();

  constructor(
    private readonly db: Db,
    private readonly now: number,
  ) {}

  private pathOf(sequence: Sequence, version: number) {
    const key = `${sequence.id} ${version}`;
    let known = this.paths.get(key);
    if (!known) {
      const path =
        version === sequence.version ? sequence.path : pathOfVersion(this.db, sequence.id, version);
      const asks = /"about":"(address|profile|field)"/.test(JSON.stringify(path));
      known = { path, same: asks ? null : new Map() };
      this.paths.set(key, known);
    }
    return known;
  }

  emails(sequence: Sequence, row: ActiveJourney): ExpectedEmail[] {
    const { path, same } = this.pathOf(sequence, row.version);
    const place = row.placeId ?? "";
    const known = same?.get(place);
    if (known) return known;
    const walker: Walker = {
      path,
      calendar: calendarFor(sequence, row.prospectZone, row.prospectCountry, this.now),
      seed: row.id,
      begun: new Map(),
    };
    const emails = expectedEmails(walker, { nodeId: row.placeId, since: row.since }, factsOf(this.db, row));
    same?.set(place, emails);
    return emails;
  }

  /** Why somebody does not go on by themselves from where they stand; null if an email of theirs is the plan's matter. */
  hold(sequence: Sequence, row: ActiveJourney): Wait | null {
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
    if (row.placeState === "open") return wait("task_open", row.wakeAt);
    if (node?.kind === "fork" && this.emails(sequence, row).length === 0)
      return wait("fork_open", row.wakeAt);
    if (node && isEmail(node) && row.placeState === null && this.waitsForFirstOnes(sequence, row))
      return wait("first_ones");
    return null;
  }

  /** With "the first N by hand", the others wait until somebody has decided about the first email of each of those. */
  private waitsForFirstOnes({ id, settings }: Sequence, row: ActiveJourney): boolean {
    if (settings.approval !== "first" || row.mailboxId !== null) return false;
    let open = this.firstOnes.get(id);
    if (open === undefined) {
      open =
        sql<Record<string, unknown>>(
          this.db,
          `SELECT 1 FROM (SELECT id, state FROM journeys WHERE sequence_id = @id ORDER BY id LIMIT @first) j
           WHERE j.state = 'active' AND NOT EXISTS (
             SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.kind IN ('email', 'approved_email') AND t.state != 'draft')
           LIMIT 1`,
        ).get({ id, first: settings.approveFirst }) !== undefined;
      this.firstOnes.set(id, open);
    }
    return open;
  }
}

/** The plan from `now` to `until`, as the database stands. */
export function planAhead(db: Db, situation: Situation, now: number, until: number): PlannedTouch[] {
  return planTouches({
    now,
    until,
    mailboxes: situation.mailboxes.map((mailbox) => planMailbox(db, mailbox, now)),
    journeys: situation.ready,
  });
}

/** Walks whoever is due, makes the plan and records each journey's decision where it changed. */
export function planAndRecord(app: App, now: number): PlannedTouch[] {
  const { db } = app;
  considerDue(app, now);
  const situation = readSituation(db, now);
  const planned = planAhead(db, situation, now, now + HORIZON);
  const next = new Map<number, PlannedTouch>();
  for (const touch of planned) if (!next.has(touch.journeyId)) next.set(touch.journeyId, touch);
  const ready = new Map(situation.ready.map((journey) => [journey.id, journey]));
  const zoneOf = new Map(situation.mailboxes.map(({ id, zone }) => [id, zone]));
  const resting = new Map(
    situation.mailboxes.filter(({ state }) => state === "resting").map(({ id, address }) => [id, address]),
  );

  db.transaction(() => {
    for (const row of situation.rows) {
      const touch = next.get(row.id);
      const journey = ready.get(row.id);
      const mailboxId = touch?.mailboxId ?? row.mailboxId;
      const zone = zoneOf.get(mailboxId ?? -1) ?? journey?.calendar.zone ?? "UTC";
      const wait = journey
        ? (keepRefusal(row, now) ??
          restingWait(journey, touch?.at ?? null, now, resting) ??
          whyWaiting(journey, touch?.at ?? null, now, startOfNextDay(now, zone)))
        : (situation.held.get(row.id) ?? null);
      const same =
        row.nextAt === (touch?.at ?? null) &&
        row.waitReason === (wait?.reason ?? null) &&
        row.waitDetail === (wait?.detail ?? null) &&
        row.nextMailboxId === mailboxId;
      if (!same) recordDecision(db, { id: row.id, at: touch?.at ?? null, mailboxId, wait });
    }
  }).immediate();
  return planned;
}

/** A journey that is due and may go from nowhere but resting mailboxes waits for them. */
function restingWait(
  journey: PlanJourney,
  plannedAt: number | null,
  now: number,
  resting: Map<number, string>,
): Wait | null {
  const isDue = journey.dueAt <= now;
  return isDue && journey.mailboxIds.every((id) => resting.has(id))
    ? { reason: "mailbox_resting", until: plannedAt, detail: resting.get(journey.mailboxIds[0] ?? 0) ?? null }
    : null;
}

/** A server's "later" stays the reason until the new try is due. */
function keepRefusal(row: ActiveJourney, now: number): Wait | null {
  return row.waitReason === "refused_for_now" && row.dueAt > now
    ? { reason: "refused_for_now", until: row.dueAt, detail: row.waitDetail }
    : null;
}
