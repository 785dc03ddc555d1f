import ical, { ICalCalendarMethod } from "ical-generator";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { AppError } from "../errors.ts";

export interface Meeting {
  token: string;
  name: string;
  email: string;
  startsAt: number;
  endsAt: number;
  visitorZone: string;
  repName: string;
  repEmail: string;
}

/** A booked meeting by its token. Throws `not_found`. */
export function meetingByToken({ db }: App, token: string): Meeting {
  const meeting = sql<{ token: string }, Meeting>(
    db,
    `SELECT m.token, m.name, m.email, m.starts_at AS startsAt, m.ends_at AS endsAt, m.visitor_zone AS visitorZone,
       u.name AS repName, u.email AS repEmail
     FROM meetings m JOIN users u ON u.id = m.user_id WHERE m.token = @token`,
  ).get({ token });
  if (!meeting) throw new AppError("not_found");
  return meeting;
}

/** The meeting as an iCalendar file (RFC 5545). */
export function calendarFile(app: App, token: string): string {
  const meeting = meetingByToken(app, token);
  const calendar = ical({ name: "Saudade", method: ICalCalendarMethod.PUBLISH });
  calendar.createEvent({
    id: `${meeting.token}@saudade`,
    start: new Date(meeting.startsAt),
    end: new Date(meeting.endsAt),
    stamp: new Date(app.clock.now()),
    summary: `Call: ${meeting.name} and ${meeting.repName}`,
    organizer: { name: meeting.repName, email: meeting.repEmail },
    attendees: [{ name: meeting.name, email: meeting.email }],
  });
  return calendar.toString();
}
