/** A look at a sequence's results: whom it is about and what it counts, as the page's address says, and what they come to. */
import { z } from "zod";
import { afterDays, instantOn } from "../../core/calendar.ts";
import { daySchema } from "../../core/day-and-time.ts";
import { STAGES } from "../../core/prospects/stages.ts";
import { CREDITS, GREENS, type Made, type Start } from "../../core/results/credit.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql, type Value } from "../db/open.ts";
import { COURSE } from "../db/outcomes.ts";

const number = z.coerce.number().int().positive().optional().catch(undefined);
const day = daySchema.optional().catch(undefined);

/** What cannot be read narrows nothing. */
export const lookQuery = z.object({
  /** Days on which they were started, where the user is; both belong to it. */
  since: day,
  until: day,
  version: number,
  list: number,
  mailbox: number,
  /** Whose mailbox wrote to them. */
  rep: number,
  country: z.string().length(2).optional().catch(undefined),
  stage: z.enum(STAGES).optional().catch(undefined),
  credit: z.enum(CREDITS).catch("answered"),
  green: z.enum(GREENS).catch("positive"),
});
export type Look = z.infer<typeof lookQuery>;

/** Each narrows the starts that stand as `o` with their journeys as `j`, where the look says so. */
const NARROWS = {
  since: "o.started_at >= @since",
  until: "o.started_at < @until",
  version: "j.version = @version",
  list: "EXISTS (SELECT 1 FROM list_prospects l WHERE l.list_id = @list AND l.prospect_id = j.prospect_id)",
  mailbox: "j.mailbox_id = @mailbox",
  rep: "j.mailbox_id IN (SELECT id FROM mailboxes WHERE user_id = @rep)",
  country: "(SELECT p.country FROM prospects p WHERE p.id = j.prospect_id) = @country",
  stage: "(SELECT p.stage FROM prospects p WHERE p.id = j.prospect_id) = @stage",
} as const satisfies Partial<Record<keyof Look, string>>;

/** The conditions of a look, and their values; `zone`: where its days are. A list that somebody may not see narrows to nobody. */
export function narrowed(
  app: App,
  by: By,
  look: Look,
  zone: string,
): { where: string; values: Record<string, Value> } {
  const { since, until, list } = look;
  const isHidden = list !== undefined && hiddenFrom(app, by, "list.see").has(list);
  const values: Record<string, Value> = {};
  for (const [name, value] of Object.entries(look)) if (value !== undefined) values[name] = value;
  if (since) values.since = instantOn(since, "00:00", zone);
  if (until) values.until = afterDays(instantOn(until, "00:00", zone), 1, zone);
  if (isHidden) values.list = 0;
  const conditions = Object.entries(NARROWS).flatMap(([name, condition]) =>
    look[name as keyof typeof NARROWS] === undefined ? [] : [condition],
  );
  return { where: conditions.map((condition) => ` AND ${condition}`).join(""), values };
}

const TOUCH = `t.journey_id AS journeyId, t.touch_id AS touchId, t.step_id AS stepId, t.version, t.variant_id AS variantId, t.kind,
  t.mailbox_id AS mailboxId, t.at, t.reached_at AS reachedAt, t.bounced_at AS bouncedAt, t.answered_at AS answeredAt,
  t.positive_at AS positiveAt, t.opened_at AS openedAt, t.clicked_at AS clickedAt`;

export interface Material {
  starts: Start[];
  touches: Made[];
}

/** The starts on a sequence that a look is about, and what was made for them. */
export function materialOf(app: App, by: By, sequenceId: number, look: Look, zone: string): Material {
  const { where, values } = narrowed(app, by, look, zone);
  const starts = sql(
    app.db,
    `SELECT o.journey_id AS id, j.version, ${COURSE} FROM journey_outcomes o JOIN journeys j ON j.id = o.journey_id
     WHERE o.sequence_id = @sequenceId${where}`,
  ).all<Start>({ ...values, sequenceId });
  const touches = sql(
    app.db,
    `SELECT ${TOUCH} FROM touch_outcomes t WHERE t.sequence_id = @sequenceId`,
  ).all<Made>({ sequenceId });
  if (where === "") return { starts, touches };
  const ids = new Set(starts.map(({ id }) => id));
  return { starts, touches: touches.filter(({ journeyId }) => ids.has(journeyId)) };
}
