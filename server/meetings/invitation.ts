/** Invites the visitor to a booked call by mail (RFC 6047), tells of its moves and its end, and reminds of it. */
import { DateTime } from "luxon";
import { HOUR, MINUTE } from "../../core/calendar.ts";
import { bookingRulesSchema } from "../../core/meetings/booking-rules.ts";
import type { App } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { type Db, sql } from "../db/open.ts";
import { queueServiceMail } from "../db/service-mails.ts";
import { calendarObject, meetingByToken } from "./calendar-file.ts";
import { mailboxFor } from "./host-mailbox.ts";

/** Run it in the transaction that booked, moved or cancelled the call. What was to be said of its earlier time is not said. */
export function invite(app: App, token: string): void {
  const { db, clock, config } = app;
  const meeting = meetingByToken(app, token);
  const now = clock.now();
  sql(db, "UPDATE service_mails SET state = 'dropped' WHERE meeting_id = @id AND state = 'queued'").run(
    meeting,
  );
  const from = mailboxFor(db, meeting);
  if (!from || meeting.email === "" || isBlocked(db, meeting.email)) return;
  const isOff = meeting.cancelledAt !== null;
  const when = DateTime.fromMillis(meeting.startsAt, { zone: meeting.visitorZone, locale: "en-GB" }).toFormat(
    "cccc d LLLL, HH:mm",
  );
  const where = meeting.place || (meeting.phone ? `by phone: ${meeting.repName} calls ${meeting.phone}` : "");
  const page = `${config.url}/booked/${token}`;
  const shared = {
    mailboxId: from.id,
    recipient: meeting.email,
    recipientName: meeting.name,
    meetingId: meeting.id,
    prospectId: meeting.prospectId,
  };
  queueServiceMail(db, {
    ...shared,
    kind: "invitation",
    subject: isOff
      ? `Cancelled: our call on ${when}`
      : meeting.moves > 0
        ? `Moved: our call is on ${when}`
        : `Our call on ${when}`,
    body: isOff
      ? `Dear ${meeting.name},\n\nthe call on ${when} (${meeting.visitorZone}) is cancelled. You can book another one here:\n${config.url}/book/${meeting.pageSlug}\n\n${meeting.repName}`
      : `Dear ${meeting.name},\n\nour call is on ${when} (${meeting.visitorZone})${where ? `, ${where}` : ""}.\n\nTo move or cancel it: ${page}\n\n${meeting.repName}`,
    calendar: calendarObject(meeting, isOff ? "CANCEL" : "REQUEST", now, from.address),
    method: isOff ? "CANCEL" : "REQUEST",
    messageId: `<call.${token}.${meeting.moves}@${from.address.split("@")[1]}>`,
    dueAt: now,
  });
  const hours = remindHours(db, meeting.id);
  const remindAt = meeting.startsAt - hours * HOUR;
  if (isOff || hours === 0 || remindAt < now + 30 * MINUTE) return;
  queueServiceMail(db, {
    ...shared,
    kind: "meeting_reminder",
    subject: `Our call on ${when}`,
    body: `Dear ${meeting.name},\n\na short reminder of our call on ${when} (${meeting.visitorZone})${where ? `, ${where}` : ""}.\n\nShould it not suit any more: ${page}\n\n${meeting.repName}`,
    messageId: `<remind.${token}.${meeting.moves}@${from.address.split("@")[1]}>`,
    dueAt: remindAt,
  });
}

function remindHours(db: Db, meetingId: number): number {
  const row = sql(
    db,
    "SELECT p.rules FROM meetings m JOIN booking_pages p ON p.id = m.page_id WHERE m.id = @meetingId",
  ).get<{ rules: string }>({ meetingId });
  return row ? bookingRulesSchema.parse(JSON.parse(row.rules)).remindHours : 0;
}
