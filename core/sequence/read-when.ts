/** When an email leaves, as a rep says it: "Monday 8:00", "in 3 months", "tomorrow morning their time", "after the fair on 12 June". */
import { en } from "chrono-node";
import { DateTime } from "luxon";
import { dayOf, timeOf } from "../calendar.ts";

export interface WhenContext {
  now: number;
  /** Time zones of the rep and of the prospect. */
  own: string;
  theirs: string | null;
}

/** `date` and `time`: on the prospect's clock; `at`: the instant. */
export type SaidWhen =
  | { when: "now" | "best" }
  | { when: "at"; date: string; time: string; at: number }
  | { isOver: true };

/** Where only a part of the day is said, or none. */
const PARTS: readonly [RegExp, string][] = [
  [/\bafternoon\b/i, "14:00"],
  [/\b(?:evening|tonight)\b/i, "18:00"],
  [/\b(?:noon|midday|lunch(?:time)?)\b/i, "12:00"],
];
const MORNING = "08:30";

/** Null: no time is to be read in it. */
export function readWhen(text: string, { now, own, theirs }: WhenContext): SaidWhen | null {
  const said = text.trim();
  if (/^(?:now|at once|right away|immediately)?$/i.test(said)) return { when: "now" };
  if (/\bbest (?:hour|time)\b/i.test(said)) return { when: "best" };
  const there = theirs ?? own;
  const zone = /\b(?:my|our|mine|ours)\b/i.test(said) ? own : there;
  const words = said
    .replace(/\b(?:their|my|our|local) time\b|\b(?:there|theirs|mine)\b/gi, " ")
    .replace(/(\d)\.(\d\d)\b(?!\.)/g, "$1:$2");
  const here = DateTime.fromMillis(now, { zone });
  const [found] = en.GB.parse(
    words,
    { instant: new Date(now), timezone: here.offset },
    { forwardDate: true },
  );
  if (!found) return endOfMonth(words, here, there, now);
  const { start, index } = found;
  let day: DateTime = DateTime.fromObject(
    {
      year: start.get("year") ?? here.year,
      month: start.get("month") ?? here.month,
      day: start.get("day") ?? here.day,
    },
    { zone },
  );
  const isCounted = /^in\b|\bfrom now$/i.test(found.text);
  if (/\b(?:after|once|following)\b/i.test(words.slice(0, index)))
    day = nextWorkingDay(day.plus({ days: 1 }));
  else if (isCounted && !start.isCertain("hour")) day = nextWorkingDay(day);
  const part = PARTS.find(([pattern]) => pattern.test(words))?.[1] ?? MORNING;
  const isExact =
    start.isCertain("hour") &&
    !(PARTS.some(([pattern]) => pattern.test(found.text)) && !/\d/.test(found.text));
  const time = isExact
    ? `${String(start.get("hour")).padStart(2, "0")}:${String(start.get("minute") ?? 0).padStart(2, "0")}`
    : part;
  return on(day.toISODate() ?? "", time, zone, there, now);
}

/** "End of August" names a month alone. */
function endOfMonth(words: string, here: DateTime, there: string, now: number): SaidWhen | null {
  const [month] = en.GB.parse(words.replace(/\b(?:the )?end of\b/i, "1"), here.toJSDate(), {
    forwardDate: true,
  });
  if (!month || !/\bend of\b/i.test(words)) return null;
  const last = DateTime.fromJSDate(month.start.date(), { zone: here.zone }).endOf("month");
  return on(previousWorkingDay(last).toISODate() ?? "", MORNING, here.zoneName ?? there, there, now);
}

const nextWorkingDay = (day: DateTime): DateTime =>
  day.weekday > 5 ? day.plus({ days: 8 - day.weekday }) : day;
const previousWorkingDay = (day: DateTime): DateTime =>
  day.weekday > 5 ? day.minus({ days: day.weekday - 5 }) : day;

function on(date: string, time: string, zone: string, there: string, now: number): SaidWhen | null {
  const at = DateTime.fromISO(`${date}T${time}`, { zone }).toMillis();
  if (Number.isNaN(at)) return null;
  if (at < now) return { isOver: true };
  return { when: "at", date: dayOf(at, there), time: timeOf(at, there), at };
}
