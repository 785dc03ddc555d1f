/** Makes the engine's plan, today and the next working day, and records it where it differs from what was recorded. */
import { DAY, instantOn, MINUTE, startOfNextDay, workingDayAfter } from "../../core/calendar.ts";
import { makePlan } from "../../core/sending/plan.ts";
import type { Block, PlanJourney, PlannedTouch } from "../../core/sending/plan-parts.ts";
import type { Wait } from "../../core/sending/reasons.ts";
import { whyWaiting } from "../../core/sending/why-waiting.ts";
import type { App } from "../app.ts";
import { type ActiveJourney, recordDecision, takeChanged } from "../db/journeys.ts";
import { type Db, sql } from "../db/open.ts";
import { considerDue, firstWake } from "../sequences/consider.ts";
import { Situation } from "./situation.ts";

const WEEKDAYS = [1, 2, 3, 4, 5];
/** The next working day ends later in the west than where the team is. */
const WESTERNMOST = DAY / 2;

/** How far the recorded plan reaches: to the end of the next working day, wherever that is. */
export function horizon(now: number, zone: string): number {
  const next = workingDayAfter(startOfNextDay(now, zone), 0, WEEKDAYS, zone);
  return startOfNextDay(instantOn(next, "12:00", zone), zone) + WESTERNMOST;
}

/** Decisions in one transaction: others write in between. */
const AT_ONCE = 2_000;

export interface Recorded {
  touches: PlannedTouch[];
  /** Rows of journeys that were written. */
  written: number;
}

/** What a plan came to, for those whose decision is written down. */
interface Made {
  now: number;
  until: number;
  held: ReadonlyMap<number, Wait>;
  next: ReadonlyMap<number, PlannedTouch>;
  blocks: ReadonlyMap<number, Block>;
}

/** Whoever did not go when it was planned is given another moment: by now their hours may be over. */
const LATE = MINUTE;
/** Reasons change with the hour even if nothing else does; after this everybody's is looked at anew. */
const LOOKS_AT_ALL = 5 * MINUTE;

function firstOfEach(touches: readonly PlannedTouch[]): Map<number, PlannedTouch> {
  const next = new Map<number, PlannedTouch>();
  for (const touch of touches) if (!next.has(touch.journeyId)) next.set(touch.journeyId, touch);
  return next;
}

/** Those whose planned touch is another one, and those of whom something changed. */
function moves(
  before: ReadonlyMap<number, PlannedTouch>,
  after: ReadonlyMap<number, PlannedTouch>,
  changed: readonly number[],
): Set<number> {
  const moved = new Set(changed);
  for (const [id, touch] of after) {
    const was = before.get(id);
    if (was?.at !== touch.at || was.senderId !== touch.senderId) moved.add(id);
  }
  for (const id of before.keys()) if (!after.has(id)) moved.add(id);
  return moved;
}

/** Whether somebody's next email may go where and when it was planned while the one before it had not left. */
const isAsPlanned = (
  { ahead, senderIds, dueAt }: PlanJourney,
  { stepId, senderId, at }: PlannedTouch,
): boolean => ahead[0]?.id === stepId && senderIds.includes(senderId) && dueAt <= at;

/** The engine's plan, kept between its looks. */
export class PlanBook {
  private readonly situation: Situation;
  private touches: PlannedTouch[] = [];
  /** Of these the first of each journey. */
  private next = new Map<number, PlannedTouch>();
  private blocks = new Map<number, Block>();
  private until = Number.NaN;
  private lookedAt = Number.NEGATIVE_INFINITY;
  private madeAt = Number.NEGATIVE_INFINITY;
  private isRead = false;

  constructor(private readonly app: App) {
    this.situation = new Situation(app.db);
  }

  /** Journeys under way. */
  get size(): number {
    return this.situation.size;
  }

  /** Has the next look make the plan anew, whether or not anything changed. */
  forget(): void {
    this.madeAt = Number.NEGATIVE_INFINITY;
    this.lookedAt = Number.NEGATIVE_INFINITY;
  }

  /** Whether something leaves or goes on at this moment, by the last plan; before the first one nobody knows. */
  isDue(now: number): boolean {
    return !this.isRead || this.hasDue(now) || this.firstWake() <= now;
  }

  /** Whether somebody's moment has come, by the last plan, and they have not gone. */
  hasDue(now: number): boolean {
    return (this.touches[0]?.at ?? now + 1) <= now;
  }

  private firstWake(): number {
    return firstWake(this.app.db) ?? Number.POSITIVE_INFINITY;
  }

  /**
   * Walks whoever is due, and makes the plan anew if anything changed or the last one is older than `keeps` ms. Records
   * what is decided otherwise than before.
   */
  look(now: number, keeps = 0): Recorded {
    const { db } = this.app;
    const considered = considerDue(this.app, now);
    const changed = takeChanged(db);
    const moved = this.situation.refresh(now, this.isRead ? changed : null);
    const isLate = (this.touches[0]?.at ?? now) < now - LATE;
    const isOld = now - this.madeAt >= keeps || now < this.madeAt || isLate;
    if (moved === "nobody" && considered === 0 && !isOld) return { touches: this.touches, written: 0 };

    const until = horizon(now, this.situation.mailboxes[0]?.zone ?? "UTC");
    if (moved !== "all" && !isOld && until === this.until) {
      const written = this.strike(changed, now);
      if (written !== null) return { touches: this.touches, written };
    }
    const { ready, held } = this.situation.divide(now);
    const kept = this.isRead ? [...this.next.values()] : keptOf(this.situation.rows());
    const plan = makePlan({ now, until, ...this.situation.parts(now, ready), kept });
    const next = firstOfEach(plan.touches);
    // The hour alone changes reasons too; so everybody is looked at now and then, and else only who may have moved.
    const isFull =
      moved === "all" || !this.isRead || now - this.lookedAt >= LOOKS_AT_ALL || now < this.lookedAt;
    const whom = isFull ? this.situation.rows() : this.rowsOf(moves(this.next, next, changed));
    if (isFull) this.lookedAt = now;
    const written = this.record(whom, { now, until, held, next, blocks: plan.blocks });
    this.touches = plan.touches;
    this.next = next;
    this.blocks = plan.blocks;
    this.until = until;
    this.madeAt = now;
    this.isRead = true;
    return { touches: plan.touches, written };
  }

  /**
   * Strikes out those who went as planned, or are nobody's matter before the plan's end: what is planned for the others
   * stands. Returns how many rows that wrote; null if somebody's change may move others, and the plan is to be made anew.
   */
  private strike(changed: readonly number[], now: number): number | null {
    const { until, blocks } = this;
    const { ready, held } = this.situation.divide(now, changed);
    const journeys = new Map(ready.map((journey) => [journey.id, journey]));
    const ids = new Set(changed);
    const went = new Set<number>();
    const follows = new Map<number, PlannedTouch>();
    for (const touch of this.touches) {
      if (!ids.has(touch.journeyId)) continue;
      if (touch.at <= now) went.add(touch.journeyId);
      else if (!follows.has(touch.journeyId)) follows.set(touch.journeyId, touch);
    }
    const movesNobody = (id: number): boolean => {
      const journey = journeys.get(id);
      const touch = follows.get(id);
      return touch
        ? went.has(id) && journey !== undefined && isAsPlanned(journey, touch)
        : journey === undefined || journey.ahead.length === 0 || journey.dueAt > until;
    };
    if (!changed.every(movesNobody)) return null;
    this.touches = this.touches.filter(({ journeyId, at }) => at > now || !ids.has(journeyId));
    for (const id of changed) {
      const touch = follows.get(id);
      if (touch) this.next.set(id, touch);
      else this.next.delete(id);
      blocks.delete(id);
    }
    return this.record(this.rowsOf(changed), { now, until, held, next: this.next, blocks });
  }

  private *rowsOf(ids: Iterable<number>): Generator<ActiveJourney> {
    for (const id of ids) {
      const row = this.situation.row(id);
      if (row) yield row;
    }
  }

  /** Writes down what is decided otherwise than before. Returns of how many. */
  private record(whom: Iterable<ActiveJourney>, made: Made): number {
    const { db } = this.app;
    const { now, until, held, next, blocks } = made;
    const zoneOf = new Map(this.situation.mailboxes.map((mailbox) => [mailbox.id, mailbox.zone]));
    const resting = new Map(
      this.situation.mailboxes
        .filter(({ state }) => state === "resting")
        .map(({ id, address }) => [id, address]),
    );
    const differences: {
      row: ActiveJourney;
      at: number | null;
      mailboxId: number | null;
      wait: Wait | null;
    }[] = [];
    for (const row of whom) {
      const touch = next.get(row.id);
      const hold = held.get(row.id);
      const journey = hold ? undefined : this.situation.journey(row.id);
      const mailboxId = touch?.senderId ?? row.mailboxId;
      const dayEnds = startOfNextDay(now, zoneOf.get(mailboxId ?? -1) ?? journey?.calendar.zone ?? "UTC");
      const plannedAt = touch?.at ?? null;
      const wait = journey
        ? (keepRefusal(row, now) ??
          restingWait(journey, plannedAt, now, resting) ??
          whyWaiting(journey, { plannedAt, block: blocks.get(row.id), dayEnds, until }, now))
        : (hold ?? null);
      const at = plannedAt ?? (journey ? (wait?.until ?? null) : null);
      if (
        row.nextAt !== at ||
        row.waitReason !== (wait?.reason ?? null) ||
        row.waitDetail !== (wait?.detail ?? null) ||
        row.nextMailboxId !== mailboxId
      )
        differences.push({ row, at, mailboxId, wait });
    }
    for (let from = 0; from < differences.length; from += AT_ONCE)
      db.transaction(() => {
        for (const { row, at, mailboxId, wait } of differences.slice(from, from + AT_ONCE)) {
          recordDecision(db, { id: row.id, at, mailboxId, wait }, now);
          row.nextAt = at;
          row.nextMailboxId = mailboxId;
          row.waitReason = wait?.reason ?? null;
          row.waitDetail = wait?.detail ?? null;
        }
      }).immediate();
    if (differences.length > 0) sql(db, "UPDATE plan_revision SET number = number + 1").run([]);
    return differences.length;
  }

  /** When something happens by itself next: a planned touch, a wait that ends, or a new day, which needs a plan. */
  nextAt(now: number): number {
    const zone = this.situation.mailboxes[0]?.zone ?? "UTC";
    const next = this.touches.find(({ at }) => at > now)?.at ?? Number.POSITIVE_INFINITY;
    const wake = this.firstWake();
    return Math.min(startOfNextDay(now, zone), next, wake > now ? wake : Number.POSITIVE_INFINITY);
  }
}

/** The plan as it is recorded with the journeys. Where it did not reach, the due date stands for it, and is no sender's moment. */
function keptOf(rows: Iterable<ActiveJourney>): PlannedTouch[] {
  const kept: PlannedTouch[] = [];
  for (const { id, placeId, nextAt, nextMailboxId, mailboxId, dueAt } of rows)
    if (nextAt !== null && nextAt !== dueAt && nextMailboxId !== null && placeId !== null)
      kept.push({
        journeyId: id,
        stepId: placeId,
        senderId: nextMailboxId,
        at: nextAt,
        followUp: mailboxId !== null,
      });
  return kept;
}

/** The plan of one look, for whoever keeps none. */
export function planAndRecord(app: App, now: number): PlannedTouch[] {
  return new PlanBook(app).look(now).touches;
}

/** The plan from `now` to `until`, made anew from the database as it stands; nothing is recorded. */
export function planAhead(db: Db, now: number, until: number) {
  const situation = new Situation(db);
  situation.refresh(now, null);
  const { ready, held } = situation.divide(now);
  const parts = situation.parts(now, ready);
  return {
    situation,
    ready,
    held,
    parts,
    ...makePlan({ now, until, ...parts, kept: keptOf(situation.rows()) }),
  };
}

/** A journey that is due and may go from nowhere but resting mailboxes waits for them. */
function restingWait(
  journey: PlanJourney,
  plannedAt: number | null,
  now: number,
  resting: Map<number, string>,
): Wait | null {
  const isDue = journey.dueAt <= now;
  return isDue && resting.size > 0 && journey.senderIds.every((id) => resting.has(id))
    ? { reason: "mailbox_resting", until: plannedAt, detail: resting.get(journey.senderIds[0] ?? 0) ?? null }
    : null;
}

/** A server's "later" stays the reason until the new try is due. */
function keepRefusal(row: ActiveJourney, now: number): Wait | null {
  return row.waitReason === "refused_for_now" && row.dueAt > now
    ? { reason: "refused_for_now", until: row.dueAt, detail: row.waitDetail }
    : null;
}
