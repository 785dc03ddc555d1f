/**
 * Strangers book in two steps: a typed address proves nothing, so one mail with a link goes there, and the call is booked
 * when it is opened and pressed. Meanwhile the time is kept. So the page sends nobody more than they asked for.
 */
import { DateTime } from "luxon";
import { HOUR, MINUTE } from "../../core/calendar.ts";
import type { App, AppTx } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { queueServiceMail } from "../db/service-mails.ts";
import { AppError, done, type Outcome, refused } from "../errors.ts";
import { newToken, readLink, signLink } from "../secrets.ts";
import { type Host, hostOf, isFree } from "./booking-page.ts";
import { mailboxFor } from "./host-mailbox.ts";
import { invite } from "./invitation.ts";

/** So long a chosen time is nobody else's. */
export const KEPT_FOR = 15 * MINUTE;
/** Within an hour, by the machine's clock: of one caller, to one address, on one page. */
const MOST = { caller: 6, email: 3, page: 40 } as const;
/** Rows are needed for as long as they count. */
const FORGOTTEN_AFTER = 24 * HOUR;

export interface NewCall {
  pageId: number;
  userId: number;
  name: string;
  email: string;
  phone: string;
  place: string;
  startsAt: number;
  endsAt: number;
  zone: string;
  answers: string;
}

/** Keeps the time and has the link sent. Returns until when it is kept. */
export function askBooking(
  app: AppTx,
  call: NewCall,
  caller: string,
  wall = Date.now(),
): Outcome<{ keptUntil: number }> {
  const { db, clock, key, config } = app;
  const now = clock.now();
  sql(db, "DELETE FROM booking_asks WHERE asked_wall < @before").run({
    before: wall - FORGOTTEN_AFTER,
  });
  const tooMany = passed(db, call, caller, wall - HOUR);
  if (tooMany) return refused({ form: tooMany });
  const from = mailboxFor(db, { userId: call.userId, prospectId: null });
  if (!from)
    return refused({ form: "This page cannot send its confirmation at the moment. Please try again later." });
  const keptUntil = now + KEPT_FOR;
  const id = Number(
    sql(
      db,
      `INSERT INTO booking_asks (page_id, user_id, token, name, email, phone, place, starts_at, ends_at, visitor_zone, answers, caller, asked_wall, kept_until)
       VALUES (@pageId, @userId, @token, @name, @email, @phone, @place, @startsAt, @endsAt, @zone, @answers, @caller, @wall, @keptUntil)`,
    ).run({ ...call, token: newToken(), caller, wall, keptUntil }).lastInsertRowid,
  );
  // Whoever wants no mail gets none; what is said here is the same, so that nobody learns who is on the list.
  if (!isBlocked(db, call.email)) {
    const when = DateTime.fromMillis(call.startsAt, { zone: call.zone, locale: "en-GB" }).toFormat(
      "cccc d LLLL, HH:mm",
    );
    const host = hostOf(db).name;
    queueServiceMail(db, {
      kind: "invitation",
      mailboxId: from.id,
      recipient: call.email,
      recipientName: "",
      subject: `Please confirm our call on ${when}`,
      // No word of a stranger's stands in it: the address may be anybody's.
      body: `Hello,\n\nsomebody chose a call${host ? ` with ${host}` : ""} on ${when} (${call.zone}) and gave this address.\n\nIf that was you, confirm it here within 15 minutes:\n${config.url}/confirm/${signLink("confirm", String(id), key)}\n\nIf it was not, do nothing: no call is booked, and no more mail comes.`,
      prospectId: null,
      meetingId: null,
      messageId: `<confirm.${newToken()}@${from.address.split("@")[1]}>`,
      dueAt: now,
    });
  }
  return done({ keptUntil });
}

function passed(db: Db, { email, pageId }: NewCall, caller: string, since: number): string | null {
  const counts = sql(
    db,
    `SELECT coalesce(sum(caller = @caller), 0) AS caller, coalesce(sum(email = @email), 0) AS email, coalesce(sum(page_id = @pageId), 0) AS page
     FROM booking_asks WHERE asked_wall >= @since`,
  ).get<{ caller: number; email: number; page: number }>({ caller, email, pageId, since });
  if (!counts) return null;
  if (counts.email >= MOST.email)
    return "A confirmation has been sent to this address several times. Look for it there, or try again in an hour.";
  if (counts.caller >= MOST.caller || counts.page >= MOST.page)
    return "Too many calls were asked for at once. Try again in an hour.";
  return null;
}

interface Ask extends NewCall {
  id: number;
  token: string;
  keptUntil: number;
}

function askOf({ db, key }: App, link: string): Ask | { token: string } | null {
  const id = readLink("confirm", link, key);
  const ask = sql(
    db,
    `SELECT id, page_id AS pageId, user_id AS userId, token, name, email, phone, place, starts_at AS startsAt, ends_at AS endsAt,
       visitor_zone AS zone, answers, kept_until AS keptUntil FROM booking_asks WHERE id = @id`,
  ).get<Ask>({ id: Number(id) });
  return ask ?? null;
}

export interface ToConfirm {
  host: Host;
  startsAt: number;
  zone: string;
  /** The meeting's page, where it has been confirmed already. */
  booked: string | null;
}

/** What a link would confirm. Throws `link_invalid`. */
export function toConfirm(app: App, link: string): ToConfirm {
  const ask = askOf(app, link);
  if (!ask || !("startsAt" in ask)) throw new AppError("link_invalid");
  const { token, startsAt, zone } = ask;
  return { host: hostOf(app.db), startsAt, zone, booked: isMeeting(app.db, token) ? token : null };
}

const isMeeting = (db: Db, token: string): boolean =>
  sql(db, "SELECT 1 FROM meetings WHERE token = @token").get({ token }) !== undefined;

/** Books what was asked for; pressed again it is the same call. Returns the token of the meeting's page. Throws `link_invalid`. */
export function confirmBooking(app: App, link: string): Outcome<string> {
  const { db, clock } = app;
  return transact(app, (): Outcome<string> => {
    const ask = askOf(app, link);
    if (!ask || !("startsAt" in ask)) throw new AppError("link_invalid");
    if (isMeeting(db, ask.token)) return done(ask.token);
    // Kept no longer, it may still be free.
    if (!isFree(app, ask, ask.id)) return refused({ start: new AppError("slot_taken").message });
    sql(
      db,
      `INSERT INTO meetings (token, user_id, page_id, prospect_id, name, email, phone, place, starts_at, ends_at, visitor_zone, answers, created_at)
         VALUES (@token, @userId, @pageId, NULL, @name, @email, @phone, @place, @startsAt, @endsAt, @zone, @answers, @now)`,
    ).run({ ...ask, now: clock.now() });
    invite(app, ask.token);
    return done(ask.token);
  });
}
