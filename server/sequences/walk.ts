/** What the walk of one journey needs to know (core/sequence/advance.ts), read from the database when it is asked for. */
import { type Calendar, NO_HOLIDAYS } from "../../core/calendar.ts";
import { publicHolidays } from "../../core/holidays.ts";
import { isLabel, type Label } from "../../core/replies/labels.ts";
import type { Begun, Walker } from "../../core/sequence/advance.ts";
import type { Facts } from "../../core/sequence/holds.ts";
import type { Path } from "../../core/sequence/path.ts";
import { type Db, sql } from "../db/open.ts";
import { pausesOf } from "../db/pauses.ts";
import { prospectById, prospectValues } from "../db/prospects.ts";
import type { Sequence } from "../db/sequences.ts";
import { bestHourOf } from "./best-hour.ts";

type Timing = Pick<Sequence, "id" | "revision" | "hours" | "zone" | "settings">;

const calendars = new Map<string, Calendar>();
const MOST_KEPT = 5_000;

/** When somebody can be reached in a sequence. Alike people share one object, by which the plan knows them for alike. */
export function calendarFor(sequence: Timing, zone: string | null, country: string, now: number): Calendar {
  const { zoneOf, holidays } = sequence.settings;
  const own = zoneOf === "sequence" ? sequence.zone : (zone ?? sequence.zone);
  const year = new Date(now).getUTCFullYear();
  const { days, opens, closes } = sequence.hours;
  const key = `${days}|${opens}|${closes}|${own}|${holidays ? `${country} ${year}` : ""}`;
  let calendar = calendars.get(key);
  if (!calendar) {
    if (calendars.size >= MOST_KEPT) calendars.clear();
    calendar = {
      zone: own,
      hours: sequence.hours,
      holidays: holidays ? publicHolidays(country, year) : NO_HOLIDAYS,
    };
    calendars.set(key, calendar);
  }
  return calendar;
}

interface Standing {
  id: number;
  prospectId: number;
  prospectZone: string | null;
  prospectCountry: string;
  email: string | null;
  hasProfile: 0 | 1;
}

export function walkerOf(
  db: Db,
  sequence: Timing,
  path: Path,
  journey: Standing & { mailboxId: number | null },
  now: number,
): Walker {
  return {
    path,
    calendar: calendarFor(sequence, journey.prospectZone, journey.prospectCountry, now),
    bestMinute: path.some((node) => JSON.stringify(node).includes('"bestHour"'))
      ? bestMinute(db, sequence, journey, now)
      : null,
    seed: journey.id,
    begun: begunSteps(db, journey.id),
    pauses: pausesOf(db, { ...journey, sequenceId: sequence.id }, now),
  };
}

/** Minutes after midnight, where they are; null while nothing is known. */
function bestMinute(db: Db, sequence: Timing, journey: Standing, now: number): number | null {
  const person = prospectById(db, journey.prospectId);
  const reached = {
    id: journey.prospectId,
    zone: journey.prospectZone ?? sequence.zone,
    country: journey.prospectCountry,
    title: person?.title ?? "",
  };
  return bestHourOf(db, reached, sequence.hours, now)?.minute ?? null;
}

export function begunSteps(db: Db, journeyId: number): Map<string, Begun> {
  const rows = sql(
    db,
    `SELECT step_id AS stepId, coalesce(at, claimed_at, 0) AS at, ended_at AS endedAt
     FROM touches WHERE journey_id = @journeyId`,
  ).all<{ stepId: string; at: number; endedAt: number | null }>({ journeyId });
  return new Map(rows.map(({ stepId, at, endedAt }) => [stepId, { at, endedAt }]));
}

/** What an event says about a reply's meaning, as long as nobody labelled it. */
const LABEL_OF_EVENT: Record<string, Label> = {
  away: "away",
  left_company: "wrong_person",
  opted_out: "opt_out",
};

/** The facts of one journey; each is read once, when a condition asks for it. */
export function factsOf(db: Db, journey: Standing): Facts {
  const once = <T>(read: () => T): (() => T) => {
    let known: { value: T } | null = null;
    return () => {
      known ??= { value: read() };
      return known.value;
    };
  };
  const { id: journeyId, prospectId } = journey;
  const values = once(() => {
    const prospect = prospectById(db, prospectId);
    return prospect ? { ...prospectValues(prospect), country: prospect.country } : {};
  });
  const seen = once(() =>
    sql(
      db,
      `SELECT t.step_id AS stepId, e.kind, min(e.at) AS at FROM events e JOIN touches t ON t.id = e.touch_id
       WHERE e.journey_id = @journeyId AND e.kind IN ('opened', 'clicked') GROUP BY t.step_id, e.kind`,
    ).all<{ stepId: string; kind: string; at: number }>({ journeyId }),
  );
  const firstTimes = (kinds: readonly string[]) =>
    once(() => {
      const times = new Map<string, number>();
      for (const { stepId, kind, at } of seen())
        if (kinds.includes(kind)) times.set(stepId, Math.min(at, times.get(stepId) ?? at));
      return times;
    });
  // Whoever clicked has opened, also where the picture was not loaded.
  const opened = firstTimes(["opened", "clicked"]);
  const clicked = firstTimes(["clicked"]);
  const acceptedAt = once(
    () =>
      sql(db, "SELECT min(at) AS at FROM events WHERE prospect_id = @prospectId AND kind = 'accepted'").get<{
        at: number | null;
      }>({ prospectId })?.at ?? null,
  );
  const onPage = once(() =>
    sql(
      db,
      `SELECT kind, coalesce(detail, '') AS detail, min(at) AS at FROM events
       WHERE journey_id = @journeyId AND kind IN ('page_visited', 'film_watched') GROUP BY kind, detail`,
    ).all<{ kind: string; detail: string; at: number }>({ journeyId }),
  );
  // Whoever watches is there.
  const visitedAt = once(() =>
    onPage().reduce<number | null>((first, { at }) => Math.min(first ?? at, at), null),
  );
  const watchedAt = once(
    () =>
      new Map(
        onPage().flatMap(({ kind, detail, at }) => (kind === "film_watched" ? [[Number(detail), at]] : [])),
      ),
  );
  const labels = once(() =>
    sql(
      db,
      // A label counts from when they wrote: a rep who reads late decides as one who read at once.
      `SELECT kind AS word, at FROM events WHERE journey_id = @journeyId AND kind IN ('away', 'left_company', 'opted_out')
       UNION ALL SELECT l.key, r.at FROM replies r JOIN labels l ON l.id = r.label_id AND l.key IS NOT NULL JOIN journeys j ON j.id = @journeyId
         WHERE r.prospect_id = j.prospect_id AND r.at >= j.started_at
       ORDER BY at`,
    )
      .all<{ word: string; at: number }>({ journeyId })
      .map(({ word, at }) => ({ label: LABEL_OF_EVENT[word] ?? word, at }))
      .filter((said): said is { label: Label; at: number } => isLabel(said.label)),
  );
  return {
    hasAddress: journey.email !== null && journey.email !== "",
    hasProfile: journey.hasProfile === 1,
    fieldValue: (field) => (values() as Record<string, string>)[field] ?? "",
    get acceptedAt() {
      return acceptedAt();
    },
    get openedAt() {
      return opened();
    },
    get clickedAt() {
      return clicked();
    },
    get visitedAt() {
      return visitedAt();
    },
    get watchedAt() {
      return watchedAt();
    },
    get labels() {
      return labels();
    },
  };
}
