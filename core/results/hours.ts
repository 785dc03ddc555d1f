/** When what was sent is answered: by weekday and hour where the prospect is, and whether any of it is more than chance. */
import type { Counts } from "./beta.ts";
import { chanceOfSuch, FALSE_SHARE, falseShares } from "./many.ts";
import { type Share, shareOf } from "./share.ts";

export interface Sent {
  /** 1 is Monday, where the prospect is; the hour from 0 to 23. */
  weekday: number;
  hour: number;
  isHit: boolean;
}

export interface Hour extends Counts {
  weekday: number;
  hour: number;
  /** Drawn towards the whole, the more the fewer there are: what is to be expected of the next one. */
  expected: number;
}

export interface Stretch {
  by: "weekday" | "hour";
  /** The weekday, or the first hour of so many. */
  from: number;
  hours: number;
  own: Share;
  rest: Share;
  falseShare: number;
  differs: boolean;
}

/** As if so many of the whole's had been seen in each hour before anything was. */
const STRENGTH = 30;
/** Parts of a day that are compared; fewer hours than this are chance for years. */
const PART_OF_DAY = 2;
const LEAST = 20;

/** Every hour at which something was sent. */
export function hoursOf(sent: readonly Sent[]): Hour[] {
  const mean = sent.length === 0 ? 0 : sent.filter(({ isHit }) => isHit).length / sent.length;
  const hours = new Map<number, Hour>();
  for (const { weekday, hour, isHit } of sent) {
    const key = 24 * weekday + hour;
    const known = hours.get(key) ?? { weekday, hour, part: 0, whole: 0, expected: 0 };
    hours.set(key, known);
    known.whole++;
    if (isHit) known.part++;
  }
  return [...hours.values()]
    .map((each) => ({ ...each, expected: (each.part + STRENGTH * mean) / (each.whole + STRENGTH) }))
    .sort((a, b) => a.weekday - b.weekday || a.hour - b.hour);
}

/** Weekdays and parts of the day against all others; those that differ first. */
export function stretchesOf(sent: readonly Sent[]): Stretch[] {
  const hits = sent.filter(({ isHit }) => isHit).length;
  const groups = { weekday: new Map<number, Counts>(), hour: new Map<number, Counts>() };
  const add = (by: Stretch["by"], from: number, isHit: boolean) => {
    const known = groups[by].get(from) ?? { part: 0, whole: 0 };
    groups[by].set(from, known);
    known.whole++;
    if (isHit) known.part++;
  };
  for (const { weekday, hour, isHit } of sent) {
    add("weekday", weekday, isHit);
    add("hour", hour - (hour % PART_OF_DAY), isHit);
  }
  const judged = (["weekday", "hour"] as const)
    .flatMap((by) => [...groups[by]].map(([from, counts]) => ({ by, from, ...counts })))
    .filter(({ whole }) => whole >= LEAST && sent.length - whole >= LEAST)
    .map(({ by, from, part, whole }) => ({
      by,
      from,
      hours: by === "hour" ? PART_OF_DAY : 24,
      own: shareOf(part, whole),
      rest: shareOf(hits - part, sent.length - whole),
    }));
  const shares = falseShares(judged.map(({ own, rest }) => chanceOfSuch(own, rest)));
  return judged
    .map((each, nth) => ({
      ...each,
      falseShare: shares[nth] ?? 1,
      differs: (shares[nth] ?? 1) <= FALSE_SHARE,
    }))
    .sort((a, b) => a.falseShare - b.falseShare || b.own.whole - a.own.whole);
}
