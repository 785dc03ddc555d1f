/** What an answer offers in one press: the booking link of somebody's own, or three free times. */
import { DateTime } from "luxon";
import { dayOf, hourOf } from "../../core/calendar.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { prospectById } from "../db/prospects.ts";
import { AppError } from "../errors.ts";
import { bookingLink } from "../mail/compose.ts";
import { bookingPage } from "./booking-page.ts";

export interface Offer {
  /** The rep's booking page, which knows whom it was made for. */
  link: string;
  /** Ready to put into an answer; "" while nothing is free. */
  times: string;
}

const OFFERED = 3;
/** Hours of a usual day where the prospect is. */
const CIVIL = { from: 8.5, to: 18 };
const NOON = 13;

/** Three times on different days if there are, at hours that suit both, in the prospect's time. */
export function offerTimes(app: App, user: Pick<User, "bookingSlug">, prospectId: number): Offer {
  const link = bookingLink(app, user.bookingSlug, prospectId);
  let page: ReturnType<typeof bookingPage>;
  try {
    page = bookingPage(app, user.bookingSlug, null, { isWritten: true });
  } catch (error) {
    if (error instanceof AppError) return { link, times: "" };
    throw error;
  }
  const zone = prospectById(app.db, prospectId)?.timeZone ?? page.rep.zone;
  // Of hundreds of times the three are found by sums; only those are put into words.
  const local = page.times.map((at) => ({
    at,
    day: dayOf(at, zone),
    hour: hourOf(at, zone),
  }));
  const civil = local.filter(({ hour }) => hour >= CIVIL.from && hour + page.length / 60 <= CIVIL.to);
  const chosen: typeof civil = [];
  // A morning, an afternoon, a morning: somebody who is busy at one hour is free at another.
  for (const [index, time] of civil.entries()) {
    if (chosen.length === OFFERED) break;
    if (chosen.some(({ day }) => day === time.day)) continue;
    const isLastOfDay = civil[index + 1]?.day !== time.day;
    if (time.hour >= NOON === (chosen.length % 2 === 1) || isLastOfDay) chosen.push(time);
  }
  const named = chosen.map(
    ({ at }) => `– ${DateTime.fromMillis(at, { zone, locale: "en-GB" }).toFormat("cccc d LLLL, HH:mm")}`,
  );
  return {
    link,
    times:
      named.length === 0
        ? ""
        : `Would one of these suit you (${zone.split("/").at(-1)?.replaceAll("_", " ")} time)?\n\n${named.join("\n")}\n\nIf none does, choose another here: ${link}`,
  };
}
