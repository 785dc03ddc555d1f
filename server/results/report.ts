/** What a day or a week brought, against the one before: for a page that prints, and a mail on Monday morning. */
import { z } from "zod";
import { dayNumberFrom, instantOnDay, textOfDay } from "../../core/calendar.ts";
import { daySchema } from "../../core/day-and-time.ts";
import { type Happened, happenedTogether } from "../../core/results/happened.ts";
import { mondayOf } from "../../core/results/weeks.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { happenedBy } from "../db/outcomes.ts";

export const reportQuery = z.object({
  day: daySchema.optional().catch(undefined),
  span: z.enum(["week", "day"]).catch("week"),
});

export interface Report {
  /** The first and the last day. */
  from: string;
  to: string;
  now: Happened;
  before: Happened;
  /** At which anything happened. */
  sequences: { id: number; name: string; now: Happened }[];
}

/** The week (or day) in which `day` lies. */
export function report(app: App, by: By, day: string, span: "week" | "day", zone: string): Report {
  const days = span === "week" ? 7 : 1;
  const first = span === "week" ? mondayOf(dayNumberFrom(day)) : dayNumberFrom(day);
  const starts = [first - days, first, first + days].map((each) => instantOnDay(each, 0, zone)) as [
    number,
    number,
    number,
  ];
  const hidden = hiddenFrom(app, by, "sequence.see");
  const bySequence = (from: number, to: number) =>
    new Map([...happenedBy(app.db, "sequence", from, to)].filter(([id]) => !hidden.has(id)));
  const now = bySequence(starts[1], starts[2]);
  const names = sequenceNames(app.db);
  const sequences = [...now].flatMap(([id, each]) => {
    const name = names.get(id);
    return name === undefined ? [] : [{ id, name, now: each }];
  });
  return {
    from: textOfDay(first),
    to: textOfDay(first + days - 1),
    now: happenedTogether(now.values()),
    before: happenedTogether(bySequence(starts[0], starts[1]).values()),
    sequences: sequences.sort((a, b) => b.now.positive - a.now.positive || b.now.written - a.now.written),
  };
}

const sequenceNames = (db: Db): Map<number, string> =>
  new Map(
    sql(db, "SELECT id, name FROM sequences WHERE kind = 'shared' AND deleted_at IS NULL")
      .all<{ id: number; name: string }>([])
      .map(({ id, name }) => [id, name]),
  );
