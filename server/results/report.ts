/** What a day or a week brought, against the one before: for a page that prints, and a mail on Monday morning. */
import { dayNumberFrom, instantOnDay, textOfDay } from "../../core/calendar.ts";
import { mondayOf } from "../../core/results/weeks.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { keepOutcomes } from "../db/outcomes.ts";

/** What happened within a time, whenever they were started. */
interface Happened {
  started: number;
  written: number;
  answered: number;
  positive: number;
  booked: number;
  optedOut: number;
  bounced: number;
}

export interface Report {
  /** The first and the last day. */
  from: string;
  to: string;
  now: Happened;
  before: Happened;
  /** At which anything happened. */
  sequences: { id: number; name: string; now: Happened }[];
}

const NOTHING: Happened = {
  started: 0,
  written: 0,
  answered: 0,
  positive: 0,
  booked: 0,
  optedOut: 0,
  bounced: 0,
};
const COLUMNS: Record<keyof Happened, string> = {
  started: "started_at",
  written: "written_at",
  answered: "answered_at",
  positive: "positive_at",
  booked: "booked_at",
  optedOut: "opted_out_at",
  bounced: "bounced_at",
};

/** The week (or day) in which `day` lies. */
export function report(app: App, by: By, day: string, span: "week" | "day", zone: string): Report {
  keepOutcomes(app.db);
  const days = span === "week" ? 7 : 1;
  const first = span === "week" ? mondayOf(dayNumberFrom(day)) : dayNumberFrom(day);
  const starts = [first - days, first, first + days].map((each) => instantOnDay(each, 0, zone)) as [
    number,
    number,
    number,
  ];
  const hidden = hiddenFrom(app, by, "sequence.see");
  const bySequence = (from: number, to: number) =>
    new Map([...happened(app.db, from, to)].filter(([id]) => !hidden.has(id)));
  const now = bySequence(starts[1], starts[2]);
  const names = sequenceNames(app.db);
  const sequences = [...now].flatMap(([id, each]) => {
    const name = names.get(id);
    const isStill = Object.values(each).every((many) => many === 0);
    return name === undefined || isStill ? [] : [{ id, name, now: each }];
  });
  return {
    from: textOfDay(first),
    to: textOfDay(first + days - 1),
    now: sumOf(now.values()),
    before: sumOf(bySequence(starts[0], starts[1]).values()),
    sequences: sequences.sort((a, b) => b.now.positive - a.now.positive || b.now.written - a.now.written),
  };
}

function happened(db: Db, from: number, to: number): Map<number, Happened> {
  const counts = Object.entries(COLUMNS)
    .map(([name, column]) => `sum(${column} >= @from AND ${column} < @to) AS ${name}`)
    .join(", ");
  return new Map(
    sql(db, `SELECT sequence_id AS id, ${counts} FROM journey_outcomes GROUP BY sequence_id`)
      .all<Record<keyof Happened, number | null> & { id: number }>({ from, to })
      .map(({ id, ...row }) => [
        id,
        Object.fromEntries(
          Object.entries(row).map(([name, value]) => [name, value ?? 0]),
        ) as unknown as Happened,
      ]),
  );
}

function sumOf(all: Iterable<Happened>): Happened {
  const sum = { ...NOTHING };
  for (const each of all) for (const name of Object.keys(sum) as (keyof Happened)[]) sum[name] += each[name];
  return sum;
}

const sequenceNames = (db: Db): Map<number, string> =>
  new Map(
    sql(db, "SELECT id, name FROM sequences WHERE kind = 'shared' AND deleted_at IS NULL")
      .all<{ id: number; name: string }>([])
      .map(({ id, name }) => [id, name]),
  );
