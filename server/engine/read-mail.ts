/** Reads what arrived in the mailboxes, says whom it is from, and stops what has to stop. */
import { type IncomingKind, sortIncoming } from "../../core/replies/incoming.ts";
import type { App } from "../app.ts";
import { recordEvent } from "../db/events.ts";
import { raiseStage, stopJourneys } from "../db/journeys.ts";
import { latestTouchTo, type Touch, touchByMessageId } from "../db/ledger.ts";
import { type Mailbox, setTrouble } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import { prospectIdByEmail, remainingProspect } from "../db/prospects.ts";
import { log } from "../log.ts";
import { type ParsedMessage, parseMessage } from "../mail/parse.ts";
import { troubleWords } from "../mail/trouble.ts";
import { bounced } from "./bounced.ts";
import type { MailDoors } from "./doors.ts";

/** Reads one mailbox. Returns how many messages belonged to a prospect; on trouble none, and the mailbox says why. */
export async function readMailbox(app: App, doors: MailDoors, mailbox: Mailbox): Promise<number> {
  const { db, clock } = app;
  try {
    const { messages, mark } = await doors
      .of(mailbox)
      .inbox.readNew({ uidValidity: mailbox.uidValidity, lastUid: mailbox.lastUid }, clock.now());
    setTrouble(db, mailbox.id, null);
    if (mark.uidValidity === mailbox.uidValidity && mark.lastUid === mailbox.lastUid) return 0;
    const parsed: ParsedMessage[] = [];
    for (const { uid, source, arrivedAt } of messages)
      try {
        parsed.push(await parseMessage(source, arrivedAt));
      } catch (error) {
        // One message that cannot be read must not keep the others from being read.
        log.warn({ mailbox: mailbox.id, uid, error: String(error) }, "message left out");
      }
    // The mark moves with the messages, so that a crash in between reads them again, not over.
    return db
      .transaction(() => {
        sql<Record<string, unknown>>(
          db,
          "UPDATE mailboxes SET uid_validity = @uidValidity, last_uid = @lastUid WHERE id = @id",
        ).run({ ...mark, id: mailbox.id });
        return parsed.filter((message) => takeIn(db, mailbox, message)).length;
      })
      .immediate();
  } catch (error) {
    setTrouble(db, mailbox.id, troubleWords(error, "incoming", mailbox.imapHost, mailbox.imapPort));
    return 0;
  }
}

/** Whom a message is from: whoever got the email it answers, or else whoever has its sender's address. */
function match(db: Db, mailbox: Mailbox, message: ParsedMessage, sorted: IncomingKind) {
  const answered = [message.returnedId, ...message.answers]
    .filter((id) => id !== null)
    .map((id) => touchByMessageId(db, id))
    .find((touch) => touch !== undefined);
  if (answered)
    // Of somebody who was erased nothing more is kept.
    return remainingProspect(db, answered.prospectId)
      ? { prospectId: answered.prospectId, touch: answered }
      : null;
  const address = sorted.kind === "bounce" ? sorted.recipient : message.fromAddress;
  if (!address) return null;
  const known = prospectIdByEmail(db, address);
  const touch = known === null ? null : latestTouchTo(db, known, mailbox.id);
  // Mail from somebody we never wrote to is not ours to keep.
  return known !== null && touch ? { prospectId: known, touch } : null;
}

/** Keeps a message and draws its consequences; false if it is none of a prospect's, or known. */
function takeIn(db: Db, mailbox: Mailbox, message: ParsedMessage): boolean {
  const sorted = sortIncoming(message);
  const matched = match(db, mailbox, message, sorted);
  if (!matched) return false;
  const replyId = keep(db, mailbox, message, sorted, matched.prospectId, matched.touch);
  if (replyId === null) return false;

  const { at } = message;
  const { prospectId, touch } = matched;
  const about = {
    at,
    prospectId,
    journeyId: touch.journeyId,
    touchId: touch.id,
    mailboxId: mailbox.id,
    replyId,
  };
  if (sorted.kind === "person") {
    recordEvent(db, { ...about, kind: "replied" });
    stopJourneys(db, prospectId, "replied", null, at);
    raiseStage(db, prospectId, "in_conversation");
  } else if (sorted.kind === "automatic") {
    recordEvent(db, { ...about, kind: "away", detail: sorted.because });
  } else {
    recordEvent(db, {
      ...about,
      kind: "bounced",
      detail: `${sorted.hard ? "hard" : "soft"}: ${sorted.words}`,
    });
    if (sorted.hard) bounced(db, touch, sorted.words, at);
  }
  return true;
}

function keep(
  db: Db,
  mailbox: Mailbox,
  message: ParsedMessage,
  sorted: IncomingKind,
  prospectId: number,
  touch: Touch,
): number | null {
  const detail =
    sorted.kind === "automatic" ? sorted.because : sorted.kind === "bounce" ? sorted.words : null;
  const result = sql<Record<string, unknown>>(
    db,
    `INSERT INTO replies (mailbox_id, message_id, prospect_id, touch_id, kind, from_address, from_name,
       answer_to, subject, text, quoted, detail, thread_references, at)
     VALUES (@mailboxId, @messageId, @prospectId, @touchId, @kind, @fromAddress, @fromName,
       @answerTo, @subject, @text, @quoted, @detail, @references, @at)
     ON CONFLICT (mailbox_id, message_id) DO NOTHING`,
  ).run({
    mailboxId: mailbox.id,
    messageId: message.messageId,
    prospectId,
    touchId: touch.id,
    kind: sorted.kind,
    fromAddress: message.fromAddress,
    fromName: message.fromName,
    answerTo: message.answerTo,
    subject: message.subject,
    text: message.text,
    quoted: message.quoted,
    detail,
    references: message.references,
    at: message.at,
  });
  return result.changes === 1 ? Number(result.lastInsertRowid) : null;
}
