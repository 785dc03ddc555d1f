/** What share each wording of an email takes of whoever comes, as it was decided day by day: kept as it was decided, with why. */
import { z } from "zod";
import type { EmailStep } from "../../core/sequence/path.ts";
import { withShares } from "../../core/sequence/variant-of.ts";
import { type Db, sql } from "./open.ts";

const sharesSchema = z.array(
  z.object({ id: z.string(), weight: z.number(), part: z.number(), whole: z.number() }),
);
/** `weight`: out of a hundred. `part` of `whole`: who wants to talk, of those reached until then. */
export type WordingShare = z.infer<typeof sharesSchema>[number];

export interface SharesOfDay {
  /** "2026-11-30", where the sequence is. */
  day: string;
  shares: WordingShare[];
}

/** The decisions for a step, the latest first. */
export const decidedShares = (db: Db, sequenceId: number, stepId: string): SharesOfDay[] =>
  sql(
    db,
    "SELECT day, shares FROM wording_shares WHERE sequence_id = @sequenceId AND step_id = @stepId ORDER BY day DESC",
  )
    .all<{ day: string; shares: string }>({ sequenceId, stepId })
    .map(({ day, shares }) => ({ day, shares: sharesSchema.parse(JSON.parse(shares)) }));

/** The step as it draws at an instant, in ms; a path that is no sequence's yet draws by its weights. */
export function drawnAt(
  db: Db,
  sequenceId: number | null | undefined,
  step: EmailStep,
  at: number,
): EmailStep {
  if (!step.favoursBetter || !sequenceId) return step;
  const row = sql(
    db,
    `SELECT shares FROM wording_shares WHERE sequence_id = @sequenceId AND step_id = @stepId AND at <= @at
     ORDER BY day DESC LIMIT 1`,
  ).get<{ shares: string }>({ sequenceId, stepId: step.id, at });
  return withShares(
    step,
    row ? new Map(sharesSchema.parse(JSON.parse(row.shares)).map(({ id, weight }) => [id, weight])) : null,
  );
}

/** Keeps a day's decision; whatever was decided for it stands. */
export function keepShares(
  db: Db,
  about: { sequenceId: number; stepId: string; at: number } & SharesOfDay,
): void {
  sql(
    db,
    `INSERT INTO wording_shares (sequence_id, step_id, day, shares, at) VALUES (@sequenceId, @stepId, @day, @shares, @at)
     ON CONFLICT DO NOTHING`,
  ).run({ ...about, shares: JSON.stringify(about.shares) });
}
