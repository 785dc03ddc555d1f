/** A prospect's journey as a timeline: what was sent, what they did, what will not happen. */
import {
  dayNumberFrom,
  dayOf,
  startOfDay,
  weekdayOf,
  weekdayOn,
  workingDayAfter,
  workingDaysBetween,
} from "../../core/calendar";
import type { Channel } from "../../core/sequence/path";
import type { StoryEvent, StoryJourney } from "../../server/prospects/people/prospect-story";
import { eventWords } from "../components/event-words";
import { dayOfMonth, dayTime } from "../components/words";
import type { Mark, TimelineProps } from "./marks";
import type { TouchState } from "./shapes";

const THEIR_ACTS = [
  "opened",
  "clicked",
  "replied",
  "away",
  "bounced",
  "opted_out",
  "booked",
  "page_visited",
  "film_watched",
  "file_opened",
];
const WEEK = [1, 2, 3, 4, 5];
/** In working days; nearer marks would lie on each other. */
const CLOSE = 0.6;
const LANES: Record<Channel, string> = { email: "Email", social: "Social", call: "Call", errand: "Errand" };
type Act = Omit<Mark, "at" | "row"> & { lane: string; day: number };
const ACT_STATES: Record<string, TouchState> = {
  replied: "answered",
  booked: "answered",
  bounced: "person",
  opted_out: "person",
};
/** The later, the more it says. */
const WEIGHT: TouchState[] = ["planned", "person", "answered"];

/** The drawing of one journey; `events` are the prospect's, those of other journeys are left out. */
export function drawStory(
  journey: StoryJourney,
  events: StoryEvent[],
  now: number,
  zone: string,
): TimelineProps {
  const own = events.filter(
    ({ kind, at }) =>
      THEIR_ACTS.includes(kind) &&
      at >= journey.startedAt &&
      (journey.state === "active" || at <= (journey.endedAt ?? now) + 864e5 * 7),
  );
  const first = startOfDay(journey.startedAt, zone);
  const start = dayOf(first, zone);
  const place = (at: number) => {
    const day = workingDaysBetween(start, dayOf(at, zone), WEEK);
    // Weekends have no width: what happens on one stands at the end of Friday.
    const within =
      weekdayOf(at, zone) > 5
        ? 0.45
        : Math.min(1, Math.max(0, ((at - startOfDay(at, zone)) / 36e5 - 7) / 12)) * 0.8 - 0.4;
    return Math.max(0, day + within);
  };
  const steps = journey.touches.map(
    (touch): Act => ({
      id: `step-${touch.stepId}`,
      lane: LANES[touch.channel],
      day: place(touch.at),
      label: touch.name,
      shape: touch.channel,
      state: touch.state,
      spoken: `${touch.name}, ${touch.state === "cancelled" ? "cancelled" : dayTime(touch.at, zone)}`,
    }),
  );
  const acts: Act[] = [];
  for (const event of own) {
    const act: Act = {
      id: `event-${event.id}`,
      lane: "They",
      day: place(event.at),
      label: eventWords(event),
      shape: "them",
      state: ACT_STATES[event.kind] ?? "planned",
      spoken: `${eventWords(event)}, ${dayTime(event.at, zone)}`,
    };
    const before = acts.at(-1);
    // What happened within hours shares one mark, under the act that says most.
    if (!before || act.day - before.day > CLOSE) acts.push(act);
    else {
      const telling = WEIGHT.indexOf(act.state) >= WEIGHT.indexOf(before.state) ? act : before;
      acts[acts.length - 1] = {
        ...before,
        label: telling.label,
        state: telling.state,
        spoken: `${before.spoken}; ${act.spoken}`,
      };
    }
  }
  const touches = [...steps, ...acts];
  const last = Math.max(
    5,
    Math.ceil(Math.max(...touches.map(({ day }) => day), journey.state === "active" ? place(now) : 0)),
  );
  const days = Array.from({ length: last + 1 }, (_, count) => workingDayAfter(first, count, WEEK, zone));
  const used = new Set(touches.map(({ lane }) => lane));
  const lanes = [...Object.values(LANES).filter((lane) => lane === "Email" || used.has(lane)), "They"];
  const marks = touches
    .sort((a, b) => a.day - b.day)
    .map(({ lane, day, ...mark }): Mark => ({ ...mark, at: day + 0.5, row: lanes.indexOf(lane) }));
  const path = marks.filter(({ shape }) => shape !== "them");
  return {
    name: `${journey.sequenceName}: what happened and what is planned`,
    days: days.map((day) => ({ label: dayOfMonth(day), width: 1 })),
    rows: lanes.length,
    stretches: [{ lanes, row: 0, from: 0, to: last + 1 }],
    marks,
    links: path.slice(1).map((mark, index) => ({
      from: path[index]?.id ?? "",
      to: mark.id,
      dashed: mark.state === "cancelled",
    })),
    weekendsAfter: days.flatMap((day, index) => (weekdayOn(dayNumberFrom(day)) === 5 ? [index] : [])),
    ...(journey.state === "active" ? { now: place(now) + 0.5 } : {}),
  };
}
