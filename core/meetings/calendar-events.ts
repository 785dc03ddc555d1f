/**
 * The busy times of an iCalendar file (RFC 5545), recurring events expanded, within a window. What cannot be read is left
 * out and counted; rules without an end go as far as the window, and no rule is followed for ever.
 */
import ICAL from "ical.js";
import { DateTime, IANAZone } from "luxon";
import { DAY } from "../calendar.ts";
import type { Busy } from "./free-times.ts";

export interface BusyTimes {
  busy: Busy[];
  /** Events that were read, and that could not be. */
  events: number;
  unreadable: number;
}

/** Occurrences of one event that are looked at, and of all together: a daily event since 1990 has 13,000. */
const MOST_OF_ONE = 20_000;
const MOST_OF_ALL = 400_000;

/** `zone` is where times count that name no zone, or one that nobody knows. */
export function busyTimes(text: string, window: { from: number; to: number }, zone: string): BusyTimes {
  const result: BusyTimes = { busy: [], events: 0, unreadable: 0 };
  let left = MOST_OF_ALL;
  const own = text.match(/^X-WR-TIMEZONE:(.+)$/m)?.[1]?.trim() ?? "";
  const zoneHere = IANAZone.isValidZone(own) ? own : zone;
  for (const calendar of calendarsIn(text, result)) {
    const events = calendar.getAllSubcomponents("vevent");
    const moved = new Map<string, ICAL.Component[]>();
    for (const event of events) {
      const id = String(event.getFirstPropertyValue("uid") ?? "");
      if (event.hasProperty("recurrence-id")) moved.set(id, [...(moved.get(id) ?? []), event]);
    }
    for (const component of events) {
      try {
        const isMoved = component.hasProperty("recurrence-id");
        result.events++;
        if (!isBusy(component)) continue;
        const event = new ICAL.Event(component);
        const startZone = zoneNamed(component, "dtstart", zoneHere);
        const length = lengthOf(event, startZone, zoneHere);
        const add = (startsAt: number) => {
          if (startsAt < window.to && startsAt + length > window.from && length > 0)
            result.busy.push({ startsAt, endsAt: startsAt + length });
        };
        if (isMoved || !event.isRecurring()) {
          add(instantOf(event.startDate, startZone));
          continue;
        }
        const instead = new Set(
          (moved.get(event.uid) ?? []).map((each) =>
            instantOf(
              each.getFirstPropertyValue("recurrence-id") as ICAL.Time,
              zoneNamed(each, "recurrence-id", zoneHere),
            ),
          ),
        );
        const iterator = event.iterator();
        for (let count = 0; ; count++, left--) {
          // A rule by the second fills no calendar that anybody keeps.
          if (count >= MOST_OF_ONE || left <= 0) throw new Error("too many occurrences");
          const next = iterator.next() as ICAL.Time | undefined;
          if (!next) break;
          const startsAt = instantOf(next, startZone);
          if (startsAt >= window.to) break;
          if (!instead.has(startsAt)) add(startsAt);
        }
      } catch {
        result.unreadable++;
      }
    }
  }
  return result;
}

/** The file as one calendar, or, where it is broken somewhere, event by event. */
function calendarsIn(text: string, result: BusyTimes): ICAL.Component[] {
  try {
    const parsed = ICAL.parse(text) as unknown[];
    const roots = (typeof parsed[0] === "string" ? [parsed] : parsed) as unknown[][];
    return roots.map((each) => new ICAL.Component(each as never));
  } catch {
    const parts = text.split(/^BEGIN:VEVENT\s*$/m).slice(1, MOST_OF_ONE);
    return parts.flatMap((part) => {
      const body = part.split(/^END:VEVENT\s*$/m)[0] ?? "";
      try {
        return [
          new ICAL.Component(
            ICAL.parse(
              `BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n${body.trim()}\r\nEND:VEVENT\r\nEND:VCALENDAR`,
            ) as never,
          ),
        ];
      } catch {
        result.unreadable++;
        return [];
      }
    });
  }
}

/** Cancelled and "free" ones keep nobody (RFC 5545 3.8.2.7, 3.8.1.11). */
const isBusy = (event: ICAL.Component): boolean =>
  String(event.getFirstPropertyValue("transp") ?? "").toUpperCase() !== "TRANSPARENT" &&
  String(event.getFirstPropertyValue("status") ?? "").toUpperCase() !== "CANCELLED" &&
  String(event.getFirstPropertyValue("x-microsoft-cdo-busystatus") ?? "").toUpperCase() !== "FREE";

function lengthOf(event: ICAL.Event, startZone: string, zone: string): number {
  const start = event.startDate;
  if (event.component.hasProperty("dtend"))
    return instantOf(event.endDate, zoneNamed(event.component, "dtend", zone)) - instantOf(start, startZone);
  if (event.component.hasProperty("duration")) return event.duration.toSeconds() * 1000;
  return start.isDate ? DAY : 0;
}

/** The zone that a time names, if anybody knows it; else `zone`. */
function zoneNamed(component: ICAL.Component, property: string, zone: string): string {
  const named = String(component.getFirstProperty(property)?.getParameter("tzid") ?? "");
  return IANAZone.isValidZone(named) ? named : zone;
}

/** A file's own rules for a zone count only where its name says nothing: they are often years old. */
function instantOf(time: ICAL.Time, zone: string): number {
  const { year, month, day, hour, minute, second } = time;
  const id = time.zone?.tzid ?? "floating";
  if (id === "UTC" || id === "Z") return Date.UTC(year, month - 1, day, hour, minute, second);
  if (time.zone?.component && !IANAZone.isValidZone(id)) return time.toUnixTime() * 1000;
  return DateTime.fromObject(
    time.isDate ? { year, month, day } : { year, month, day, hour, minute, second },
    { zone },
  ).toMillis();
}

export interface InvitationAnswer {
  uid: string;
  attendee: string;
  says: "accepted" | "declined" | "tentative";
}

/** How the name of every call of ours begins, in invitations and so in the subjects of what answers them. */
export const CALL = "Call: ";

/** What an invitee answers (METHOD:REPLY, RFC 5546 3.2.3), or null if it is no such answer. */
export function invitationAnswer(text: string): InvitationAnswer | null {
  try {
    const calendar = new ICAL.Component(ICAL.parse(text) as never);
    if (String(calendar.getFirstPropertyValue("method") ?? "").toUpperCase() !== "REPLY") return null;
    const event = calendar.getFirstSubcomponent("vevent");
    const attendee = event?.getFirstProperty("attendee");
    const says = String(attendee?.getParameter("partstat") ?? "").toLowerCase();
    if (!event || !attendee || (says !== "accepted" && says !== "declined" && says !== "tentative"))
      return null;
    return {
      uid: String(event.getFirstPropertyValue("uid") ?? ""),
      attendee: String(attendee.getFirstValue() ?? "")
        .replace(/^mailto:/i, "")
        .toLowerCase(),
      says,
    };
  } catch {
    return null;
  }
}
