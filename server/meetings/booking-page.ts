import { MINUTE } from "../../core/calendar.ts";
import { isPublicHoliday } from "../../core/holidays.ts";
import { type BookingRules, freeTimes } from "../../core/meetings/free-times.ts";
import { readCompany } from "../accounts/company.ts";
import { readSettings, type UserSettings } from "../accounts/settings.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { fullName, remainingProspect } from "../db/prospects.ts";
import { AppError } from "../errors.ts";
import { readLink } from "../secrets.ts";

/** Who invites, on a page that strangers see: the company, not this program. */
export interface Host {
  name: string;
  /** A data URL; "" for none. */
  picture: string;
}

export interface BookingPage {
  host: Host;
  rep: { id: number; name: string; zone: string };
  /** Minutes: the lengths to choose from, and the one that the times are for. */
  lengths: number[];
  length: number;
  daysAhead: number;
  where: UserSettings["where"];
  place: string;
  /** Starts of free times. */
  times: number[];
  /** Who the link was made for, if it says so. */
  visitor: { prospectId: number; name: string; email: string; zone: string | null } | null;
}

export function hostOf(db: Db): Host {
  const { name, picture } = readCompany(db);
  return { name, picture };
}

/**
 * A rep's booking page. `length` is what the visitor chose, if anything; `moving` the id of a meeting that is being
 * moved, whose own time counts as free. Throws `not_found` if nobody has this address.
 */
export function bookingPage(
  app: App,
  slug: string,
  token: string | null,
  length: number | null = null,
  moving: number | null = null,
): BookingPage {
  const { db, clock, key } = app;
  const rep = sql<{ slug: string }, BookingPage["rep"]>(
    db,
    "SELECT id, name, time_zone AS zone FROM users WHERE booking_slug = @slug AND removed_at IS NULL",
  ).get({ slug });
  if (!rep) throw new AppError("not_found");
  const settings = readSettings(db, rep.id);
  const chosen = settings.lengths.find((each) => each === length) ?? (settings.lengths[0] as number);
  const payload = token ? readLink("booking", token, key) : null;
  const prospect = payload ? remainingProspect(db, Number(payload)) : undefined;
  const now = clock.now();
  const busy = sql<Record<string, unknown>, { startsAt: number; endsAt: number }>(
    db,
    `SELECT starts_at AS startsAt, ends_at AS endsAt FROM meetings
     WHERE user_id = @id AND cancelled_at IS NULL AND ends_at > @from AND id IS NOT @moving`,
  ).all({ id: rep.id, from: now - settings.buffer * MINUTE, moving });
  const { days, opens, closes, buffer, notice, daysAhead, mostADay, where, place } = settings;
  const rules: BookingRules = {
    hours: { days, opens, closes },
    length: chosen,
    buffer,
    notice,
    daysAhead,
    mostADay,
  };
  const { country } = readCompany(db);
  return {
    host: hostOf(db),
    rep,
    lengths: settings.lengths.toSorted((a, b) => a - b),
    length: chosen,
    daysAhead,
    where,
    place,
    times: freeTimes(now, rep.zone, rules, busy, (day) => isPublicHoliday(country, day)),
    visitor: prospect
      ? { prospectId: prospect.id, name: fullName(prospect), email: prospect.email, zone: prospect.timeZone }
      : null,
  };
}
