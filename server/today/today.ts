import { DAY, startOfDay, startOfNextDay, weekdayOf } from "../../core/calendar.ts";
import { limitToday } from "../../core/sending/sender.ts";
import type { User } from "../accounts/session.ts";
import { whose } from "../accounts/whose.ts";
import type { App } from "../app.ts";
import { allMailboxes, senderOf } from "../db/mailboxes.ts";
import { sql, type Value } from "../db/open.ts";
import { countUnread } from "../replies/list-replies.ts";
import { type FirstStep, firstSteps } from "./first-steps.ts";

export interface Today {
  now: number;
  unread: number;
  refused: number;
  mailboxes: { id: number; address: string; sent: number; limit: number; state: string }[];
  toGo: number;
  week: { sent: number; replied: number; booked: number; optedOut: number };
  /** The way to the first email; null once one has been sent. */
  firstSteps: FirstStep[] | null;
}

/** What waits for the rep, and how today and this week stand. */
export function today(app: App, user: Pick<User, "id" | "looksAt" | "zone">): Today {
  const { db, clock } = app;
  const now = clock.now();
  const mailboxes = allMailboxes(db);
  const monday = startOfDay(now - (weekdayOf(now, user.zone) - 1) * DAY, user.zone);
  const dayEnd = startOfNextDay(now, user.zone);
  const count = (text: string, values: Record<string, Value> = {}) =>
    sql(db, text).get<{ count: number }>(values)?.count ?? 0;
  const events = (kind: string) =>
    count("SELECT count(DISTINCT prospect_id) AS count FROM events WHERE kind = @kind AND at >= @monday", {
      kind,
      monday,
    });
  return {
    now,
    unread: countUnread(app, whose(user)),
    refused: count("SELECT count(*) AS count FROM events WHERE kind = 'email_refused' AND at >= @monday", {
      monday,
    }),
    mailboxes: mailboxes.map((mailbox) => {
      const sender = senderOf(db, mailbox, now);
      const { id, address, state } = mailbox;
      return { id, address, sent: sender.sentToday, limit: limitToday(sender), state };
    }),
    toGo: count("SELECT count(*) AS count FROM journeys WHERE state = 'active' AND next_at < @dayEnd", {
      dayEnd,
    }),
    week: {
      sent: count("SELECT count(*) AS count FROM events WHERE kind = 'email_sent' AND at >= @monday", {
        monday,
      }),
      replied: events("replied"),
      booked: events("booked"),
      optedOut: events("opted_out"),
    },
    firstSteps: firstSteps(app),
  };
}
