import ical, {
  ICalAttendeeRole,
  ICalAttendeeStatus,
  type ICalCalendar,
  ICalCalendarMethod,
  ICalEventStatus,
} from "ical-generator";
import { DAY, MINUTE } from "../../core/calendar.ts";
import { CALL } from "../../core/meetings/calendar-events.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";
import { AppError } from "../errors.ts";
import { readLink, signLink } from "../secrets.ts";
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
  attendance: "open" | "accepted" | "declined" | "tentative";
  answers: { question: string; answer: string }[];
  repName: string;
  repEmail: string;
  /** The page on which it was booked. */
  pageSlug: string;
  host: Host;
}

/** A booked meeting by its token. Throws `not_found`. */
export function meetingByToken({ db }: App, token: string): Meeting {
  const meeting = sql(
    db,
    `SELECT m.id, m.token, m.user_id AS userId, m.prospect_id AS prospectId, m.name, m.email, m.phone, m.place,
       m.starts_at AS startsAt, m.ends_at AS endsAt, m.visitor_zone AS visitorZone, m.cancelled_at AS cancelledAt,
       m.moves, m.attendance, m.answers, u.name AS repName, u.email AS repEmail, coalesce(p.slug, u.booking_slug) AS pageSlug
     FROM meetings m JOIN users u ON u.id = m.user_id LEFT JOIN booking_pages p ON p.id = m.page_id WHERE m.token = @token`,
  ).get<Omit<Meeting, "host" | "answers"> & { answers: string }>({ token });
  if (!meeting) throw new AppError("not_found");
  return { ...meeting, answers: JSON.parse(meeting.answers), host: hostOf(db) };
}

/** The UID by which calendars know a meeting through all its moves. */
export const uidOf = (token: string): string => `${token}@saudade`;

export type CalendarMethod = "PUBLISH" | "REQUEST" | "CANCEL";

/** Writes a meeting into a calendar; a moved one replaces itself there (RFC 5545 3.8.7.4), a cancelled one goes. */
export function addMeeting(
  calendar: ICalCalendar,
  meeting: Meeting,
  { now, organizer, asks }: { now: number; organizer: string; asks: boolean },
): void {
  const event = calendar.createEvent({
    id: uidOf(meeting.token),
    sequence: meeting.moves,
    status: meeting.cancelledAt !== null ? ICalEventStatus.CANCELLED : ICalEventStatus.CONFIRMED,
    start: new Date(meeting.startsAt),
    end: new Date(meeting.endsAt),
    stamp: new Date(now),
    summary: `${CALL}${meeting.name} and ${meeting.repName}`,
    location: meeting.place || meeting.phone,
    organizer: { name: meeting.repName, email: organizer },
  });
  if (meeting.answers.length > 0)
    event.description(meeting.answers.map(({ question, answer }) => `${question}\n${answer}`).join("\n\n"));
  event.createAttendee({
    name: meeting.name,
    email: meeting.email,
    role: ICalAttendeeRole.REQ,
    rsvp: asks,
    status: asks ? ICalAttendeeStatus.NEEDSACTION : ICalAttendeeStatus.ACCEPTED,
  });
}

/** One meeting as an iCalendar object of a method. `organizer`: the address to which answers go. */
export function calendarObject(
  meeting: Meeting,
  method: CalendarMethod,
  now: number,
  organizer: string,
): string {
  const calendar = ical({ name: meeting.host.name || meeting.repName, method: ICalCalendarMethod[method] });
  addMeeting(calendar, meeting, { now, organizer, asks: method === "REQUEST" });
  return calendar.toString();
}

/** The meeting as a file to download. Throws `not_found`. */
export function calendarFile(app: App, token: string): string {
  const meeting = meetingByToken(app, token);
  return calendarObject(
    meeting,
    meeting.cancelledAt !== null ? "CANCEL" : "PUBLISH",
    app.clock.now(),
    meeting.repEmail,
  );
}

/** The address at which a rep's own calendar program reads the calls that are booked here. */
export const feedLink = ({ key, config }: App, userId: number): string =>
  `${config.url}/calendar/${signLink("calendar", String(userId), key)}.ics`;

/** The same of a rep's own touches: what they do and when it is due. */
export const touchesLink = ({ key, config }: App, userId: number): string =>
  `${config.url}/calendar/${signLink("calendar", `${userId} touches`, key)}.ics`;

const SHOWN_BACK = 60 * DAY;

/** A rep's calls, or their touches, as an iCalendar feed. Throws `not_found`. */
export function calendarFeed(app: App, token: string): string {
  const [id = "0", kind] = (readLink("calendar", token, app.key) ?? "").split(" ");
  const userId = Number(id);
  const user = sql(app.db, "SELECT name FROM users WHERE id = @userId AND removed_at IS NULL").get<{
    name: string;
  }>({ userId });
  if (!user) throw new AppError("not_found");
  if (kind === "touches") return touchesFeed(app, userId, user.name);
  const calendar = ical({ name: `Calls of ${user.name}`, method: ICalCalendarMethod.PUBLISH });
  const tokens = sql(
    app.db,
    "SELECT token FROM meetings WHERE user_id = @userId AND starts_at > @from ORDER BY starts_at LIMIT 1000",
  ).all<{ token: string }>({ userId, from: app.clock.now() - SHOWN_BACK });
  for (const { token: each } of tokens) {
    const meeting = meetingByToken(app, each);
    addMeeting(calendar, meeting, { now: app.clock.now(), organizer: meeting.repEmail, asks: false });
  }
  return calendar.toString();
}

/** So long a touch stands in a calendar. */
const TOUCH_TAKES = 15 * MINUTE;
const CHANNEL_WORDS: Record<string, string> = {
  call: "Call",
  errand: "Errand",
  profile_view: "Look at the profile of",
  invitation: "Invite",
  social_message: "Write to",
  approved_email: "Read the email to",
};

/** What is open for a rep and due, errands and reminders among it, and the touches that come up next. */
function touchesFeed({ db, clock, config }: App, userId: number, name: string): string {
  const calendar = ical({ name: `Touches of ${name}`, method: ICalCalendarMethod.PUBLISH });
  const rows = sql(
    db,
    `SELECT 't' || t.id AS id, t.kind, t.due_at AS at, t.body AS text, p.id AS prospectId, ${nameSql()} AS name, p.company, p.phone
     FROM touches t JOIN prospects p ON p.id = t.prospect_id LEFT JOIN journeys j ON j.id = t.journey_id LEFT JOIN sequences s ON s.id = j.sequence_id
     WHERE t.state IN ('open', 'draft') AND t.due_at IS NOT NULL AND coalesce(t.user_id, s.user_id) = @userId
     UNION ALL
     SELECT 'r' || r.id, 'errand', r.due_at, r.text, p.id, ${nameSql()}, p.company, p.phone
     FROM reminders r JOIN prospects p ON p.id = r.prospect_id WHERE r.user_id = @userId AND r.ended_at IS NULL
     ORDER BY at LIMIT 1000`,
  ).all<{
    id: string;
    kind: string;
    at: number;
    text: string;
    prospectId: number;
    name: string;
    company: string;
    phone: string;
  }>({ userId });
  for (const { id, kind, at, text, prospectId, name, company, phone } of rows)
    calendar.createEvent({
      id: `touch-${id}@saudade`,
      start: new Date(at),
      end: new Date(at + TOUCH_TAKES),
      stamp: new Date(clock.now()),
      summary: `${CHANNEL_WORDS[kind] ?? "Touch"}${kind === "errand" ? `: ${text.split("\n")[0]?.slice(0, 80) ?? ""} (${name})` : ` ${name}`}${company ? `, ${company}` : ""}`,
      description: [phone, text].filter(Boolean).join("\n\n"),
      url: `${config.url}/prospects/${prospectId}`,
    });
  return calendar.toString();
}
