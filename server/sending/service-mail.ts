/** Sends what is no touch: invitations, reminders of meetings, hand-overs and notices. Each goes once, outside every limit. */
import MailComposer from "nodemailer/lib/mail-composer";
import { MINUTE } from "../../core/calendar.ts";
import { mayNotGoFor } from "../../core/sending/may-go.ts";
import type { App } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import {
  claimServiceMail,
  dueServiceMails,
  type ServiceMail,
  settleServiceMail,
} from "../db/service-mails.ts";
import type { MailDoors } from "../mail/doors.ts";

const MOST_AT_ONCE = 20;
/** A reminder that could not go for so long is of no use any more. */
const STALE = 24 * 60 * MINUTE;
const TRY_AGAIN = 10 * MINUTE;

/** Returns how many left. */
export async function sendServiceMails(app: App, doors: MailDoors, mailbox: Mailbox): Promise<number> {
  const { db, clock } = app;
  const now = clock.now();
  if (mayNotGoFor("service", ["mailbox"], { mailbox }, now)) return 0;
  let sent = 0;
  for (const mail of dueServiceMails(db, mailbox.id, now, MOST_AT_ONCE)) {
    const person = { isBlocked: isBlocked(db, mail.recipient), held: null };
    if (
      mayNotGoFor("service", ["person"], { person }, now) ||
      (mail.kind === "meeting_reminder" && mail.dueAt < now - STALE)
    ) {
      if (claimServiceMail(db, mail.id)) settleServiceMail(db, mail.id, "dropped", { at: now });
      continue;
    }
    const { sender } = doors.of(mailbox);
    const ready = await sender.open();
    if ("result" in ready) return sent;
    // Claimed before it goes: after a crash rather one too few than one twice.
    if (!claimServiceMail(db, mail.id)) {
      sender.release(ready);
      continue;
    }
    const raw = await compose(mail, mailbox, now);
    const outcome = await sender.send(
      { touchId: 0, envelope: { from: mailbox.address, to: [mail.recipient] }, raw, copies: null },
      ready,
    );
    if (outcome.result === "sent") {
      settleServiceMail(db, mail.id, "sent", { at: now });
      sent++;
    } else if (outcome.result === "unreachable") {
      settleServiceMail(db, mail.id, "queued", { at: now, dueAt: now + TRY_AGAIN });
      return sent;
    } else
      settleServiceMail(db, mail.id, "refused", {
        at: now,
        trouble: "words" in outcome ? String(outcome.words) : "It was not accepted.",
      });
  }
  return sent;
}

const compose = (mail: ServiceMail, mailbox: Mailbox, now: number): Promise<Buffer> =>
  new MailComposer({
    from: { name: mailbox.senderName, address: mailbox.address },
    to: { name: mail.recipientName, address: mail.recipient },
    subject: mail.subject,
    text: mail.body,
    messageId: mail.messageId,
    date: new Date(now),
    ...(mail.calendar === ""
      ? {}
      : { icalEvent: { method: mail.method, content: mail.calendar, filename: "call.ics" } }),
    // Nobody's out-of-office should answer it (RFC 3834 5).
    headers: mail.kind === "notice" ? { "Auto-Submitted": "auto-generated" } : {},
    disableFileAccess: true,
    disableUrlAccess: true,
  })
    .compile()
    .build();
