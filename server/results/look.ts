/** A look at a sequence's results: whom it is about and what it counts, as the page's address says, and what they come to. */
import { z } from "zod";
import { afterDays, instantOn } from "../../core/calendar.ts";
import { daySchema } from "../../core/day-and-time.ts";
import { STAGES } from "../../core/prospects/stages.ts";
import { CREDITS, GREENS, type Made, type Start, touchesByStart } from "../../core/results/credit.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql, type Value } from "../db/open.ts";
import { COURSE_COLUMNS, keepOutcomes } from "../db/outcomes.ts";

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

export interface Material {
  starts: Start[];
  /** By start, each in the order in which they were made. */
  touches: ReadonlyMap<number, Made[]>;
}

/** As one JSON text of arrays, which is read four times as fast as so many rows. */
const rowsOf = (columns: Record<string, string>) =>
  `json_group_array(json_array(${Object.values(columns).join(", ")}))`;

const STARTED = { id: "o.journey_id", version: "o.version", ...COURSE_COLUMNS };
const MADE = {
  ...{
    journeyId: "t.journey_id",
    touchId: "t.touch_id",
    stepId: "t.step_id",
    version: "t.version",
    variantId: "t.variant_id",
    kind: "t.kind",
  },
  ...{ at: "t.at", reachedAt: "t.reached_at", bouncedAt: "t.bounced_at", answeredAt: "t.answered_at" },
  ...{ positiveAt: "t.positive_at", openedAt: "t.opened_at", clickedAt: "t.clicked_at" },
};

/** The starts on a sequence that a look is about, and what was made for them. */
export function materialOf(app: App, by: By, sequenceId: number, look: Look, zone: string): Material {
  keepOutcomes(app.db);
  const { where, values } = narrowed(app, by, look, zone);
  const all = <T>(columns: Record<string, string>, from: string): T[] => {
    const text = sql(app.db, `SELECT ${rowsOf(columns)} AS rows FROM ${from}`).get<{ rows: string }>({
      ...values,
      sequenceId,
    });
    const names = Object.keys(columns);
    return (JSON.parse(text?.rows ?? "[]") as unknown[][]).map((row) => {
      const each: Record<string, unknown> = {};
      for (const [nth, name] of names.entries()) each[name] = row[nth];
      return each as T;
    });
  };
  const joined = where === "" ? "" : " JOIN journeys j ON j.id = o.journey_id";
  const starts = all<Start>(STARTED, `journey_outcomes o${joined} WHERE o.sequence_id = @sequenceId${where}`);
  const wanted = where === "" ? null : new Set(starts.map(({ id }) => id));
  const touches = all<Made>(MADE, "touch_outcomes t WHERE t.sequence_id = @sequenceId");
  return {
    starts,
    touches: touchesByStart(wanted ? touches.filter(({ journeyId }) => wanted.has(journeyId)) : touches),
  };
}
