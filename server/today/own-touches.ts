/** What only the rep can do: tasks that came up, drafts that wait for a yes, and people held by a colleague's answer. */
import { z } from "zod";
import {
  instantOn,
  instantOnDay,
  minutesOf,
  startOfNextDay,
  workingDayNumberAfter,
} from "../../core/calendar.ts";
import { MAX_BODY, MAX_SUBJECT } from "../../core/sequence/limits.ts";
import type { RepStep } from "../../core/sequence/path.ts";
import { allowedAmong, type By, mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import { whose } from "../accounts/whose.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { recordChange } from "../db/changes.ts";
import { recordEvent } from "../db/events.ts";
import { liftHold } from "../db/holds.ts";
import { AFTER_THE_END } from "../db/journeys.ts";
import { nameSql } from "../db/names.ts";
import { sql, transact } from "../db/open.ts";
import { addReminder } from "../db/reminders.ts";
import { stepsEver } from "../db/sequences.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
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
  body: string;
  dueAt: number;
}

export interface HeldCompany {
  companyId: number;
  company: string;
  /** Who answered. */
  who: string | null;
  waiting: number;
}

const MOST_SHOWN = 60;

const FROM = `FROM touches t JOIN prospects p ON p.id = t.prospect_id JOIN journeys j ON j.id = t.journey_id
  JOIN sequences s ON s.id = j.sequence_id`;
/** A manager sees everybody's. A paused sequence asks for nothing. */
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
  const rows = sql<Record<string, unknown>, OwnTouch & { stepId: string; total: number }>(
    db,
    `SELECT count(*) OVER () AS total, t.id, t.kind, p.id AS prospectId,
       ${nameSql()} AS name,
       p.company, p.title, p.phone, p.profile, p.time_zone AS zone, t.step_id AS stepId, s.id AS sequenceId,
       s.name AS sequenceName, t.body AS text, t.due_at AS dueAt
     ${FROM} WHERE t.state IN ('draft', 'approved', 'open') AND t.state = 'open' AND t.account_id IS NULL
       AND t.due_at < @dayEnds AND ${THEIRS}
     ORDER BY t.kind = 'call' DESC, t.due_at, t.id LIMIT ${MOST_SHOWN}`,
  ).all({ ...whose(user), dayEnds: startOfNextDay(clock.now(), user.zone) });
  return {
    shown: rows.map(({ stepId, total: _, ...row }) => ({ ...row, stepName: nameOf(row.sequenceId, stepId) })),
    total: rows[0]?.total ?? 0,
  };
}

export function draftsToApprove(app: App, user: User): { shown: Draft[]; total: number } {
  const nameOf = named(app);
  const rows = sql<Record<string, unknown>, Draft & { stepId: string; sequenceId: number; total: number }>(
    app.db,
    `SELECT count(*) OVER () AS total, t.id, p.id AS prospectId, s.id AS sequenceId, t.step_id AS stepId,
       ${nameSql()} AS name, p.company,
       s.name AS sequenceName, coalesce(p.email, '') AS recipient, t.subject, t.body, t.due_at AS dueAt
     ${FROM} WHERE t.state IN ('draft', 'approved', 'open') AND t.state = 'draft' AND ${THEIRS}
     ORDER BY t.due_at, t.id LIMIT ${MOST_SHOWN}`,
  ).all(whose(user));
  return {
    shown: rows.map(({ stepId, sequenceId, total: _, ...row }) => ({
      ...row,
      stepName: nameOf(sequenceId, stepId),
    })),
    total: rows[0]?.total ?? 0,
  };
}

/** Those that somebody can let go on. */
export function heldCompanies(app: App, by: By): HeldCompany[] {
  const held = sql<[], HeldCompany>(
    app.db,
    `SELECT c.id AS companyId, c.name AS company, h.detail AS who,
       (SELECT count(*) FROM journeys j JOIN prospects p ON p.id = j.prospect_id
        WHERE p.company_id = c.id AND j.state = 'active' AND p.id IS NOT h.cause_prospect_id) AS waiting
     FROM holds h JOIN companies c ON c.id = h.scope_id WHERE h.scope = 'company'
     ORDER BY h.since DESC`,
  )
    .all([])
    .filter(({ waiting }) => waiting > 0);
  const mine = allowedAmong(
    app,
    by,
    "company.release",
    held.map(({ companyId }) => companyId),
  );
  return held.filter(({ companyId }) => mine.has(companyId));
}

/** Lets the people of a company go on whom a colleague's answer held. */
export function releaseCompany(app: App, by: By, companyId: number): Outcome<null> {
  const no = mayNot(app, by, "company.release", companyId);
  if (no) return no;
  liftHold(app.db, { scope: "company", scopeId: companyId, reason: "colleague_replied" }, app.clock.now());
  return done(null);
}

export const CALL_OUTCOMES = ["reached", "voicemail", "no_answer", "wrong_number"] as const;

const endForm = z.object({
  id: z.coerce.number().int(),
  outcome: z.enum(CALL_OUTCOMES).optional(),
  note: z.string().trim().max(2_000).default(""),
  /** What the rep wants to do next, and on which day; "" for nothing. */
  next: z.string().trim().max(300).default(""),
  nextDay: z.union([z.iso.date("Write the day as 2026-09-15."), z.literal("")]).default(""),
});

/** Ends an open task: done, with how a call went, or skipped. What follows counts from now. */
export function endTouch(app: App, user: User, input: unknown, how: "done" | "skipped"): Outcome<null> {
  const read = endForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, outcome = null, note, next, nextDay } = read.data;
  const no = mayNot(app, user.id, "touch.end", id);
  if (no) return no;
  const { clock } = app;
  const now = clock.now();
  return transact(app, ({ db }): Outcome<null> => {
    const touch = sql<Record<string, unknown>, { prospectId: number; journeyId: number }>(
      db,
      `UPDATE touches SET state = @how, ended_at = @now, outcome = @outcome, note = @note, user_id = @userId
         WHERE id = @id AND state = 'open' RETURNING prospect_id AS prospectId, journey_id AS journeyId`,
    ).get({ id, how, now, outcome, note, userId: user.id });
    if (!touch) return refused({ form: "This is no longer open: it was done, or a stop took it away." });
    recordEvent(db, {
      at: now,
      kind: how === "done" ? "touch_done" : "touch_skipped",
      ...touch,
      touchId: id,
      userId: user.id,
      detail: [outcome?.replaceAll("_", " "), note].filter(Boolean).join(": ") || null,
    });
    const about = { prospectId: touch.prospectId, replyId: null, userId: user.id, at: now };
    if (outcome === "wrong_number") {
      forgetNumber(db, touch.prospectId, user.id, now);
      addReminder(db, {
        ...about,
        kind: "errand",
        text: "Find another number: the one we had is wrong.",
        day: null,
      });
    }
    if (outcome === "reached")
      apply(db, { kind: "talked" }, { at: now, prospectId: touch.prospectId, touchId: id, userId: user.id });
    if (next !== "") addReminder(db, { ...about, kind: "reminder", text: next, day: nextDay || null });
    return done(null);
  });
}

/** A number that leads to somebody else helps nobody; the prospect's history keeps it. */
function forgetNumber(db: App["db"], prospectId: number, userId: number, at: number): void {
  const before = sql<{ prospectId: number }, { phone: string }>(
    db,
    "SELECT phone FROM prospects WHERE id = @prospectId",
  ).get({ prospectId })?.phone;
  if (!before) return;
  sql<{ prospectId: number }>(db, "UPDATE prospects SET phone = '' WHERE id = @prospectId").run({
    prospectId,
  });
  recordChange(db, {
    prospectId,
    field: "phone",
    before,
    after: "",
    source: "edit",
    sourceId: null,
    userId,
    at,
  });
}

const callBack = z.object({
  id: z.coerce.number().int(),
  date: z.iso.date("Choose the day."),
  time: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "Write the time as 08:30."),
  note: z.string().trim().max(2_000).default(""),
});

/** They asked to be rung up again: the call comes up at that time, in the rep's zone, and stays open until then. */
export function callBackAt(app: App, user: User, input: unknown): Outcome<null> {
  const { db, clock } = app;
  const read = callBack.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, date, time, note } = read.data;
  const no = mayNot(app, user.id, "touch.end", id);
  if (no) return no;
  const at = instantOn(date, time, user.zone);
  if (at <= clock.now()) return refused({ date: "Choose a time that lies ahead." });
  return db
    .transaction((): Outcome<null> => {
      const touch = sql<Record<string, unknown>, { prospectId: number }>(
        db,
        `UPDATE touches SET due_at = @at, outcome = 'call_back', note = @note WHERE id = @id AND kind = 'call' AND state = 'open'
         RETURNING prospect_id AS prospectId`,
      ).get({ id, at, note });
      if (!touch) return refused({ form: "This is no longer open." });
      if (note !== "")
        sql<Record<string, unknown>>(
          db,
          "INSERT INTO notes (prospect_id, user_id, text, at) VALUES (@prospectId, @userId, @note, @now)",
        ).run({ ...touch, userId: user.id, note, now: clock.now() });
      return done(null);
    })
    .immediate();
}

/** Puts a task off by so many working days, from its morning on. */
export function putOff(app: App, user: User, id: number, days: number): Outcome<null> {
  const { db, clock } = app;
  const no = mayNot(app, user.id, "touch.end", id);
  if (no) return no;
  const at = instantOnDay(
    workingDayNumberAfter(clock.now(), Math.max(1, Math.min(30, days)), [1, 2, 3, 4, 5], user.zone),
    minutesOf("08:00"),
    user.zone,
  );
  const changed = sql<Record<string, unknown>>(
    db,
    "UPDATE touches SET due_at = @at WHERE id = @id AND state = 'open'",
  ).run({ id, at }).changes;
  return changed === 1 ? done(null) : refused({ form: "This is no longer open." });
}

/** The rep saw that an invitation was accepted: forks on it live from this mark. */
export function markAccepted(app: App, user: User, prospectId: number): Outcome<null> {
  const { clock } = app;
  const no = mayNot(app, user.id, "journey.mark", prospectId);
  if (no) return no;
  transact(app, ({ db }) =>
    apply(db, { kind: "accepted" }, { at: clock.now(), prospectId, userId: user.id }),
  );
  return done(null);
}

/** Says yes to drafts: each goes in its turn. Returns to how many. */
export function approveDrafts(app: App, user: User, ids: readonly number[]): Outcome<number> {
  const { db, clock } = app;
  const now = clock.now();
  return db
    .transaction((): Outcome<number> => {
      const no = mayNot(app, user.id, "touch.end", ids);
      if (no) return no;
      const approved = sql<Record<string, unknown>, { id: number; prospectId: number; journeyId: number }>(
        db,
        `UPDATE touches SET state = 'approved', user_id = @userId
         WHERE state = 'draft' AND id IN (SELECT value FROM json_each(@ids))
         RETURNING id, prospect_id AS prospectId, journey_id AS journeyId`,
      ).all({ ids: JSON.stringify(ids), userId: user.id });
      for (const { id, prospectId, journeyId } of approved)
        recordEvent(db, { at: now, kind: "approved", prospectId, journeyId, touchId: id, userId: user.id });
      return done(approved.length);
    })
    .immediate();
}

const draftForm = z.object({
  id: z.coerce.number().int(),
  subject: z.string().trim().min(1, "The email needs a subject.").max(MAX_SUBJECT),
  body: z.string().trim().min(1, "The email needs a text.").max(MAX_BODY),
});

/** Keeps another text for one draft. */
export function editDraft(app: App, by: By, input: unknown): Outcome<null> {
  const { db } = app;
  const read = draftForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const no = mayNot(app, by, "touch.end", read.data.id);
  if (no) return no;
  const changed = sql<Record<string, unknown>>(
    db,
    "UPDATE touches SET subject = @subject, body = @body, markup = NULL WHERE id = @id AND state = 'draft'",
  ).run(read.data).changes;
  return changed === 1 ? done(null) : refused({ form: "This draft is no longer open." });
}

/** Leaves a draft out: the sequence goes on with the next step. */
export function dropDraft(app: App, user: User, id: number): Outcome<null> {
  const { db, clock } = app;
  const no = mayNot(app, user.id, "touch.end", id);
  if (no) return no;
  const touch = sql<Record<string, unknown>, { prospectId: number; journeyId: number }>(
    db,
    `UPDATE touches SET state = 'skipped', ended_at = @now, user_id = @userId WHERE id = @id AND state = 'draft'
     RETURNING prospect_id AS prospectId, journey_id AS journeyId`,
  ).get({ id, now: clock.now(), userId: user.id });
  if (!touch) return refused({ form: "This draft is no longer open." });
  recordEvent(db, { at: clock.now(), kind: "touch_skipped", ...touch, touchId: id, userId: user.id });
  return done(null);
}
