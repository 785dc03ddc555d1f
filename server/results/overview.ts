/** The results of all sequences that somebody may see: each one's figures, their senders, and weeks. */
import { DAY, dayNumberOf, startOfDay, textOfDay } from "../../core/calendar.ts";
import { driftOf } from "../../core/results/drift.ts";
import { FIGURE_NAMES, type Figures, NO_FIGURES } from "../../core/results/figures.ts";
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
  const all = { ...NO_FIGURES };
  for (const { figures } of lines) for (const name of FIGURE_NAMES) all[name] += figures[name];
  return { lines, all };
}

export interface SenderLine {
  mailboxId: number;
  address: string;
  ownerName: string;
  /** By week, each by its Monday, the oldest first: emails made, those that came back, and those that were answered. */
  weeks: { day: string; made: number; bounced: number; answered: number }[];
  made: number;
  bounced: number;
  answered: number;
  /** Since the week of this day more come back, or fewer answer, than before; null: nothing says so. */
  drift: { of: "bounced" | "answered"; since: string } | null;
}

/** Odds of what is looked for against what was usual, and how much has to come together: about one false alarm in two years of weeks. */
const BOUNCED = { oddsTimes: 2.5, threshold: 4 };
const SILENT = { oddsTimes: 2, threshold: 5 };
/** What is usual, as far as so few weeks can tell. */
const USUAL_WEEKS = 4;
const LEAST_USUAL = 80;
const FEW_BOUNCES = 0.01;

export function senders(app: App, zone: string): SenderLine[] {
  const { db, clock } = app;
  keepOutcomes(db);
  const now = clock.now();
  const first = mondayOf(dayNumberOf(now, zone)) - 7 * (WEEKS_SHOWN - 1);
  const from = startOfDay(first * DAY + DAY / 2, zone);
  const mailboxes = sql(
    db,
    `SELECT m.id AS mailboxId, m.address, u.name AS ownerName FROM mailboxes m JOIN users u ON u.id = m.user_id
     WHERE m.removed_at IS NULL ORDER BY m.address`,
  ).all<Pick<SenderLine, "mailboxId" | "address" | "ownerName">>([]);
  // Week by week: grouping what is read in order would sort it once more.
  const weekOf = sql(
    db,
    `SELECT count(*) AS made, count(bounced_at) AS bounced, count(answered_at) AS answered
     FROM touch_outcomes WHERE mailbox_id = @mailboxId AND at >= @from AND at < @from + ${7 * DAY}`,
  );
  return mailboxes
    .map((mailbox): SenderLine => {
      const weeks = Array.from({ length: WEEKS_SHOWN }, (_, week) => ({
        day: textOfDay(first + 7 * week),
        ...(weekOf.get<Record<"made" | "bounced" | "answered", number>>({
          mailboxId: mailbox.mailboxId,
          from: from + week * 7 * DAY,
        }) ?? { made: 0, bounced: 0, answered: 0 }),
      }));
      const sum = (of: "made" | "bounced" | "answered") => weeks.reduce((all, week) => all + week[of], 0);
      return {
        ...mailbox,
        weeks,
        ...{ made: sum("made"), bounced: sum("bounced"), answered: sum("answered") },
        drift: driftOfWeeks(weeks, first),
      };
    })
    .filter(({ made }) => made > 0);
}

/** Against the first weeks in which enough was sent; the last week's answers are still on their way. */
function driftOfWeeks(weeks: SenderLine["weeks"], first: number): SenderLine["drift"] {
  const begins = weeks.findIndex(({ made }) => made > 0);
  if (begins < 0) return null;
  const before = weeks.slice(begins, begins + USUAL_WEEKS);
  const made = before.reduce((sum, week) => sum + week.made, 0);
  if (made < LEAST_USUAL) return null;
  const later = weeks.slice(begins + USUAL_WEEKS);
  const dayOf = (week: number) => textOfDay(first + 7 * (begins + USUAL_WEEKS + week));
  const bounced = driftOf(
    later.map((week) => ({ part: week.bounced, whole: week.made })),
    { usual: Math.max(FEW_BOUNCES, before.reduce((sum, week) => sum + week.bounced, 0) / made), ...BOUNCED },
  );
  if (bounced.alarmAt !== null) return { of: "bounced", since: dayOf(bounced.since ?? bounced.alarmAt) };
  const answered = before.reduce((sum, week) => sum + week.answered, 0) / made;
  if (answered === 0) return null;
  const silent = driftOf(
    later.slice(0, -1).map((week) => ({ part: week.made - week.answered, whole: week.made })),
    { usual: 1 - answered, ...SILENT },
  );
  return silent.alarmAt === null ? null : { of: "answered", since: dayOf(silent.since ?? silent.alarmAt) };
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
export function cohorts(app: App, by: By, sequenceId: number | null, zone: string): WeekLine[] {
  keepOutcomes(app.db);
  const first = mondayOf(dayNumberOf(app.clock.now(), zone)) - 7 * (WEEKS_SHOWN - 1);
  const from = startOfDay(first * DAY + DAY / 2, zone);
  const hidden = [...hiddenFrom(app, by, "sequence.see")];
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
     FROM journey_outcomes o WHERE o.started_at >= @from AND o.started_at < @from + ${7 * DAY}${among}`,
  );
  return Array.from({ length: WEEKS_SHOWN }, (_, nth) => ({
    day: textOfDay(first + 7 * nth),
    ...(week.get<Omit<WeekLine, "day">>({
      from: from + nth * 7 * DAY,
      ...(sequenceId !== null ? { sequenceId } : hidden.length > 0 ? { hidden: JSON.stringify(hidden) } : {}),
    }) ?? { started: 0, reached: 0, answered: 0, positive: 0, booked: 0 }),
  }));
}
