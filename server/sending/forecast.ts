/** What the coming weeks look like, by the same plan that the engine follows, and what would be if. */
import type { Piscina } from "piscina";
import { DAY, startOfDay } from "../../core/calendar.ts";
import type { Outlook } from "../../core/sending/outlook.ts";
import type { WaitReason } from "../../core/sending/reasons.ts";
import { limitToday } from "../../core/sending/sender.ts";
import { NOTHING_ELSE, type WhatIf } from "../../core/sending/what-if.ts";
import type { App } from "../app.ts";
import { allMailboxes, type MailboxState, senderOf } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { threadFor } from "../threads.ts";
import type { Asked } from "./forecast-worker.ts";

export interface MailboxStanding {
  id: number;
  userId: number;
  address: string;
  ownerName: string;
  dailyLimit: number;
  /** Today's, a ramp included. */
  limit: number;
  isRising: boolean;
  gapLeast: number;
  gapMost: number;
  state: MailboxState;
  restReason: string | null;
  restUntil: number | null;
  trouble: string | null;
  /** Its server refused it; nothing goes until a person has looked. */
  isStopped: boolean;
  /** It has never connected. */
  isNew: boolean;
  sentToday: number;
  tags: string[];
}

let pool: Piscina | null = null;

const ask = (asked: Asked): Promise<Outlook> => {
  pool ??= threadFor("server/sending/forecast-worker.ts");
  return pool.run(asked);
};

/** Ends the thread; the next question starts another. */
export async function stopForecasting(): Promise<void> {
  const ended = pool;
  pool = null;
  await ended?.destroy();
}

/** The outlook as things stand, or as they would be. Days are counted in `zone`. */
export function forecast(
  { config, clock }: App,
  zone: string,
  change: WhatIf = NOTHING_ELSE,
): Promise<Outlook> {
  return ask({ database: config.database, now: clock.now(), zone, change });
}

/** Every mailbox, and how it stands today. */
export function mailboxStandings({ db, clock }: App): MailboxStanding[] {
  const now = clock.now();
  return allMailboxes(db).map((mailbox): MailboxStanding => {
    const sender = senderOf(db, mailbox, now);
    const limit = limitToday(sender);
    return {
      id: mailbox.id,
      userId: mailbox.userId,
      address: mailbox.address,
      ownerName: mailbox.ownerName,
      dailyLimit: mailbox.dailyLimit,
      limit,
      isRising: limit < mailbox.dailyLimit,
      gapLeast: mailbox.gapLeast,
      gapMost: mailbox.gapMost,
      state: mailbox.state,
      restReason: mailbox.restReason,
      restUntil: mailbox.restUntil,
      trouble: mailbox.trouble ?? mailbox.smtpTrouble,
      isStopped: mailbox.smtpStopped === 1,
      isNew: mailbox.connectedWall === null,
      sentToday: sender.sentToday,
      tags: mailbox.tags,
    };
  });
}

export interface WaitingReason {
  reason: WaitReason;
  count: number;
  /** When the first of them goes on, as far as known. */
  nextAt: number | null;
}

/** Why people do not go out today, the soonest to go on first; whose days are not over, or whose turn comes today, are not among them. */
export function notToday({ db, clock }: App, zone: string): WaitingReason[] {
  const dayEnds = startOfDay(clock.now(), zone) + DAY;
  return sql(
    db,
    `SELECT wait_reason AS reason, count(*) AS count, min(next_at) AS nextAt FROM journeys
     WHERE state = 'active' AND wait_reason IS NOT NULL AND wait_reason NOT IN ('wait_days', 'settling')
       AND NOT (wait_reason IN ('in_line', 'outside_hours') AND next_at < @dayEnds)
     GROUP BY wait_reason ORDER BY min(next_at) IS NULL, min(next_at), count(*) DESC`,
  ).all<WaitingReason>({ dayEnds });
}
