/** What a user sets for themselves: working hours, booking, notifications. */
import { z } from "zod";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { profileForm } from "./create-user.ts";

const time = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "Write the time as 08:30.");
const number = (least: number, most: number) =>
  z.coerce.number("Type a number.").int().min(least, `At least ${least}.`).max(most, `At most ${most}.`);

/** Minutes that a call may take. */
export const LENGTHS = [15, 30, 45, 60, 90] as const;

const settings = z.object({
  days: z
    .array(z.coerce.number().int().min(1).max(7))
    .min(1, "Choose at least one day.")
    .default([1, 2, 3, 4, 5]),
  opens: time.default("09:00"),
  closes: time.default("17:30"),
  /** The lengths that a visitor may choose from, in minutes. */
  lengths: z
    .array(z.coerce.number().refine((each) => (LENGTHS as readonly number[]).includes(each)))
    .min(1, "Choose at least one length.")
    .default([30]),
  /** Free minutes before and after each call. */
  buffer: number(0, 120).default(0),
  /** Hours from now before which nobody can book. */
  notice: number(0, 168).default(2),
  daysAhead: number(1, 60).default(14),
  /** Calls on one day; 0 for as many as fit. */
  mostADay: number(0, 20).default(0),
  /** "phone": you call them, and the page asks for the number. "place": everybody comes to the same place or link. */
  where: z.enum(["phone", "place"]).default("phone"),
  place: z.string().trim().max(300, "At most 300 characters.").default(""),
  /** Tell in the browser, while a page is open, when somebody answers. */
  tellReplies: z.boolean().default(false),
});
export type UserSettings = z.infer<typeof settings>;

const checked = settings
  .refine(({ opens, closes }) => opens < closes, {
    path: ["closes"],
    message: "The hours close after they open.",
  })
  .refine(({ where, place }) => where === "phone" || place !== "", {
    path: ["place"],
    message: "Type where you meet: an address, or the link of your video room.",
  });

export function readSettings(db: Db, userId: number): UserSettings {
  const row = sql<{ userId: number }, { settings: string }>(
    db,
    "SELECT settings FROM users WHERE id = @userId",
  ).get({ userId });
  return settings.parse(JSON.parse(row?.settings ?? "{}"));
}

/** Changes what the form names; the rest stays. */
export function saveSettings({ db }: App, userId: number, input: Record<string, unknown>): Outcome<null> {
  const read = checked.safeParse({ ...readSettings(db, userId), ...input });
  if (!read.success) return refused(fieldErrors(read.error));
  sql<{ userId: number; value: string }>(db, "UPDATE users SET settings = @value WHERE id = @userId").run({
    userId,
    value: JSON.stringify(read.data),
  });
  return done(null);
}

/** Name and time zone. The booking page keeps its address: links to it are out. */
export function saveProfile({ db }: App, userId: number, input: unknown): Outcome<null> {
  const read = profileForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  sql<Record<string, unknown>>(db, "UPDATE users SET name = @name, time_zone = @zone WHERE id = @userId").run(
    {
      ...read.data,
      userId,
    },
  );
  return done(null);
}
