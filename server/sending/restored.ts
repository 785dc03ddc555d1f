/** What came of a recovery, for the Sending page, and what a person decides about those who may have been written to. */
import { z } from "zod";
import { isEmail, type PathNode, spotsOf } from "../../core/sequence/path.ts";
import { allowedAmong, type By, mayNot } from "../accounts/may-not.ts";
import type { App, AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { liftHold } from "../db/holds.ts";
import { activeJourney } from "../db/journeys.ts";
import { enterTouch, type Touch, touchById, touchesOfJourney, touchOfStep } from "../db/ledger.ts";
import { mailboxById } from "../db/mailboxes.ts";
import { nameSql } from "../db/names.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { prospectById } from "../db/prospects.ts";
import { type Recovery, unseenRecovery } from "../db/recoveries.ts";
import { pathOfVersion, sequenceById } from "../db/sequences.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { stepMessageId } from "../mail/message-id.ts";
import { renderStep } from "../sequences/render-step.ts";
import { markSent } from "./settle.ts";

const MOST_SHOWN = 100;

export interface HeldPerson {
  prospectId: number;
  name: string;
  company: string;
  sequenceName: string;
  stepName: string;
  dueAt: number;
}

export interface Restored {
  recovery: Recovery;
  /** Those who wait, the first of them, and how many. */
  shown: HeldPerson[];
  total: number;
}

const HELD = `holds h JOIN journeys j ON j.id = h.scope_id AND j.state = 'active'
  WHERE h.scope = 'journey' AND h.reason = 'after_restore'`;

/** Null if there is nothing to tell: somebody is told of those about whom they decide, a manager of the outcome besides. */
export function restored(app: App, by: By): Restored | null {
  const { db } = app;
  const mine = heldAmong(app, by).map(({ prospectId }) => prospectId);
  const rows = sql(
    db,
    `SELECT p.id AS prospectId, p.company, s.name AS sequenceName, x.dueAt, x.placeId, x.sequenceId, x.version,
       ${nameSql()} AS name
     FROM (SELECT j.prospect_id AS prospectId, j.due_at AS dueAt, j.place_id AS placeId, j.sequence_id AS sequenceId, j.version FROM ${HELD}) x
     JOIN prospects p ON p.id = x.prospectId JOIN sequences s ON s.id = x.sequenceId
     WHERE p.id IN (SELECT value FROM json_each(@mine)) ORDER BY x.dueAt, p.id LIMIT ${MOST_SHOWN}`,
  ).all<
    Omit<HeldPerson, "stepName"> & {
      placeId: string | null;
      sequenceId: number;
      version: number;
    }
  >({ mine: JSON.stringify(mine) });
  const unseen = unseenRecovery(db);
  const told = unseen?.endedAt === null || mayNot(app, by, "restored.close") === null ? unseen : undefined;
  const recovery = told ?? (rows.length > 0 ? latestEnded(db) : undefined);
  if (!recovery) return null;
  return {
    recovery,
    total: mine.length,
    shown: rows.map(({ placeId, sequenceId, version, ...row }) => ({
      ...row,
      stepName: nameOf(spotsOf(pathOfVersion(db, sequenceId, version)).get(placeId ?? "")?.node),
    })),
  };
}

const allHeld = (db: Db) =>
  sql(db, `SELECT j.id AS journeyId, j.prospect_id AS prospectId FROM ${HELD}`).all<{
    journeyId: number;
    prospectId: number;
  }>([]);

/** Those about whom somebody decides. */
function heldAmong(app: App, by: By): { journeyId: number; prospectId: number }[] {
  const held = allHeld(app.db);
  const ids = held.map(({ prospectId }) => prospectId);
  const mine = allowedAmong(app, by, "restored.decide", ids);
  return held.filter(({ prospectId }) => mine.has(prospectId));
}

const nameOf = (node: PathNode | undefined): string => (node && "name" in node ? node.name : "");

const latestEnded = (db: Db): Recovery | undefined =>
  sql(
    db,
    "SELECT id, reason, since, until, found, held, dropped, ended_at AS endedAt FROM recoveries ORDER BY id DESC LIMIT 1",
  ).get<Recovery>([]);

/** `go_on`: they were not written to, and get what was due. `left`: they were, and the next step follows. `stop`: nothing more goes. */
export const RESTORED_DECISIONS = ["go_on", "left", "stop", "seen"] as const;

const form = z.object({
  intent: z.enum(RESTORED_DECISIONS),
  /** Only these, or everybody whom the user may decide about. */
  ids: z.array(z.number().int()).nullable(),
});

/** Returns for how many it was decided. */
export function decideRestored(app: App, by: By, input: unknown): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return refused({ form: "This cannot be read. Reload the page and try again." });
  const { intent, ids } = read.data;
  const { clock } = app;
  const now = clock.now();
  return transact(app, (app): Outcome<number> => {
    const { db } = app;
    if (intent === "seen") {
      const notClosed = mayNot(app, by, "restored.close");
      if (notClosed) return notClosed;
      sql(db, "UPDATE recoveries SET closed_at = @now WHERE ended_at IS NOT NULL AND closed_at IS NULL").run({
        now,
      });
      return done(0);
    }
    const mine = heldAmong(app, by).filter(({ prospectId }) => ids === null || ids.includes(prospectId));
    const asked = ids ?? allHeld(db).map(({ prospectId }) => prospectId);
    const no = mine.length === 0 ? mayNot(app, by, "restored.decide", asked) : null;
    if (no) return no;
    for (const { journeyId, prospectId } of mine) {
      if (intent === "stop") apply(db, { kind: "stopped_by_rep" }, { at: now, prospectId, userId: by });
      else if (intent === "left") passOver(app, journeyId, now);
      liftHold(db, { scope: "journey", scopeId: journeyId, reason: "after_restore" }, now);
    }
    return done(mine.length);
  });
}

/** The step before which they stand counts as done when it was due: an email with the text and the Message-ID that it had. */
function passOver(app: AppTx, journeyId: number, now: number): void {
  const { db, key } = app;
  const journey = activeJourney(db, journeyId);
  const sequence = journey && sequenceById(db, journey.sequenceId);
  const prospect = journey && prospectById(db, journey.prospectId);
  if (!journey || !sequence || !prospect || journey.placeId === null) return;
  const path = pathOfVersion(db, sequence.id, journey.version);
  const step = spotsOf(path).get(journey.placeId)?.node;
  if (!step || step.kind === "fork" || step.kind === "end") return;
  const at = Math.min(now, journey.dueAt);
  const mailbox = mailboxById(db, journey.mailboxId ?? journey.nextMailboxId ?? sequence.mailboxIds[0] ?? 0);
  const known = touchOfStep(db, journeyId, step.id);
  if (isEmail(step) && mailbox && !known) {
    const rendered = renderStep(app, { path, step, sequenceId: sequence.id, prospect, mailbox });
    const earlier = touchesOfJourney(db, journeyId).at(-1);
    const id = enterTouch(db, {
      ...{ kind: step.kind, journeyId, stepId: step.id, version: journey.version, prospectId: prospect.id },
      ...{ mailboxId: mailbox.id, recipient: prospect.email, state: "claimed" as const, markup: null },
      messageId: stepMessageId(
        key,
        { journeyId, stepId: step.id, recipient: prospect.email },
        mailbox.address,
      ),
      inReplyTo: earlier?.messageId ?? null,
      references: earlier ? `${earlier.references} ${earlier.messageId}`.trim() : "",
      subject:
        (rendered.ok && rendered.subject) ||
        (earlier ? `Re: ${earlier.subject.replace(/^Re: /, "")}` : step.name),
      body: rendered.ok ? rendered.body : "",
      variantId: rendered.ok ? rendered.variantId : null,
      ...{ claimedAt: at, claimedWall: at },
    });
    if (id !== null) markSent(app, touchById(db, id) as Touch, at, "It left before a restore.");
  } else {
    const values = {
      ...{ kind: step.kind, journeyId, stepId: step.id, version: journey.version, prospectId: prospect.id },
      ...{ at, note: "It was done before a restore." },
    };
    // Not an upsert: inside one SQLite lets no trigger pass over what it has already (https://www.sqlite.org/lang_upsert.html).
    const had = sql(
      db,
      `UPDATE touches SET state = 'done', ended_at = @at, note = @note
       WHERE journey_id = @journeyId AND step_id = @stepId AND state IN ('draft', 'approved', 'open')`,
    ).run(values).changes;
    if (had === 0 && !known)
      sql(
        db,
        `INSERT INTO touches (kind, journey_id, step_id, version, prospect_id, state, at, due_at, ended_at, note)
         VALUES (@kind, @journeyId, @stepId, @version, @prospectId, 'done', @at, @at, @at, @note)`,
      ).run(values);
  }
  sql(db, "INSERT OR IGNORE INTO reconsider VALUES (@journeyId)").run({ journeyId });
}
