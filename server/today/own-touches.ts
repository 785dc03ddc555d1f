/** What only the rep can do: tasks that came up, drafts that wait for a yes, and people held by a colleague's answer. */
import { startOfNextDay } from "../../core/calendar.ts";
import type { RepStep } from "../../core/sequence/path.ts";
import { asWords } from "../../core/writing/document.ts";
import { allowedAmong } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import { whose } from "../accounts/whose.ts";
import type { App } from "../app.ts";
import { AFTER_THE_END, HOLDS_COLLEAGUE } from "../db/journeys.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";
import { stepsEver } from "../db/sequences.ts";
import type { Person } from "./person.ts";

export interface OwnTouch extends Omit<Person, "id"> {
  id: number;
  kind: RepStep["kind"];
  prospectId: number;
  stepName: string;
  sequenceId: number;
  sequenceName: string;
  text: string;
  dueAt: number;
}

export interface Draft {
  id: number;
  prospectId: number;
  name: string;
  company: string;
  stepName: string;
  sequenceName: string;
  recipient: string;
  subject: string;
  /** Markdown, in which merged values are protected. */
  body: string;
  /** What it says. */
  words: string;
  dueAt: number;
}

export interface HeldCompany {
  companyId: number;
  company: string;
  /** Who answered. */
  who: string | null;
  waiting: number;
  /** Those of them who are shown, by name. */
  people: { prospectId: number; name: string; sequence: string }[];
}

/** People of a company that are named one by one. */
const MOST_COLLEAGUES = 12;

const MOST_SHOWN = 60;

const FROM = `FROM touches t JOIN prospects p ON p.id = t.prospect_id JOIN journeys j ON j.id = t.journey_id
  JOIN sequences s ON s.id = j.sequence_id`;
/** A paused sequence asks for nothing. */
const THEIRS = "(@everybody OR t.user_id = @userId) AND s.state = 'running' AND s.deleted_at IS NULL";

const named = (app: App) => {
  const known = new Map<number, ReturnType<typeof stepsEver>>();
  return (sequenceId: number, stepId: string): string => {
    if (stepId === AFTER_THE_END) return "After their answer";
    const steps = known.get(sequenceId) ?? stepsEver(app.db, sequenceId);
    known.set(sequenceId, steps);
    return steps.get(stepId)?.name ?? "A step";
  };
};

/** Tasks due by the end of the user's day, the longest due first, and how many there are. */
export function ownTouches(app: App, user: User): { shown: OwnTouch[]; total: number } {
  const { db, clock } = app;
  const nameOf = named(app);
  const rows = sql(
    db,
    `SELECT count(*) OVER () AS total, t.id, t.kind, p.id AS prospectId,
       ${nameSql()} AS name,
       p.company, p.title, p.phone, p.profile, p.time_zone AS zone, t.step_id AS stepId, s.id AS sequenceId,
       s.name AS sequenceName, t.body AS text, t.due_at AS dueAt
     ${FROM} WHERE t.state IN ('draft', 'approved', 'open') AND t.state = 'open' AND t.account_id IS NULL
       AND t.due_at < @dayEnds AND ${THEIRS}
     ORDER BY t.kind = 'call' DESC, t.due_at, t.id LIMIT ${MOST_SHOWN}`,
  ).all<OwnTouch & { stepId: string; total: number }>({
    ...whose(user),
    dayEnds: startOfNextDay(clock.now(), user.zone),
  });
  return {
    shown: rows.map(({ stepId, total: _, ...row }) => ({ ...row, stepName: nameOf(row.sequenceId, stepId) })),
    total: rows[0]?.total ?? 0,
  };
}

export function draftsToApprove(app: App, user: User): { shown: Draft[]; total: number } {
  const nameOf = named(app);
  const rows = sql(
    app.db,
    `SELECT count(*) OVER () AS total, t.id, p.id AS prospectId, s.id AS sequenceId, t.step_id AS stepId,
       ${nameSql()} AS name, p.company,
       s.name AS sequenceName, coalesce(p.email, '') AS recipient, t.subject, coalesce(t.markup, t.body) AS body, t.due_at AS dueAt
     ${FROM} WHERE t.state IN ('draft', 'approved', 'open') AND t.state = 'draft' AND ${THEIRS}
     ORDER BY t.due_at, t.id LIMIT ${MOST_SHOWN}`,
  ).all<Omit<Draft, "words"> & { stepId: string; sequenceId: number; total: number }>(whose(user));
  return {
    shown: rows.map(({ stepId, sequenceId, total: _, ...row }) => ({
      ...row,
      stepName: nameOf(sequenceId, stepId),
      words: asWords(row.body),
    })),
    total: rows[0]?.total ?? 0,
  };
}

/** Those with somebody's people waiting whom they can let go on. */
export function heldCompanies(app: App, user: User): HeldCompany[] {
  const held = sql(
    app.db,
    `SELECT c.id AS companyId, c.name AS company, h.detail AS who,
       (SELECT count(*) FROM journeys j JOIN prospects p ON p.id = j.prospect_id
        WHERE p.company_id = c.id AND j.state = 'active' AND ${HOLDS_COLLEAGUE}) AS waiting,
       (SELECT json_group_array(json(person)) FROM (SELECT json_object('prospectId', p.id, 'name', ${nameSql()}, 'sequence', s.name) AS person
        FROM journeys j JOIN prospects p ON p.id = j.prospect_id JOIN sequences s ON s.id = j.sequence_id
        WHERE p.company_id = c.id AND j.state = 'active' AND ${HOLDS_COLLEAGUE}
        ORDER BY p.last_name, p.id LIMIT ${MOST_COLLEAGUES})) AS people
     FROM holds h JOIN companies c ON c.id = h.scope_id WHERE h.scope = 'company' AND (@everybody OR EXISTS (
       SELECT 1 FROM journeys j JOIN prospects p ON p.id = j.prospect_id JOIN sequences s ON s.id = j.sequence_id
       WHERE p.company_id = c.id AND j.state = 'active' AND (p.owner_id = @userId OR s.user_id = @userId)))
     ORDER BY h.since DESC`,
  )
    .all<Omit<HeldCompany, "people"> & { people: string }>(whose(user))
    .filter(({ waiting }) => waiting > 0)
    .map((company) => ({ ...company, people: JSON.parse(company.people) as HeldCompany["people"] }));
  const mine = allowedAmong(
    app,
    user.id,
    "company.release",
    held.map(({ companyId }) => companyId),
  );
  return held.filter(({ companyId }) => mine.has(companyId));
}
