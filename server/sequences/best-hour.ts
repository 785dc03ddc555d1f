/** When somebody is best reached: their own signals, and the patterns of people like them, which are counted now and then. */
import { DAY, hourOf, minutesOf, type SendingHours } from "../../core/calendar.ts";
import { type BestHour, bestHour, type Evidence, HOURS, WEIGHTS } from "../../core/sending/best-hour.ts";
import { type Db, sql } from "../db/open.ts";

const KEEPS = 10 * 60_000;
const LOOKS_BACK = 180 * DAY;
const MOST_SIGNALS = 200_000;

interface Patterns {
  madeAt: number;
  zones: Map<string, number[]>;
  countries: Map<string, number[]>;
  roles: Map<string, number[]>;
}
const kept = new WeakMap<Db, Patterns>();

const SIGNALS = "kind IN ('opened', 'clicked', 'replied')";
const none = (): number[] => Array<number>(HOURS).fill(0);

/** A role is what a title says last: "Head of Collections" and "Deputy Head of Collections" are alike. */
const roleOf = (title: string): string =>
  title
    .toLowerCase()
    .split(/[\s,/]+/)
    .slice(-2)
    .join(" ");

/** By the machine's clock, since it is only about how often to count. */
function patternsOf(db: Db, now: number): Patterns {
  const known = kept.get(db);
  if (known && Math.abs(Date.now() - known.madeAt) < KEEPS) return known;
  const patterns: Patterns = { madeAt: Date.now(), zones: new Map(), countries: new Map(), roles: new Map() };
  const add = (to: Map<string, number[]>, key: string, hour: number, weight: number) => {
    if (key === "") return;
    const counts = to.get(key) ?? none();
    to.set(key, counts);
    counts[hour] = (counts[hour] ?? 0) + weight;
  };
  const rows = sql(
    db,
    `SELECT e.at, e.kind, p.time_zone AS zone, p.country, p.title FROM events e JOIN prospects p ON p.id = e.prospect_id
     WHERE e.${SIGNALS} AND e.at >= @since AND p.time_zone IS NOT NULL ORDER BY e.at DESC LIMIT ${MOST_SIGNALS}`,
  ).all<{ at: number; kind: Evidence; zone: string; country: string; title: string }>({
    since: now - LOOKS_BACK,
  });
  for (const { at, kind, zone, country, title } of rows) {
    const hour = Math.floor(hourOf(at, zone));
    const weight = WEIGHTS[kind];
    add(patterns.zones, zone, hour, weight);
    add(patterns.countries, country, hour, weight);
    add(patterns.roles, roleOf(title), hour, weight);
  }
  kept.set(db, patterns);
  return patterns;
}

export interface Reached {
  id: number;
  zone: string;
  country: string;
  title: string;
}

/** Null as long as nothing is known of them or of people like them. */
export function bestHourOf(
  db: Db,
  { id, zone, country, title }: Reached,
  hours: SendingHours,
  now: number,
): BestHour | null {
  const patterns = patternsOf(db, now);
  const own = none();
  const rows = sql(
    db,
    `SELECT at, kind FROM events WHERE prospect_id = @id AND ${SIGNALS} ORDER BY at DESC LIMIT 100`,
  ).all<{ at: number; kind: Evidence }>({ id });
  for (const { at, kind } of rows) {
    const hour = Math.floor(hourOf(at, zone));
    own[hour] = (own[hour] ?? 0) + WEIGHTS[kind];
  }
  return bestHour(
    [
      patterns.zones.get(zone) ?? none(),
      patterns.countries.get(country) ?? none(),
      patterns.roles.get(roleOf(title)) ?? none(),
    ],
    own,
    { opens: minutesOf(hours.opens), closes: minutesOf(hours.closes) },
  );
}
