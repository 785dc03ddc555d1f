/**
 * Settles claims: by what the server answered, and, where a crash or a broken connection left that open, by evidence.
 * Nothing is sent again before it is certain that it was not accepted.
 */
import { DAY, MINUTE } from "../../core/calendar.ts";
import { faultOf } from "../../core/sending/refusal.ts";
import { readCompany } from "../accounts/company.ts";
import type { App, AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { setHold } from "../db/holds.ts";
import {
  claimedBy,
  hasEverSent,
  isStillClaimed,
  leaveUndecided,
  releaseClaim,
  settleRefused,
  settleSent,
  type Touch,
} from "../db/ledger.ts";
import { type Mailbox, putOffSending, sendingWorks, setCopies, stopSending } from "../db/mailboxes.ts";
import { type Db, sql, type Tx, transact } from "../db/open.ts";
import { withDeadline } from "../mail/deadline.ts";
import type { MailDoors } from "../mail/doors.ts";
import { handOutFiles } from "../mail/file-links.ts";
import type { SendResult } from "../mail/smtp.ts";

/** How long an email waits after a server said "later": greylisting (RFC 6647) lets most pass after a quarter of an hour. */
const RETRY_AFTER = 15 * MINUTE;
/** How long a mailbox is left alone after its server did not take a connection; twice as long after each failure in a row. */
const UNREACHABLE_FOR = 5 * MINUTE;
const UNREACHABLE_AT_MOST = 60 * MINUTE;
const LOOK_LASTS = 30_000;

export function settle(app: AppTx, touch: Touch, mailbox: Mailbox, outcome: SendResult, now: number): void {
  const { db } = app;
  switch (outcome.result) {
    case "sent":
      sendingWorks(db, mailbox.id);
      markSent(app, touch, touch.claimedAt ?? now, outcome.answer);
      return;
    case "unknown":
      return; // stays claimed; the evidence decides
    case "fenced":
      // Nothing was accepted; if nobody has decided about it after all, it is free again.
      if (isStillClaimed(db, touch)) releaseClaim(db, touch);
      return;
    case "unreachable":
      releaseClaim(db, touch);
      putOff(db, mailbox.id, outcome.words, now);
      return;
    case "later":
      tryLater(db, touch, outcome.words, now);
      return;
    case "refused":
      markRefused(db, touch, mailbox, outcome, now);
  }
}

/** Leaves a mailbox alone for a while after its server took no connection. */
export function putOff(db: Db, mailboxId: number, words: string, now: number): void {
  const failures =
    sql(db, "SELECT smtp_failures AS failures FROM mailboxes WHERE id = @mailboxId").get<{
      failures: number;
    }>({ mailboxId })?.failures ?? 0;
  putOffSending(db, mailboxId, words, now + Math.min(UNREACHABLE_AT_MOST, UNREACHABLE_FOR * 2 ** failures));
}

function tryLater(db: Db, touch: Touch, words: string, now: number): void {
  releaseClaim(db, touch);
  // An answer has no date of its own to move.
  if (touch.journeyId === null) {
    putOff(db, touch.mailboxId, words, now);
    return;
  }
  sql(
    db,
    `UPDATE journeys SET due_at = @due, next_at = NULL, wait_reason = 'refused_for_now', wait_detail = @words
     WHERE id = @id AND state = 'active'`,
  ).run({ id: touch.journeyId, due: now + RETRY_AFTER, words });
}

const about = (touch: Touch, at: number) => ({
  at,
  prospectId: touch.prospectId,
  journeyId: touch.journeyId,
  touchId: touch.id,
  mailboxId: touch.mailboxId,
  recipient: touch.recipient,
});

function markRefused(
  db: Tx,
  touch: Touch,
  mailbox: Mailbox,
  refusal: Extract<SendResult, { result: "refused" }>,
  now: number,
): void {
  const { words } = refusal;
  switch (faultOf({ ...refusal, hasSent: hasEverSent(db, mailbox.id) })) {
    case "later":
      tryLater(db, touch, words, now);
      return;
    case "policy":
      if (isAboutThemOnly(db, touch, now)) {
        holdRefused(db, touch, words, now);
        return;
      }
      noteRefusal(db, touch, words, now);
      // Behind the others, once somebody lets it go on: whether these pass tells whom the refusal is about.
      if (touch.journeyId === null) releaseClaim(db, touch);
      else tryLater(db, touch, words, now);
      stopSending(db, mailbox.id, `The outgoing server says “${words}”.`);
      return;
    case "sender":
      releaseClaim(db, touch);
      stopSending(db, mailbox.id, `The outgoing server says “${words}”.`);
      return;
    case "recipient":
      settleRefused(db, touch, words);
      apply(db, { kind: "bounced", hard: true, words }, about(touch, now));
      return;
    case "email":
      settleRefused(db, touch, words);
      apply(db, { kind: "refused", words }, about(touch, now));
  }
}

/** Others pass if the mailbox had an email accepted since a day before the first refusal. */
const PASSED_WITHIN = DAY;

/** Whether this mailbox's email to this address was refused by a host's rules before, while others of it pass. */
const isAboutThemOnly = (db: Db, { mailboxId, recipient }: Touch, now: number): boolean =>
  sql(
    db,
    `SELECT 1 FROM refusals r WHERE r.mailbox_id = @mailboxId AND r.recipient = @recipient AND r.at <= @now
       AND EXISTS (SELECT 1 FROM touches t WHERE t.mailbox_id = @mailboxId AND t.sent_at >= r.at - @passed AND t.recipient != @recipient)`,
  ).get<unknown>({ mailboxId, recipient, now, passed: PASSED_WITHIN }) !== undefined;

function noteRefusal(db: Db, { mailboxId, recipient }: Touch, words: string, now: number): void {
  sql(
    db,
    `INSERT INTO refusals (mailbox_id, recipient, at, words) VALUES (@mailboxId, @recipient, @now, @words)
     ON CONFLICT (mailbox_id, recipient) DO NOTHING`,
  ).run({ mailboxId, recipient, now, words: words.slice(0, 500) });
}

/** Their journey waits until the rep has looked at what the host said; an answer goes back to who wrote it. */
function holdRefused(db: Tx, touch: Touch, words: string, now: number): void {
  if (touch.journeyId === null) {
    settleRefused(db, touch, words);
    apply(db, { kind: "refused", words }, about(touch, now));
    return;
  }
  releaseClaim(db, touch);
  setHold(db, {
    ...{ scope: "journey", scopeId: touch.journeyId, reason: "refused_by_host" },
    ...{ detail: words.slice(0, 500), since: now, until: null, causeProspectId: null },
  });
}

/** Done again it changes nothing. */
export function markSent(
  app: Pick<AppTx, "db" | "key">,
  touch: Touch,
  at: number,
  answer: string | null,
): void {
  const { db } = app;
  if (!settleSent(db, touch, at, answer)) return;
  handOutFiles(app, touch, at);
  apply(db, { kind: touch.journeyId !== null ? "sent" : "answered" }, about(touch, at));
  // The thread stays in this mailbox; where the journey goes on is considered next (server/sequences/consider.ts).
  if (touch.journeyId !== null)
    sql(
      db,
      "UPDATE journeys SET mailbox_id = @mailboxId, next_at = NULL WHERE id = @id AND state = 'active'",
    ).run({ id: touch.journeyId, mailboxId: touch.mailboxId });
}

/**
 * Decides a mailbox's open claims by evidence, in this order: what the server was noted to have said; a copy in the Sent
 * folder; and where there is none, the choice made in the settings, which is to leave it to the rep. Returns whether
 * anything changed. Throws if the mailbox cannot be asked.
 */
export async function settleOpenClaims(app: App, doors: MailDoors, mailbox: Mailbox): Promise<boolean> {
  const { db, config } = app;
  const open = claimedBy(db, mailbox.id);
  if (open.length === 0) return false;
  const { folders, readAgainAt } = doors.of(mailbox);
  const noted = open.filter(({ serverAnswer }) => serverAnswer !== null);
  const asked = open.filter(({ serverAnswer }) => serverAnswer === null);
  const sent =
    asked.length === 0 || Date.now() < readAgainAt
      ? null
      : await withDeadline(LOOK_LASTS, folders.sentAmong(asked.map(({ messageId }) => messageId)), () =>
          folders.kill(),
        );
  const isLookedUp = asked.length > 0 && Date.now() >= readAgainAt;
  return transact(app, (app) => {
    const { db } = app;
    let changed = false;
    const at = (touch: Touch) => touch.claimedAt ?? app.clock.now();
    for (const touch of noted) markSent(app, touch, at(touch), touch.serverAnswer);
    for (const touch of asked)
      if (sent?.has(touch.messageId)) {
        // The copy of an email that we have not settled can only be the server's.
        setCopies(db, mailbox.id, "server");
        markSent(app, touch, at(touch), null);
        changed = true;
      } else if (isLookedUp && Date.now() - (touch.claimedWall ?? 0) >= config.settleSeconds * 1000) {
        // Absence from the Sent folder is no proof: a host that copies does so after it has accepted, or not at all.
        if (readCompany(db).unsettled === "send_again") releaseClaim(db, touch);
        else if (touch.undecidedAt === null) leaveUndecided(db, touch.id, app.clock.now());
        else continue;
        changed = true;
      }
    return changed || noted.length > 0;
  });
}
