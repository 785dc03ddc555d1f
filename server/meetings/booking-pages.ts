/** A rep's booking pages: what each offers, and who takes its calls. */

import {
  type BookingPageRules,
  bookingPageSchema,
  bookingRulesSchema,
} from "../../core/meetings/booking-rules.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import { listTeam } from "../accounts/team.ts";
import type { App } from "../app.ts";
import { numbersIn } from "../db/json.ts";
import { sql, transact } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

export interface OwnPage {
  id: number;
  slug: string;
  name: string;
  rules: BookingPageRules;
  hostIds: number[];
  /** Links in emails lead to this one. */
  isMain: boolean;
}

export function bookingPages({ db }: App, user: Pick<User, "id" | "bookingSlug">): OwnPage[] {
  return sql(
    db,
    `SELECT id, slug, name, rules, (SELECT json_group_array(user_id) FROM booking_hosts WHERE page_id = booking_pages.id) AS hostIds
     FROM booking_pages WHERE user_id = @userId AND removed_at IS NULL ORDER BY id`,
  )
    .all<{ id: number; slug: string; name: string; rules: string; hostIds: string }>({ userId: user.id })
    .map(({ rules, hostIds, ...row }) => ({
      ...row,
      rules: bookingRulesSchema.parse(JSON.parse(rules)),
      hostIds: numbersIn(hostIds),
      isMain: row.slug === user.bookingSlug,
    }));
}

export interface Mate {
  id: number;
  name: string;
  /** Whether they let one's pages book calls with them. */
  mayHost: boolean;
}

/** The team, as far as their calls can be booked on a page of somebody's. */
export const pageHosts = (app: App, by: number): Mate[] =>
  listTeam(app).map(({ id, name }) => ({ id, name, mayHost: mayNot(app, by, "host.use", id) === null }));

const MOST_PAGES = 12;

/** Saves a page; `id` null makes a new one. The address of an existing page stays: links to it are out. */
export function saveBookingPage(app: App, user: User, id: number | null, input: unknown): Outcome<number> {
  const read = bookingPageSchema.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, slug, hostIds, ...rules } = read.data;
  const no = mayNot(app, user.id, "host.use", hostIds);
  if (no) return refused({ hostIds: no.errors.form ?? "" });
  const { db, clock } = app;
  return transact(app, (): Outcome<number> => {
    const own = bookingPages(app, user);
    if (id !== null && !own.some((page) => page.id === id))
      return refused({ form: "This page is no longer yours, or no longer here." });
    if (id === null && own.length >= MOST_PAGES) return refused({ form: `At most ${MOST_PAGES} pages.` });
    if (id === null && slug === undefined) return refused({ slug: "Type the last part of its address." });
    if (id === null && sql(db, "SELECT 1 FROM booking_pages WHERE slug = @slug").get({ slug: slug ?? "" }))
      return refused({ slug: "This address is taken. Choose another." });
    const values = {
      id,
      name,
      rules: JSON.stringify(rules),
      userId: user.id,
      slug: slug ?? "",
      now: clock.now(),
    };
    const pageId =
      id ??
      Number(
        sql(
          db,
          "INSERT INTO booking_pages (slug, name, user_id, rules, created_at) VALUES (@slug, @name, @userId, @rules, @now)",
        ).run(values).lastInsertRowid,
      );
    if (id !== null)
      sql(db, "UPDATE booking_pages SET name = @name, rules = @rules WHERE id = @id").run(values);
    sql(db, "DELETE FROM booking_hosts WHERE page_id = @pageId").run({ pageId });
    sql(
      db,
      `INSERT INTO booking_hosts (page_id, user_id) SELECT @pageId, id FROM users
         WHERE removed_at IS NULL AND id IN (SELECT value FROM json_each(@hostIds))`,
    ).run({ pageId, hostIds: JSON.stringify(hostIds) });
    return done(pageId);
  });
}

/** Takes a page away; calls booked on it stay. The one that emails link to stays. */
export function removeBookingPage({ db, clock }: App, user: User, id: number): Outcome<null> {
  const removed = sql(
    db,
    `UPDATE booking_pages SET removed_at = @now WHERE id = @id AND user_id = @userId AND slug != @main AND removed_at IS NULL`,
  ).run({ id, userId: user.id, main: user.bookingSlug, now: clock.now() }).changes;
  return removed === 1 ? done(null) : refused({ form: "The page that your emails link to stays." });
}
