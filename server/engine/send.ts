/** Sends what is due: claims in one transaction, speaks SMTP, settles in another. */
import { randomUUID } from "node:crypto";
import { mayWriteTo } from "../../core/prospects/verdict.ts";
import type { PlannedTouch } from "../../core/sending/plan.ts";
import type { WaitReason } from "../../core/sending/reasons.ts";
import { isSameThread } from "../../core/sequence/steps.ts";
import type { App } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { recordDecision, stopJourneys } from "../db/journeys.ts";
import {
  claimQueued,
  enterTouch,
  settleRefused,
  type Touch,
  touchById,
  touchesInState,
  touchesOfJourney,
} from "../db/ledger.ts";
import { allMailboxes, type Mailbox } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { fullName, prospectById } from "../db/prospects.ts";
import { allSequences, type Sequence } from "../db/sequences.ts";
import { composeEmail } from "../mail/compose.ts";
import { renderStep } from "../sequences/render-step.ts";
import type { MailDoors } from "./doors.ts";
import { settle } from "./settle.ts";

/** Claims of one transaction: enough to keep every connection busy, few enough to settle soon. */
const BATCH = 64;

interface Claimed {
  touch: Touch;
  mailbox: Mailbox;
  toName: string;
  tracks: boolean;
}

/** Sends the planned touches that are due, and the reps' own answers. Returns how many emails left. */
export async function sendDue(
  app: App,
  doors: MailDoors,
  due: readonly PlannedTouch[],
  now: number,
): Promise<number> {
  const mailboxes = new Map(allMailboxes(app.db).map((mailbox) => [mailbox.id, mailbox]));
  const sequences = new Map(allSequences(app.db).map((sequence) => [sequence.id, sequence]));
  let sent = 0;
  const answers = claimAnswers(app, mailboxes, now);
  if (answers.length > 0) sent += await sendClaimed(app, doors, answers, now);
  for (let from = 0; from < due.length; from += BATCH) {
    const batch = due.slice(from, from + BATCH);
    const claimed = app.db
      .transaction(() => batch.flatMap((planned) => claim(app, planned, mailboxes, sequences, now) ?? []))
      .immediate();
    sent += await sendClaimed(app, doors, claimed, now);
  }
  return sent;
}

async function sendClaimed(
  app: App,
  doors: MailDoors,
  claimed: readonly Claimed[],
  now: number,
): Promise<number> {
  const outcomes = await Promise.all(
    claimed.map(async (each) => ({
      ...each,
      outcome: await doors
        .of(each.mailbox)
        .sender.send(composeEmail(app, each.touch, each.mailbox, each.toName, each.tracks)),
    })),
  );
  app.db
    .transaction(() => {
      for (const { touch, mailbox, outcome } of outcomes) settle(app.db, touch, mailbox, outcome, now);
    })
    .immediate();
  return outcomes.filter(({ outcome }) => outcome.result === "sent").length;
}

function claimAnswers(app: App, mailboxes: Map<number, Mailbox>, now: number): Claimed[] {
  const { db } = app;
  return db
    .transaction(() =>
      touchesInState(db, "queued").flatMap((touch) => {
        const mailbox = mailboxes.get(touch.mailboxId);
        const prospect = prospectById(db, touch.prospectId);
        if (
          !mailbox ||
          mailbox.trouble ||
          (mailbox.smtpRetryAt ?? 0) > now ||
          !prospect ||
          !claimQueued(db, touch.id, now, Date.now())
        )
          return [];
        if (isBlocked(db, touch.recipient)) {
          settleRefused(db, touch.id, "The address has been on the block list since.");
          return [];
        }
        const toName = touch.recipient === prospect.email ? fullName(prospect) : "";
        const claimed = touchById(db, touch.id) as Touch;
        return [{ touch: claimed, mailbox, toName, tracks: false }];
      }),
    )
    .immediate();
}

/**
 * Looks at the journey once more, inside the transaction that claims: a stop that came after the
 * plan was made wins. Null if nothing is to be sent.
 */
function claim(
  app: App,
  planned: PlannedTouch,
  mailboxes: Map<number, Mailbox>,
  sequences: Map<number, Sequence>,
  now: number,
): Claimed | null {
  const { db } = app;
  const journey = sql<{ id: number }, { prospectId: number; sequenceId: number; mailboxId: number | null }>(
    db,
    `SELECT prospect_id AS prospectId, sequence_id AS sequenceId, mailbox_id AS mailboxId
     FROM journeys WHERE id = @id AND state = 'active'`,
  ).get({ id: planned.journeyId });
  const prospect = journey && prospectById(db, journey.prospectId);
  const sequence = journey && sequences.get(journey.sequenceId);
  const mailbox = mailboxes.get(planned.mailboxId);
  const step = sequence?.steps.find(({ id }) => id === planned.stepId);
  if (!journey || !prospect || !sequence || !mailbox || !step) return null;
  if (isBlocked(db, prospect.email)) {
    stopJourneys(db, prospect.id, "blocked", null, now);
    return null;
  }

  // Whoever lost their address, or its good name, since the plan was made is planned anew.
  if (prospect.email === "" || !mayWriteTo(sequence.writesTo, prospect.verdict)) return null;

  const rendered = renderStep(app, { sequence, step, prospect, mailbox });
  if (!rendered.ok) {
    const reason: WaitReason = rendered.emptyField === null ? "text_broken" : "merge_field_empty";
    const detail = rendered.emptyField ?? rendered.error;
    recordDecision(db, {
      id: planned.journeyId,
      stepId: step.id,
      at: null,
      mailboxId: mailbox.id,
      wait: { reason, detail, until: null },
    });
    return null;
  }

  const earlier = touchesOfJourney(db, planned.journeyId).filter(
    ({ state }) => state === "sent" || state === "claimed",
  );
  const last = earlier.at(-1);
  const inThread = last !== undefined && isSameThread(sequence.steps, sequence.steps.indexOf(step));
  const touch: Omit<Touch, "id"> = {
    kind: "step",
    journeyId: planned.journeyId,
    stepId: step.id,
    version: sequence.version,
    prospectId: prospect.id,
    mailboxId: mailbox.id,
    recipient: prospect.email,
    state: "claimed",
    messageId: `<${randomUUID()}@${mailbox.address.split("@")[1]}>`,
    inReplyTo: inThread ? last.messageId : null,
    references: inThread ? `${last.references} ${last.messageId}`.trim() : "",
    subject: inThread ? `Re: ${last.subject.replace(/^Re: /, "")}` : rendered.subject,
    body: rendered.body,
    claimedAt: now,
    claimedWall: Date.now(),
    sentAt: null,
  };
  const id = enterTouch(db, touch);
  if (id === null) return null;
  return {
    touch: { ...touch, id },
    mailbox,
    toName: fullName(prospect),
    tracks: sequence.tracks,
  };
}
