/**
 * Lets rules act: what happened since the last look sets them off, what has its time looks for itself, and what is due is done,
 * each act in a transaction of its own that says what it did. Part of the engine's tick.
 */
import { HOUR } from "../../core/calendar.ts";
import { dueAt } from "../../core/rules/rule.ts";
import { userById } from "../accounts/session.ts";
import type { App, AppTx } from "../app.ts";
import { newestHappening, renewListeners } from "../db/listeners.ts";
import { sql, transact } from "../db/open.ts";
import { openRecovery } from "../db/recoveries.ts";
import { type Outcome, refused } from "../errors.ts";
import { log } from "../log.ts";
import { tell } from "../notices/write-notices.ts";
import { filterSql } from "../prospects/filters/filter-sql.ts";
import { filterSeenBy } from "../prospects/people/list-prospects.ts";
import { traceOf } from "../trace.ts";
import { type Acted, carryAct } from "./carry-act.ts";
import { becauseOf } from "./rule-words.ts";
import { brokenness, type FollowedRule, rulesOn } from "./rules.ts";
import { type Happened, isMeant, LISTENS_FOR, timeHasCome } from "./set-off.ts";

const MOST_AT_ONCE = 200;
/** A rule that follows from a rule that follows from …: the next one is not begun. */
const DEEPEST = 5;
/** How often it is looked whose time has come. */
const LOOKS_EVERY = HOUR / 4;
/** Rounds of a tick in which acts set off further rules. */
const MOST_ROUNDS = DEEPEST + 2;

/** Returns when the next act is due; null for none. */
export function followRules(app: App): number | null {
  // Of a restored copy it is not known yet who answered since: nobody is silent, and nothing follows from that.
  if (openRecovery(app.db)) return null;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const rules = rulesOn(app.db);
    if (rules.length === 0) return null;
    const isBegun = beginRuns(app, rules);
    if (carryDue(app, rules) === 0 && !isBegun) break;
  }
  return (
    sql(
      app.db,
      `SELECT min(a.due_at) AS at FROM rule_acts a JOIN rule_runs n ON n.id = a.run_id JOIN rules r ON r.id = n.rule_id
       WHERE a.state = 'due' AND a.due_at > @now AND r.state = 'on'`,
    ).get<{ at: number | null }>({ now: app.clock.now() })?.at ?? null
  );
}

/** Looks for every rule at what happened, and at what time it is; nothing is written where there is no news. Returns whether any run began. */
function beginRuns(app: App, rules: readonly FollowedRule[]): boolean {
  const newest = newestHappening(app.db);
  const now = app.clock.now();
  let isBegun = false;
  for (const stored of rules) {
    const kind = LISTENS_FOR[stored.rule.when.kind];
    const hasNews = kind === null ? now - stored.lookedAt >= LOOKS_EVERY : newest > stored.seen;
    if (!hasNews) continue;
    transact(app, (app) => {
      if (kind === null ? beginOnTime(app, stored, now) : beginOnNews(app, stored, kind, newest))
        isBegun = true;
    });
  }
  return isBegun;
}

function beginOnNews(app: AppTx, stored: FollowedRule, kind: string, newest: number): boolean {
  const { db } = app;
  const { id, rule, seen } = stored;
  const rows = sql(
    db,
    `SELECT id, kind, at, prospect_id AS prospectId, touch_id AS touchId, reply_id AS replyId, detail, cause_run AS causeRun
     FROM happenings WHERE id > @seen AND kind = @kind AND prospect_id IS NOT NULL ORDER BY id LIMIT ${MOST_AT_ONCE}`,
  ).all<Happened>({ seen, kind });
  const begun = rows.filter(
    (happened) =>
      isMeant(db, rule.when, id, happened) &&
      fits(app, stored, happened.prospectId) &&
      begin(app, stored, { ...happened, occasion: `h ${happened.id}` }),
  );
  const to = rows.length === MOST_AT_ONCE ? (rows.at(-1)?.id ?? seen) : newest;
  sql(db, "UPDATE rules SET seen_happening = max(seen_happening, @to) WHERE id = @id").run({ id, to });
  return begun.length > 0;
}

function beginOnTime(app: AppTx, stored: FollowedRule, now: number): boolean {
  const { db } = app;
  const { id, rule, ownerId, lookedAt } = stored;
  const zone =
    sql(db, "SELECT time_zone AS zone FROM users WHERE id = @ownerId").get<{ zone: string }>({ ownerId })
      ?.zone ?? "UTC";
  const begun = timeHasCome(db, rule.when, lookedAt, now, zone).filter(
    (come) => fits(app, stored, come.prospectId) && begin(app, stored, { ...come, causeRun: null }),
  );
  sql(db, "UPDATE rules SET looked_at = @now WHERE id = @id").run({ id, now });
  return begun.length > 0;
}

/** As the rule's owner sees lists and sequences. */
function fits(app: App, { ownerId, rule }: FollowedRule, prospectId: number): boolean {
  const { db, clock } = app;
  const { where, values } = filterSql(filterSeenBy(app, ownerId, rule.filter), clock.now());
  return (
    sql(db, `SELECT 1 FROM prospects p WHERE p.id = @ofRule AND p.live = 1 AND ${where}`).get({
      ...values,
      ofRule: prospectId,
    }) !== undefined
  );
}

/** Writes down that a rule runs for somebody, and when each act is due. False if it did so for this occasion before. */
function begin(
  { db, clock }: AppTx,
  { id, rule }: FollowedRule,
  { prospectId, occasion, causeRun }: { prospectId: number; occasion: string; causeRun: number | null },
): boolean {
  const cause =
    causeRun === null
      ? undefined
      : sql(db, "SELECT depth FROM rule_runs WHERE id = @causeRun").get<{ depth: number }>({ causeRun });
  const depth = cause === undefined ? 0 : cause.depth + 1;
  const isCircle = depth > DEEPEST || (causeRun !== null && isAmong(db, causeRun, id));
  const now = clock.now();
  const begun = sql(
    db,
    `INSERT INTO rule_runs (rule_id, prospect_id, occasion, because, cause_run, depth, at, state)
     VALUES (@id, @prospectId, @occasion, @because, @causeRun, @depth, @now, @state) ON CONFLICT DO NOTHING RETURNING id`,
  ).get<{ id: number }>({
    ...{ id, prospectId, causeRun, depth, now },
    occasion: rule.isOnce ? "once" : occasion,
    because: isCircle
      ? `${becauseOf(db, rule.when)}; it would have set itself off again, and did not`
      : becauseOf(db, rule.when),
    state: isCircle ? "stopped" : "going",
  });
  if (!begun || isCircle) return false;
  const zone =
    sql(db, "SELECT time_zone AS zone FROM prospects WHERE id = @prospectId").get<{ zone: string | null }>({
      prospectId,
    })?.zone ??
    sql(db, "SELECT u.time_zone AS zone FROM rules r JOIN users u ON u.id = r.user_id WHERE r.id = @id").get<{
      zone: string;
    }>({ id })?.zone ??
    "UTC";
  let at = now;
  for (const [nth, { after }] of rule.steps.entries()) {
    at = dueAt(after, at, zone);
    sql(db, "INSERT INTO rule_acts (run_id, nth, due_at) VALUES (@run, @nth, @at)").run({
      run: begun.id,
      nth,
      at,
    });
  }
  return true;
}

/** Whether a rule is among those that led to a run. */
const isAmong = (db: App["db"], runId: number, ruleId: number): boolean =>
  sql(
    db,
    `WITH RECURSIVE led (id, rule_id, cause_run) AS (SELECT id, rule_id, cause_run FROM rule_runs WHERE id = @runId
       UNION SELECT r.id, r.rule_id, r.cause_run FROM rule_runs r JOIN led ON r.id = led.cause_run)
     SELECT 1 FROM led WHERE rule_id = @ruleId`,
  ).get({ runId, ruleId }) !== undefined;

interface DueAct {
  id: number;
  runId: number;
  nth: number;
  ruleId: number;
  prospectId: number;
}

/** Does what is due, in order for each run. Returns how many acts. */
function carryDue(app: App, followed: readonly FollowedRule[]): number {
  const rules = new Map(followed.map((rule) => [rule.id, rule]));
  const due = sql(
    app.db,
    `SELECT a.id, a.run_id AS runId, a.nth, n.rule_id AS ruleId, coalesce(p.merged_into, n.prospect_id) AS prospectId
     FROM rule_acts a JOIN rule_runs n ON n.id = a.run_id JOIN rules r ON r.id = n.rule_id AND r.state = 'on'
       JOIN prospects p ON p.id = n.prospect_id
     WHERE a.state = 'due' AND a.due_at <= @now ORDER BY a.due_at, a.run_id, a.nth LIMIT ${MOST_AT_ONCE}`,
  ).all<DueAct>({ now: app.clock.now() });
  let acted = 0;
  for (const each of due) {
    const stored = rules.get(each.ruleId);
    if (!stored || !isOn(app, stored)) continue;
    if (act(app, stored, each)) acted++;
  }
  return acted;
}

/** An act before may have had it hold. */
const isOn = ({ db }: App, { id }: FollowedRule): boolean =>
  sql(db, "SELECT 1 FROM rules WHERE id = @id AND state = 'on'").get({ id }) !== undefined;

/** One act. False if the rule holds now. */
function act(app: App, stored: FollowedRule, due: DueAct): boolean {
  const user = userById(app.db, stored.ownerId);
  const broken = user
    ? brokenness(app, stored.ownerId, stored.rule)
    : refused({ form: "Its owner is no longer a user here." });
  if (!user || broken) {
    hold(app, stored, Object.values(broken?.errors ?? {})[0] ?? "It cannot act any more.");
    return false;
  }
  let outcome: Outcome<Acted>;
  try {
    outcome = transact(app, (app): Outcome<Acted> => {
      const { db } = app;
      const before = newestHappening(db);
      const step = stored.rule.steps[due.nth];
      if (!step) return refused({ form: "The rule has no such act any more." });
      const about = {
        runId: due.runId,
        nth: due.nth,
        ruleId: stored.id,
        ruleName: stored.name,
        prospectId: due.prospectId,
        user,
      };
      const done = carryAct(app, about, step.act);
      if (!done.ok) return done;
      sql(db, "UPDATE happenings SET cause_run = @run WHERE id > @before").run({ run: due.runId, before });
      note(app, due, "done", done.value);
      return done;
    });
  } catch (error) {
    log.error({ rule: stored.id, error: traceOf(error) }, "a rule failed");
    hold(app, stored, "Something went wrong while it acted; the server's log says more.");
    return false;
  }
  if (!outcome.ok) {
    const said = Object.values(outcome.errors)[0] ?? "It could not be done.";
    note(app, due, "refused", { said, undo: null });
  }
  return true;
}

function note(
  { db, clock }: App,
  { id, runId }: DueAct,
  state: "done" | "refused",
  { said, undo }: Acted,
): void {
  sql(
    db,
    "UPDATE rule_acts SET state = @state, acted_at = @now, said = @said, undo = @undo WHERE id = @id",
  ).run({
    ...{ id, state, said, undo, now: clock.now() },
  });
  sql(
    db,
    `UPDATE rule_runs SET state = 'done' WHERE id = @runId AND state = 'going'
       AND NOT EXISTS (SELECT 1 FROM rule_acts WHERE run_id = @runId AND state = 'due')`,
  ).run({ runId });
}

/** A rule that cannot act waits for a person: what it has in mind stays, and goes on once it is switched on again. */
function hold(app: App, { id, name, ownerId }: FollowedRule, because: string): void {
  transact(app, (app) => {
    sql(
      app.db,
      "UPDATE rules SET state = 'held', held_because = @because WHERE id = @id AND state = 'on'",
    ).run({ id, because });
    renewListeners(app.db);
    const now = app.clock.now();
    const text = `The rule “${name}” holds. ${because}`;
    tell(app, ownerId, now, {
      kind: "connection",
      text,
      path: `/connections/rules/${id}`,
      about: `rule ${id} ${now}`,
    });
  });
}
