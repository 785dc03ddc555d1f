/** A user's own notices, as the bell shows them and the browser tells them. */
import { noticeSettingsSchema } from "../../core/notices/notices.ts";
import { saveSettings } from "../accounts/settings.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { fieldErrors, type Outcome, refused } from "../errors.ts";

export interface OwnNotice {
  id: number;
  kind: string;
  text: string;
  path: string;
  at: number;
  seen: boolean;
  inBrowser: boolean;
}

const MOST_SHOWN = 30;

export function ownNotices({ db }: App, userId: number): OwnNotice[] {
  return sql(
    db,
    `SELECT id, kind, text, path, at, seen_at IS NOT NULL AS seen, in_browser AS inBrowser FROM notices
     WHERE user_id = @userId AND (in_app = 1 OR in_browser = 1) ORDER BY id DESC LIMIT ${MOST_SHOWN}`,
  )
    .all<Omit<OwnNotice, "seen" | "inBrowser"> & { seen: 0 | 1; inBrowser: 0 | 1 }>({ userId })
    .map((row) => ({ ...row, seen: row.seen === 1, inBrowser: row.inBrowser === 1 }));
}

/** Whoever looked has seen them all. */
export function noteSeen({ db, clock }: App, userId: number): void {
  sql(db, "UPDATE notices SET seen_at = @now WHERE user_id = @userId AND seen_at IS NULL").run({
    userId,
    now: clock.now(),
  });
}

/** Keeps the table of who is told what, and how. */
export function saveNoticeSettings(app: App, userId: number, input: unknown): Outcome<null> {
  const read = noticeSettingsSchema.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  return saveSettings(app, userId, { notices: read.data });
}
