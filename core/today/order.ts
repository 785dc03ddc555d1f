/**
 * The order of a rep's day: what is worth most, and what has waited longest, first. Worth is the chance that doing it now
 * leads to a conversation, roughly as practitioners reckon it; what matters is the order, and that its reason can be said.
 */
import { HOUR } from "../calendar.ts";

export const TODO_KINDS = [
  "replies",
  "meeting",
  "meeting_over",
  "mailbox",
  "connection",
  "drift",
  "call",
  "warm",
  "reminder",
  "come_back",
  "errand",
  "thanks",
  "next_step",
  "drafts",
  "social",
  "field",
  "hold",
  "company",
] as const;
export type TodoKind = (typeof TODO_KINDS)[number];

/** What is worked at in one go: a rep rings ten people, and then writes to ten. */
export const TODO_GROUPS = ["replies", "calls", "social", "emails", "errands", "looked", "held"] as const;
export type TodoGroup = (typeof TODO_GROUPS)[number];

export const GROUP_OF: Record<TodoKind, TodoGroup> = {
  replies: "replies",
  meeting: "calls",
  meeting_over: "calls",
  call: "calls",
  social: "social",
  drafts: "emails",
  reminder: "errands",
  come_back: "errands",
  errand: "errands",
  thanks: "errands",
  next_step: "errands",
  warm: "looked",
  mailbox: "held",
  connection: "held",
  drift: "held",
  field: "held",
  hold: "held",
  company: "held",
};

/** What is known of something to do, as far as its place hangs on it. */
export interface Todo {
  kind: TodoKind;
  /** When it came due. */
  dueAt: number;
  /** How many people it is about. */
  people: number;
  /** Of replies: how many read as interested, and as a question. */
  interested?: number;
  questions?: number;
  /** Of a call: the hour of the day where they are, 0 to 24, and the one at which they are best reached, if known. */
  hourThere?: number | null;
  bestHour?: number | null;
  /** Of a meeting: when it begins. */
  startsAt?: number;
  /** What they did lately with our emails, on their page, and with files. */
  seen?: SeenLately;
}

export interface SeenLately {
  opens: number;
  clicks: number;
  visits: number;
  /** Looks at files that they have the link of. */
  files: number;
  /** How much of the film on their page they watched, in hundredths; null: nothing. */
  watched: number | null;
}

const NOT_SEEN: SeenLately = { opens: 0, clicks: 0, visits: 0, files: 0, watched: null };

/** Why something stands where it does; the screen words it. */
export type PlaceReason =
  | { because: "waiting"; hours: number }
  | { because: "interested"; number: number }
  | { because: "questions"; number: number }
  | { because: "soon"; minutes: number }
  | { because: "good_hour"; until: number }
  | { because: "bad_hour"; hour: number }
  | ({ because: "seen" } & SeenLately)
  | { because: "blocks"; people: number }
  | { because: "asked_for" }
  | { because: "nothing_ahead" }
  | { because: "late"; days: number };

export interface Place {
  /** The higher the sooner. */
  score: number;
  reasons: PlaceReason[];
}

const WORTH: Record<TodoKind, number> = {
  replies: 55,
  meeting: 30,
  meeting_over: 50,
  mailbox: 62,
  connection: 53,
  drift: 51,
  call: 40,
  warm: 52,
  reminder: 48,
  come_back: 54,
  errand: 46,
  thanks: 50,
  next_step: 36,
  drafts: 44,
  social: 30,
  field: 34,
  hold: 28,
  company: 24,
};
/** An answer within the hour is worth most; what waits rises by so much a day, up to so many days. */
const A_DAY_LATE = 6;
const MOST_DAYS = 5;
/** People answer their phone in the middle of their morning and afternoon. */
const GOOD_HOURS: readonly (readonly [number, number])[] = [
  [9, 12],
  [14, 17],
];
const AROUND_BEST = 1;

export function placeOf(todo: Todo, now: number): Place {
  const reasons: PlaceReason[] = [];
  const seen = todo.seen ?? NOT_SEEN;
  let score = WORTH[todo.kind];
  const waited = Math.max(0, now - todo.dueAt);
  const days = waited / (24 * HOUR);
  score += A_DAY_LATE * Math.min(MOST_DAYS, days);

  switch (todo.kind) {
    case "replies": {
      const { interested = 0, questions = 0 } = todo;
      if (interested > 0) {
        score += 40;
        reasons.push({ because: "interested", number: interested });
      } else if (questions > 0) {
        score += 28;
        reasons.push({ because: "questions", number: questions });
      }
      reasons.push({ because: "waiting", hours: Math.floor(waited / HOUR) });
      break;
    }
    case "meeting": {
      const minutes = Math.round(((todo.startsAt ?? now) - now) / 60_000);
      // Within the hour nothing else comes first.
      score = minutes <= 60 ? 130 : minutes <= 240 ? 45 : 20;
      reasons.push({ because: "soon", minutes });
      break;
    }
    case "call": {
      const hour = todo.hourThere ?? null;
      const best = todo.bestHour ?? null;
      const window =
        hour === null
          ? undefined
          : best !== null && Math.abs(hour - best) <= AROUND_BEST
            ? ([best - AROUND_BEST, best + AROUND_BEST] as const)
            : GOOD_HOURS.find(([from, to]) => hour >= from && hour < to);
      if (window) {
        score += best !== null && Math.abs((hour as number) - best) <= AROUND_BEST ? 26 : 18;
        reasons.push({ because: "good_hour", until: window[1] });
      } else if (hour !== null) {
        score -= hour < 8 || hour >= 18 ? 34 : 12;
        reasons.push({ because: "bad_hour", hour: Math.floor(hour) });
      }
      break;
    }
    case "warm":
      score += Math.min(20, 8 * seen.clicks + 2 * seen.opens);
      // Whoever watches is there, or was a moment ago: half of a film is worth more than any click.
      if (seen.watched !== null) score += seen.watched >= 50 ? 30 : 22;
      else if (seen.visits + seen.files > 0) score += 12;
      reasons.push({ because: "seen", ...seen });
      break;
    case "come_back":
      reasons.push({ because: "asked_for" });
      break;
    case "next_step":
      reasons.push({ because: "nothing_ahead" });
      break;
    case "mailbox":
    case "field":
    case "hold":
    case "company":
      score += Math.min(24, 2 * todo.people);
      // One word lets all of them go on: the more, the nearer to the top.
      if (todo.kind === "company" || todo.kind === "hold")
        score += Math.max(0, Math.min(90, todo.people) - 24);
      if (todo.people > 0) reasons.push({ because: "blocks", people: todo.people });
      break;
  }
  // What a person did with our emails makes any touch of theirs worth more.
  if (
    todo.kind !== "warm" &&
    (seen.clicks > 0 || seen.opens > 2 || seen.visits + seen.files > 0 || seen.watched !== null)
  ) {
    score += seen.watched !== null ? 14 : 8;
    reasons.push({ because: "seen", ...seen });
  }
  if (days >= 1 && todo.kind !== "replies") reasons.push({ because: "late", days: Math.floor(days) });
  return { score, reasons };
}

/** In order; of the same score what has waited longer comes first. */
export function orderTodos<T extends Todo>(todos: readonly T[], now: number): (T & { place: Place })[] {
  return todos
    .map((todo) => ({ ...todo, place: placeOf(todo, now) }))
    .sort((a, b) => b.place.score - a.place.score || a.dueAt - b.dueAt);
}
