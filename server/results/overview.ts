/** The results of all sequences that somebody may see: each one's figures, and weeks. */
import { DAY, dayNumberOf, startOfDay, textOfDay } from "../../core/calendar.ts";
import { type Figures, figuresTogether, NO_FIGURES } from "../../core/results/figures.ts";
import { mondayOf, WEEKS_SHOWN } from "../../core/results/weeks.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { figuresOfEach, keepOutcomes } from "../db/outcomes.ts";
import { listSequences, type SequenceSummary } from "../sequences/list-sequences.ts";
import { type Look, narrowed } from "./look.ts";

export interface SequenceLine extends Pick<SequenceSummary, "id" | "name" | "ownerName" | "state" | "goal"> {
  figures: Figures;
}

/** Every sequence that anybody in the look was started on, and all of them together. */
export function overview(
  app: App,
  by: By,
  look: Look,
  zone: string,
): { lines: SequenceLine[]; all: Figures } {
  const { where, values } = narrowed(app, by, look, zone);
  const narrowedFigures = where === "" ? null : figuresOfEach(app.db, where, values);
  const lines = listSequences(app, by)
    .map(
      ({ id, name, ownerName, state, goal, figures }): SequenceLine => ({
        ...{ id, name, ownerName, state, goal },
        figures: narrowedFigures ? (narrowedFigures.get(id) ?? NO_FIGURES) : figures,
      }),
    )
    .filter(({ figures }) => figures.started > 0);
  return { lines, all: figuresTogether(lines.map(({ figures }) => figures)) };
}

export interface WeekLine {
  /** Its Monday. */
  day: string;
  started: number;
  reached: number;
  answered: number;
  positive: number;
  booked: number;
}

/** By week of the start, the oldest first: what came of it until now. */
export function cohorts(app: App, by: By, sequenceId: number | null, look: Look, zone: string): WeekLine[] {
  keepOutcomes(app.db);
  const first = mondayOf(dayNumberOf(app.clock.now(), zone)) - 7 * (WEEKS_SHOWN - 1);
  const from = startOfDay(first * DAY + DAY / 2, zone);
  const hidden = [...hiddenFrom(app, by, "sequence.see")];
  const { where, values } = narrowed(app, by, look, zone);
  const among =
    sequenceId !== null
      ? " AND o.sequence_id = @sequenceId"
      : hidden.length > 0
        ? " AND o.sequence_id NOT IN (SELECT value FROM json_each(@hidden))"
        : "";
  const week = sql(
    app.db,
    `SELECT count(*) AS started, count(o.reached_at) AS reached, count(o.answered_at) AS answered,
       count(o.positive_at) AS positive, count(o.booked_at) AS booked
     FROM journey_outcomes o WHERE o.started_at >= @from AND o.started_at < @from + ${7 * DAY}${among}${where}`,
  );
  return Array.from({ length: WEEKS_SHOWN }, (_, nth) => ({
    day: textOfDay(first + 7 * nth),
    ...(week.get<Omit<WeekLine, "day">>({
      ...values,
      from: from + nth * 7 * DAY,
      ...(sequenceId !== null ? { sequenceId } : hidden.length > 0 ? { hidden: JSON.stringify(hidden) } : {}),
    }) ?? { started: 0, reached: 0, answered: 0, positive: 0, booked: 0 }),
  }));
}
