/** How many people of each sequence came to what it calls success. */
import type { Figure, Figures } from "../../core/results/figures.ts";
import type { Goal } from "../../core/sequence/settings.ts";
import { type Db, sql } from "../db/open.ts";

const FIGURE_OF: Record<Exclude<Goal, "won">, Figure> = {
  reply: "answered",
  interested: "positive",
  meeting: "booked",
  click: "clicked",
};

/** By sequence, the people who were won: where they stand, and nothing that happened on the way. Begins with these few. */
export function wonCounts(db: Db): Map<number, number> {
  return new Map(
    sql(
      db,
      `SELECT j.sequence_id AS id, count(DISTINCT j.prospect_id) AS people
       FROM prospects p JOIN journeys j ON j.prospect_id = p.id AND j.round = 0
       WHERE p.stage = 'won' AND p.live = 1 GROUP BY j.sequence_id`,
    )
      .all<{ id: number; people: number }>([])
      .map(({ id, people }) => [id, people]),
  );
}

/** The count that a sequence goes by. */
export const cameTo = (goal: Goal, figures: Figures, won: number): number =>
  goal === "won" ? won : figures[FIGURE_OF[goal]];
