/** What an answer offers in one press: the booking link of somebody's own, or three free times. */
import { DateTime } from "luxon";
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

/** Three times on different days if there are, at hours that suit both, in the prospect's time. */
export function offerTimes(app: App, user: Pick<User, "bookingSlug">, prospectId: number): Offer {
  const link = bookingLink(app, user.bookingSlug, prospectId);
  let page: ReturnType<typeof bookingPage>;
  try {
    page = bookingPage(app, user.bookingSlug, null);
  } catch (error) {
    if (error instanceof AppError) return { link, times: "" };
    throw error;
  }
  const zone = prospectById(app.db, prospectId)?.timeZone ?? page.rep.zone;
  const local = (at: number) => DateTime.fromMillis(at, { zone, locale: "en-GB" });
  const civil = page.times.filter((at) => {
    const hour = local(at).hour + local(at).minute / 60;
    return hour >= CIVIL.from && hour + page.length / 60 <= CIVIL.to;
  });
  const chosen: number[] = [];
  // A morning, an afternoon, a morning: somebody who is busy at one hour is free at another.
  for (const [index, at] of civil.entries()) {
    const sameDay = chosen.some((each) => local(each).hasSame(local(at), "day"));
    const isAfternoon = local(at).hour >= 13;
    if (
      chosen.length < OFFERED &&
      !sameDay &&
      (isAfternoon === (chosen.length % 2 === 1) || lastOfDay(index))
    )
      chosen.push(at);
  }
  const named = chosen.map((at) => `– ${local(at).toFormat("cccc d LLLL, HH:mm")}`);
  return {
    link,
    times:
      named.length === 0
        ? ""
        : `Would one of these suit you (${zone.split("/").at(-1)?.replaceAll("_", " ")} time)?\n\n${named.join("\n")}\n\nIf none does, choose another here: ${link}`,
  };

  function lastOfDay(index: number): boolean {
    const next = civil[index + 1];
    return next === undefined || !local(next).hasSame(local(civil[index] as number), "day");
  }
}
