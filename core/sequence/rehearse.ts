/**
 * A sequence run ahead of time for a whole list, on a simulated clock, by the functions that run it for real: who gets what
 * on which day, what stops whom, which limits bind, and how many replies that may bring. What people do is drawn from rates
 * that are assumed; the same seed gives the same run.
 */
import {
  type Calendar,
  DAY,
  type DayNumber,
  dayNumberOf,
  HOUR,
  instantOnDay,
  textOfDay,
} from "../calendar.ts";
import { seeded } from "../random.ts";
import { planTouches } from "../sending/plan.ts";
import type { PlanJourney } from "../sending/plan-parts.ts";
import type { Sender } from "../sending/sender.ts";
import { advance, type Begun, type Place, type Walker } from "./advance.ts";
import type { Facts } from "./holds.ts";
import { CHANNEL_OF, type Channel, isEmail, type Path } from "./path.ts";

export interface Rates {
  /** Of an email: is it answered, opened, clicked in. */
  reply: number;
  open: number;
  click: number;
  /** Of a reply: does it lead to a booked call. */
  meeting: number;
  /** Of an invitation. */
  accept: number;
}

export interface RehearsedPerson {
  /** Which of the calendars. */
  calendar: number;
  hasAddress: boolean;
  hasProfile: boolean;
}

export interface RehearsalInput {
  path: Path;
  calendars: Calendar[];
  people: RehearsedPerson[];
  mailboxes: Sender[];
  now: number;
  days: number;
  rates: Rates;
  /** How many emails the reply rate was seen in; few make the range wide. */
  seenEmails: number;
  stops: { reply: boolean; meeting: boolean; open: boolean; click: boolean };
  newADay: number | null;
  seed: string;
}

export interface RehearsedDay {
  day: string;
  touches: Record<Channel, number>;
  /** By step. */
  steps: Record<string, number>;
  /** Emails that were due and found every mailbox full. */
  late: number;
}

export interface Rehearsal {
  days: RehearsedDay[];
  ends: { finished: number; replied: number; stopped: number; underWay: number };
  /** The last day on which anybody gets something; null if nothing goes. */
  lastDay: string | null;
  /** When the last of the first touches goes; null if some have none within the time. */
  allBegunBy: string | null;
  /** Days on which every mailbox was full. */
  fullDays: number;
  /** Of 100 runs of chance, 90 lie within. */
  replies: Range;
  meetings: Range;
}

export interface Range {
  low: number;
  middle: number;
  high: number;
}

interface Walking {
  id: number;
  person: RehearsedPerson;
  walker: Walker & { begun: Map<string, Begun> };
  place: Place;
  facts: {
    opened: Map<string, number>;
    clicked: Map<string, number>;
    acceptedAt: number | null;
    visitedAt: number | null;
    watched: Map<number, number>;
  };
  known: Facts;
  draw: () => number;
  emails: number;
  mailboxId: number | null;
  end: "finished" | "replied" | "stopped" | null;
}

export function rehearse(input: RehearsalInput, report?: (day: number) => void): Rehearsal {
  const { path, calendars, mailboxes, rates, stops } = input;
  const zone = mailboxes[0]?.zone ?? calendars[0]?.zone ?? "UTC";
  const first = dayNumberOf(input.now, zone);
  const days: RehearsedDay[] = [];
  const boxes = mailboxes.map((mailbox) => ({ ...mailbox }));
  const boxIds = boxes.map(({ id }) => id);
  const walking = input.people.map((person, index) => begin(input, person, index, calendars, path));
  // Whoever has nothing to wait for but time is looked at on the day that it is over.
  const agenda = new Map<DayNumber, Walking[]>();
  const note = (walker: Walking, at: number) => {
    const day = Math.max(first, dayNumberOf(at, zone));
    const list = agenda.get(day);
    if (list) list.push(walker);
    else agenda.set(day, [walker]);
  };
  for (const walker of walking) note(walker, walker.place.since);
  let line: { walker: Walking; stepId: string; due: number }[] = [];
  let begun = 0;
  let allBegunBy: string | null = null;
  let lastDay: string | null = null;
  let fullDays = 0;

  for (let day = first; day < first + input.days; day++) {
    const [from, until] = [
      Math.max(input.now, instantOnDay(day, 0, zone)),
      instantOnDay(day + 1, 0, zone) - 1,
    ];
    const touches: Record<Channel, number> = { email: 0, social: 0, call: 0, errand: 0 };
    const steps: Record<string, number> = {};
    /** Walks somebody until something is left to time, to a mailbox, or to nothing. */
    const walk = (walker: Walking, now: number): void => {
      while (walker.end === null) {
        const result = advance(walker.walker, walker.place, walker.known, now);
        walker.place = result.place;
        const { move } = result;
        if (move.kind === "finish") walker.end = "finished";
        else if (move.kind === "act") {
          const { step, due } = move;
          if (isEmail(step)) {
            line.push({ walker, stepId: step.id, due });
            return;
          }
          if (walker.walker.begun.size === 0) begun++;
          walker.walker.begun.set(step.id, { at: due, endedAt: due });
          touches[CHANNEL_OF[step.kind]]++;
          steps[step.id] = (steps[step.id] ?? 0) + 1;
          if (step.kind === "invitation" && walker.draw() < rates.accept)
            walker.facts.acceptedAt = due + (4 + walker.draw() * 92) * HOUR;
        } else {
          const fact = move.for === "fork" ? nextFact(walker, now) : null;
          const at = Math.min(move.until ?? Number.POSITIVE_INFINITY, fact ?? Number.POSITIVE_INFINITY);
          if (Number.isFinite(at)) {
            if (dayNumberOf(at, zone) === day && at > now) {
              now = at;
              continue;
            }
            note(walker, Math.max(at, now));
          }
          return;
        }
      }
    };
    for (const walker of agenda.get(day) ?? []) walk(walker, until);
    agenda.delete(day);

    const journeys = line.map(
      ({ walker, stepId, due }): PlanJourney => ({
        id: walker.id,
        calendar: calendars[walker.person.calendar] as Calendar,
        senderIds: walker.mailboxId === null ? boxIds : [walker.mailboxId],
        followUp: walker.mailboxId !== null,
        dueAt: due,
        ahead: [{ id: stepId, waits: [] }],
      }),
    );
    const sent = journeys.length === 0 ? [] : planTouches({ now: from, until, senders: boxes, journeys });
    const gone = new Set<number>();
    for (const { journeyId, stepId, senderId, at } of sent) {
      const walker = walking[journeyId] as Walking;
      gone.add(journeyId);
      if (walker.walker.begun.size === 0) begun++;
      walker.walker.begun.set(stepId, { at, endedAt: at });
      walker.mailboxId = senderId;
      walker.emails++;
      touches.email++;
      steps[stepId] = (steps[stepId] ?? 0) + 1;
      react(walker, stepId, at, rates, stops);
    }
    const bySender = new Map<number, number[]>();
    for (const { senderId, at } of sent) {
      const times = bySender.get(senderId);
      if (times) times.push(at);
      else bySender.set(senderId, [at]);
    }
    for (const box of boxes) {
      const times = bySender.get(box.id) ?? [];
      const localDay = dayNumberOf(until + 1, box.zone);
      box.sentToday = times.filter((at) => dayNumberOf(at, box.zone) === localDay).length;
      box.lastSentAt = times.at(-1) ?? box.lastSentAt;
    }
    line = line.filter(({ walker }) => !gone.has(walker.id));
    for (const id of gone) {
      const walker = walking[id] as Walking;
      if (walker.end === null) note(walker, until + 1);
    }
    const capacity = boxes.reduce((sum, { dailyLimit }) => sum + dailyLimit, 0);
    if (touches.email >= capacity && capacity > 0) fullDays++;
    const text = textOfDay(day);
    days.push({ day: text, touches, steps, late: line.filter(({ due }) => due <= until).length });
    if (Object.values(touches).some((number) => number > 0)) lastDay = text;
    if (begun === walking.length && allBegunBy === null) allBegunBy = text;
    report?.(day - first + 1);
  }
  const ended = (end: Walking["end"]) => walking.filter((each) => each.end === end).length;
  return {
    days: trimmed(days),
    ends: {
      finished: ended("finished"),
      replied: ended("replied"),
      stopped: ended("stopped"),
      underWay: ended(null),
    },
    lastDay,
    allBegunBy,
    fullDays,
    ...outcomes(
      walking.map(({ emails }) => emails),
      input,
    ),
  };
}

function begin(
  { newADay, now, seed }: RehearsalInput,
  person: RehearsedPerson,
  id: number,
  calendars: Calendar[],
  path: Path,
): Walking {
  const facts: Walking["facts"] = {
    ...{ opened: new Map(), clicked: new Map(), acceptedAt: null },
    ...{ visitedAt: null, watched: new Map() },
  };
  const later = newADay === null ? 0 : Math.floor(id / newADay);
  return {
    id,
    person,
    walker: { path, calendar: calendars[person.calendar] as Calendar, seed: id, begun: new Map() },
    place: { nodeId: path[0]?.id ?? null, since: now + later * DAY },
    facts,
    known: {
      hasAddress: person.hasAddress,
      hasProfile: person.hasProfile,
      fieldValue: () => "",
      get acceptedAt() {
        return facts.acceptedAt;
      },
      openedAt: facts.opened,
      clickedAt: facts.clicked,
      get visitedAt() {
        return facts.visitedAt;
      },
      watchedAt: facts.watched,
      labels: [],
    },
    draw: seeded(seed, id),
    emails: 0,
    mailboxId: null,
    end: null,
  };
}

/** What an email brings about. */
function react(
  walker: Walking,
  stepId: string,
  at: number,
  rates: Rates,
  stops: RehearsalInput["stops"],
): void {
  if (walker.draw() < rates.open) {
    walker.facts.opened.set(stepId, at + walker.draw() * 30 * HOUR);
    if (stops.open) walker.end = "stopped";
    if (walker.draw() < rates.click / Math.max(rates.open, 0.001)) {
      walker.facts.clicked.set(stepId, at + walker.draw() * 40 * HOUR);
      if (stops.click) walker.end = "stopped";
      watch(walker, at + 40 * HOUR);
    }
  }
  if (walker.draw() < rates.reply && stops.reply) walker.end = "replied";
}

/** Of those who follow a link to their page, so many see each further quarter of its film. */
const GOES_ON = 0.7;

/** Asked for by few sequences; who does not ask draws no chances for it. */
function watch(walker: Walking, at: number): void {
  const { facts } = walker;
  if (facts.visitedAt !== null || !JSON.stringify(walker.walker.path).includes('"about":"watched"')) {
    facts.visitedAt ??= at;
    return;
  }
  facts.visitedAt = at;
  for (const share of [25, 50, 75, 100]) {
    if (walker.draw() >= GOES_ON) return;
    facts.watched.set(share, at);
  }
}

/** The next thing of theirs that a fork may be asking for. */
function nextFact({ facts }: Walking, now: number): number | null {
  let next = Number.POSITIVE_INFINITY;
  const { acceptedAt, visitedAt, opened, clicked, watched } = facts;
  for (const at of [
    acceptedAt ?? 0,
    visitedAt ?? 0,
    ...opened.values(),
    ...clicked.values(),
    ...watched.values(),
  ])
    if (at > now && at < next) next = at;
  return Number.isFinite(next) ? next : null;
}

/** Without the empty days behind the last touch. */
function trimmed(days: RehearsedDay[]): RehearsedDay[] {
  const last = days.findLastIndex(
    ({ touches, late }) => late > 0 || Object.values(touches).some((number) => number > 0),
  );
  return days.slice(0, Math.max(5, last + 1));
}

const RUNS = 400;

/**
 * Replies and meetings by chance. The rate itself is only known from so many emails: each run draws it from a beta
 * distribution around what was seen, then draws who answers.
 */
export function outcomes(
  emailsEach: readonly number[],
  { rates, seenEmails, seed }: Pick<RehearsalInput, "rates" | "seenEmails" | "seed">,
): { replies: Range; meetings: Range } {
  const byCount = new Map<number, number>();
  for (const emails of emailsEach) byCount.set(emails, (byCount.get(emails) ?? 0) + 1);
  const draw = seeded(seed, "outcomes");
  const replies: number[] = [];
  const meetings: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    const rate = drawRate(rates.reply, seenEmails, draw);
    let answered = 0;
    for (const [emails, people] of byCount) answered += binomial(people, 1 - (1 - rate) ** emails, draw);
    replies.push(answered);
    meetings.push(binomial(answered, rates.meeting, draw));
  }
  return { replies: rangeOf(replies), meetings: rangeOf(meetings) };
}

function rangeOf(numbers: number[]): Range {
  const sorted = numbers.toSorted((a, b) => a - b);
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
  return { low: at(0.05), middle: at(0.5), high: at(0.95) };
}

/** A standard normal number (Box and Muller 1958). */
const normal = (draw: () => number): number =>
  Math.sqrt(-2 * Math.log(Math.max(draw(), Number.MIN_VALUE))) * Math.cos(2 * Math.PI * draw());

/** Near a beta distribution with the mean and the weight of what was seen; the weight is at least that of 20 emails. */
function drawRate(rate: number, seen: number, draw: () => number): number {
  const spread = Math.sqrt((rate * (1 - rate)) / (Math.max(20, seen) + 1));
  return Math.max(0, Math.min(1, rate + spread * normal(draw)));
}

/** Exact for few, by the normal distribution for many. */
function binomial(n: number, p: number, draw: () => number): number {
  if (n > 60) {
    const number = Math.round(n * p + Math.sqrt(n * p * (1 - p)) * normal(draw));
    return Math.max(0, Math.min(n, number));
  }
  let hits = 0;
  for (let each = 0; each < n; each++) if (draw() < p) hits++;
  return hits;
}
