/** For tests: somebody to whom everything may go, so that each test has only one thing speak against it. */
import { type Calendar, NO_HOLIDAYS, startOfNextDay } from "../calendar.ts";
import type { Known, MailboxStanding } from "./may-go.ts";
import type { Pace } from "./pace.ts";
import type { Sender } from "./sender.ts";

export const LISBON: Calendar = {
  zone: "Europe/Lisbon",
  hours: { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" },
  holidays: NO_HOLIDAYS,
};
export const mailbox: MailboxStanding = {
  address: "m@q.example",
  state: "active",
  restUntil: null,
  trouble: null,
  smtpTrouble: null,
  smtpRetryAt: null,
  smtpStopped: 0,
  connectedWall: 1,
  removedAt: null,
};
export const sender: Sender = {
  id: 1,
  dailyLimit: 30,
  gapMinutes: { least: 9, most: 14 },
  zone: "Europe/Lisbon",
  sentToday: 0,
  lastSentAt: null,
  restsUntil: null,
};
export const pace: Pace = {
  newADay: null,
  begunToday: 0,
  perHour: null,
  minutesBetween: null,
  sentLately: [],
  zone: "Europe/Lisbon",
};

/** What is known of somebody against whom nothing speaks; their touch is due at `now`. */
export const nothingAgainst = (now: number): Known => ({
  entry: { hadIt: false, isElsewhere: false, writtenAt: null, lacksField: false, isUnread: false },
  journey: { settling: 0, waitReason: null, waitDetail: null, dueAt: now },
  sequence: { state: "running" },
  person: { isBlocked: false, held: null },
  address: { email: "a@b.example", state: "good", writesTo: "good", isNeeded: true },
  place: { touch: null, wakeAt: null, account: null, isOpenFork: false, comesAfterFirstOnes: false },
  approval: { isMissing: false },
  mailbox,
  sender,
  pace: { pace: null, isFirst: false },
  domain: { most: null, sentAt: [] },
  team: { daysBetween: 0, lastTouchAt: null, zone: "Europe/Lisbon" },
  hours: LISBON,
  account: {
    name: "Marta",
    state: "active",
    retryAt: null,
    isSpent: false,
    nextDayAt: startOfNextDay(now, LISBON.zone),
  },
  answer: { isOvertaken: false },
});
