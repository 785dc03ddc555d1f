/** What a user sets for themselves. */
import { z } from "zod";
import { noticeSettingsSchema } from "../../core/notices/notices.ts";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { profileForm } from "./create-user.ts";

const settings = z.object({
  /** Of what they are told, and how. */
  notices: noticeSettingsSchema.prefault({}),
  /** Whether booking pages of colleagues may book calls with them. */
  colleaguesBook: z.boolean().default(true),
  /** Whose things Today and Replies show: their own, everybody's, or a colleague's by their number. */
  looksAt: z.union([z.enum(["mine", "all"]), z.number().int()]).default("mine"),
  /** After a label: on to the next letter always, only where nothing is left to answer, or never. */
  afterLabel: z.enum(["next", "settled", "stay"]).default("settled"),
});
export type UserSettings = z.infer<typeof settings>;

export function readSettings(db: Db, userId: number): UserSettings {
  const row = sql(db, "SELECT settings FROM users WHERE id = @userId").get<{ settings: string }>({ userId });
  return settings.parse(JSON.parse(row?.settings ?? "{}"));
}

/** Changes what the form names; the rest stays. */
export function saveSettings({ db }: App, userId: number, input: Record<string, unknown>): Outcome<null> {
  const read = settings.safeParse({ ...readSettings(db, userId), ...input });
  if (!read.success) return refused(fieldErrors(read.error));
  sql(db, "UPDATE users SET settings = @value WHERE id = @userId").run({
    userId,
    value: JSON.stringify(read.data),
  });
  return done(null);
}

/** Name and time zone. The booking page keeps its address: links to it are out. */
export function saveProfile({ db }: App, userId: number, input: unknown): Outcome<null> {
  const read = profileForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  sql(db, "UPDATE users SET name = @name, time_zone = @zone WHERE id = @userId").run({
    ...read.data,
    userId,
  });
  return done(null);
}
