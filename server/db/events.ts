/** The append-only record of what happened. */
import type { BounceKind, EventKind } from "../../core/events.ts";
import { type Db, sql } from "./open.ts";

export interface NewEvent {
  at: number;
  kind: EventKind;
  prospectId?: number | null;
  journeyId?: number | null;
  touchId?: number | null;
  mailboxId?: number | null;
  replyId?: number | null;
  userId?: number | null;
  detail?: string | null;
  /** Of an email that came back. */
  bounce?: BounceKind | null;
}

const NOTHING = {
  prospectId: null,
  journeyId: null,
  touchId: null,
  mailboxId: null,
  replyId: null,
  userId: null,
  detail: null,
  bounce: null,
};

/** An answer that names no journey, since it answers a letter outside of it, belongs to the one that had started last. */
const OF_LATEST = `CASE WHEN @kind IN ('replied', 'opted_out', 'complained', 'booked', 'booking_cancelled') THEN
  (SELECT id FROM journeys WHERE prospect_id = @prospectId AND started_at <= @at ORDER BY started_at DESC, id DESC LIMIT 1) END`;

export function recordEvent(db: Db, event: NewEvent): void {
  sql(
    db,
    `INSERT INTO events (at, kind, prospect_id, journey_id, touch_id, mailbox_id, reply_id, user_id, detail, bounce)
     VALUES (@at, @kind, @prospectId, coalesce(@journeyId, ${OF_LATEST}), @touchId, @mailboxId, @replyId, @userId, @detail, @bounce)`,
  ).run({ ...NOTHING, ...event });
}
