/** Mailboxes that are no longer what they were, told on Today until their owner has looked: once. */
import { z } from "zod";
import { daySchema } from "../../core/day-and-time.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { drifts } from "../results/senders.ts";

/** Of one's own mailboxes. */
export function unseenDrifts(app: App, user: User): ReturnType<typeof drifts> {
  const own = sql(
    app.db,
    `SELECT m.id, (SELECT json_group_array(kind) FROM drifts_seen d WHERE d.mailbox_id = m.id) AS seen
     FROM mailboxes m WHERE m.user_id = @userId AND m.removed_at IS NULL`,
  ).all<{ id: number; seen: string }>({ userId: user.id });
  const seen = new Map(own.map((each) => [each.id, z.array(z.string()).parse(JSON.parse(each.seen))]));
  return drifts(app, user.zone).filter(
    ({ mailboxId, of, since }) => seen.get(mailboxId)?.includes(`${of} ${since}`) === false,
  );
}

const form = z.object({ mailboxId: z.number().int(), of: z.enum(["bounced", "answered"]), since: daySchema });

/** Its owner has looked: it is not told again. */
export function noteDriftSeen(app: App, user: User, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused({ form: "Reload the page and press again." });
  const { mailboxId, of, since } = read.data;
  const no = mayNot(app, user.id, "mailbox.change", mailboxId);
  if (no) return no;
  sql(
    app.db,
    "INSERT OR IGNORE INTO drifts_seen (mailbox_id, kind, at) SELECT id, @kind, @now FROM mailboxes WHERE id = @mailboxId",
  ).run({ mailboxId, kind: `${of} ${since}`, now: app.clock.now() });
  return done(null);
}
