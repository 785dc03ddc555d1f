/** What a plan is made of: people in line, the queues in which they are alike, and a sender's turn on a day. */
import type TinyQueue from "tinyqueue";
import { type Calendar, type DayNumber, MINUTE, type OpenHours } from "../calendar.ts";
import { type DailyBudget, placeIn, type RollingBudget } from "./budget.ts";
import type { Pace } from "./pace.ts";
import type { Block, PlanJourney, PlannedTouch } from "./plan-parts.ts";
import type { Sender } from "./sender.ts";

/** Somebody in line for their next touch. */
export interface Item {
  journey: PlanJourney;
  dueAt: number;
  /** Index into what lies ahead of the journey. */
  step: number;
  queue: Queue;
  /** Where and when it was planned before. */
  kept: PlannedTouch | null;
  isPlaced: boolean;
}

export const calendarOf = (journey: PlanJourney, step: number): Calendar =>
  step > 0 ? (journey.calendarAfter ?? journey.calendar) : journey.calendar;

/** Those who are alike in when, from where and how fast they may go. */
export interface Queue {
  openHours: OpenHours;
  calendar: Calendar;
  followUp: boolean;
  senderIds: readonly number[];
  provider: string | null;
  /** Those of the senders whose mail provider is theirs. */
  matching: readonly number[];
  budgets: Budgets | null;
  line: TinyQueue<Item>;
  /** A queue that few senders serve counts as due for longer, so that the others leave them to it. */
  headStart: number;
  /** Why its people did not go, as far as known today. */
  block: Block | null;
}

export interface Budgets {
  pace: Pace;
  newADay: DailyBudget | null;
  rolling: RollingBudget[];
}

export interface Placed {
  item: Item;
  touch: PlannedTouch;
  /** At the moment at which it was planned before. */
  isKept: boolean;
  /** Its journey's next touch is of the same day. */
  goesOn: boolean;
}

/** Whether another sender may take it over. */
export const canMove = ({ isKept, goesOn, item }: Placed): boolean =>
  !isKept && !goesOn && item.queue.senderIds.length > 1;

/** One sender's day. */
export interface Turn {
  sender: Sender;
  day: DayNumber;
  from: number;
  to: number;
  opens: number;
  closes: number;
  limit: number;
  left: number;
  isRising: boolean;
  followUpsLeft: number;
  firstsTaken: number;
  isToday: boolean;
  moments: number[] | null;
  /** Instants taken, sorted. */
  taken: number[];
  hour: RollingBudget | null;
  followUps: TinyQueue<Entry>;
  firsts: TinyQueue<Entry>;
  placed: Placed[];
}

export interface Entry {
  queue: Queue;
  dueDay: number;
  /** 0: of the sender's own mail provider; 1: of no sender's; 2: of another's, who had better take it. */
  match: 0 | 1 | 2;
  closes: number;
  due: number;
}

/** Whoever is due on the earlier day, then whose mail provider is the sender's own, then whose hours close sooner. */
export const byWorth = (a: Entry, b: Entry): number =>
  a.dueDay - b.dueDay || a.match - b.match || a.closes - b.closes || a.due - b.due;

/** Why those of a queue who could have gone that day did not: what somebody met, or what every sender of theirs had no more of. */
export function blockOf(queue: Queue, turns: readonly Turn[], closes: number): Block | null {
  if (turns.length === 0) return null;
  const from = Math.min(...turns.map((turn) => turn.opens));
  if (queue.openHours.windowFrom(from).opens >= closes) return null;
  if (queue.block) return queue.block;
  if (turns.some(({ left }) => left > 0)) return null;
  if (queue.followUp && turns.every(({ firstsTaken }) => firstsTaken > 0)) return "ratio";
  return turns.every(({ isRising }) => isRising) ? "ramp" : "mailbox_limit";
}

export const matches = ({ provider }: Queue, sender: Sender): boolean =>
  provider !== null && provider === sender.provider;

/** How much of its day a sender has used, 0 to 1. */
export const usedOf = ({ limit, left }: Turn): number => (limit <= 0 ? 1 : (limit - left) / limit);

/** Whether nothing lies closer to `at` than the gap. */
export function isFree(taken: readonly number[], at: number, gap: number): boolean {
  if (gap <= 0) return true;
  const place = placeIn(taken, at);
  const before = taken[place - 1];
  const after = taken[place];
  return (before === undefined || at - before >= gap) && (after === undefined || after - at >= gap);
}

export function* momentsFrom(moments: readonly number[], from: number): Generator<number> {
  for (let nth = placeIn(moments, from); nth < moments.length; nth++) yield moments[nth] as number;
}

/** Without a gap there is no grid; where a budget objects, the minutes after are tried. */
export function* minutesFrom(from: number, end: number): Generator<number> {
  for (let at = from + MINUTE; at < end; at += MINUTE) yield at;
}
