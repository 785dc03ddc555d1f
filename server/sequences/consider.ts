/**
 * Walks the journeys that are due or of which something changed: records what was decided, brings up what a rep has to do,
 * and leaves each before the step that comes next. Emails that go by themselves are left to the plan.
 */
import {
  advance,
  type PathDecision,
  type Place,
  stepDueAt,
  type Walker,
} from "../../core/sequence/advance.ts";
import { holds } from "../../core/sequence/holds.ts";
import { CHANNEL_OF, isEmail, type RepStep, spotsOf, type TouchStep } from "../../core/sequence/path.ts";
import type { App, AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { isBlocked } from "../db/block-list.ts";
import { endHolds } from "../db/holds.ts";
import { type ActiveJourney, activeJourney, finishJourney } from "../db/journeys.ts";
import { mailboxById } from "../db/mailboxes.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { prospectById } from "../db/prospects.ts";
import { pathOfVersion, type Sequence, sequenceById } from "../db/sequences.ts";
import { accountById } from "../db/social.ts";
import { lackOf, renderStep, textFor, unreadIn } from "./render-step.ts";
import { factsOf, walkerOf } from "./walk.ts";

/** Those who wait for an instant. Their own index is named, since the planner would walk through all who are under way. */
const WOKEN = "journeys INDEXED BY journeys_to_wake WHERE state = 'active' AND wake_at IS NOT NULL";

/** Journeys in one transaction: others write in between. */
const AT_ONCE = 2_000;

/** Considers everybody who is due or changed. Returns how many were looked at. */
export function considerDue(app: App, now: number): number {
  const { db } = app;
  let considered = 0;
  if (!hasDue(db, now)) return 0;
  for (;;) {
    const looked = transact(app, (app) => {
      const { db } = app;
      endHolds(db, now);
      sql(
        db,
        "DELETE FROM reconsider WHERE journey_id IN (SELECT r.journey_id FROM reconsider r LEFT JOIN journeys j ON j.id = r.journey_id WHERE j.state IS NOT 'active')",
      ).run([]);
      const ids = sql(
        db,
        `WITH due AS (SELECT id FROM ${WOKEN} AND wake_at <= @now UNION SELECT journey_id FROM reconsider)
           SELECT due.id FROM due CROSS JOIN journeys j ON j.id = due.id CROSS JOIN sequences s ON s.id = j.sequence_id
           WHERE s.state = 'running' LIMIT ${AT_ONCE}`,
      ).all<{ id: number }>({ now });
      for (const { id } of ids) considerJourney(app, id, now);
      return ids.length;
    });
    considered += looked;
    if (looked < AT_ONCE) return considered;
  }
}

/** Whether there is anything to look at; asked without holding up whoever writes. */
const hasDue = (db: Db, now: number): boolean =>
  sql(
    db,
    `SELECT 1 FROM (SELECT 1 FROM reconsider UNION ALL SELECT 1 FROM holds WHERE until <= @now
       UNION ALL SELECT 1 FROM ${WOKEN} AND wake_at <= @now) LIMIT 1`,
  ).get({ now }) !== undefined;

/** When the next of those who wait for an instant is due; null if nobody does. */
export const firstWake = (db: Db): number | null =>
  sql(db, `SELECT min(wake_at) AS at FROM ${WOKEN}`).get<{ at: number | null }>([])?.at ?? null;

/** Walks one journey as far as it goes by itself. */
export function considerJourney(app: AppTx, id: number, now: number): void {
  const { db } = app;
  sql(db, "DELETE FROM reconsider WHERE journey_id = @id").run({ id });
  const journey = activeJourney(db, id);
  const sequence = journey && sequenceById(db, journey.sequenceId);
  if (!journey || !sequence) return;
  if (sequence.state !== "running") {
    // Looked at once it runs again.
    sql(db, "INSERT OR IGNORE INTO reconsider VALUES (@id)").run({ id });
    return;
  }
  if (isBlocked(db, journey.email ?? "")) {
    apply(db, { kind: "blocked" }, { at: now, prospectId: journey.prospectId });
    return;
  }
  // Nothing new while something holds it; what was decided by then is decided by the facts' instants.
  if (journey.held) {
    setWake(db, id, journey.held.until);
    return;
  }
  const path = pathOfVersion(db, sequence.id, journey.version);
  const walker = walkerOf(db, sequence, path, journey, now);
  const facts = factsOf(db, journey);
  const stopField = sequence.settings.stops.field;
  if (stopField && holds(stopField, facts, now)) {
    apply(db, { kind: "field_met" }, { at: now, prospectId: journey.prospectId, journeyId: id });
    return;
  }
  let place: Place = { nodeId: journey.placeId, since: journey.since };
  for (;;) {
    const result = advance(walker, place, facts, now);
    record(db, id, result.decisions);
    ({ place } = result);
    const { move } = result;
    if (move.kind === "finish") {
      finishJourney(db, id, journey.mailboxId, place.since);
      return;
    }
    if (move.kind === "act" && (!isEmail(move.step) || needsYes(db, sequence, move.step, journey))) {
      const lacking = bringUp(app, { sequence, journey, walker, step: move.step, due: move.due, now });
      if (lacking === null) continue;
      moveTo(db, journey, place, { dueAt: move.due, wakeAt: null });
      hold(db, id, lacking);
      return;
    }
    const dueAt =
      move.kind === "act"
        ? move.due
        : move.for === "step"
          ? stepDueAt(walker, move.step, place.since)
          : move.until;
    // An email that goes by itself is the plan's, unless a condition is asked before.
    const isPlans =
      (move.kind === "act" || move.for === "step") &&
      isEmail(move.step) &&
      !needsYes(db, sequence, move.step, journey) &&
      (move.kind === "act" || move.step.onlyIf === undefined);
    moveTo(db, journey, place, { dueAt, wakeAt: isPlans || move.kind === "act" ? null : move.until });
    return;
  }
}

/** Whether an email waits for a yes: its step says so, or the sequence does, for everybody or the first people. */
export function needsYes(
  db: Db,
  sequence: Sequence,
  step: TouchStep,
  journey: Pick<ActiveJourney, "id" | "prospectId">,
): boolean {
  const { approval, approveFirst } = sequence.settings;
  const isAsked =
    step.kind === "approved_email" ||
    (step.kind === "email" &&
      (approval === "all" || (approval === "first" && rankOf(db, sequence.id, journey.id) < approveFirst)));
  return isAsked && !isApproved(db, sequence.id, step.id, journey.prospectId);
}

/** Whether somebody said yes to this email of this prospect before the start. */
export const isApproved = (db: Db, sequenceId: number, stepId: string, prospectId: number): boolean =>
  sql(
    db,
    "SELECT 1 FROM approvals WHERE sequence_id = @sequenceId AND step_id = @stepId AND prospect_id = @prospectId",
  ).get({ sequenceId, stepId, prospectId }) !== undefined;

/** How many people began the sequence before somebody. */
export function rankOf(db: Db, sequenceId: number, journeyId: number): number {
  return (
    sql(
      db,
      "SELECT count(*) AS count FROM journeys WHERE sequence_id = @sequenceId AND id < @journeyId",
    ).get<{ count: number }>({ sequenceId, journeyId })?.count ?? 0
  );
}

const setWake = (db: Db, id: number, wakeAt: number | null): void => {
  sql(db, "UPDATE journeys SET wake_at = @wakeAt WHERE id = @id").run({
    id,
    wakeAt,
  });
};

/** Writes where somebody stands now. Who stands where they stood keeps their due date: a server's "later" may have moved it. */
function moveTo(
  db: Db,
  { id, placeId, since, dueAt: before }: ActiveJourney,
  place: Place,
  { dueAt, wakeAt }: { dueAt: number | null; wakeAt: number | null },
): void {
  const isSame = place.nodeId === placeId && place.since === since && before > 0;
  sql(
    db,
    `UPDATE journeys SET place_id = @placeId, since = @since, due_at = @dueAt, wake_at = @wakeAt,
       next_at = CASE WHEN @isSame THEN next_at END,
       wait_reason = CASE WHEN @isSame OR wait_reason = 'likely_reply' THEN wait_reason END,
       wait_detail = CASE WHEN @isSame OR wait_reason = 'likely_reply' THEN wait_detail END
     WHERE id = @id`,
  ).run({
    id,
    placeId: place.nodeId,
    since: place.since,
    dueAt: isSame || dueAt === null ? before : dueAt,
    wakeAt,
    isSame: isSame ? 1 : 0,
  });
}

function record(db: Db, journeyId: number, decisions: readonly PathDecision[]): void {
  for (const decision of decisions) {
    const nodeId = decision.kind === "fork" ? decision.forkId : decision.stepId;
    recordPathDecision(db, {
      journeyId,
      at: decision.at,
      nodeId,
      kind: decision.kind,
      outcome: decision.kind === "fork" ? decision.branch : "",
      inputs: decision.kind === "fork" ? decision.ask : decision.kind === "skip" ? decision.because : {},
    });
    if (decision.kind === "lapse")
      sql(
        db,
        `UPDATE touches SET state = 'skipped', ended_at = @at, outcome = 'lapsed'
         WHERE journey_id = @journeyId AND step_id = @nodeId AND state = 'open'`,
      ).run({ journeyId, nodeId, at: decision.at });
  }
}

export function recordPathDecision(
  db: Db,
  decision: {
    journeyId: number;
    at: number;
    nodeId: string;
    kind: "fork" | "skip" | "lapse" | "move" | "claim";
    outcome: string;
    inputs: unknown;
  },
): void {
  sql(
    db,
    `INSERT INTO decisions (journey_id, at, node_id, kind, outcome, inputs)
     VALUES (@journeyId, @at, @nodeId, @kind, @outcome, @inputs)`,
  ).run({ ...decision, inputs: JSON.stringify(decision.inputs) });
}

/** Makes a task or a draft of a step; null, or why its text cannot be filled in. */
function bringUp(
  app: App,
  about: {
    sequence: Sequence;
    journey: ActiveJourney;
    walker: Walker;
    step: TouchStep;
    due: number;
    now: number;
  },
): Lacking | null {
  const { db } = app;
  const { sequence, journey, step, due, now } = about;
  const prospect = prospectById(db, journey.prospectId);
  const mailbox = mailboxById(db, journey.mailboxId ?? sequence.mailboxIds[0] ?? 0);
  if (!prospect) return { reason: "text_broken", detail: "This person is no longer here." };
  const made = isEmail(step)
    ? mailbox &&
      renderStep(app, { path: about.walker.path, step, sequenceId: sequence.id, prospect, mailbox })
    : textFor(app, step as RepStep, prospect, sequence.userId, sequence.settings.pageId);
  if (!made) return { reason: "no_mailbox", detail: null };
  const accountId = accountFor(db, sequence, step, prospect.profile);
  // What the rep does or says yes to, they read; what an account does by itself nobody sees before.
  const unread =
    accountId !== null && !isEmail(step) && mustBeRead(db, sequence, step.id, prospect.id)
      ? unreadIn([step.text], prospect)
      : null;
  if (unread !== null) return { reason: "line_unread", detail: unread };
  if (!made.ok) return lackOf(made);
  sql(
    db,
    `INSERT INTO touches (kind, journey_id, step_id, version, variant_id, prospect_id, user_id, mailbox_id, account_id, recipient,
       state, at, due_at, subject, body, markup)
     VALUES (@kind, @journeyId, @stepId, @version, @variantId, @prospectId, @userId, @mailboxId, @accountId, @recipient, @state, @at,
       @due, @subject, @body, @markup)
     ON CONFLICT (journey_id, step_id) DO NOTHING`,
  ).run({
    kind: step.kind,
    journeyId: journey.id,
    stepId: step.id,
    version: journey.version,
    variantId: made.variantId,
    prospectId: prospect.id,
    userId: prospect.ownerId ?? sequence.userId,
    mailboxId: isEmail(step) ? (mailbox?.id ?? null) : null,
    accountId,
    recipient: isEmail(step) ? prospect.email : "",
    state: isEmail(step) ? "draft" : "open",
    // It came up when it was due, however late the tick; a draft before that.
    at: isEmail(step) ? now : due,
    due,
    subject: made.subject,
    body: made.body,
    markup: made.markup,
  });
  sql(
    db,
    `UPDATE journeys SET wait_reason = NULL, wait_detail = NULL
     WHERE id = @id AND wait_reason IN ('merge_field_empty', 'line_unread', 'picture_unmade', 'text_broken', 'no_mailbox')`,
  ).run({ id: journey.id });
  (about.walker.begun as Map<string, { at: number; endedAt: null }>).set(step.id, {
    at: isEmail(step) ? now : due,
    endedAt: null,
  });
  return null;
}

/** Whether what the assistant wrote must have been read by somebody before a step leaves by itself. */
export const mustBeRead = (
  db: Db,
  { id, kind, settings }: Pick<Sequence, "id" | "kind" | "settings">,
  stepId: string,
  prospectId: number,
): boolean => kind !== "single" && !settings.sendsUnread && !isApproved(db, id, stepId, prospectId);

/** The social account that makes a touch by itself; null: it is the rep's own. */
function accountFor(db: Db, { settings }: Sequence, step: TouchStep, profile: string): number | null {
  if (CHANNEL_OF[step.kind] !== "social" || profile === "" || settings.accountId === null) return null;
  return accountById(db, settings.accountId)?.id ?? null;
}

interface Lacking {
  reason: "no_mailbox" | ReturnType<typeof lackOf>["reason"];
  detail: string | null;
}

function hold(db: Db, id: number, { reason, detail }: Lacking): void {
  sql(
    db,
    "UPDATE journeys SET wait_reason = @reason, wait_detail = @detail, next_at = NULL WHERE id = @id",
  ).run({ id, reason, detail });
}

/** Leaves out the step somebody stands before, because its condition does not hold now that it would go. */
export function skipStep(app: AppTx, journey: ActiveJourney, step: TouchStep, now: number): void {
  const { db } = app;
  recordPathDecision(db, {
    journeyId: journey.id,
    at: now,
    nodeId: step.id,
    kind: "skip",
    outcome: "",
    inputs: step.onlyIf ?? {},
  });
  const path = pathOfVersion(db, journey.sequenceId, journey.version);
  const next = spotsOf(path).get(step.id)?.next ?? null;
  sql(
    db,
    "UPDATE journeys SET place_id = @placeId, since = @now, due_at = @now, next_at = NULL, wait_reason = NULL WHERE id = @id",
  ).run({ id: journey.id, placeId: next?.id ?? null, now });
  considerJourney(app, journey.id, now);
}
