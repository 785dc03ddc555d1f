/** What an answer offers in one press: the booking link of somebody's own, or three free times. */
import { DateTime } from "luxon";
import { dayOf, hourOf } from "../../core/calendar.ts";
import { ENGLISH, type OfferWords, offerWordsFor } from "../../core/meetings/offer-words.ts";
import { chooseTimes, isWished, wishedTimes } from "../../core/meetings/wished-times.ts";
import { readerOf } from "../../core/replies/return-date.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { prospectById } from "../db/prospects.ts";
import { AppError } from "../errors.ts";
import { bookingLink } from "../mail/compose.ts";
import { bookingPage } from "./booking-page.ts";

export interface Offer {
  /** The rep's booking page, which knows whom it was made for. */
  link: string;
  /** Ready to put into an answer, in the letter's language; "" while nothing is free. */
  times: string;
  /** The same in English, for where English stands around it. */
  inEnglish: string;
}

/** Hours of a usual day where the prospect is. */
const CIVIL = { from: 8.5, to: 18 };

/** A letter to which times are offered: what they wrote, and when. */
export interface AskingLetter {
  text: string;
  at: number;
}

/**
 * Three times at hours that suit both, in the prospect's time: those that their letter asks for first, and on
 * different days if there are.
 */
export function offerTimes(
  app: App,
  user: Pick<User, "bookingSlug">,
  prospectId: number,
  letter: AskingLetter | null = null,
): Offer {
  const link = bookingLink(app, user.bookingSlug, prospectId);
  let page: ReturnType<typeof bookingPage>;
  try {
    page = bookingPage(app, user.bookingSlug, null, { isWritten: true });
  } catch (error) {
    if (error instanceof AppError) return { link, times: "", inEnglish: "" };
    throw error;
  }
  const person = prospectById(app.db, prospectId);
  const zone = person?.timeZone ?? page.rep.zone;
  const { text, at: writtenAt } = letter ?? { text: "", at: app.clock.now() };
  const wished = wishedTimes(text, readerOf({ at: writtenAt, zone, country: person?.country ?? "" }));
  // Of hundreds of times the three are found by sums; only those are put into words.
  const free = page.times.map((at) => ({ at, day: dayOf(at, zone), hour: hourOf(at, zone) }));
  const civil = free.filter(
    (time) =>
      (time.hour >= CIVIL.from && time.hour + page.length / 60 <= CIVIL.to) ||
      (wished.wishes.some(({ hours }) => hours !== null) && isWished(time, wished)),
  );
  const isFirst = (time: (typeof civil)[number]) => Number(isWished(time, wished));
  const chosen = chooseTimes(civil, wished).sort((a, b) => isFirst(b) - isFirst(a) || a.at - b.at);
  const isTaken = wished.wishes.length > 0 && !chosen.some(isFirst);
  const say = ({ locale, format, ask, otherwise, taken }: OfferWords) => {
    const named = chosen.map(({ at }) => `– ${DateTime.fromMillis(at, { zone, locale }).toFormat(format)}`);
    const asking = ask(zone.split("/").at(-1)?.replaceAll("_", " ") ?? zone);
    return named.length === 0
      ? ""
      : `${isTaken ? `${taken} ` : ""}${asking}\n\n${named.join("\n")}\n\n${otherwise} ${link}`;
  };
  return { link, times: say(offerWordsFor(text)), inEnglish: say(ENGLISH) };
}
