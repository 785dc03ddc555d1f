import parsePhone from "libphonenumber-js";
import { z } from "zod";
import { isZone, MINUTE } from "../../core/calendar.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { latestTouchTo } from "../db/ledger.ts";
import { sql } from "../db/open.ts";
import { AppError, done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { newToken } from "../secrets.ts";
import { bookingPage } from "./booking-page.ts";
import { meetingByToken } from "./calendar-file.ts";

const start = z.coerce.number("Choose a time.").int();
const zone = z
  .string()
  .default("")
  .transform((name) => (isZone(name) ? name : ""));
const form = z.object({
  start,
  zone,
  length: z.coerce.number().int().optional(),
  name: z.string().trim().min(1, "Type your name.").max(100),
  email: z
    .email("Type your email address.")
    .max(254)
    .transform((email) => email.toLowerCase()),
  phone: z.string().trim().max(40, "This is too long for a number.").default(""),
});

/**
 * Books a call with a rep. Whoever came by a link of their own is known by it, and everything planned for them stops;
 * a typed address proves nothing, and stops nobody. Returns the token of the meeting's page.
 */
export function bookMeeting(app: App, slug: string, token: string | null, input: unknown): Outcome<string> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, email, phone: typed, length } = read.data;
  const { db, clock } = app;
  const now = clock.now();
  return db
    .transaction((): Outcome<string> => {
      const page = bookingPage(app, slug, token, length ?? null);
      const phone = parsePhone(typed)?.formatInternational() ?? typed;
      if (page.where === "phone" && !/\d.*\d.*\d.*\d.*\d/.test(phone))
        return refused({ phone: `Type the number at which ${page.rep.name.split(" ")[0]} can call you.` });
      if (!page.times.includes(read.data.start))
        return refused({ start: new AppError("slot_taken").message });
      const prospectId = page.visitor?.prospectId ?? null;
      const meeting = newToken();
      sql<Record<string, unknown>>(
        db,
        `INSERT INTO meetings (token, user_id, prospect_id, name, email, phone, place, starts_at, ends_at,
           visitor_zone, created_at)
         VALUES (@meeting, @userId, @prospectId, @name, @email, @phone, @place, @start, @ends, @zone, @now)`,
      ).run({
        meeting,
        userId: page.rep.id,
        prospectId,
        name,
        email,
        phone,
        place: page.where === "place" ? page.place : "",
        start: read.data.start,
        ends: read.data.start + page.length * MINUTE,
        zone: read.data.zone || page.visitor?.zone || page.rep.zone,
        now,
      });
      if (prospectId !== null) tell(app, prospectId, page.rep.id, "booked", read.data.start);
      return done(meeting);
    })
    .immediate();
}

function tell(
  { db, clock }: App,
  prospectId: number,
  userId: number,
  kind: "booked" | "booking_cancelled" | "booking_moved",
  startsAt: number,
): void {
  const touch = latestTouchTo(db, prospectId, 0);
  apply(
    db,
    { kind, at: startsAt },
    { at: clock.now(), prospectId, journeyId: touch?.journeyId ?? null, touchId: touch?.id ?? null, userId },
  );
}

/** Cancels a meeting by its page's link; doing so again changes nothing. What it stopped stays stopped. Throws `not_found`. */
export function cancelMeeting(app: App, token: string): void {
  const { db, clock } = app;
  db.transaction(() => {
    const meeting = meetingByToken(app, token);
    if (meeting.cancelledAt !== null) return;
    sql<Record<string, unknown>>(
      db,
      "UPDATE meetings SET cancelled_at = @now, moves = moves + 1 WHERE id = @id",
    ).run({ id: meeting.id, now: clock.now() });
    if (meeting.prospectId !== null)
      tell(app, meeting.prospectId, meeting.userId, "booking_cancelled", meeting.startsAt);
  }).immediate();
}

const move = z.object({ start, zone });

/** Moves a meeting to another free time. Throws `not_found`. */
export function moveMeeting(app: App, token: string, input: unknown): Outcome<null> {
  const read = move.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { db } = app;
  return db
    .transaction((): Outcome<null> => {
      const meeting = meetingByToken(app, token);
      if (meeting.cancelledAt !== null)
        return refused({ start: "This call was cancelled. Book another one." });
      const length = (meeting.endsAt - meeting.startsAt) / MINUTE;
      const page = bookingPage(app, meeting.repSlug, null, length, meeting.id);
      if (!page.times.includes(read.data.start))
        return refused({ start: new AppError("slot_taken").message });
      sql<Record<string, unknown>>(
        db,
        `UPDATE meetings SET starts_at = @start, ends_at = @ends, visitor_zone = @zone, moves = moves + 1
         WHERE id = @id`,
      ).run({
        id: meeting.id,
        start: read.data.start,
        ends: read.data.start + meeting.endsAt - meeting.startsAt,
        zone: read.data.zone || meeting.visitorZone,
      });
      if (meeting.prospectId !== null)
        tell(app, meeting.prospectId, meeting.userId, "booking_moved", read.data.start);
      return done(null);
    })
    .immediate();
}
