import parsePhone from "libphonenumber-js";
import { z } from "zod";
import { isZone, MINUTE } from "../../core/calendar.ts";
import { plainLine } from "../../core/plain-line.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { App, AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { emailTheyHave, noteLinkFollowed } from "../db/ledger.ts";
import { sql, transact } from "../db/open.ts";
import { addReminder } from "../db/reminders.ts";
import { AppError, done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { newToken } from "../secrets.ts";
import { askBooking } from "./ask-booking.ts";
import { bookingPage, freeHosts } from "./booking-page.ts";
import { meetingByToken } from "./calendar-file.ts";
import { invite } from "./invitation.ts";

const start = z.coerce.number("Choose a time.").int();
const zone = z
  .string()
  .default("")
  .transform((name) => (isZone(name) ? name : ""));
const form = z.object({
  start,
  zone,
  length: z.coerce.number().int().optional(),
  name: z
    .string()
    .max(100)
    .transform((name) => plainLine(name, 100))
    .pipe(z.string().min(1, "Type your name.")),
  email: z
    .email("Type your email address.")
    .max(254)
    .transform((email) => email.toLowerCase()),
  phone: z.string().trim().max(40, "This is too long for a number.").default(""),
});
const answer = z.string().trim().max(1_000, "At most 1,000 characters.").default("");

/** A call that is booked, by its page's token; or one that its visitor has to confirm first. */
export type Booked = { meeting: string; keptUntil: null } | { meeting: null; keptUntil: number };

/**
 * Books a call with a rep, or with whoever of a team has the fewest. Whoever came by a link of their own is known by it, and
 * everything planned for them stops. A typed address proves nothing: it stops nobody, and is asked first. `caller`: where the
 * request comes from.
 */
export function bookMeeting(
  app: App,
  slug: string,
  token: string | null,
  input: Record<string, unknown>,
  caller = "",
): Outcome<Booked> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, email, phone: typed, length } = read.data;
  const { clock } = app;
  const now = clock.now();
  return transact(app, (app): Outcome<Booked> => {
    const { db } = app;
    const page = bookingPage(app, slug, token, { length: length ?? null });
    const phone = parsePhone(typed)?.formatInternational() ?? typed;
    if (page.where === "phone" && !/\d.*\d.*\d.*\d.*\d/.test(phone))
      return refused({ phone: `Type the number at which ${page.rep.name.split(" ")[0]} can call you.` });
    const answers: { question: string; answer: string }[] = [];
    for (const [index, { text, required }] of page.questions.entries()) {
      const given = answer.safeParse(input[`question${index}`]);
      if (!given.success) return refused({ [`question${index}`]: "At most 1,000 characters." });
      if (required && given.data === "") return refused({ [`question${index}`]: "Please answer this." });
      if (given.data !== "") answers.push({ question: text, answer: given.data });
    }
    // Looked at again in the transaction that takes it: of two who want it, one gets it.
    const [host] = freeHosts(app, page, read.data.start);
    if (!host) return refused({ start: new AppError("slot_taken").message });
    const prospectId = page.visitor?.prospectId ?? null;
    const call = {
      ...{ pageId: page.id, userId: host.id, name, email, phone },
      place: page.where === "place" ? page.place : "",
      ...{ startsAt: read.data.start, endsAt: read.data.start + page.length * MINUTE },
      zone: read.data.zone || page.visitor?.zone || host.zone,
      answers: JSON.stringify(answers),
    };
    if (prospectId === null) {
      const asked = askBooking(app, call, caller);
      return asked.ok ? done({ meeting: null, keptUntil: asked.value.keptUntil }) : asked;
    }
    const meeting = newToken();
    sql(
      db,
      `INSERT INTO meetings (token, user_id, page_id, prospect_id, name, email, phone, place, starts_at, ends_at,
           visitor_zone, answers, created_at)
         VALUES (@meeting, @userId, @pageId, @prospectId, @name, @email, @phone, @place, @startsAt, @endsAt, @zone, @answers, @now)`,
    ).run({ ...call, meeting, prospectId, now });
    invite(app, meeting);
    noteLinkFollowed(db, prospectId);
    tell(app, prospectId, host.id, "booked", read.data.start);
    return done({ meeting, keptUntil: null });
  });
}

function tell(
  { db, clock }: AppTx,
  prospectId: number,
  userId: number,
  kind: "booked" | "booking_cancelled" | "booking_moved",
  startsAt: number,
): void {
  const touch = emailTheyHave(db, prospectId);
  apply(
    db,
    { kind, at: startsAt },
    { at: clock.now(), prospectId, journeyId: touch?.journeyId ?? null, touchId: touch?.id ?? null, userId },
  );
}

/** Cancels a meeting by its page's link; doing so again changes nothing. What it stopped stays stopped. Throws `not_found`. */
export function cancelMeeting(app: App, token: string): void {
  const { clock } = app;
  transact(app, (app) => {
    const { db } = app;
    const meeting = meetingByToken(app, token);
    if (meeting.cancelledAt !== null) return;
    sql(db, "UPDATE meetings SET cancelled_at = @now, moves = moves + 1 WHERE id = @id").run({
      id: meeting.id,
      now: clock.now(),
    });
    invite(app, token);
    if (meeting.prospectId !== null)
      tell(app, meeting.prospectId, meeting.userId, "booking_cancelled", meeting.startsAt);
  });
}

const move = z.object({ start, zone });
const MOST_MOVES = 12;

/** Moves a meeting to another free time of its host. Throws `not_found`. */
export function moveMeeting(app: App, token: string, input: unknown): Outcome<null> {
  const read = move.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  return transact(app, (app): Outcome<null> => {
    const { db } = app;
    const meeting = meetingByToken(app, token);
    if (meeting.cancelledAt !== null) return refused({ start: "This call was cancelled. Book another one." });
    // Each move is a mail.
    if (meeting.moves >= MOST_MOVES)
      return refused({ start: "This call was moved too often. Cancel it, and book another one." });
    const minutes = (meeting.endsAt - meeting.startsAt) / MINUTE;
    const moving = { id: meeting.id, userId: meeting.userId, minutes };
    const page = bookingPage(app, meeting.pageSlug, null, { moving });
    if (!page.times.includes(read.data.start)) return refused({ start: new AppError("slot_taken").message });
    sql(
      db,
      `UPDATE meetings SET starts_at = @start, ends_at = @ends, visitor_zone = @zone, moves = moves + 1,
           attendance = 'open', held_at = NULL, missed_at = NULL WHERE id = @id`,
    ).run({
      id: meeting.id,
      start: read.data.start,
      ends: read.data.start + meeting.endsAt - meeting.startsAt,
      zone: read.data.zone || meeting.visitorZone,
    });
    invite(app, token);
    if (meeting.prospectId !== null)
      tell(app, meeting.prospectId, meeting.userId, "booking_moved", read.data.start);
    return done(null);
  });
}

const outcome = z.object({
  token: z.string(),
  how: z.enum(["held", "missed"]),
  note: z.string().trim().max(2_000).default(""),
});

/** The rep notes whether a call took place, and is asked for what comes next. */
export function noteMeeting(app: App, userId: number, input: unknown): Outcome<null> {
  const { db, clock } = app;
  const read = outcome.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { token, how, note } = read.data;
  const found = sql(db, "SELECT id FROM meetings WHERE token = @token").get<{ id: number }>({ token });
  const no = mayNot(app, userId, "meeting.note", found?.id ?? []);
  if (no) return no;
  const now = clock.now();
  return transact(app, ({ db }): Outcome<null> => {
    const meeting = sql(
      db,
      `UPDATE meetings SET held_at = CASE @how WHEN 'held' THEN @now END, missed_at = CASE @how WHEN 'missed' THEN @now END
         WHERE token = @token AND cancelled_at IS NULL AND held_at IS NULL AND missed_at IS NULL
         RETURNING prospect_id AS prospectId, name`,
    ).get<{ prospectId: number | null; name: string }>({ token, how, now });
    if (!meeting) return refused({ form: "This call was noted already, or it was cancelled." });
    const { prospectId } = meeting;
    if (prospectId === null) return done(null);
    if (note !== "")
      sql(
        db,
        "INSERT INTO notes (prospect_id, user_id, text, at) VALUES (@prospectId, @userId, @note, @now)",
      ).run({ prospectId, userId, note, now });
    apply(db, { kind: how === "held" ? "meeting_held" : "meeting_missed" }, { at: now, prospectId, userId });
    addReminder(db, {
      prospectId,
      replyId: null,
      userId,
      kind: how === "held" ? "thanks" : "reminder",
      text:
        how === "held"
          ? "Thank them for the call, and say what comes next."
          : "They did not come: offer another time.",
      at: now,
      day: null,
    });
    return done(null);
  });
}
