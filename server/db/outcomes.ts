/**
 * What came of starts and touches, kept beside the events it follows from: triggers note whose is to be made anew, and whoever
 * reads makes it first. A sequence's sums hold until something happens to somebody on it.
 */
import { FIGURE_NAMES, FIGURES, type Figures, type Instant } from "../../core/results/figures.ts";
import { HAPPENED, HAPPENED_NAMES, type Happened, happenedTogether } from "../../core/results/happened.ts";
import type { Brought } from "../../core/results/worked.ts";
import { isBusy } from "../errors.ts";
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

/** A course's instants by their columns, of the table that stands as `o`. */
export const COURSE_COLUMNS = Object.fromEntries(
  Object.entries(COLUMNS).map(([name, column]) => [name, `o.${column}`]),
) as Record<Instant, string>;

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
  return new Map(
    [...outcomeRevisions(db)]
      .map(([id, number]): [number, Figures] => [
        id,
        keptCount(db, `figures ${id}`, String(number), () => sumOfSequence(db, id)),
      ])
      .filter(([, { started }]) => started > 0),
  );
}

/** By sequence the number that changes whenever anything came of it: what was worked out of it holds until then. */
export function outcomeRevisions(db: Db): Map<number, number> {
  keepOutcomes(db);
  return new Map(
    sql(db, "SELECT sequence_id AS id, number FROM outcome_revisions")
      .all<{ id: number; number: number }>([])
      .map(({ id, number }) => [id, number]),
  );
}

/** Changes whenever anything came of any start. */
export const outcomesTruth = (db: Db): string =>
  String([...outcomeRevisions(db).values()].reduce((sum, each) => sum + each, 0));

const sumOfSequence = (db: Db, id: number): Figures =>
  sql(db, `SELECT ${SUMS} FROM journey_outcomes o WHERE o.sequence_id = @id`).get<Figures>({ id }) as Figures;

/** The same of those starts only that the conditions leave, of the table as `o`. */
export function figuresOfEach(
  db: Db,
  where: string,
  values: Readonly<Record<string, Value>>,
): Map<number, Figures> {
  keepOutcomes(db);
  return new Map(
    sql(
      db,
      `SELECT o.sequence_id AS id, ${SUMS} FROM journey_outcomes o WHERE 1${where} GROUP BY o.sequence_id`,
    )
      .all<Figures & { id: number }>(values)
      .map(({ id, ...figures }) => [id, figures]),
  );
}

/** Whose a start is, of the table as `o`: whose mailbox writes to them, or else whose sequence it is. */
export const OWNER_OF_START = `coalesce((SELECT user_id FROM mailboxes WHERE id = o.mailbox_id),
  (SELECT user_id FROM sequences WHERE id = o.sequence_id))`;

export function happenedBy(
  db: Db,
  by: "sequence" | "owner",
  from: number,
  to = Number.MAX_SAFE_INTEGER,
): Map<number, Happened> {
  keepOutcomes(db);
  const id = by === "owner" ? OWNER_OF_START : "o.sequence_id";
  // Each by an index of its own.
  const each = HAPPENED_NAMES.map((name) => {
    const at = COURSE_COLUMNS[HAPPENED[name][0]];
    return `SELECT ${id} AS id, '${name}' AS name, count(*) AS many FROM journey_outcomes o
      WHERE ${at} >= @from AND ${at} < @to GROUP BY 1`;
  });
  const found = new Map<number, Happened>();
  for (const { id, name, many } of sql(db, each.join(" UNION ALL ")).all<{
    id: number;
    name: keyof Happened;
    many: number;
  }>({ from, to })) {
    const happened = found.get(id) ?? happenedTogether([]);
    found.set(id, happened);
    happened[name] = many;
  }
  return found;
}

/** The figures of a list's people, by sequence. */
export function figuresOfList(db: Db, listId: number): Map<number, Figures> {
  keepOutcomes(db);
  return new Map(
    sql(
      db,
      `SELECT o.sequence_id AS id, ${SUMS} FROM list_prospects lp JOIN journeys j ON j.prospect_id = lp.prospect_id
       JOIN journey_outcomes o ON o.sequence_id = j.sequence_id AND o.journey_id = j.id
       WHERE lp.list_id = @listId GROUP BY o.sequence_id`,
    )
      .all<Figures & { id: number }>({ listId })
      .map(({ id, ...figures }) => [id, figures]),
  );
}

/** What a wording of a version's email brought: answers are owed to the touch they answer (core/results/credit.ts). */
export interface WordingOutcome extends Brought {
  /** Null: of a time before versions were noted. */
  version: number | null;
  stepId: string;
  variantId: string | null;
}

export function wordingOutcomes(db: Db, sequenceId: number): WordingOutcome[] {
  const owed = (at: "answered_at" | "positive_at") =>
    `SELECT coalesce(
       (SELECT touch_id FROM touch_outcomes n WHERE n.sequence_id = o.sequence_id AND n.journey_id = o.journey_id
          AND n.${at} = o.${at} AND n.at <= o.${at} ORDER BY n.at, n.touch_id LIMIT 1),
       (SELECT touch_id FROM touch_outcomes n WHERE n.sequence_id = o.sequence_id AND n.journey_id = o.journey_id
          AND n.at <= o.${at} ORDER BY n.at DESC, n.touch_id DESC LIMIT 1))
     FROM journey_outcomes o WHERE o.sequence_id = @sequenceId AND o.${at} IS NOT NULL`;
  return sql(
    db,
    `SELECT version, step_id AS stepId, variant_id AS variantId, count(*) AS reached,
       sum(touch_id IN (${owed("answered_at")})) AS answered, sum(touch_id IN (${owed("positive_at")})) AS positive
     FROM touch_outcomes WHERE sequence_id = @sequenceId AND reached_at IS NOT NULL AND kind IN ('email', 'approved_email')
     GROUP BY version, step_id, variant_id`,
  ).all<WordingOutcome>({ sequenceId });
}

/** So many are made in one transaction: nobody who writes waits for all of a great start. */
const AT_ONCE = 1_000;

/**
 * Makes what is due. The engine does so with every tick, so that little is left to whoever looks. Where another writes for
 * long, what was there before serves.
 */
export function keepOutcomes(db: Db): void {
  const due = sql(db, `SELECT journey_id AS id FROM outcomes_due LIMIT ${AT_ONCE}`);
  try {
    for (let ids = due.all<{ id: number }>([]); ids.length > 0; ids = due.all<{ id: number }>([]))
      transact({ db }, ({ db }) => {
        const values = { ids: JSON.stringify(ids.map(({ id }) => id)) };
        const among = "journey_id IN (SELECT value FROM json_each(@ids))";
        sql(
          db,
          `DELETE FROM touch_outcomes WHERE (sequence_id, journey_id) IN
             (SELECT j.sequence_id, j.id FROM json_each(@ids) i JOIN journeys j ON j.id = i.value)`,
        ).run(values);
        sql(db, `INSERT INTO touch_outcomes SELECT * FROM touch_outcomes_now WHERE ${among}`).run(values);
        sql(
          db,
          `INSERT OR REPLACE INTO journey_outcomes SELECT * FROM journey_outcomes_now WHERE ${among}`,
        ).run(values);
        sql(db, `DELETE FROM outcomes_due WHERE ${among}`).run(values);
      });
  } catch (error) {
    if (!isBusy(error)) throw error;
  }
}

/** Makes everything anew from the touches and events: what is kept is the same (server/results/outcomes.test.ts). */
export function rebuildOutcomes(db: Db): { journeys: number; touches: number } {
  return transact({ db }, ({ db }) => {
    db.exec("DELETE FROM touch_outcomes; DELETE FROM journey_outcomes; DELETE FROM outcomes_due");
    const made = (table: string) =>
      sql(db, `INSERT INTO ${table} SELECT * FROM ${table}_now`).run([]).changes;
    return { touches: made("touch_outcomes"), journeys: made("journey_outcomes") };
  });
}
