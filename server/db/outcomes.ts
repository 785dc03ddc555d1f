/**
 * What came of starts and touches, as the triggers of the database keep it. A sequence's sums hold until something happens
 * to somebody on it; where nothing else is asked they come from here.
 */
import { FIGURE_NAMES, FIGURES, type Figures, type Instant } from "../../core/results/figures.ts";
import { keptCount } from "./kept-counts.ts";
import { type Db, sql, transact, type Value } from "./open.ts";

/** A course's instants as columns of journey_outcomes. */
const COLUMNS: Record<Instant, string> = {
  startedAt: "started_at",
  endedAt: "ended_at",
  stoppedAt: "stopped_at",
  writtenAt: "written_at",
  reachedAt: "reached_at",
  bouncedAt: "bounced_at",
  answeredAt: "answered_at",
  positiveAt: "positive_at",
  bookedAt: "booked_at",
  optedOutAt: "opted_out_at",
  openedAt: "opened_at",
  clickedAt: "clicked_at",
};

/** A course's instants, each by its name, of the table that stands as `o`. */
export const COURSE = Object.entries(COLUMNS)
  .map(([name, column]) => `o.${column} AS ${name}`)
  .join(", ");

/** Whether a start counts in a figure, of the table that stands as `o`. */
const condition = (name: keyof Figures): string =>
  [
    ...FIGURES[name].has.map((at) => `o.${COLUMNS[at]} IS NOT NULL`),
    ...FIGURES[name].lacks.map((at) => `o.${COLUMNS[at]} IS NULL`),
  ].join(" AND ");

/** Every figure as a sum over the rows that are looked at. */
const SUMS = FIGURE_NAMES.map((name) => `coalesce(sum(${condition(name)}), 0) AS ${name}`).join(", ");

/** The figures of each sequence that anybody was started on. */
export function figuresBySequence(db: Db): Map<number, Figures> {
  const revisions = sql(db, "SELECT sequence_id AS id, number FROM outcome_revisions").all<{
    id: number;
    number: number;
  }>([]);
  return new Map(
    revisions
      .map(({ id, number }): [number, Figures] => [
        id,
        keptCount(db, `figures ${id}`, String(number), () => sumOfSequence(db, id)),
      ])
      .filter(([, { started }]) => started > 0),
  );
}

const sumOfSequence = (db: Db, id: number): Figures =>
  sql(db, `SELECT ${SUMS} FROM journey_outcomes o WHERE o.sequence_id = @id`).get<Figures>({ id }) as Figures;

/** The same of those starts only that the conditions leave, of the table as `o` with its journeys as `j`. */
export const figuresOfEach = (
  db: Db,
  where: string,
  values: Readonly<Record<string, Value>>,
): Map<number, Figures> =>
  new Map(
    sql(
      db,
      `SELECT o.sequence_id AS id, ${SUMS} FROM journey_outcomes o JOIN journeys j ON j.id = o.journey_id
       WHERE 1${where} GROUP BY o.sequence_id`,
    )
      .all<Figures & { id: number }>(values)
      .map(({ id, ...figures }) => [id, figures]),
  );

/** Makes everything anew from the touches and events: what the triggers keep is the same (docs/results.md). */
export function rebuildOutcomes(db: Db): { journeys: number; touches: number } {
  return transact({ db }, ({ db }) => {
    db.exec("DELETE FROM touch_outcomes; DELETE FROM journey_outcomes");
    const made = (table: string) =>
      sql(db, `INSERT INTO ${table} SELECT * FROM ${table}_now`).run([]).changes;
    return { touches: made("touch_outcomes"), journeys: made("journey_outcomes") };
  });
}
