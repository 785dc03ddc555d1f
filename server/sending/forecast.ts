import { DAY, dayOf, startOfDay, weekdayOf } from "../../core/calendar.ts";
import type { WaitReason } from "../../core/sending/reasons.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { keptCount } from "../db/kept-counts.ts";
import { allMailboxes, type MailboxState, sentToday } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { planAhead, readSituation } from "./plan.ts";

export interface MailboxForecast {
  id: number;
  address: string;
  ownerName: string;
  dailyLimit: number;
  gapLeast: number;
  gapMost: number;
  state: MailboxState;
  restReason: string | null;
  restUntil: number | null;
  trouble: string | null;
  /** Its server refused it; nothing goes until a person has looked. */
  isStopped: boolean;
  sentToday: number;
  /** Emails by day of `days`: today counts what is sent and what is to go. */
  perDay: number[];
}

export interface Forecast {
  /** Local days "YYYY-MM-DD", today first, weekends without email left out. */
  days: string[];
  mailboxes: MailboxForecast[];
  /** Emails planned in all these days. */
  total: number;
  /** When the last of those within reach gets their first email; null if there is none. */
  lastFirstAt: number | null;
  /** Prospects in line for a first email; who is held is not in line. */
  waitingForFirst: number;
  /** Of those, for whom the plan has no day within its reach. */
  beyondPlan: number;
  reasons: { reason: WaitReason; count: number; nextAt: number | null; details: string | null }[];
}

const DAYS_SHOWN = 12;
const FRESH_FOR = 10_000;
const LOOKED_AHEAD = 28 * DAY;

/** What the coming weeks look like, by the same plan that the engine follows. */
export function forecast(app: App, user: Pick<User, "zone">): Forecast {
  const { db, clock } = app;
  // Whoever else writes counts the version up; with long lines it is made every few seconds at most.
  const version = db.pragma("data_version", { simple: true });
  const own = sql<[], { changes: number }>(db, "SELECT total_changes() AS changes").get([])?.changes;
  const truth = `${version} ${own} ${Math.floor(clock.now() / FRESH_FOR)}`;
  return keptCount(db, `forecast ${user.zone}`, truth, () => makeForecast(app, user));
}

function makeForecast({ db, clock }: App, user: Pick<User, "zone">): Forecast {
  const now = clock.now();
  const situation = readSituation(db, now);
  const planned = planAhead(db, situation, now, now + LOOKED_AHEAD);
  const perDay = new Map<string, Map<number, number>>();
  for (const { at, mailboxId } of planned) {
    const day = dayOf(at, user.zone);
    const counts = perDay.get(day) ?? new Map<number, number>();
    counts.set(mailboxId, (counts.get(mailboxId) ?? 0) + 1);
    perDay.set(day, counts);
  }
  const days: string[] = [];
  for (let at = startOfDay(now, user.zone) + DAY / 2; days.length < DAYS_SHOWN; at += DAY) {
    const day = dayOf(at, user.zone);
    if (weekdayOf(at, user.zone) <= 5 || perDay.has(day)) days.push(day);
  }
  const firsts = planned.filter(({ followUp }) => !followUp);
  const waitingForFirst = situation.ready.filter(({ followUp }) => !followUp).length;
  const mailboxes = allMailboxes(db).map((mailbox): MailboxForecast => {
    const today = sentToday(db, mailbox, now).count;
    return {
      id: mailbox.id,
      address: mailbox.address,
      ownerName: mailbox.ownerName,
      dailyLimit: mailbox.dailyLimit,
      gapLeast: mailbox.gapLeast,
      gapMost: mailbox.gapMost,
      state: mailbox.state,
      restReason: mailbox.restReason,
      restUntil: mailbox.restUntil,
      trouble: mailbox.trouble ?? mailbox.smtpTrouble,
      isStopped: mailbox.smtpStopped === 1,
      sentToday: today,
      perDay: days.map((day, index) => (perDay.get(day)?.get(mailbox.id) ?? 0) + (index === 0 ? today : 0)),
    };
  });
  return {
    days,
    mailboxes,
    total: mailboxes.reduce((sum, each) => sum + each.perDay.reduce((a, b) => a + b, 0), 0),
    lastFirstAt: firsts.at(-1)?.at ?? null,
    waitingForFirst,
    beyondPlan: Math.max(0, waitingForFirst - firsts.length),
    reasons: sql<[], Forecast["reasons"][number]>(
      db,
      `SELECT wait_reason AS reason, count(*) AS count, min(next_at) AS nextAt,
         group_concat(DISTINCT wait_detail) AS details
       FROM journeys WHERE state = 'active' AND wait_reason IS NOT NULL
       GROUP BY wait_reason ORDER BY count(*) DESC`,
    ).all([]),
  };
}
