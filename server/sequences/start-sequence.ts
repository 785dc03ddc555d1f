import { instantOn, instantOnDay, minutesOf, workingDayNumberAfter } from "../../core/calendar.ts";
import { everyStep, isEmail } from "../../core/sequence/path.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { App, AppTx } from "../app.ts";
import { recordEvent } from "../db/events.ts";
import { sql, transact } from "../db/open.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { checkSequence } from "./check-sequence.ts";
import { considerJourney } from "./consider.ts";
import { type StartCheck, standingSql } from "./start-check.ts";

export interface StartReport {
  /** How everybody of the list stood. */
  counts: StartCheck["counts"];
  started: number;
}

/** Starts a sequence for everybody of its list whom no rule of a start is against. Returns what it did with whom. */
export function startSequence(
  app: App,
  userId: number | null,
  id: number,
  leaveOut: readonly number[] = [],
): Outcome<StartReport> {
  return transact(app, (app): Outcome<StartReport> => {
    const { db } = app;
    const sequence = sequenceById(db, id);
    if (!sequence) return refused({ form: "This sequence no longer exists." });
    const no = mayNot(app, userId, "sequence.change", id);
    if (no) return no;
    if (sequence.listId === null) return refused({ form: "Choose the list that it writes to." });
    if (sequence.mailboxIds.length === 0 && everyStep(sequence.path).some(isEmail))
      return refused({ form: "Choose at least one mailbox to send from." });
    const {
      problems: [problem],
      start: counts,
    } = checkSequence(app, sequence);
    if (problem) return refused({ form: problem.message });
    const people = sql(
      db,
      "SELECT prospect_id AS id FROM list_prospects WHERE list_id = @listId ORDER BY prospect_id",
    ).all<{ id: number }>({ listId: sequence.listId });
    sql(db, "UPDATE sequences SET state = 'running', revision = revision + 1 WHERE id = @id").run({ id });
    const started = startJourneys(
      app,
      userId,
      { ...sequence, state: "running" },
      people.map(({ id: prospectId }) => prospectId).filter((prospectId) => !leaveOut.includes(prospectId)),
    );
    return done({ counts, started: started.length });
  });
}

/**
 * Starts a sequence for those of the people whom no rule of a start is against (core/sending/may-go.ts). `again`: by the rules
 * of a single person, whom the rep chose. Returns whom.
 */
export function startJourneys(
  app: AppTx,
  userId: number | null,
  sequence: Sequence,
  ids: number[],
  { again = false }: { again?: boolean } = {},
): number[] {
  const { db, clock } = app;
  const now = clock.now();
  const first = sequence.path[0];
  if (!first || sequence.deletedAt !== null) return [];
  const { standing, values } = standingSql(again ? "single" : "start", sequence, now);
  const people = sql(
    db,
    `SELECT id, zone FROM (
       SELECT p.id, p.time_zone AS zone, ${standing} AS standing FROM prospects p
       WHERE p.id IN (SELECT value FROM json_each(@ids)) AND p.live = 1)
     WHERE standing = 'ready' ORDER BY id`,
  ).all<{ id: number; zone: string | null }>({ ...values, ids: JSON.stringify(ids) });
  people.forEach(({ id: prospectId, zone }, index) => {
    const since = beginsAt(sequence, zone ?? sequence.zone, index, now);
    const journeyId = Number(
      sql(
        db,
        `INSERT INTO journeys (sequence_id, prospect_id, version, place_id, since, due_at, wake_at, started_at)
         VALUES (@id, @prospectId, @version, @placeId, @since, 0, @since, @now)`,
      ).run({ id: sequence.id, prospectId, version: sequence.version, placeId: first.id, since, now })
        .lastInsertRowid,
    );
    recordEvent(db, { at: now, kind: "journey_started", prospectId, journeyId, userId });
    considerJourney(app, journeyId, now);
  });
  return people.map(({ id }) => id);
}

/** From when on the first wait of the person at `index` counts: not before the start date, and so many people a day. */
function beginsAt({ settings, hours }: Sequence, zone: string, index: number, now: number): number {
  const { startsOn, newADay } = settings;
  const begins = startsOn === null ? now : Math.max(now, instantOn(startsOn, "00:00", zone));
  const later = newADay === null ? 0 : Math.floor(index / newADay);
  return later === 0
    ? begins
    : instantOnDay(workingDayNumberAfter(begins, later, hours.days, zone), minutesOf(hours.opens), zone);
}
