/**
 * The plan: who gets which touch when, from where, or which rule keeps it from going. One function serves the engine (today
 * and the next working day), the day line, the forecast of weeks and every what-if.
 *
 * It goes day by day. On each, every sender in turn takes the one that matters most of those who may go: follow-ups up to
 * their share of the day, then first emails, then whatever is left; of a kind the one due on the earlier day, then one
 * whose mail provider is the sender's own, then the one whose hours close sooner. Whose provider is another sender's is
 * left to that one while it has room. It goes at the first free moment of the sender within the prospect's hours
 * (sender.ts). A sender that ran out of people takes over what another, full one can hand on. What was planned before
 * keeps its moment as long as it may go then, so that one change moves few; only where one kind has more than its share
 * and the other wants it, the last ones of it give way.
 */
import TinyQueue from "tinyqueue";
import {
  afterDays,
  type Calendar,
  DAY,
  type DayNumber,
  dayNumberOf,
  HOUR,
  instantOnDay,
  MINUTE,
  OpenHours,
} from "../calendar.ts";
import type { ExpectedEmail } from "../sequence/expected-path.ts";
import { dueAt, type Wait as StepWait } from "../sequence/wait.ts";
import { DailyBudget, placeIn, RollingBudget } from "./budget.ts";
import { type Pace, pacesOf } from "./pace.ts";
import {
  type Block,
  NO_RULES,
  type Plan,
  type PlanInput,
  type PlanJourney,
  type PlannedTouch,
  type SendingRules,
} from "./plan-parts.ts";
import { limitAfter, momentsOf, ownHours, type Sender } from "./sender.ts";
import {
  type Budgets,
  blockOf,
  byWorth,
  calendarOf,
  canMove,
  type Entry,
  type Item,
  isFree,
  matches,
  minutesFrom,
  momentsFrom,
  type Queue,
  type Turn,
  usedOf,
} from "./turn.ts";

/** When an email falls due after the waits that lie before it, one after the other. */
export function dueAfter(
  from: number,
  waits: readonly StepWait[],
  calendar: Calendar,
  ...seed: (string | number)[]
): number {
  return waits.reduce((at, wait) => dueAt(wait, at, { calendar, seed }), from);
}

/** The planned touches alone. */
export const planTouches = (input: PlanInput): PlannedTouch[] => makePlan(input).touches;

const FEW_SENDERS_HEAD_START = 2 * DAY;
/** Whoever is late by no more goes at once, in their place. */
const LATE_AT_MOST = HOUR;

/**
 * Plans [now, until]. The same input gives the same plan. Journeys without a sender are left out, as are steps after one
 * for which there was no room.
 */
export function makePlan(input: PlanInput): Plan {
  return new Planner(input).plan();
}

class Planner {
  private readonly now: number;
  private readonly until: number;
  private readonly rules: SendingRules;
  private readonly senders: Map<number, Sender>;
  private readonly queues = new Map<string, Queue>();
  private readonly queuesOf = new Map<number, Queue[]>();
  private readonly openHours = new Map<Calendar, OpenHours>();
  private readonly ids = new Map<object, number>();
  private readonly budgets = new Map<Pace, Budgets>();
  private readonly domains = new Map<string, RollingBudget>();
  private readonly sendingDays = new Map<number, number>();
  private readonly lastTaken = new Map<number, number>();
  /** What a sender sends within an hour, which a midnight does not part. */
  private readonly hours = new Map<number, RollingBudget>();
  /** Those whom only their domain's cap kept back, until the next day. */
  private setAside: Item[] = [];
  private readonly keptOf = new Map<number, Item[]>();
  private readonly touches: PlannedTouch[] = [];
  private readonly blocks = new Map<number, Block>();
  private turns = new Map<number, Turn>();

  constructor(private readonly input: PlanInput) {
    this.now = input.now;
    this.until = input.until;
    this.rules = input.rules ?? NO_RULES;
    this.senders = new Map(input.senders.map((sender) => [sender.id, sender]));
    for (const sender of input.senders) {
      this.queuesOf.set(sender.id, []);
      this.sendingDays.set(sender.id, sender.ramp?.daysSoFar ?? 0);
      if (sender.lastSentAt !== null) this.lastTaken.set(sender.id, sender.lastSentAt);
      if (sender.hourlyLimit != null)
        this.hours.set(sender.id, new RollingBudget(sender.hourlyLimit, HOUR, sender.sentLately));
    }
  }

  plan(): Plan {
    const { now, until } = this;
    const kept = new Map(this.input.kept?.map((touch) => [touch.journeyId, touch]));
    for (const journey of this.input.journeys) {
      if (journey.ahead.length === 0) continue;
      const due = this.notBefore(journey);
      if (due > until) continue;
      const before = kept.get(journey.id);
      const holds =
        before && before.at > now - LATE_AT_MOST && before.stepId === journey.ahead[0]?.id ? before : null;
      this.enqueue(journey, 0, due, journey.senderIds, journey.followUp, holds);
    }
    const days = this.input.senders.map(({ zone }) => dayNumberOf(now, zone));
    if (days.length === 0) return { touches: [], blocks: this.blocks };
    const last = Math.max(...this.input.senders.map(({ zone }) => dayNumberOf(until, zone)));
    for (let day = Math.min(...days); day <= last; day++) this.planDay(day);
    this.touches.sort((a, b) => a.at - b.at || a.senderId - b.senderId || a.journeyId - b.journeyId);
    return { touches: this.touches, blocks: this.blocks };
  }

  /** The due date, moved by the days that must lie between two touches. */
  private notBefore(journey: PlanJourney): number {
    const { daysBetween } = this.rules;
    if (daysBetween <= 0 || journey.lastTouchAt == null) return journey.dueAt;
    const allowed = afterDays(journey.lastTouchAt, daysBetween, journey.calendar.zone);
    if (allowed > this.now && allowed > journey.dueAt) this.blocks.set(journey.id, "touched_lately");
    return Math.max(journey.dueAt, allowed);
  }

  // ── Queues ──

  private idOf(object: object): number {
    let id = this.ids.get(object);
    if (id === undefined) {
      id = this.ids.size;
      this.ids.set(object, id);
    }
    return id;
  }

  private openHoursOf(calendar: Calendar): OpenHours {
    let known = this.openHours.get(calendar);
    if (!known) {
      // A sender's day may have begun before the hours that are open now.
      known = new OpenHours(calendar.hours, calendar.zone, this.now - DAY, calendar.holidays);
      this.openHours.set(calendar, known);
    }
    return known;
  }

  private enqueue(
    journey: PlanJourney,
    step: number,
    due: number,
    senderIds: readonly number[],
    followUp: boolean,
    kept: PlannedTouch | null,
  ): Item {
    const provider = senderIds.length > 1 ? (journey.provider ?? null) : null;
    const pool = senderIds.length === 1 ? `s${senderIds[0]}` : this.idOf(senderIds);
    const pace = journey.pace ? this.idOf(journey.pace) : "";
    const calendar = calendarOf(journey, step);
    const key = `${followUp}|${pool}|${this.idOf(calendar)}|${provider}|${pace}`;
    let queue = this.queues.get(key);
    if (!queue) {
      queue = {
        openHours: this.openHoursOf(calendar),
        calendar,
        followUp,
        senderIds,
        provider,
        matching:
          provider === null ? [] : senderIds.filter((id) => this.senders.get(id)?.provider === provider),
        budgets: journey.pace ? this.budgetsOf(journey.pace) : null,
        line: new TinyQueue<Item>([], (a, b) => a.dueAt - b.dueAt || a.journey.id - b.journey.id),
        headStart: FEW_SENDERS_HEAD_START / Math.max(1, senderIds.length),
        block: null,
      };
      this.queues.set(key, queue);
      for (const id of senderIds) this.queuesOf.get(id)?.push(queue);
    }
    const item: Item = { journey, dueAt: due, step, queue, kept, isPlaced: false };
    queue.line.push(item);
    if (kept) {
      const items = this.keptOf.get(kept.senderId);
      if (items) items.push(item);
      else this.keptOf.set(kept.senderId, [item]);
    }
    return item;
  }

  private budgetsOf(pace: Pace): Budgets {
    let known = this.budgets.get(pace);
    if (!known) {
      known = { pace, newADay: null, rolling: pacesOf(pace) };
      if (pace.newADay !== null) {
        known.newADay = new DailyBudget(pace.newADay);
        known.newADay.spend(dayNumberOf(this.now, pace.zone), pace.begunToday);
      }
      this.budgets.set(pace, known);
    }
    return known;
  }

  private domainBudget(domain: string | undefined): RollingBudget | null {
    const { domainADay } = this.rules;
    if (domainADay === null || !domain) return null;
    let known = this.domains.get(domain);
    if (!known) {
      known = new RollingBudget(domainADay, DAY, this.input.domainsLately?.get(domain));
      this.domains.set(domain, known);
    }
    return known;
  }

  /** The first in line who is not planned yet. */
  private head(queue: Queue): Item | undefined {
    let item = queue.line.peek();
    while (item?.isPlaced) {
      queue.line.pop();
      item = queue.line.peek();
    }
    return item;
  }

  // ── A day ──

  private planDay(day: DayNumber): void {
    for (const item of this.setAside.splice(0)) item.queue.line.push(item);
    this.turns = new Map();
    for (const sender of this.input.senders) {
      const turn = this.beginTurn(sender, day);
      if (turn) this.turns.set(sender.id, turn);
    }
    for (const turn of this.turns.values()) this.placeKept(turn);
    for (const turn of this.turns.values()) this.fillIn(turn);
    this.takeTurns();
    // Others may have room for whoever gives way.
    if ([...this.turns.values()].filter((turn) => this.giveWay(turn)).length > 0) this.takeTurns();
    this.handOn();
    for (const turn of this.turns.values()) this.endTurn(turn);
    if (this.isFirstDay(day)) this.noteBlocks();
  }

  private isFirstDay(day: DayNumber): boolean {
    return this.input.senders.some(({ zone }) => dayNumberOf(this.now, zone) === day);
  }

  private beginTurn(sender: Sender, day: DayNumber): Turn | null {
    const midnight = instantOnDay(day, 0, sender.zone);
    const to = Math.min(instantOnDay(day + 1, 0, sender.zone), this.until + 1);
    const from = Math.max(midnight, this.now, sender.restsUntil ?? this.now);
    const own = ownHours(sender, day);
    if (from >= to || own === null) return null;
    const isToday = midnight <= this.now;
    const limit = limitAfter(sender, this.sendingDays.get(sender.id) ?? 0);
    const left = limit - (isToday ? sender.sentToday : 0);
    const last = this.lastTaken.get(sender.id);
    const turn: Turn = {
      sender,
      day,
      from,
      to,
      opens: Math.max(from, own.opens),
      closes: Math.min(to, own.closes),
      limit,
      left,
      isRising: limit < sender.dailyLimit,
      followUpsLeft:
        Math.round(this.rules.followUpShare * limit) - (isToday ? (sender.followUpsToday ?? 0) : 0),
      firstsTaken: 0,
      isToday,
      moments: momentsOf(sender, day),
      taken: last === undefined ? [] : [last],
      hour: this.hours.get(sender.id) ?? null,
      followUps: new TinyQueue<Entry>([], byWorth),
      firsts: new TinyQueue<Entry>([], byWorth),
      placed: [],
    };
    return turn;
  }

  /** Everybody whom the sender could take today, by queue. */
  private fillIn(turn: Turn): void {
    for (const queue of this.queuesOf.get(turn.sender.id) ?? []) {
      queue.block = null;
      this.offer(turn, queue);
    }
  }

  private offer(turn: Turn, queue: Queue): void {
    const head = this.head(queue);
    if (!head || head.dueAt >= turn.closes) return;
    const from = Math.max(head.dueAt, turn.opens);
    const window = queue.openHours.windowFrom(from);
    if (window.opens >= turn.closes) return;
    (queue.followUp ? turn.followUps : turn.firsts).push({
      queue,
      dueDay: Math.floor((head.dueAt - queue.headStart) / DAY),
      match: matches(queue, turn.sender) ? 0 : queue.matching.length === 0 ? 1 : 2,
      closes: window.closes,
      due: head.dueAt,
    });
  }

  /** The queue that matters most of a kind; entries that have grown old are put in anew. */
  private best(turn: Turn, entries: TinyQueue<Entry>): Entry | undefined {
    for (let entry = entries.peek(); entry; entry = entries.peek()) {
      const head = this.head(entry.queue);
      if (head && head.dueAt === entry.due) return entry;
      entries.pop();
      if (head) this.offer(turn, entry.queue);
    }
    return undefined;
  }

  /** Whoever has used less of its day takes the next, until nobody is left for anybody. */
  private takeTurns(): void {
    const unfinished = new Set(this.turns.values());
    for (let turns = [...unfinished], isAtRest = false; turns.length > 0; ) {
      const aside: Turn[] = [];
      const order = new TinyQueue(turns, (a, b) => usedOf(a) - usedOf(b) || a.sender.id - b.sender.id);
      // If everybody leaves theirs to somebody else, one of them takes it.
      for (let turn = order.pop(); turn; turn = order.pop()) {
        if (!isAtRest && this.leavesToMatching(turn, unfinished)) {
          aside.push(turn);
          continue;
        }
        if (this.takeOne(turn)) order.push(turn);
        else unfinished.delete(turn);
        isAtRest = false;
      }
      isAtRest = aside.length === turns.length;
      turns = aside;
    }
  }

  /** Whether the next in line is of the mail provider of another sender, who may still have room today. */
  private leavesToMatching(turn: Turn, unfinished: ReadonlySet<Turn>): boolean {
    if (turn.left <= 0) return false;
    const entries = this.kindInTurn(turn);
    const entry = entries && this.best(turn, entries);
    if (entry?.match !== 2) return false;
    return entry.queue.matching.some((id) => {
      const other = this.turns.get(id);
      return other !== undefined && other.left > 0 && unfinished.has(other);
    });
  }

  /** Has the sender take one; false if nobody is left for it today. */
  private takeOne(turn: Turn): boolean {
    while (turn.left > 0) {
      const entries = this.kindInTurn(turn);
      if (!entries) return false;
      if (this.takeBest(turn, entries)) return true;
    }
    return false;
  }

  /** Has the sender take the best of a kind; if that one cannot go, it is out of the way afterwards. */
  private takeBest(turn: Turn, entries: TinyQueue<Entry>): boolean {
    const { queue } = this.best(turn, entries) as Entry;
    const item = this.head(queue) as Item;
    const found = this.findMoment(turn, item);
    if (typeof found === "number") {
      this.take(turn, item, found, false);
      return true;
    }
    if (found === "domain_cap") {
      // Only this one's domain is full; the next in line may go.
      queue.line.pop();
      this.setAside.push(item);
      if (!this.blocks.has(item.journey.id)) this.blocks.set(item.journey.id, found);
    } else {
      queue.block = found;
      entries.pop();
    }
    return false;
  }

  /** Follow-ups as far as their share goes, then first ones, then whoever is left. */
  private kindInTurn(turn: Turn): TinyQueue<Entry> | null {
    const follows = this.best(turn, turn.followUps) !== undefined;
    if (follows && turn.followUpsLeft > 0) return turn.followUps;
    if (this.best(turn, turn.firsts)) return turn.firsts;
    return follows ? turn.followUps : null;
  }

  /** What keeps somebody from going at an instant, besides their hours and the sender's own gap and hour. */
  private objection({ journey, queue }: Item, at: number): Block | null {
    const { budgets } = queue;
    if (this.domainBudget(journey.domain)?.fits(at) === false) return "domain_cap";
    if (!budgets) return null;
    if (!queue.followUp && budgets.newADay && budgets.newADay.left(dayNumberOf(at, budgets.pace.zone)) <= 0)
      return "new_a_day";
    return budgets.rolling.every((budget) => budget.fits(at)) ? null : "pace";
  }

  /** The sender's first free moment of the day to which nothing objects, or what did. */
  private findMoment(turn: Turn, item: Item): number | Block {
    const least = turn.sender.gapMinutes.least * MINUTE;
    let block = "gap" as Block;
    const mayGo = (at: number): boolean => {
      if (!isFree(turn.taken, at, least)) return false;
      const objection = turn.hour && !turn.hour.fits(at) ? "hour_limit" : this.objection(item, at);
      if (objection) block = objection;
      return objection === null;
    };
    for (let from = Math.max(item.dueAt, turn.opens); from < turn.closes; ) {
      const window = item.queue.openHours.windowFrom(from);
      from = Math.max(from, window.opens);
      const end = Math.min(window.closes, turn.closes);
      // Whoever could go this very moment need not wait for the next of the grid.
      if (from < end && (from === this.now || turn.moments === null) && mayGo(from)) return from;
      for (const at of turn.moments
        ? momentsFrom(turn.moments, from)
        : minutesFrom(from, block === "gap" ? from : end)) {
        if (at >= end) break;
        if (mayGo(at)) return at;
        // Full to the end of the day: no need to try every moment.
        if (block === "domain_cap" && this.objection(item, turn.closes - 1) === block) return block;
      }
      from = window.closes;
    }
    return block;
  }

  private take(turn: Turn, item: Item, at: number, isKept: boolean): void {
    const { journey, queue } = item;
    item.isPlaced = true;
    const touch: PlannedTouch = {
      journeyId: journey.id,
      stepId: (journey.ahead[item.step] as ExpectedEmail).id,
      senderId: turn.sender.id,
      at,
      followUp: queue.followUp,
    };
    this.spend(turn, item, at, 1);
    this.touches.push(touch);
    turn.placed.push({ item, touch, isKept, goesOn: this.goesOnToday(turn, item, at) });
  }

  /** Books a moment, or with -1 gives it back. */
  private spend(turn: Turn, { journey, queue }: Item, at: number, number: 1 | -1): void {
    turn.left -= number;
    if (number === 1) turn.taken.splice(placeIn(turn.taken, at), 0, at);
    else turn.taken.splice(placeIn(turn.taken, at), 1);
    if (queue.followUp) turn.followUpsLeft -= number;
    else turn.firstsTaken += number;
    for (const budget of [turn.hour, this.domainBudget(journey.domain), ...(queue.budgets?.rolling ?? [])])
      if (number === 1) budget?.spend(at);
      else budget?.giveBack(at);
    if (!queue.followUp) queue.budgets?.newADay?.spend(dayNumberOf(at, queue.budgets.pace.zone), number);
  }

  /** A next step that falls due on the same day is put in line at once. */
  private goesOnToday(turn: Turn, item: Item, at: number): boolean {
    const due = this.nextDue(item, at);
    if (due === null || due >= turn.to) return false;
    const next = this.enqueue(item.journey, item.step + 1, due, [turn.sender.id], true, null);
    this.offer(turn, next.queue);
    return true;
  }

  private nextDue({ journey, step }: Item, at: number): number | null {
    const next = journey.ahead[step + 1];
    if (!next) return null;
    const due = dueAfter(at, next.waits, calendarOf(journey, step + 1), journey.id, next.id);
    const { daysBetween } = this.rules;
    return daysBetween > 0 ? Math.max(due, afterDays(at, daysBetween, journey.calendar.zone)) : due;
  }

  // ── What was planned before ──

  private placeKept(turn: Turn): void {
    const own = this.keptOf
      .get(turn.sender.id)
      ?.filter((item) => !item.isPlaced && this.keptAt(item) >= turn.from && this.keptAt(item) < turn.to)
      .sort((a, b) => (a.kept?.at ?? 0) - (b.kept?.at ?? 0));
    if (!own) return;
    for (const item of own) if (this.mayKeep(turn, item)) this.take(turn, item, this.keptAt(item), true);
  }

  /**
   * Where a day is full and one kind has more of it than its share by what was planned before, the last of those give way
   * to whoever wants to go of the other kind. True if anybody did.
   */
  private giveWay(turn: Turn): boolean {
    let gave = false;
    while (turn.left <= 0 && turn.followUpsLeft !== 0) {
      const isOfTooMany = turn.followUpsLeft < 0;
      const wanting = isOfTooMany ? turn.firsts : turn.followUps;
      const nth = turn.placed.findLastIndex(
        ({ isKept, goesOn, item }) => isKept && !goesOn && item.queue.followUp === isOfTooMany,
      );
      const last = turn.placed[nth];
      if (!last || !this.best(turn, wanting)) break;
      const { item, touch } = last;
      this.spend(turn, item, touch.at, -1);
      let isTaken = false;
      while (!isTaken && this.best(turn, wanting)) isTaken = this.takeBest(turn, wanting);
      if (!isTaken) {
        this.spend(turn, item, touch.at, 1);
        break;
      }
      turn.placed.splice(nth, 1);
      this.touches.splice(this.touches.lastIndexOf(touch), 1);
      item.isPlaced = false;
      item.kept = null;
      item.queue.line.push(item);
      for (const id of item.queue.senderIds) {
        const other = this.turns.get(id);
        if (other) this.offer(other, item.queue);
      }
      gave = true;
    }
    return gave;
  }

  /** A moment that has just passed is now. */
  private keptAt({ kept }: Item): number {
    return Math.max(kept?.at ?? 0, this.now);
  }

  private mayKeep(turn: Turn, item: Item): boolean {
    const { queue } = item;
    const at = this.keptAt(item);
    return (
      turn.left > 0 &&
      at >= item.dueAt &&
      at >= turn.opens &&
      at < turn.closes &&
      queue.senderIds.includes(turn.sender.id) &&
      queue.openHours.windowFrom(at).opens <= at &&
      isFree(turn.taken, at, turn.sender.gapMinutes.least * MINUTE) &&
      (turn.hour?.fits(at) ?? true) &&
      this.objection(item, at) === null
    );
  }

  // ── The end of a day ──

  /** Where one sender ran out of people and another is full and has more, the first takes over what both may send. */
  private handOn(): void {
    const turns = [...this.turns.values()];
    const full = turns.filter(
      (turn) => turn.left <= 0 && (this.best(turn, turn.firsts) || this.best(turn, turn.followUps)),
    );
    if (full.length === 0) return;
    for (const idle of turns)
      for (const from of full) {
        if (idle === from) continue;
        // Those first whose mail provider is not that of the one they would leave.
        const inOrder = from.placed
          .filter((placed) => canMove(placed) && placed.item.queue.senderIds.includes(idle.sender.id))
          .toSorted(
            (a, b) =>
              Number(matches(a.item.queue, from.sender)) - Number(matches(b.item.queue, from.sender)) ||
              b.touch.at - a.touch.at,
          );
        for (const placed of inOrder) {
          if (idle.left <= 0 || (!this.best(from, from.firsts) && !this.best(from, from.followUps))) break;
          this.spend(from, placed.item, placed.touch.at, -1);
          const at = this.findMoment(idle, placed.item);
          if (typeof at !== "number") {
            this.spend(from, placed.item, placed.touch.at, 1);
            continue;
          }
          from.placed.splice(from.placed.indexOf(placed), 1);
          placed.touch.at = at;
          placed.touch.senderId = idle.sender.id;
          this.spend(idle, placed.item, at, 1);
          idle.placed.push(placed);
          this.takeOne(from);
        }
      }
  }

  /** Counts the day for the ramp, and puts the next steps in line. */
  private endTurn(turn: Turn): void {
    const { sender, placed } = turn;
    if (placed.length > 0 || (turn.isToday && sender.sentToday > 0))
      this.sendingDays.set(sender.id, (this.sendingDays.get(sender.id) ?? 0) + 1);
    const last = turn.taken.at(-1);
    if (last !== undefined) this.lastTaken.set(sender.id, last);
    for (const { item, touch } of placed) {
      const due = this.nextDue(item, touch.at);
      if (due === null || due < turn.to || due > this.until) continue;
      this.enqueue(item.journey, item.step + 1, due, [sender.id], true, null);
    }
  }

  /** Why those who could have gone on the first day did not. */
  private noteBlocks(): void {
    for (const queue of this.queues.values()) {
      const turns = queue.senderIds.flatMap((id) => this.turns.get(id) ?? []);
      const closes = Math.max(...turns.map((turn) => turn.closes));
      const block = blockOf(queue, turns, closes);
      if (block === null) continue;
      for (const { isPlaced, step, dueAt: due, journey } of queue.line.data)
        if (!isPlaced && step === 0 && due < closes && !this.blocks.has(journey.id))
          this.blocks.set(journey.id, block);
    }
  }
}
