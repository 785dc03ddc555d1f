/** Holds: a journey waits until something changes or a time is over. */
import {
  dayNumberFrom,
  instantOnDay,
  minutesOf,
  weekdayOn,
  workingDayNumberAfter,
} from "../../core/calendar.ts";
import type { StopSettings } from "../../core/replies/consequences.ts";
import { isLabel } from "../../core/replies/labels.ts";
import { awaitedLabels } from "../../core/sequence/awaited-labels.ts";
import { AFTER_THE_END, HOLDS_COLLEAGUE } from "./journeys.ts";
import { type Db, sql, type Value } from "./open.ts";
import { pathOfVersion, sequenceById, settingsOf } from "./sequences.ts";

export type HoldReason =
  | "paused_by_rep"
  | "colleague_replied"
  | "away"
  | "came_back_twice"
  | "challenged"
  | "refused_by_host"
  | "after_restore";

export interface NewHold {
  scope: "journey" | "prospect" | "company";
  scopeId: number;
  reason: HoldReason;
  detail: string | null;
  since: number;
  until: number | null;
  causeProspectId: number | null;
}

/** Sets a hold; of the same reason the later end counts. */
export function setHold(db: Db, hold: NewHold): void {
  // Not an upsert: inside one SQLite lets no trigger pass over what it has already (https://www.sqlite.org/lang_upsert.html).
  const longer = sql(
    db,
    `UPDATE holds SET detail = @detail, until = CASE WHEN until IS NULL OR @until IS NULL THEN NULL ELSE max(until, @until) END
     WHERE scope = @scope AND scope_id = @scopeId AND reason = @reason`,
  ).run(hold).changes;
  if (longer > 0) return;
  sql(
    db,
    `INSERT INTO holds (scope, scope_id, reason, detail, since, until, cause_prospect_id)
     VALUES (@scope, @scopeId, @reason, @detail, @since, @until, @causeProspectId)`,
  ).run(hold);
}

export function liftHold(db: Db, hold: Pick<NewHold, "scope" | "scopeId" | "reason">, at: number): boolean {
  const one = "scope = @scope AND scope_id = @scopeId AND reason = @reason";
  recordReleases(db, one, { ...hold, at });
  return sql(db, `DELETE FROM holds WHERE ${one}`).run(hold).changes > 0;
}

/** Ends the holds whose time is over. */
export function endHolds(db: Db, at: number): void {
  if (sql(db, "SELECT 1 FROM holds WHERE until <= @at LIMIT 1").get({ at }) === undefined) return;
  recordReleases(db, "until <= @at", { at });
  sql(db, "DELETE FROM holds WHERE until <= @at").run({ at });
}

/** Writes down for everybody held that a hold is over; what sets one is written down by a trigger. */
function recordReleases(db: Db, which: string, values: Record<string, Value>): void {
  sql(
    db,
    `INSERT INTO decisions (journey_id, at, node_id, kind, outcome)
     SELECT j.id, @at, coalesce(j.place_id, ''), 'release', h.reason FROM (SELECT * FROM holds WHERE ${which}) h
     JOIN prospects p ON (h.scope = 'prospect' AND p.id = h.scope_id) OR (${HOLDS_COLLEAGUE}) OR (h.scope = 'journey' AND p.id = (SELECT prospect_id FROM journeys WHERE id = h.scope_id))
     JOIN journeys j ON j.prospect_id = p.id AND j.state = 'active' AND (h.scope != 'journey' OR j.id = h.scope_id)`,
  ).run(values);
}

interface Going {
  journeyId: number;
  sequenceId: number;
  zone: string | null;
}

const going = (db: Db, prospectId: number): Going | undefined =>
  sql(
    db,
    `SELECT j.id AS journeyId, j.sequence_id AS sequenceId, p.time_zone AS zone FROM journeys j
     JOIN prospects p ON p.id = j.prospect_id WHERE j.prospect_id = @prospectId AND j.state = 'active'`,
  ).get<Going>({ prospectId });

/**
 * What the sequence that somebody is on says about stops, else the one of the journey that it is about: a reply has
 * stopped that before it gets its label. Undefined if there is neither.
 */
export function settingsFor(
  db: Db,
  prospectId: number,
  journeyId: number | null = null,
): StopSettings | undefined {
  const row = sql(
    db,
    `SELECT s.id, s.settings, j.version, j.place_id AS placeId FROM journeys j JOIN sequences s ON s.id = j.sequence_id
     WHERE j.prospect_id = @prospectId AND (j.state = 'active' OR j.id = @journeyId) ORDER BY j.state != 'active' LIMIT 1`,
  ).get<{ id: number; settings: string; version: number; placeId: string | null }>({ prospectId, journeyId });
  if (!row) return undefined;
  const settings = settingsOf(row.settings);
  return {
    ...settings,
    awaits: (label) =>
      isLabel(label) &&
      awaitedLabels(pathOfVersion(db, row.id, row.version), row.placeId, {
        goesOnAfterReply: !settings.stops.reply,
      }).has(label),
  };
}

/** Leaves somebody who is away alone for some working days of their sequence, where they are. */
export function leaveAlone(db: Db, prospectId: number, days: number, at: number): void {
  const journey = going(db, prospectId);
  const sequence = journey && sequenceById(db, journey.sequenceId);
  if (!sequence) return;
  const { hours } = sequence;
  const zone = journey.zone ?? sequence.zone;
  const until = instantOnDay(workingDayNumberAfter(at, days, hours.days, zone), minutesOf(hours.opens), zone);
  setHold(db, {
    scope: "prospect",
    scopeId: prospectId,
    reason: "away",
    detail: null,
    since: at,
    until,
    causeProspectId: null,
  });
}

/** Leaves somebody alone until the morning after a day that they named, "YYYY-MM-DD", where they are. */
export function leaveUntil(db: Db, prospectId: number, day: string, at: number): void {
  const journey = going(db, prospectId);
  const sequence = journey && sequenceById(db, journey.sequenceId);
  const days = sequence?.hours.days ?? [1, 2, 3, 4, 5];
  const zone =
    journey?.zone ??
    sequence?.zone ??
    sql(db, "SELECT time_zone AS zone FROM prospects WHERE id = @prospectId").get<{ zone: string | null }>({
      prospectId,
    })?.zone ??
    "UTC";
  let next = dayNumberFrom(day) + 1;
  while (!days.includes(weekdayOn(next))) next++;
  const until = instantOnDay(next, minutesOf(sequence?.hours.opens ?? "08:00"), zone);
  const hold = { scope: "prospect", scopeId: prospectId, reason: "away" } as const;
  // What they say now counts, also where it is earlier than what was said before.
  liftHold(db, hold, at);
  if (until > at) setHold(db, { ...hold, detail: day, since: at, until, causeProspectId: null });
}

/** Lets the people of a company go on whom this prospect's answer holds. */
export function releaseCompanyOf(db: Db, prospectId: number, at: number): void {
  const company = sql(
    db,
    `SELECT h.scope_id AS id FROM holds h WHERE h.scope = 'company' AND h.reason = 'colleague_replied' AND h.cause_prospect_id = @prospectId`,
  ).get<{ id: number }>({ prospectId });
  if (company) liftHold(db, { scope: "company", scopeId: company.id, reason: "colleague_replied" }, at);
}

/** Lets one person go on whom a colleague's answer holds, while the others of the company wait. */
export function letGo(
  db: Db,
  { companyId, prospectId, at }: { companyId: number; prospectId: number; at: number },
): void {
  const held = sql(
    db,
    `SELECT h.id FROM holds h JOIN prospects p ON p.id = @prospectId WHERE h.scope_id = @companyId AND ${HOLDS_COLLEAGUE}`,
  ).get<{ id: number }>({ companyId, prospectId });
  if (!held) return;
  sql(
    db,
    `INSERT INTO decisions (journey_id, at, node_id, kind, outcome)
     SELECT id, @at, coalesce(place_id, ''), 'release', 'colleague_replied' FROM journeys WHERE prospect_id = @prospectId AND state = 'active'`,
  ).run({ prospectId, at });
  sql(db, "INSERT INTO let_go (hold_id, prospect_id, at) VALUES (@id, @prospectId, @at)").run({
    id: held.id,
    prospectId,
    at,
  });
}

/** Holds the other people of a company; whoever was let go on waits again if it is somebody else who answers. One without a domain of its own, such as a free-mail provider's, is none. */
export function holdCompany(db: Db, prospectId: number, at: number): void {
  const company = sql(
    db,
    `SELECT c.id, trim(p.first_name || ' ' || p.last_name) AS name FROM prospects p JOIN companies c ON c.id = p.company_id
     WHERE p.id = @prospectId AND c.domain IS NOT NULL AND NOT is_free_mail(c.domain)`,
  ).get<{ id: number; name: string }>({ prospectId });
  if (!company) return;
  sql(
    db,
    `DELETE FROM let_go WHERE hold_id IN (SELECT id FROM holds WHERE scope = 'company' AND scope_id = @id
       AND reason = 'colleague_replied' AND cause_prospect_id IS NOT @prospectId)`,
  ).run({ id: company.id, prospectId });
  setHold(db, {
    scope: "company",
    scopeId: company.id,
    reason: "colleague_replied",
    detail: company.name || null,
    since: at,
    until: null,
    causeProspectId: prospectId,
  });
}

/** An errand that a sequence asks of the rep once somebody booked or wants to talk; `journeyId`: the one that they did so in. */
export function addErrand(
  db: Db,
  {
    prospectId,
    journeyId,
    text,
    at,
  }: { prospectId: number; journeyId: number | null; text: string; at: number },
): void {
  const id = going(db, prospectId)?.journeyId ?? journeyId;
  if (id === null) return;
  sql(
    db,
    `INSERT INTO touches (kind, journey_id, step_id, prospect_id, user_id, state, at, due_at, body)
     SELECT 'errand', j.id, '${AFTER_THE_END}', p.id, coalesce(p.owner_id, s.user_id), 'open', @at, @at, @text
     FROM journeys j JOIN sequences s ON s.id = j.sequence_id JOIN prospects p ON p.id = j.prospect_id
     WHERE j.id = @journeyId ON CONFLICT (journey_id, step_id) DO NOTHING`,
  ).run({ journeyId: id, at, text });
}
