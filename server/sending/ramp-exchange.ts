/**
 * Young mailboxes write to each other, if the workspace wants it: in threads of their own, marked in a header and kept in a
 * table of their own, so that nothing of it is ever taken for a reply or a result.
 */
import { randomUUID } from "node:crypto";
import MailComposer from "nodemailer/lib/mail-composer";
import { DAY, dayNumberOf, startOfDay } from "../../core/calendar.ts";
import { exchangeOn } from "../../core/sending/exchange.ts";
import { mayNotGo } from "../../core/sending/may-go.ts";
import type { App } from "../app.ts";
import { allMailboxes, type Mailbox } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import type { MailDoors } from "../mail/doors.ts";
import { readSendingSettings } from "./rules.ts";

interface DueMail {
  id: number;
  toAddress: string;
  toName: string;
  messageId: string;
  inReplyTo: string | null;
  subject: string;
  body: string;
}

/** What colleagues write to each other; nobody is to be deceived, and the subject says what it is. */
const TEXTS: readonly [subject: string, body: string][] = [
  [
    "Mailbox check: the sheet for Thursday",
    "Hello,\n\ncould you look over the sheet before Thursday?\n\nThank you",
  ],
  [
    "Mailbox check: notes from this morning",
    "Good morning,\n\nthe notes are in the usual folder now.\n\nAll the best",
  ],
  ["Mailbox check: which room", "Hello,\n\nis it the small room again?\n\nThanks"],
  ["Mailbox check: the order", "Hello,\n\nthe order came in today, all complete.\n\nBest wishes"],
];
const ANSWER = "Thank you, that is fine.";
const MOST_AT_ONCE = 5;

/** Plans a day's mails once, at the day's first look. */
export function planExchange({ db, clock }: App): void {
  if (!readSendingSettings(db).rampExchange) return;
  const now = clock.now();
  const boxes = allMailboxes(db).filter(
    (mailbox) => mailbox.rampStart !== null && mayNotGo("exchange", { mailbox }, now) === null,
  );
  const zone = boxes[0]?.zone;
  if (zone === undefined) return;
  const from = startOfDay(now, zone);
  const planned = sql(
    db,
    "SELECT 1 FROM exchange_mails WHERE due_at >= @from AND due_at < @to AND in_reply_to IS NULL LIMIT 1",
  ).get({ from, to: from + DAY });
  if (planned) return;
  const day = dayNumberOf(now, zone);
  const mails = exchangeOn(
    day,
    boxes.map(({ id, address, zone: own, rampSince }) => ({
      id,
      address,
      zone: own,
      age: Math.max(0, Math.floor((now - (rampSince ?? now)) / DAY)),
    })),
  );
  const add = sql(
    db,
    `INSERT INTO exchange_mails (from_mailbox_id, to_mailbox_id, message_id, in_reply_to, subject, body, due_at)
     VALUES (@from, @to, @messageId, @inReplyTo, @subject, @body, @at)`,
  );
  db.transaction(() => {
    for (const [nth, { fromId, toId, at, answerAt }] of mails.entries()) {
      if (at < now) continue; // it was switched on in the middle of the day
      const [subject, body] = TEXTS[(day + nth) % TEXTS.length] as (typeof TEXTS)[number];
      const messageId = `<${randomUUID()}@${boxes.find(({ id }) => id === fromId)?.address.split("@")[1]}>`;
      add.run({ from: fromId, to: toId, messageId, inReplyTo: null, subject, body, at });
      if (answerAt === null) continue;
      const answerId = `<${randomUUID()}@${boxes.find(({ id }) => id === toId)?.address.split("@")[1]}>`;
      const answer = { messageId: answerId, inReplyTo: messageId, subject: `Re: ${subject}`, body: ANSWER };
      add.run({ from: toId, to: fromId, ...answer, at: answerAt });
    }
  }).immediate();
}

/** Sends what is due of it from a mailbox. An answer waits until what it answers has arrived. Returns how many left. */
export async function sendExchange(app: App, doors: MailDoors, mailbox: Mailbox): Promise<number> {
  const { db, clock } = app;
  const now = clock.now();
  if (!readSendingSettings(db).rampExchange || mayNotGo("exchange", { mailbox }, now)) return 0;
  const due = sql(
    db,
    `SELECT e.id, m.address AS toAddress, m.sender_name AS toName, e.message_id AS messageId, e.in_reply_to AS inReplyTo,
       e.subject, e.body
     FROM exchange_mails e JOIN mailboxes m ON m.id = e.to_mailbox_id
     WHERE e.from_mailbox_id = @id AND e.sent_at IS NULL AND e.due_at <= @now AND e.due_at > @stale AND m.removed_at IS NULL
       AND (e.in_reply_to IS NULL OR EXISTS (
         SELECT 1 FROM exchange_mails o WHERE o.message_id = e.in_reply_to AND o.arrived_at IS NOT NULL))
     ORDER BY e.due_at LIMIT ${MOST_AT_ONCE}`,
  ).all<DueMail>({ id: mailbox.id, now, stale: now - DAY });
  let sent = 0;
  for (const mail of due) {
    const ready = await doors.of(mailbox).sender.open();
    if ("result" in ready) return sent;
    // Noted before it goes: rather one too few than one twice.
    if (!noteSent(db, mail.id, now)) continue;
    const composer = new MailComposer({
      from: { name: mailbox.senderName, address: mailbox.address },
      to: { name: mail.toName, address: mail.toAddress },
      subject: mail.subject,
      text: mail.body,
      messageId: mail.messageId,
      date: new Date(now),
      ...(mail.inReplyTo ? { inReplyTo: mail.inReplyTo, references: mail.inReplyTo } : {}),
      headers: { "X-Saudade-Exchange": "between the mailboxes of one team" },
      disableFileAccess: true,
      disableUrlAccess: true,
    });
    const raw = await composer.compile().build();
    const envelope = { from: mailbox.address, to: [mail.toAddress] };
    const { result } = await doors
      .of(mailbox)
      .sender.send({ touchId: 0, envelope, raw, copies: null }, ready);
    if (result !== "sent") return sent;
    sent++;
  }
  return sent;
}

/** When the next of them is due; null if none is planned. */
export function nextExchangeAt({ db }: App, now: number): number | null {
  return (
    sql(db, "SELECT min(due_at) AS at FROM exchange_mails WHERE sent_at IS NULL AND due_at > @now").get<{
      at: number | null;
    }>({ now })?.at ?? null
  );
}

const noteSent = (db: Db, id: number, at: number): boolean =>
  sql(db, "UPDATE exchange_mails SET sent_at = @at WHERE id = @id AND sent_at IS NULL").run({
    id,
    at,
  }).changes === 1;
