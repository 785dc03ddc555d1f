/** How many people of each sequence came to what it calls success, where no count of it says so already. */
import type { Goal } from "../../core/sequence/settings.ts";
import { type Db, sql } from "../db/open.ts";

/** Of a sequence: people, each counted once. */
export type GoalCounts = Record<Extract<Goal, "interested" | "won">, number>;

/** Begins with the few who answered or were won, and not with everybody who was written to. */
const FROM: Record<keyof GoalCounts, string> = {
  interested: `replies r JOIN labels l ON l.id = r.label_id AND l.key = 'interested' JOIN touches t ON t.id = r.touch_id
    JOIN journeys j ON j.id = t.journey_id`,
  won: "prospects p JOIN journeys j ON j.prospect_id = p.id AND j.round = 0 WHERE p.stage = 'won' AND p.live = 1",
};

export function goalCounts(db: Db): Map<number, GoalCounts> {
  const counts = new Map<number, GoalCounts>();
  for (const goal of ["interested", "won"] as const)
    for (const { id, people } of sql(
      db,
      `SELECT j.sequence_id AS id, count(DISTINCT j.prospect_id) AS people FROM ${FROM[goal]} GROUP BY j.sequence_id`,
    ).all<{ id: number; people: number }>([]))
      counts.set(id, { interested: 0, won: 0, ...counts.get(id), [goal]: people });
  return counts;
}

/** The count that a sequence goes by. */
export const reachedOf = (
  goal: Goal,
  counts: { replied: number; booked: number; clicked: number } & GoalCounts,
): number =>
  ({
    reply: counts.replied,
    interested: counts.interested,
    meeting: counts.booked,
    click: counts.clicked,
    won: counts.won,
  })[goal];
