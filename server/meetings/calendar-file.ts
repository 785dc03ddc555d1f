import ical, { ICalCalendarMethod, ICalEventStatus } from "ical-generator";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { AppError } from "../errors.ts";
import { type Host, hostOf } from "./booking-page.ts";

export interface Meeting {
  id: number;
  token: string;
  userId: number;
  prospectId: number | null;
  name: string;
  email: string;
  phone: string;
  place: string;
  startsAt: number;
  endsAt: number;
  visitorZone: string;
  cancelledAt: number | null;
  moves: number;
  repName: string;
  repEmail: string;
  repSlug: string;
  host: Host;
}

/** A booked meeting by its token. Throws `not_found`. */
export function meetingByToken({ db }: App, token: string): Meeting {
  const meeting = sql<{ token: string }, Omit<Meeting, "host">>(
    db,
    `SELECT m.id, m.token, m.user_id AS userId, m.prospect_id AS prospectId, m.name, m.email, m.phone, m.place,
       m.starts_at AS startsAt, m.ends_at AS endsAt, m.visitor_zone AS visitorZone, m.cancelled_at AS cancelledAt,
       m.moves, u.name AS repName, u.email AS repEmail, u.booking_slug AS repSlug
     FROM meetings m JOIN users u ON u.id = m.user_id WHERE m.token = @token`,
  ).get({ token });
  if (!meeting) throw new AppError("not_found");
  return { ...meeting, host: hostOf(db) };
}

/** The meeting as an iCalendar file (RFC 5545); a moved one replaces itself in a calendar, a cancelled one goes. */
export function calendarFile(app: App, token: string): string {
  const meeting = meetingByToken(app, token);
  const isOff = meeting.cancelledAt !== null;
  const calendar = ical({
    name: meeting.host.name || meeting.repName,
    method: isOff ? ICalCalendarMethod.CANCEL : ICalCalendarMethod.PUBLISH,
  });
  calendar.createEvent({
    id: `${meeting.token}@saudade`,
    sequence: meeting.moves,
    status: isOff ? ICalEventStatus.CANCELLED : ICalEventStatus.CONFIRMED,
    start: new Date(meeting.startsAt),
    end: new Date(meeting.endsAt),
    stamp: new Date(app.clock.now()),
    summary: `Call: ${meeting.name} and ${meeting.repName}`,
    location: meeting.place || meeting.phone,
    organizer: { name: meeting.repName, email: meeting.repEmail },
    attendees: [{ name: meeting.name, email: meeting.email }],
  });
  return calendar.toString();
}
