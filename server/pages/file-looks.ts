/**
 * A file that went as a link: who may open it, and what they look at. Its viewer tells the seconds for which each page was before them;
 * only a person's count, told apart by what else was loaded of the email.
 */

import { z } from "zod";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import { judgeAgent, networkOf } from "../../core/replies/loads.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { jsonOf } from "../db/json.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { pageOf, visitPage } from "../db/pages.ts";
import { type Prospect, remainingProspect } from "../db/prospects.ts";
import { AppError, done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { fileLink, giveFile, readFileLink } from "../mail/file-links.ts";
import { type Host, hostOf } from "../meetings/booking-page.ts";
import { hashPassword, passwordMatches, readLink, signLink } from "../secrets.ts";
import { type Asker, emailBefore, happens, judgeBeside, type Source, unlessBusy } from "./email-before.ts";
import { secondsSchema } from "./files-of-person.ts";
import { type Maker, makerOf, type Opened } from "./personal-page.ts";

export interface OpenedFile {
  id: number;
  name: string;
  type: string;
  bytes: number;
  prospect: Prospect;
  /** Whoever put it in. */
  maker: Maker;
  host: Host;
  isLook: boolean;
  /** A password, hashed; "" for none. */
  lock: string;
  /** Null where it does not end. */
  endsAt: number | null;
}

interface LookRow {
  givenAt: number | null;
  touchId: number | null;
  pageEndsAt: number | null;
  lastAt: number | null;
  seconds: string;
  tries: number;
  triesSince: number;
}

const lookOf = (db: Db, fileId: number, prospectId: number): LookRow | undefined =>
  sql(
    db,
    `SELECT given_at AS givenAt, touch_id AS touchId, page_ends_at AS pageEndsAt, last_at AS lastAt, seconds, tries, tries_since AS triesSince
     FROM file_looks WHERE file_id = @fileId AND prospect_id = @prospectId`,
  ).get<LookRow>({ fileId, prospectId });

/** What a link opens. Throws `not_found` for one that we did not make, a person who was erased, and a file that is no longer here. */
export function openFile(app: App, token: string): OpenedFile {
  const { db } = app;
  const ref = readFileLink(app, token);
  const prospect = ref ? remainingProspect(db, ref.prospectId) : undefined;
  const file = ref
    ? sql(
        db,
        "SELECT id, name, type, length(bytes) AS bytes, user_id AS userId, lock, days FROM files WHERE id = @id",
      ).get<
        Pick<OpenedFile, "id" | "name" | "type" | "bytes" | "lock"> & {
          userId: number | null;
          days: number | null;
        }
      >({
        id: ref.fileId,
      })
    : undefined;
  if (!ref || !prospect || !file) throw new AppError("not_found");
  const { userId, days, ...known } = file;
  const look = lookOf(db, file.id, prospect.id);
  const ends = [
    ...(days !== null && look?.givenAt ? [look.givenAt + days * DAY] : []),
    ...(look?.pageEndsAt ? [look.pageEndsAt] : []),
  ];
  return {
    ...known,
    prospect,
    maker: makerOf(db, { userId }, prospect),
    host: hostOf(db),
    isLook: ref.isLook,
    endsAt: ends.length === 0 ? null : Math.min(...ends),
  };
}

export const isOver = ({ clock }: App, { endsAt }: Pick<OpenedFile, "endsAt">): boolean =>
  endsAt !== null && endsAt <= clock.now();

export const fileBytes = (db: Db, id: number): Buffer =>
  sql(db, "SELECT bytes FROM files WHERE id = @id").get<{ bytes: Buffer }>({ id })?.bytes ?? Buffer.alloc(0);

/** A file of somebody's page, which ends with it: where it is looked at. */
export function fileOfPage(app: App, { template, prospect, isLook }: Opened, fileId: number): string {
  if (!isLook)
    unlessBusy(() =>
      transact(app, ({ db, clock }) => {
        const now = clock.now();
        visitPage(db, template.id, prospect.id, now);
        const pageEndsAt = pageOf(db, template.id, prospect.id)?.endsAt ?? null;
        giveFile(db, { fileId, prospectId: prospect.id }, { givenAt: now, touchId: null, pageEndsAt });
      }),
    );
  return fileLink(app, fileId, prospect.id, isLook ? "look" : "theirs");
}

/** So many wrong passwords within an hour; then it is shut for the rest of it. */
const MOST_TRIES = 10;
/** How long a browser that said the password opens the file. */
export const KEY_LASTS = 12 * HOUR;

/** The key for a browser that says the password. */
export async function unlock(app: App, opened: OpenedFile, password: string): Promise<Outcome<string>> {
  const { id: fileId, prospect, lock } = opened;
  const now = app.clock.now();
  const begun = transact(app, ({ db }) => {
    sql(db, "INSERT INTO file_looks (file_id, prospect_id) VALUES (@fileId, @id) ON CONFLICT DO NOTHING").run(
      {
        fileId,
        id: prospect.id,
      },
    );
    // Counted before it is compared: many at once are many.
    return sql(
      db,
      `UPDATE file_looks SET tries = iif(tries_since <= @now - ${HOUR}, 1, tries + 1), tries_since = iif(tries_since <= @now - ${HOUR}, @now, tries_since)
       WHERE file_id = @fileId AND prospect_id = @id AND (tries < ${MOST_TRIES} OR tries_since <= @now - ${HOUR})`,
    ).run({ fileId, id: prospect.id, now }).changes;
  });
  if (begun === 0)
    return refused({ password: "That was wrong too often. Try again in an hour, or ask for the password." });
  const matches = lock === "" || (await passwordMatches(password.slice(0, 200), lock));
  if (matches === "busy") return refused({ password: "Many passwords are tried at the moment. Try again." });
  if (!matches) return refused({ password: "This is not the password." });
  sql(app.db, "UPDATE file_looks SET tries = 0 WHERE file_id = @fileId AND prospect_id = @id").run({
    fileId,
    id: prospect.id,
  });
  return done(
    signLink("file-key", [fileId, prospect.id, now + KEY_LASTS, lock.slice(-12)].join(" "), app.key),
  );
}

/** Whether a browser may see it: it is not locked, or its key is for this file, person and password, and not too old. */
export function isOpenTo(app: App, { id, prospect, lock }: OpenedFile, key: string | null): boolean {
  if (lock === "") return true;
  const [fileId, prospectId, until, of] = (readLink("file-key", key ?? "", app.key) ?? "").split(" ");
  return (
    Number(fileId) === id &&
    Number(prospectId) === prospect.id &&
    Number(until) > app.clock.now() &&
    of === lock.slice(-12)
  );
}

const lockForm = z.object({
  /** "": as it was. */
  password: z.string().trim().max(200).default(""),
  isLocked: z.boolean(),
  days: z.number().int().min(1, "At least one day.").max(3_650, "At most 3,650 days.").nullable(),
});

export interface Lock {
  hasPassword: boolean;
  days: number | null;
}

export function lockOf(app: App, fileId: number): Lock | null {
  const row = sql(app.db, "SELECT lock != '' AS hasPassword, days FROM files WHERE id = @fileId").get<{
    hasPassword: 0 | 1;
    days: number | null;
  }>({ fileId });
  return row ? { hasPassword: row.hasPassword === 1, days: row.days } : null;
}

/** A password and an end for a file's links, those that are out already with them. */
export async function lockFile(app: App, by: By, fileId: number, input: unknown): Promise<Outcome<Lock>> {
  const read = lockForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const no = mayNot(app, by, "file.lock", fileId);
  if (no) return no;
  const { password, isLocked, days } = read.data;
  const before = lockOf(app, fileId);
  if (!before) return refused({ form: "This file is no longer here." });
  if (isLocked && password === "" && !before.hasPassword)
    return refused({ password: "Type the password, or take the tick off." });
  const lock = password !== "" && isLocked ? await hashPassword(password) : null;
  sql(
    app.db,
    "UPDATE files SET days = @days, lock = iif(@isLocked, coalesce(@lock, lock), '') WHERE id = @fileId",
  ).run({ fileId, days, lock, isLocked: Number(isLocked) });
  return done({ hasPassword: isLocked, days });
}

/** Pages of a file that are counted one by one, and the longest for which one was before somebody, in seconds. */
const MOST_PAGES = 500;
const LONGEST = 3_600;

const told = z.object({
  pages: z.number().int().min(1).max(100_000),
  /** Since it was told for the last time, by page. */
  seconds: z
    .record(z.string().regex(/^[1-9]\d{0,5}$/), z.number().int().min(1).max(60))
    .refine((seconds) => Object.keys(seconds).length <= 60),
});
/** Whoever opens it again after so long has sat down to it anew. */
const ANEW = 30 * MINUTE;

/**
 * Takes what a viewer tells: for how long which pages were before somebody. False for anything else. Whoever looks at it has been given
 * it, though nobody may know by what (a link that was copied, a backup put back): then its end counts from here.
 */
export function noteReading(app: App, opened: OpenedFile, asker: Asker, input: unknown): boolean {
  const read = told.safeParse(input);
  if (!read.success) return false;
  const { pages, seconds } = read.data;
  const { id: fileId, prospect, name } = opened;
  if (opened.isLook || asker.isOwn || judgeAgent(asker.agent) !== null) return true;
  unlessBusy(() =>
    transact(app, (app) => {
      const { db, clock } = app;
      const now = clock.now();
      const look = lookOf(db, fileId, prospect.id);
      const source = sourceOf(db, look, prospect.id);
      const isNew = !look?.lastAt || look.lastAt <= now - ANEW;
      if (isNew && !isPerson(db, source, asker, now)) return;
      const sum = jsonOf(secondsSchema, look?.seconds ?? "{}");
      for (const [page, more] of Object.entries(seconds))
        if (Number(page) <= Math.min(pages, MOST_PAGES))
          sum[page] = Math.min(LONGEST, (sum[page] ?? 0) + more);
      sql(
        db,
        `INSERT INTO file_looks (file_id, prospect_id, given_at, opened_at, last_at, pages, seconds) VALUES (@fileId, @prospectId, @now, @now, @now, @pages, @seconds)
         ON CONFLICT DO UPDATE SET given_at = coalesce(given_at, @now), opened_at = coalesce(opened_at, @now), last_at = @now, pages = @pages, seconds = @seconds`,
      ).run({ fileId, prospectId: prospect.id, now, pages, seconds: JSON.stringify(sum) });
      if (isNew) happens(app, prospect.id, { kind: "file_opened", name }, HOUR, source);
    }),
  );
  return true;
}

/** Somebody saved it; once an hour is told. */
export function noteSaved(app: App, opened: OpenedFile, asker: Asker): void {
  const { id: fileId, prospect, name } = opened;
  if (opened.isLook) return;
  unlessBusy(() =>
    transact(app, (app) => {
      const { db, clock } = app;
      const now = clock.now();
      const source = sourceOf(db, lookOf(db, fileId, prospect.id), prospect.id);
      if (!isPerson(db, source, asker, now)) return;
      sql(
        db,
        `INSERT INTO file_looks (file_id, prospect_id, given_at, saved_at) VALUES (@fileId, @prospectId, @now, @now)
         ON CONFLICT DO UPDATE SET given_at = coalesce(given_at, @now), saved_at = coalesce(saved_at, @now)`,
      ).run({ fileId, prospectId: prospect.id, now });
      happens(app, prospect.id, { kind: "file_saved", name }, HOUR, source);
    }),
  );
}

/** The email that gave it to them, else the one before. */
const sourceOf = (db: Db, look: LookRow | undefined, prospectId: number): Source =>
  (look?.touchId != null &&
    sql(
      db,
      "SELECT id AS touchId, journey_id AS journeyId, mailbox_id AS mailboxId FROM touches WHERE id = @id",
    ).get<Source>({ id: look.touchId })) ||
  emailBefore(db, prospectId);

function isPerson(db: Db, { touchId }: Source, { agent, ip, isHead, isOwn }: Asker, at: number): boolean {
  const load = { kind: "clicked" as const, at, agent, network: networkOf(ip), url: "file", isHead, isOwn };
  const trust = judgeBeside(db, touchId, [load])[0]?.trust;
  return trust === "person" || trust === "forward";
}
