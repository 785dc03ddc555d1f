/**
 * Settles claims: what the server answered, and, for claims that a crash or a broken connection
 * left open, what the mailbox's Sent folder says. Nothing is sent again before that is known.
 */
import { MINUTE } from "../../core/calendar.ts";
import { dueAfter } from "../../core/sending/plan.ts";
import { stepsAhead } from "../../core/sequence/steps.ts";
import type { App } from "../app.ts";
import { recordEvent } from "../db/events.ts";
import { finishJourney, raiseStage, stopJourneys } from "../db/journeys.ts";
import {
  releaseClaim,
  settleRefused,
  settleSent,
  type Touch,
  touchesInState,
  touchesOfJourney,
} from "../db/ledger.ts";
import { type Mailbox, setSmtpTrouble, setTrouble } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import { sequenceById } from "../db/sequences.ts";
import type { SendResult } from "../mail/smtp.ts";
import { troubleWords } from "../mail/trouble.ts";
import { bounced } from "./bounced.ts";
import type { MailDoors } from "./doors.ts";

/** How long an email waits after a server said "later": greylisting (RFC 6647) lets most pass after a quarter of an hour. */
const RETRY_AFTER = 15 * MINUTE;
/** How long a mailbox is left alone after its server did not take a connection. */
const UNREACHABLE_FOR = 5 * MINUTE;

export function settle(db: Db, touch: Touch, mailbox: Mailbox, outcome: SendResult, now: number): void {
  switch (outcome.result) {
    case "sent":
      if (mailbox.smtpTrouble) setSmtpTrouble(db, mailbox.id, null);
      markSent(db, touch, touch.claimedAt ?? now);
      return;
    case "unknown":
      return; // stays claimed; the Sent folder decides
    case "unreachable":
      releaseClaim(db, touch);
      setSmtpTrouble(db, mailbox.id, { words: outcome.words, retryAt: now + UNREACHABLE_FOR });
      return;
    case "refused_for_now":
      releaseClaim(db, touch);
      if (touch.journeyId !== null)
        sql<Record<string, unknown>>(
          db,
          `UPDATE journeys SET due_at = @due, next_at = NULL, wait_reason = 'refused_for_now', wait_detail = @words
           WHERE id = @id AND state = 'active'`,
        ).run({ id: touch.journeyId, due: now + RETRY_AFTER, words: outcome.words });
      return;
    case "refused":
      markRefused(db, touch, outcome, now);
  }
}

function markSent(db: Db, touch: Touch, at: number): void {
  if (!settleSent(db, touch.id, at)) return;
  const about = {
    at,
    prospectId: touch.prospectId,
    journeyId: touch.journeyId,
    touchId: touch.id,
    mailboxId: touch.mailboxId,
  };
  recordEvent(db, { ...about, kind: touch.kind === "step" ? "email_sent" : "answered" });
  if (touch.journeyId === null) return;
  raiseStage(db, touch.prospectId, "contacted");
  moveOn(db, touch.journeyId, touch, at);
}

/** After a sent step the journey stands before the next one, in this mailbox's thread, or is finished. */
function moveOn(db: Db, id: number, touch: Touch, at: number): void {
  const journey = sql<{ id: number }, { sequenceId: number; zone: string | null }>(
    db,
    `SELECT j.sequence_id AS sequenceId, p.time_zone AS zone
     FROM journeys j JOIN prospects p ON p.id = j.prospect_id WHERE j.id = @id AND j.state = 'active'`,
  ).get({ id });
  const sequence = journey && sequenceById(db, journey.sequenceId);
  if (!journey || !sequence) return;
  const done = new Set(touchesOfJourney(db, id).map(({ stepId }) => stepId ?? ""));
  const [next] = stepsAhead(sequence.steps, done);
  const { mailboxId } = touch;
  if (next) {
    const zone = journey.zone ?? sequence.zone;
    const dueAt = dueAfter(at, next.waitDays, sequence.hours, zone, id, next.id);
    sql<Record<string, unknown>>(
      db,
      `UPDATE journeys SET mailbox_id = @mailboxId, due_at = @dueAt, next_step_id = @stepId, next_at = NULL,
         wait_reason = 'wait_days', wait_detail = NULL
       WHERE id = @id`,
    ).run({ id, mailboxId, dueAt, stepId: next.id });
  } else finishJourney(db, id, mailboxId, at);
}

function markRefused(
  db: Db,
  touch: Touch,
  { words, recipient }: { words: string; recipient: boolean },
  now: number,
): void {
  settleRefused(db, touch.id, words);
  recordEvent(db, {
    at: now,
    kind: recipient ? "bounced" : "email_refused",
    prospectId: touch.prospectId,
    journeyId: touch.journeyId,
    touchId: touch.id,
    mailboxId: touch.mailboxId,
    detail: recipient ? `hard: ${words}` : words,
  });
  if (recipient) bounced(db, touch, words, now);
  else stopJourneys(db, touch.prospectId, "refused", words, now);
}

/**
 * Looks up open claims in their mailboxes' Sent folders. A claim without a trace is released only
 * after the time that SMTP lets a server take to accept an email.
 */
export async function settleOpenClaims(
  app: App,
  doors: MailDoors,
  mailboxes: readonly Mailbox[],
): Promise<void> {
  const { db, config } = app;
  for (const touch of touchesInState(db, "claimed")) {
    const mailbox = mailboxes.find(({ id }) => id === touch.mailboxId);
    if (!mailbox) continue;
    try {
      const accepted = await doors.of(mailbox).inbox.hasSent(touch.messageId);
      const age = Date.now() - (touch.claimedWall ?? 0);
      if (accepted) db.transaction(() => markSent(db, touch, touch.claimedAt ?? app.clock.now())).immediate();
      else if (age >= config.settleSeconds * 1000) releaseClaim(db, touch);
    } catch (error) {
      setTrouble(db, mailbox.id, troubleWords(error, "incoming", mailbox.imapHost, mailbox.imapPort));
    }
  }
}
