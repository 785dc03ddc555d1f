import { DAY, startOfDay, startOfNextDay, weekdayOf } from "../../core/calendar.ts";
import { type Happened, happenedTogether } from "../../core/results/happened.ts";
import { limitToday } from "../../core/sending/sender.ts";
import type { User } from "../accounts/session.ts";
import { whose } from "../accounts/whose.ts";
import type { App } from "../app.ts";
import { keptCount } from "../db/kept-counts.ts";
import { allMailboxes, senderOf } from "../db/mailboxes.ts";
import { sql, type Value } from "../db/open.ts";
import { happenedBy, outcomesTruth } from "../db/outcomes.ts";
import { countUnread } from "../replies/list-replies.ts";
import { type FirstStep, firstSteps } from "./first-steps.ts";

export interface Today {
  now: number;
  unread: number;
  refused: number;
  mailboxes: { id: number; address: string; sent: number; limit: number; state: string }[];
  toGo: number;
  /** Emails sent; of the rest the people, as results count them. */
  week: { sent: number } & Pick<Happened, "answered" | "positive" | "booked" | "optedOut">;
  /** The way to the first email; null once one has been sent. */
  firstSteps: FirstStep[] | null;
}

/** Whether an event `e` is of somebody's mailbox, or of a prospect of theirs. */
const IS_OF = `(@everybody OR coalesce(
  (SELECT user_id FROM mailboxes WHERE id = e.mailbox_id),
  (SELECT m.user_id FROM touches t JOIN mailboxes m ON m.id = t.mailbox_id WHERE t.id = e.touch_id),
  (SELECT m.user_id FROM replies r JOIN mailboxes m ON m.id = r.mailbox_id WHERE r.id = e.reply_id),
  (SELECT owner_id FROM prospects WHERE id = e.prospect_id)) = @userId)`;

function happenedThisWeek(
  { db }: App,
  { everybody, userId }: ReturnType<typeof whose>,
  monday: number,
): Happened {
  const truth = `${monday} ${outcomesTruth(db)}`;
  const byOwner = keptCount(db, "this week", truth, () => happenedBy(db, "owner", monday));
  const own = byOwner.get(userId);
  return happenedTogether(everybody === 1 ? byOwner.values() : own ? [own] : []);
}

/** What waits for the rep, and how today and this week stand. */
export function today(app: App, user: Pick<User, "id" | "looksAt" | "zone">): Today {
  const { db, clock } = app;
  const now = clock.now();
  const of = whose(user);
  const mailboxes = allMailboxes(db).filter(({ userId }) => of.everybody === 1 || userId === of.userId);
  const monday = startOfDay(now - (weekdayOf(now, user.zone) - 1) * DAY, user.zone);
  const dayEnd = startOfNextDay(now, user.zone);
  const count = (text: string, values: Record<string, Value> = {}) =>
    sql(db, text).get<{ count: number }>({ ...values, ...of })?.count ?? 0;
  const events = (kind: string) =>
    count(`SELECT count(*) AS count FROM events e WHERE e.kind = @kind AND e.at >= @monday AND ${IS_OF}`, {
      kind,
      monday,
    });
  const { answered, positive, booked, optedOut } = happenedThisWeek(app, of, monday);
  return {
    now,
    unread: countUnread(app, whose(user)),
    refused: events("email_refused"),
    mailboxes: mailboxes.map((mailbox) => {
      const sender = senderOf(db, mailbox, now);
      const { id, address, state } = mailbox;
      return { id, address, sent: sender.sentToday, limit: limitToday(sender), state };
    }),
    toGo: count(
      `SELECT count(*) AS count FROM journeys j JOIN mailboxes m ON m.id = j.next_mailbox_id
       WHERE j.state = 'active' AND j.next_at < @dayEnd AND (@everybody OR m.user_id = @userId)`,
      { dayEnd },
    ),
    week: { sent: events("email_sent"), answered, positive, booked, optedOut },
    firstSteps: firstSteps(app),
  };
}
