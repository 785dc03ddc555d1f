/** The calendars that a rep keeps elsewhere: read every so often, and what they hold is no time to book. */
import { z } from "zod";
import { DAY, MINUTE } from "../../core/calendar.ts";
import type { BusyTimes } from "../../core/meetings/calendar-events.ts";
import type { App } from "../app.ts";
import { noteFailure } from "../db/failures.ts";
import { type Db, sql } from "../db/open.ts";
import { done, fieldErrors, isBusy, type Outcome, refused } from "../errors.ts";
import { log } from "../log.ts";
import { GuardedThread } from "../threads.ts";
import type { CalendarToRead } from "./calendar-worker.ts";
import { fetchCalendar } from "./fetch-calendar.ts";

const READ_EVERY = 10 * MINUTE;
/** After a failure; twice as long after each further one in a row. */
const AGAIN_AFTER = 5 * MINUTE;
const AGAIN_AT_MOST = DAY;
/** A page opens at most 90 days ahead; what begins earlier may still last. */
const WINDOW = { back: 15 * DAY, ahead: 130 * DAY };
const MOST_CALENDARS = 10;
const MOST_FILE = 20_000_000;
/** A calendar that takes longer is hostile. */
const READ_PATIENCE = 20_000;

export interface CalendarRow {
  id: number;
  name: string;
  url: string;
  isFile: 0 | 1;
  events: number;
  readAt: number | null;
  trouble: string | null;
}

export function calendarsOf({ db }: App, userId: number): CalendarRow[] {
  return sql(
    db,
    `SELECT id, name, url, file != '' AS isFile, events, read_at AS readAt, trouble FROM calendars WHERE user_id = @userId ORDER BY id`,
  ).all<CalendarRow>({ userId });
}

const form = z
  .object({
    name: z.string().trim().min(1, "Give the calendar a name.").max(60),
    url: z
      .string()
      .trim()
      .max(1_000)
      .refine(
        (text) => text === "" || /^(https?|webcals?):\/\/\S+$/i.test(text),
        "Write an address like https://calendar.example/me.ics.",
      )
      .default(""),
    file: z.string().max(MOST_FILE, "The file has more than 20 MB.").default(""),
  })
  .refine(({ url, file }) => (url === "") !== (file === ""), {
    path: ["url"],
    message: "Type its address, or choose a file.",
  });

/** Adds a calendar and reads it once: what is wrong with it is said at the form. */
export async function addCalendar(app: App, userId: number, input: unknown): Promise<Outcome<number>> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { db } = app;
  if (calendarsOf(app, userId).length >= MOST_CALENDARS)
    return refused({ form: `At most ${MOST_CALENDARS} calendars.` });
  if (read.data.file !== "" && !/BEGIN:VCALENDAR/i.test(read.data.file.slice(0, 5_000)))
    return refused({ url: "This file is no calendar (iCalendar, .ics)." });
  const id = Number(
    sql(db, "INSERT INTO calendars (user_id, name, url, file) VALUES (@userId, @name, @url, @file)").run({
      ...read.data,
      userId,
    }).lastInsertRowid,
  );
  const trouble = await readCalendar(app, id);
  if (trouble === null) return done(id);
  removeCalendar(app, userId, id);
  return refused({ url: trouble });
}

export function removeCalendar({ db }: App, userId: number, id: number): Outcome<null> {
  sql(db, "DELETE FROM calendars WHERE id = @id AND user_id = @userId").run({
    id,
    userId,
  });
  return done(null);
}

interface ToRead {
  id: number;
  url: string;
  file: string;
  etag: string;
  zone: string;
  readAt: number | null;
}

/** Reads those whose time has come, all at once: a slow one holds up nobody. Returns how many. */
export async function readDueCalendars(app: App): Promise<number> {
  const due = sql(
    app.db,
    // What failed often comes last: it holds up nobody who can be read.
    "SELECT id FROM calendars WHERE next_wall <= @wall ORDER BY failures, next_wall LIMIT 20",
  ).all<{ id: number }>({ wall: Date.now() });
  const reads = await Promise.allSettled(due.map(({ id }) => readCalendar(app, id)));
  for (const read of reads)
    if (read.status === "rejected" && !isBusy(read.reason))
      noteFailure(app.db, "outside", "calendar", read.reason);
  return due.length;
}

/** What stood in it before stays busy while it cannot be read. Returns what is wrong, in words, or null. */
async function readCalendar(app: App, id: number): Promise<string | null> {
  const { db, clock, config } = app;
  const calendar = sql(
    db,
    `SELECT c.id, c.url, c.file, c.etag, u.time_zone AS zone, c.read_at AS readAt FROM calendars c JOIN users u ON u.id = c.user_id WHERE c.id = @id`,
  ).get<ToRead>({ id });
  if (!calendar) return null;
  const now = clock.now();
  // Recurring events run on: also what did not change is expanded anew once a day.
  const isFresh = calendar.readAt !== null && Math.abs(now - calendar.readAt) < DAY;
  const fetched =
    calendar.url === ""
      ? { text: calendar.file, etag: "" }
      : await fetchCalendar(calendar.url, {
          config,
          etag: isFresh ? calendar.etag : "",
        });
  if ("trouble" in fetched) return note(db, id, fetched.trouble);
  if ("unchanged" in fetched) return note(db, id, null);
  try {
    const window = { from: now - WINDOW.back, to: now + WINDOW.ahead };
    const read = await thread.ask({ text: fetched.text, window, zone: calendar.zone });
    keepBusy(db, id, read, { etag: fetched.etag, now });
    return note(
      db,
      id,
      null,
      read.unreadable > 0
        ? `${read.unreadable} of its ${read.events} events cannot be read; the others count.`
        : null,
    );
  } catch (error) {
    log.warn({ calendar: id, error: String(error) }, "calendar given up");
    return note(db, id, "The calendar could not be read within 20 seconds of work.");
  }
}

function keepBusy(
  db: Db,
  id: number,
  { busy, events }: BusyTimes,
  { etag, now }: { etag: string; now: number },
): void {
  db.transaction(() => {
    sql(db, "DELETE FROM busy_times WHERE calendar_id = @id").run({ id });
    sql(
      db,
      `INSERT INTO busy_times (calendar_id, starts_at, ends_at)
       SELECT @id, value ->> 'startsAt', value ->> 'endsAt' FROM json_each(@busy) WHERE true ON CONFLICT DO NOTHING`,
    ).run({ id, busy: JSON.stringify(busy) });
    sql(db, "UPDATE calendars SET etag = @etag, events = @events, read_at = @now WHERE id = @id").run({
      id,
      etag,
      events,
      now,
    });
  }).immediate();
}

function note(db: Db, id: number, trouble: string | null, remark: string | null = null): string | null {
  sql(
    db,
    `UPDATE calendars SET trouble = @words, failures = iif(@failed, failures + 1, 0),
       next_wall = @wall + iif(@failed, min(@most, @again << min(failures, 12)), @every) WHERE id = @id`,
  ).run({
    ...{ id, words: trouble ?? remark, failed: trouble === null ? 0 : 1, wall: Date.now() },
    ...{ every: READ_EVERY, again: AGAIN_AFTER, most: AGAIN_AT_MOST },
  });
  return trouble;
}

const thread = new GuardedThread<CalendarToRead, BusyTimes>("server/meetings/calendar-worker.ts", {
  ...{ memoryMb: 512, stays: false, patience: READ_PATIENCE },
  warmUp: { text: "", window: { from: 0, to: 0 }, zone: "UTC" },
});

/** Ends the thread; the next calendar starts another. */
export const stopReadingCalendars = (): Promise<void> => thread.stop();
