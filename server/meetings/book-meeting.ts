import { z } from "zod";
import { isZone } from "../../core/calendar.ts";
import { MEETING_LENGTH } from "../../core/meetings/free-times.ts";
import type { App } from "../app.ts";
import { recordEvent } from "../db/events.ts";
import { raiseStage, stopJourneys } from "../db/journeys.ts";
import { latestTouchTo } from "../db/ledger.ts";
import { sql } from "../db/open.ts";
import { prospectIdByEmail } from "../db/prospects.ts";
import { AppError, done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { newToken } from "../secrets.ts";
import { bookingPage } from "./booking-page.ts";

const form = z.object({
  start: z.coerce.number("Choose a time.").int(),
  name: z.string().trim().min(1, "Type your name.").max(100),
  email: z.email("Type your email address.").transform((email) => email.toLowerCase()),
  zone: z
    .string()
    .default("")
    .transform((zone) => (isZone(zone) ? zone : "")),
});

/**
 * Books a half-hour with a rep and stops everything planned for the prospect. Returns the token of
 * the meeting's page.
 */
export function bookMeeting(app: App, slug: string, token: string | null, input: unknown): Outcome<string> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { start, name, email, zone } = read.data;
  const { db, clock } = app;
  const now = clock.now();
  return db
    .transaction((): Outcome<string> => {
      const page = bookingPage(app, slug, token);
      if (!page.times.includes(start)) return refused({ start: new AppError("slot_taken").message });
      const prospectId = page.visitor?.prospectId ?? prospectIdByEmail(app.db, email);
      const meeting = newToken();
      sql<Record<string, unknown>>(
        db,
        `INSERT INTO meetings (token, user_id, prospect_id, name, email, starts_at, ends_at, visitor_zone, created_at)
         VALUES (@meeting, @userId, @prospectId, @name, @email, @start, @ends, @zone, @now)`,
      ).run({
        meeting,
        userId: page.rep.id,
        prospectId,
        name,
        email,
        start,
        ends: start + MEETING_LENGTH,
        zone: zone || page.visitor?.zone || page.rep.zone,
        now,
      });
      if (prospectId !== null) {
        const touch = latestTouchTo(db, prospectId, 0);
        recordEvent(db, {
          at: now,
          kind: "booked",
          prospectId,
          journeyId: touch?.journeyId ?? null,
          touchId: touch?.id ?? null,
          userId: page.rep.id,
          detail: String(start),
        });
        stopJourneys(db, prospectId, "booked", null, now);
        raiseStage(db, prospectId, "meeting_booked");
      }
      return done(meeting);
    })
    .immediate();
}
