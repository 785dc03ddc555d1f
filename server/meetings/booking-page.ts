import { freeTimes } from "../../core/meetings/free-times.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { fullName, remainingProspect } from "../db/prospects.ts";
import { AppError } from "../errors.ts";
import { readLink } from "../secrets.ts";

export interface BookingPage {
  rep: { id: number; name: string; zone: string };
  /** Starts of free half-hours. */
  times: number[];
  /** Who the link was made for, if it says so. */
  visitor: { prospectId: number; name: string; email: string; zone: string | null } | null;
}

/** A rep's booking page. Throws `not_found` if nobody has this address. */
export function bookingPage(app: App, slug: string, token: string | null): BookingPage {
  const { db, clock, key } = app;
  const rep = sql<{ slug: string }, BookingPage["rep"]>(
    db,
    "SELECT id, name, time_zone AS zone FROM users WHERE booking_slug = @slug",
  ).get({ slug });
  if (!rep) throw new AppError("not_found");
  const payload = token ? readLink("booking", token, key) : null;
  const prospect = payload ? remainingProspect(db, Number(payload)) : undefined;
  const now = clock.now();
  const busy = sql<{ id: number; now: number }, { startsAt: number }>(
    db,
    "SELECT starts_at AS startsAt FROM meetings WHERE user_id = @id AND starts_at > @now",
  ).all({ id: rep.id, now });
  return {
    rep,
    times: freeTimes(now, rep.zone, new Set(busy.map(({ startsAt }) => startsAt))),
    visitor: prospect
      ? { prospectId: prospect.id, name: fullName(prospect), email: prospect.email, zone: prospect.timeZone }
      : null,
  };
}
