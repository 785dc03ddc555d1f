import { DAY, MINUTE } from "../../core/calendar.ts";
import { isPublicHoliday } from "../../core/holidays.ts";
import { type BookingPageRules, bookingRulesSchema } from "../../core/meetings/booking-rules.ts";
import { type Busy, freeTimes } from "../../core/meetings/free-times.ts";
import { readCompany } from "../accounts/company.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { fullName, remainingProspect } from "../db/prospects.ts";
import { AppError } from "../errors.ts";
import { readLink } from "../secrets.ts";
import { canConfirm } from "./host-mailbox.ts";

/** Who invites, on a page that strangers see: the company, not this program. */
export interface Host {
  name: string;
  /** A data URL; "" for none. */
  picture: string;
}

/** Somebody of the team who takes the calls of a page. */
export interface PageHost {
  id: number;
  name: string;
  zone: string;
}

export interface BookingPage {
  id: number;
  name: string;
  about: string;
  host: Host;
  /** Whom the visitor sees: the one host, or the page's owner where several take turns. */
  rep: PageHost;
  isTeam: boolean;
  /** Minutes: the lengths to choose from, and the one that the times are for. */
  lengths: number[];
  length: number;
  daysAhead: number;
  where: BookingPageRules["where"];
  place: string;
  questions: BookingPageRules["questions"];
  remindHours: number;
  /** Starts of free times. */
  times: number[];
  /** Who the link was made for, if it says so. */
  visitor: { prospectId: number; name: string; email: string; zone: string | null } | null;
}

export function hostOf(db: Db): Host {
  const { name, picture } = readCompany(db);
  return { name, picture };
}

interface PageRow {
  id: number;
  name: string;
  userId: number;
  rules: string;
}

const pageBySlug = (db: Db, slug: string): PageRow | undefined =>
  sql(
    db,
    `SELECT p.id, p.name, p.user_id AS userId, p.rules FROM booking_pages p JOIN users u ON u.id = p.user_id
     WHERE p.slug = @slug AND p.removed_at IS NULL AND u.removed_at IS NULL`,
  ).get<PageRow>({ slug });

/** Who takes the calls of a page: those who were chosen, as long as they let its owner book with them. */
export function hostsOf(app: App, pageId: number): PageHost[] {
  return sql(
    app.db,
    `SELECT u.id, u.name, u.time_zone AS zone, p.user_id AS pageOwner FROM booking_hosts h JOIN users u ON u.id = h.user_id
     JOIN booking_pages p ON p.id = h.page_id WHERE h.page_id = @pageId AND u.removed_at IS NULL ORDER BY u.id`,
  )
    .all<PageHost & { pageOwner: number }>({ pageId })
    .filter(({ id, pageOwner }) => mayNot(app, pageOwner, "host.use", id) === null)
    .map(({ pageOwner: _, ...host }) => host);
}

export interface Wanted {
  /** What the visitor chose, if anything. */
  length?: number | null;
  /** A meeting that is being moved: its own time counts as free, and it stays with its host. */
  /** Somebody who is being written to, not a stranger who has to confirm. */
  isWritten?: boolean;
  moving?: { id: number; userId: number; minutes: number } | null;
}

/** A booking page. Throws `not_found` if there is none at this address. */
export function bookingPage(
  app: App,
  slug: string,
  token: string | null,
  { length = null, isWritten = false, moving = null }: Wanted = {},
): BookingPage {
  const { db, key } = app;
  const row = pageBySlug(db, slug);
  const rules = row && bookingRulesSchema.parse(JSON.parse(row.rules));
  const hosts = row ? hostsOf(app, row.id) : [];
  const [first] = hosts;
  if (!row || !rules || !first) throw new AppError("not_found");
  const chosen =
    moving?.minutes ?? rules.lengths.find((each) => each === length) ?? (rules.lengths[0] as number);
  const payload = token ? readLink("booking", token, key) : null;
  const prospect = payload ? remainingProspect(db, Number(payload)) : undefined;
  const asked = moving
    ? hosts.filter(({ id }) => id === moving.userId)
    : hosts.filter((each) => prospect || isWritten || canConfirm(app, each));
  const times = new Set<number>();
  for (const each of asked)
    for (const at of timesOf(app, each, rules, chosen, moving?.id ?? null)) times.add(at);
  return {
    id: row.id,
    name: row.name,
    about: rules.about,
    host: hostOf(db),
    rep: hosts.find(({ id }) => id === (moving?.userId ?? row.userId)) ?? first,
    isTeam: hosts.length > 1,
    lengths: rules.lengths.toSorted((a, b) => a - b),
    length: chosen,
    daysAhead: rules.daysAhead,
    where: rules.where,
    place: rules.place,
    questions: rules.questions,
    remindHours: rules.remindHours,
    times: [...times].sort((a, b) => a - b),
    visitor: prospect
      ? { prospectId: prospect.id, name: fullName(prospect), email: prospect.email, zone: prospect.timeZone }
      : null,
  };
}

/** The free times of one host under a page's rules. */
export function timesOf(
  { db, clock }: App,
  host: PageHost,
  rules: BookingPageRules,
  length: number,
  movingId: number | null,
  askId: number | null = null,
): number[] {
  const now = clock.now();
  const { days, opens, closes, buffer, notice, daysAhead, mostADay } = rules;
  const { country } = readCompany(db);
  return freeTimes(
    now,
    host.zone,
    { hours: { days, opens, closes }, length, buffer, notice, daysAhead, mostADay },
    callsOf(db, host.id, now, { movingId, askId }),
    (day) => isPublicHoliday(country, day),
    busyOf(db, host.id, now - buffer * MINUTE, now + (daysAhead + 1) * DAY),
  );
}

/** Calls, and times that are kept for whoever asked for one. */
const callsOf = (
  db: Db,
  userId: number,
  now: number,
  { movingId, askId }: { movingId: number | null; askId: number | null },
  from = now - DAY,
): Busy[] =>
  sql(
    db,
    `SELECT starts_at AS startsAt, ends_at AS endsAt FROM meetings
     WHERE user_id = @userId AND cancelled_at IS NULL AND ends_at > @from AND id IS NOT @movingId
     UNION ALL SELECT starts_at, ends_at FROM booking_asks
     WHERE user_id = @userId AND kept_until > @now AND id IS NOT @askId AND token NOT IN (SELECT token FROM meetings)`,
  ).all<Busy>({ userId, from, movingId, askId, now });

/** What their other calendars hold, of which the longest event is taken to last less than two weeks. */
const busyOf = (db: Db, userId: number, from: number, to: number): Busy[] =>
  sql(
    db,
    `SELECT b.starts_at AS startsAt, b.ends_at AS endsAt FROM calendars c JOIN busy_times b ON b.calendar_id = c.id
     WHERE c.user_id = @userId AND b.starts_at >= @early AND b.starts_at < @to AND b.ends_at > @from`,
  ).all<Busy>({ userId, from, early: from - 14 * DAY, to });

/** Which hosts are free at a time, the one with the fewest calls ahead first: so they take turns. */
export function freeHosts(app: App, { id: pageId, length, visitor }: BookingPage, start: number): PageHost[] {
  const { db, clock } = app;
  const row = sql(db, "SELECT rules FROM booking_pages WHERE id = @pageId").get<{ rules: string }>({
    pageId,
  });
  const rules = bookingRulesSchema.parse(JSON.parse(row?.rules ?? "{}"));
  const ahead = (userId: number) =>
    sql(
      db,
      `SELECT count(*) AS count FROM meetings WHERE user_id = @userId AND page_id = @pageId AND cancelled_at IS NULL AND starts_at > @from`,
    ).get<{ count: number }>({ userId, pageId, from: clock.now() - 30 * DAY })?.count ?? 0;
  return hostsOf(app, pageId)
    .filter((host) => visitor || canConfirm(app, host))
    .filter((host) => timesOf(app, host, rules, length, null).includes(start))
    .map((host) => ({ host, calls: ahead(host.id) }))
    .sort((a, b) => a.calls - b.calls || a.host.id - b.host.id)
    .map(({ host }) => host);
}

/** Whether a call that was asked for can still take place: its host's time is free, but for its own keeping. */
export function isFree(
  app: App,
  { pageId, userId, startsAt, endsAt }: { pageId: number; userId: number; startsAt: number; endsAt: number },
  askId: number,
): boolean {
  const row = sql(app.db, "SELECT rules FROM booking_pages WHERE id = @pageId AND removed_at IS NULL").get<{
    rules: string;
  }>({ pageId });
  const host = hostsOf(app, pageId).find(({ id }) => id === userId);
  if (!row || !host) return false;
  const rules = bookingRulesSchema.parse(JSON.parse(row.rules));
  return timesOf(app, host, rules, (endsAt - startsAt) / MINUTE, null, askId).includes(startsAt);
}
