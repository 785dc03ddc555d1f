/** A prospect's journey as a timeline: what was sent, what they did, what will not happen. */
import { DateTime } from "luxon";
import { dayOf, startOfDay, weekdayOf, workingDayAfter, workingDaysBetween } from "../../../core/calendar";
import type { StoryEvent, StoryJourney } from "../../../server/prospects/prospect-story";
import { dayTime, EVENT_WORDS } from "../words";
import type { TimelineProps, TimelineTouch } from "./timeline";

const THEIR_ACTS = ["opened", "clicked", "replied", "away", "bounced", "opted_out", "booked"];
const WEEK = [1, 2, 3, 4, 5];

/** The drawing of one journey; `events` are the prospect's, those of other journeys are left out. */
export function drawStory(journey: StoryJourney, events: StoryEvent[], now: number, zone: string): TimelineProps {
  const own = events.filter(
    ({ kind, at }) => THEIR_ACTS.includes(kind) && at >= journey.startedAt && (journey.state === "active" || at <= (journey.endedAt ?? now) + 864e5 * 7),
  );
  const first = startOfDay(journey.startedAt, zone);
  const start = dayOf(first, zone);
  const place = (at: number) => {
    const day = workingDaysBetween(start, dayOf(at, zone), WEEK);
    // Weekends have no width: what happens on one stands at the end of Friday.
    const within = weekdayOf(at, zone) > 5 ? 0.45 : Math.min(1, Math.max(0, ((at - startOfDay(at, zone)) / 36e5 - 7) / 12)) * 0.8 - 0.4;
    return Math.max(0, day + within);
  };
  const steps = journey.touches.map(
    (touch): TimelineTouch => ({
      id: `step-${touch.stepId}`,
      lane: "Email",
      day: place(touch.at),
      label: touch.name,
      channel: "email",
      state: touch.state,
      spoken: `${touch.name}, ${touch.state === "cancelled" ? "cancelled" : dayTime(touch.at, zone)}`,
    }),
  );
  let lastShown = -9;
  const acts = own.map((event): TimelineTouch => {
    const day = place(event.at);
    // Labels that would lie on each other are left to the list below the drawing.
    const label = day - lastShown > 0.8 ? (EVENT_WORDS[event.kind] ?? "") : "";
    if (label) lastShown = day;
    return {
      id: `event-${event.id}`,
      lane: "They",
      day,
      label,
      channel: "them",
      state: event.kind === "bounced" || event.kind === "opted_out" ? "person" : event.kind === "away" || event.kind === "opened" || event.kind === "clicked" ? "planned" : "answered",
      spoken: `${EVENT_WORDS[event.kind]}, ${dayTime(event.at, zone)}`,
    };
  });
  const touches = [...steps, ...acts];
  const last = Math.max(5, Math.ceil(Math.max(...touches.map(({ day }) => day), journey.state === "active" ? place(now) : 0)));
  const days = Array.from({ length: last + 1 }, (_, count) => workingDayAfter(first, count, WEEK, zone));
  return {
    name: `${journey.sequenceName}: what happened and what is planned`,
    lanes: ["Email", "They"],
    touches: touches.sort((a, b) => a.day - b.day),
    days: days.map((day) => DateTime.fromISO(day).toFormat("d LLL")),
    weekendsAfter: days.flatMap((day, index) => (DateTime.fromISO(day).weekday === 5 ? [index] : [])),
    ...(journey.state === "active" ? { now: place(now) } : {}),
  };
}
