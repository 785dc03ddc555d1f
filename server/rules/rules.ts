/** Rules: written, looked at before they are switched on, switched on and off, and taken back. */
import { z } from "zod";
import { DAY } from "../../core/calendar.ts";
import { circleFrom } from "../../core/rules/circles.ts";
import { type Act, type Rule, ruleSchema, type When } from "../../core/rules/rule.ts";
import { type By, hiddenFrom, mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App, AppTx } from "../app.ts";
import { crmOf } from "../crm/crm.ts";
import { jsonOf } from "../db/json.ts";
import { newestHappening, noteHappening, renewListeners } from "../db/listeners.ts";
import { nameSql } from "../db/names.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { filterSql } from "../prospects/filters/filter-sql.ts";
import { undoBulk } from "../prospects/people/bulk-edit.ts";
import { filterSeenBy } from "../prospects/people/list-prospects.ts";
import { newToken } from "../secrets.ts";
import { endReminder } from "../today/reminders.ts";
import { undoChange } from "../undo/undo-change.ts";
import { historyOf, LISTENS_FOR, timeHasCome } from "./set-off.ts";

const MOST_RULES = 100;
const REHEARSED_DAYS = 30;
const NAMED = 50;
/** For so long what a rule did is taken back as a whole. */
export const TAKEN_BACK_FOR = DAY;

const form = z.object({
  name: z.string().trim().min(1, "Name the rule.").max(80),
  rule: ruleSchema,
});

export interface FollowedRule {
  id: number;
  name: string;
  rule: Rule;
  ownerId: number;
  owner: string;
  state: "off" | "on" | "held";
  heldBecause: string | null;
  address: string | null;
  /** How far it has looked at what happened, and at the time. */
  seen: number;
  lookedAt: number;
}

export interface StoredRule extends FollowedRule {
  /** Runs of the last 30 days. */
  runs: number;
}

const RULE = `SELECT r.id, r.name, r.definition, r.user_id AS ownerId, u.name AS owner, r.state, r.held_because AS heldBecause, r.address,
    r.seen_happening AS seen, r.looked_at AS lookedAt`;
type RuleRow = Omit<FollowedRule, "rule"> & { definition: string };
const ruleOf = <Row extends RuleRow>({ definition, ...row }: Row) => ({
  ...row,
  rule: jsonOf(ruleSchema, definition),
});

export function allRules({ db, clock }: Pick<App, "db" | "clock">): StoredRule[] {
  return sql(
    db,
    `${RULE}, (SELECT count(*) FROM rule_runs n WHERE n.rule_id = r.id AND n.at >= @from) AS runs
     FROM rules r JOIN users u ON u.id = r.user_id ORDER BY r.id`,
  )
    .all<RuleRow & { runs: number }>({ from: clock.now() - REHEARSED_DAYS * DAY })
    .map(ruleOf);
}

/** Those that are on, as the engine follows them. */
export const rulesOn = (db: Db): FollowedRule[] =>
  sql(db, `${RULE} FROM rules r JOIN users u ON u.id = r.user_id WHERE r.state = 'on' ORDER BY r.id`)
    .all<RuleRow>([])
    .map(ruleOf);

/** Every rule as somebody may see it: at its address whoever has it acts as its owner, so it is shown to those who may change it. */
export const rulesSeenBy = (app: App, by: By): StoredRule[] =>
  allRules(app).map((each) =>
    each.address !== null && mayNot(app, by, "rule.change", each.id) ? { ...each, address: null } : each,
  );

export const ruleById = (app: App, id: number): StoredRule | null =>
  allRules(app).find((each) => each.id === id) ?? null;

const GONE = { ...refused({ form: "This rule is no longer here." }), code: "not_found" as const };

/** Makes a rule (`id` null) or changes one; a changed one is switched off, since nobody has seen what it would do. Returns its number. */
export function saveRule(app: App, by: number, id: number | null, input: unknown): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, rule } = read.data;
  return transact(app, (app): Outcome<number> => {
    const { db, clock } = app;
    const known = id === null ? null : ruleById(app, id);
    if (id !== null && !known) return GONE;
    const no = id === null ? mayNot(app, by, "rule.create") : mayNot(app, by, "rule.change", id);
    if (no) return no;
    if (id === null && allRules(app).length >= MOST_RULES)
      return refused({ form: `There are ${MOST_RULES} rules. Remove one first.` });
    const broken = brokenness(app, known?.ownerId ?? by, rule);
    if (broken) return broken;
    const listens = LISTENS_FOR[rule.when.kind];
    const values = {
      name,
      definition: JSON.stringify(rule),
      kinds: JSON.stringify(listens ? [listens] : []),
    };
    const saved =
      id ??
      Number(
        sql(
          db,
          "INSERT INTO rules (user_id, name, definition, kinds, made_at) VALUES (@by, @name, @definition, @kinds, @now)",
        ).run({ ...values, by, now: clock.now() }).lastInsertRowid,
      );
    sql(
      db,
      `UPDATE rules SET name = @name, definition = @definition, kinds = @kinds, state = 'off', held_because = NULL,
         address = CASE WHEN @isCalled THEN coalesce(address, @address) END WHERE id = @id`,
    ).run({ ...values, id: saved, isCalled: Number(rule.when.kind === "called"), address: newToken() });
    renewListeners(db);
    return done(saved);
  });
}

/** What a rule names and its owner may not touch, or what is no longer there; null if all of it can be done. */
export function brokenness(app: App, ownerId: number, { when, steps }: Rule): ReturnType<typeof mayNot> {
  const missing = whatIsMissing(app, ownerId, when);
  if (missing) return missing;
  for (const { act } of steps) {
    const no = actBroken(app, ownerId, act);
    if (no) return no;
  }
  return null;
}

function whatIsMissing(app: App, ownerId: number, when: When): ReturnType<typeof mayNot> {
  return when.kind === "form" || when.kind === "listed"
    ? mayNot(app, ownerId, "list.see", when.listId)
    : null;
}

function actBroken(app: App, ownerId: number, act: Act): ReturnType<typeof mayNot> {
  const { db } = app;
  const isHere = (table: "users" | "webhooks", id: number) =>
    sql(
      db,
      table === "users"
        ? "SELECT 1 FROM users WHERE id = @id AND removed_at IS NULL"
        : "SELECT 1 FROM webhooks WHERE id = @id",
    ).get({ id }) !== undefined;
  switch (act.kind) {
    case "start":
    case "move":
      return mayNot(app, ownerId, "sequence.change", act.sequenceId);
    case "list":
      return mayNot(app, ownerId, "list.change", act.listId);
    case "owner":
      return act.userIds.every((id) => isHere("users", id))
        ? null
        : refused({ form: "A colleague whom it names is no longer here." });
    case "notify":
    case "mail":
      return act.userId === null || isHere("users", act.userId)
        ? null
        : refused({ form: "The colleague whom it names is no longer here." });
    case "webhook":
      return isHere("webhooks", act.webhookId)
        ? mayNot(app, ownerId, "webhook.change", act.webhookId)
        : refused({ form: "The webhook that it names is no longer here." });
    case "set":
      return act.field === "email"
        ? refused({ form: "An address belongs to one person: no rule sets it." })
        : null;
    case "deal":
      return crmOf(app) ? null : refused({ form: "No CRM is connected in which a deal could be made." });
    case "stop":
    case "stage":
    case "remind":
      return null;
  }
}

/** Switches it on or off. On, it minds what happens from now; refused where rules would set each other off without end. */
export function switchRule(app: App, by: By, id: number, isOn: boolean): Outcome<null> {
  return changing(app, by, id, (app, known) => {
    const { db, clock } = app;
    if (isOn) {
      const broken = brokenness(app, known.ownerId, known.rule);
      if (broken) return broken;
      const circle = circleFrom(
        known,
        allRules(app).filter((each) => each.id !== id && each.state === "on"),
      );
      if (circle)
        return refused({
          form: `These would set each other off without end: ${circle.map((name) => `“${name}”`).join(", then ")}. Let one of them act once for each person.`,
        });
    }
    sql(
      db,
      `UPDATE rules SET state = @state, held_because = NULL, seen_happening = @seen, looked_at = @now WHERE id = @id`,
    ).run({ id, state: isOn ? "on" : "off", seen: newestHappening(db), now: clock.now() });
    // What it still had in mind for some is not done by one that is switched off.
    if (!isOn)
      sql(
        db,
        `UPDATE rule_acts SET state = 'refused', said = 'The rule was switched off.'
         WHERE state = 'due' AND run_id IN (SELECT id FROM rule_runs WHERE rule_id = @id)`,
      ).run({ id });
    return done(null);
  });
}

export function removeRule(app: App, by: By, id: number): Outcome<null> {
  return changing(app, by, id, ({ db }) => {
    sql(db, "DELETE FROM rules WHERE id = @id").run({ id });
    return done(null);
  });
}

function changing<T>(
  app: App,
  by: By,
  id: number,
  work: (app: AppTx, known: StoredRule) => Outcome<T>,
): Outcome<T> {
  return transact(app, (app): Outcome<T> => {
    const known = ruleById(app, id);
    if (!known) return GONE;
    const no = mayNot(app, by, "rule.change", id);
    if (no) return no;
    const outcome = work(app, known);
    if (outcome.ok) renewListeners(app.db);
    return outcome;
  });
}

export interface Rehearsed {
  days: number;
  /** How often it would have acted, and on how many people; null: nobody kept what sets it off. */
  times: number | null;
  people: number;
  /** The latest of them. */
  named: { prospectId: number; name: string; company: string; at: number }[];
}

/** What a rule would have done in the last 30 days. Its filter is asked as of now. */
export function rehearseRule(app: App, by: number, input: unknown): Outcome<Rehearsed> {
  const read = ruleSchema.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { when, filter, isOnce } = read.data;
  const missing = whatIsMissing(app, by, when);
  if (missing) return missing;
  const { db, clock } = app;
  const now = clock.now();
  const from = now - REHEARSED_DAYS * DAY;
  const zone =
    sql(db, "SELECT time_zone AS zone FROM users WHERE id = @by").get<{ zone: string }>({ by })?.zone ??
    "UTC";
  const history = historyOf(when);
  const came: { prospectId: number; at: number }[] = history
    ? sql(db, history.query).all({ ...history.values, from })
    : when.kind === "called"
      ? []
      : timeHasCome(db, when, from, now, zone);
  const about = filterSql(filterSeenBy(app, by, filter), now);
  const fitting = new Map(
    sql(
      db,
      `SELECT p.id, ${nameSql()} AS name, p.company FROM prospects p
       WHERE p.live = 1 AND p.id IN (SELECT value FROM json_each(@among)) AND ${about.where}`,
    )
      .all<{ id: number; name: string; company: string }>({
        ...about.values,
        among: JSON.stringify(came.map(({ prospectId }) => prospectId)),
      })
      .map((row) => [row.id, row]),
  );
  const met = came.filter(({ prospectId }) => fitting.has(prospectId)).toSorted((a, b) => b.at - a.at);
  const people = new Set(met.map(({ prospectId }) => prospectId));
  const shown = isOnce
    ? met.filter((each, nth) => met.findLastIndex((other) => other.prospectId === each.prospectId) === nth)
    : met;
  return done({
    days: REHEARSED_DAYS,
    times: when.kind === "called" ? null : shown.length,
    people: people.size,
    named: shown.slice(0, NAMED).flatMap(({ prospectId, at }) => {
      const person = fitting.get(prospectId);
      return person ? [{ prospectId, name: person.name, company: person.company, at }] : [];
    }),
  });
}

export interface RunLine {
  id: number;
  prospectId: number;
  name: string;
  because: string;
  at: number;
  state: "going" | "done" | "stopped" | "taken_back";
  /** Whether it can still be taken back. */
  canUndo: boolean;
  acts: { nth: number; state: string; said: string; dueAt: number }[];
}

const LOGGED = 50;

const RUN = `SELECT n.id, n.rule_id AS ruleId, n.prospect_id AS prospectId, ${nameSql()} AS name, n.because, n.at, n.state,
    (SELECT json_group_array(json_object('nth', a.nth, 'state', a.state, 'said', a.said, 'dueAt', a.due_at) ORDER BY a.nth)
     FROM rule_acts a WHERE a.run_id = n.id) AS acts,
    EXISTS (SELECT 1 FROM rule_acts a WHERE a.run_id = n.id AND a.state = 'done' AND a.undo IS NOT NULL) AS isUndoable
  FROM rule_runs n JOIN prospects p ON p.id = n.prospect_id`;
const actsSchema = z.array(
  z.object({ nth: z.number(), state: z.string(), said: z.string(), dueAt: z.number() }),
);

type RunRow = Omit<RunLine, "acts" | "canUndo"> & { acts: string; isUndoable: number; ruleId: number };
const runOf =
  (now: number) =>
  ({ acts, isUndoable, ruleId: _, ...row }: RunRow): RunLine => ({
    ...row,
    canUndo: isUndoable === 1 && row.state !== "taken_back" && now - row.at < TAKEN_BACK_FOR,
    acts: jsonOf(actsSchema, acts),
  });

/** What a rule did last, and why. */
export const runsOf = ({ db, clock }: App, ruleId: number): RunLine[] =>
  sql(db, `${RUN} WHERE n.rule_id = @ruleId ORDER BY n.id DESC LIMIT ${LOGGED}`)
    .all<RunRow>({ ruleId })
    .map(runOf(clock.now()));

/** What rules did with somebody, the latest first: asked by “Why?”. */
export function runsWith(app: App, prospectId: number): (RunLine & { ruleId: number; ruleName: string })[] {
  const names = new Map(allRules(app).map(({ id, name }) => [id, name]));
  return sql(app.db, `${RUN} WHERE n.prospect_id = @prospectId ORDER BY n.id DESC LIMIT ${LOGGED}`)
    .all<RunRow>({ prospectId })
    .map((row) => ({
      ...runOf(app.clock.now())(row),
      ruleId: row.ruleId,
      ruleName: names.get(row.ruleId) ?? "",
    }));
}

/** Takes back what a run did, the last act first, and drops what it still had in mind. What left has left. Returns how many acts. */
export function takeBackRun(app: App, user: User, runId: number): Outcome<number> {
  return transact(app, (app): Outcome<number> => {
    const { db, clock } = app;
    const run = sql(db, "SELECT rule_id AS ruleId, at, state FROM rule_runs WHERE id = @runId").get<{
      ruleId: number;
      at: number;
      state: string;
    }>({ runId });
    if (!run) return GONE;
    const no = mayNot(app, user.id, "rule.change", run.ruleId);
    if (no) return no;
    if (run.state === "taken_back") return refused({ form: "This was taken back already." });
    if (clock.now() - run.at >= TAKEN_BACK_FOR)
      return refused({ form: "This is longer than a day ago. Change by hand what is to be otherwise." });
    let count = 0;
    const acts = sql(
      db,
      "SELECT id, undo FROM rule_acts WHERE run_id = @runId AND state = 'done' AND undo IS NOT NULL ORDER BY nth DESC",
    ).all<{ id: number; undo: string }>({ runId });
    for (const { id, undo } of acts) {
      const back = takeBackAct(app, user, undo);
      if (!back.ok) return back;
      sql(db, "UPDATE rule_acts SET state = 'taken_back' WHERE id = @id").run({ id });
      count++;
    }
    sql(db, "UPDATE rule_acts SET state = 'taken_back' WHERE run_id = @runId AND state = 'due'").run({
      runId,
    });
    sql(db, "UPDATE rule_runs SET state = 'taken_back' WHERE id = @runId").run({ runId });
    return done(count);
  });
}

function takeBackAct(app: App, user: User, undo: string): Outcome<unknown> {
  const [kind, id] = [undo.split(" ")[0], Number(undo.split(" ")[1])];
  // By whoever may change the rule, who may do what its owner did.
  if (kind === "bulk") return undoBulk(app, null, id);
  if (kind === "undo") return undoChange(app, user, id);
  const ended = endReminder(app, user, id, "skipped");
  // One that is done by now has had its use.
  return ended.ok || ended.code === undefined ? done(null) : ended;
}

/** Another program calls a rule for somebody. */
export function callRule(app: App, by: By, ruleId: number, prospectId: number): Outcome<null> {
  return transact(app, (app): Outcome<null> => {
    const known = ruleById(app, ruleId);
    if (known?.rule.when.kind !== "called")
      return { ...refused({ form: "There is no rule of this number that is called." }), code: "not_found" };
    const no = mayNot(app, by, "rule.change", ruleId) ?? mayNot(app, by, "prospect.see", prospectId);
    if (no) return no;
    if (known.state !== "on") return refused({ form: "This rule is switched off." });
    noteHappening(app.db, { kind: "rule.called", at: app.clock.now(), prospectId, detail: String(ruleId) });
    return done(null);
  });
}

export interface RuleChoices {
  lists: { id: number; name: string }[];
  users: { id: number; name: string }[];
  webhooks: { id: number; name: string }[];
  /** The stages of deals in the CRM; none without one. */
  dealStages: string[];
}

/** What a rule of somebody's can name, besides sequences and fields. */
export function ruleChoices(app: App, by: number): RuleChoices {
  const hidden = hiddenFrom(app, by, "list.see");
  const named = (db: Db, query: "lists" | "users" | "webhooks") =>
    sql(
      db,
      query === "lists"
        ? "SELECT id, name FROM lists ORDER BY name"
        : query === "users"
          ? "SELECT id, name FROM users WHERE removed_at IS NULL ORDER BY name"
          : "SELECT id, name FROM webhooks ORDER BY name",
    ).all<{ id: number; name: string }>([]);
  return {
    lists: named(app.db, "lists").filter(({ id }) => !hidden.has(id)),
    users: named(app.db, "users"),
    webhooks: named(app.db, "webhooks").filter(({ id }) => mayNot(app, by, "webhook.change", id) === null),
    dealStages: crmOf(app)?.choices.stages.map(({ name }) => name) ?? [],
  };
}
