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

export function recordEvent(db: Db, event: NewEvent): void {
  sql(
    db,
    `INSERT INTO events (at, kind, prospect_id, journey_id, touch_id, mailbox_id, reply_id, user_id, detail, bounce)
     VALUES (@at, @kind, @prospectId, @journeyId, @touchId, @mailboxId, @replyId, @userId, @detail, @bounce)`,
  ).run({ ...NOTHING, ...event });
}
