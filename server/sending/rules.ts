/** What holds for everybody's sending, as a manager set it. */

import { z } from "zod";
import type { SendingRules } from "../../core/sending/plan-parts.ts";
import { DEFAULT_REST, restRulesSchema } from "../../core/sending/rest.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { settingReader, writeSetting } from "../db/settings.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

const NAME = "sending";

const sendingSettings = z.object({
  /** The part of a mailbox's day, in percent, that follow-ups may claim while new prospects wait too. */
  followUpPercent: z.coerce.number().int().min(0, "Not below 0.").max(100, "At most 100 %.").default(60),
  /** Emails a day to one recipient domain; null: no cap. */
  domainADay: z.coerce
    .number()
    .int()
    .min(1, "At least 1.")
    .max(1_000, "At most 1,000.")
    .nullable()
    .default(null),
  /** Days at least between two touches of one person by anybody in the team. */
  daysBetween: z.coerce.number().int().min(0, "Not below 0.").max(60, "At most 60 days.").default(0),
  /** When a mailbox rests by itself. */
  rest: restRulesSchema.default(DEFAULT_REST),
  /** Zones of DNS in which the addresses and domains of bad senders are published (RFC 5782). */
  blockZones: z.array(z.string().trim().min(1).max(255)).max(20).default([]),
  /** Where a blind copy of every email goes, for tools that listen so; "" for nowhere. */
  copyTo: z.union([z.literal(""), z.email("Type an email address, or leave it empty.")]).default(""),
  /** Whether young mailboxes of the workspace write to each other. */
  rampExchange: z.boolean().default(false),
});
export type SendingSettings = z.infer<typeof sendingSettings>;

export const readSendingSettings = settingReader<SendingSettings>(NAME, (value) =>
  sendingSettings.parse(value),
);

/** Changes what the form names; the rest stays. */
export function saveSendingSettings(
  { db }: Pick<App, "db">,
  by: By,
  input: Record<string, unknown>,
): Outcome<null> {
  const no = mayNot({ db }, by, "settings.team");
  if (no) return no;
  const read = sendingSettings.safeParse({ ...readSendingSettings(db), ...input });
  if (!read.success) return refused(fieldErrors(read.error));
  writeSetting(db, NAME, JSON.stringify(read.data));
  return done(null);
}

export const rulesOf = ({ followUpPercent, domainADay, daysBetween }: SendingSettings): SendingRules => ({
  followUpShare: followUpPercent / 100,
  domainADay,
  daysBetween,
});
