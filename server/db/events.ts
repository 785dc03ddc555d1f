/** The append-only record of what happened. */
import type { EventKind } from "../../core/events.ts";
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
}

const NOTHING = {
  prospectId: null,
  journeyId: null,
  touchId: null,
  mailboxId: null,
  replyId: null,
  userId: null,
  detail: null,
};

export function recordEvent(db: Db, event: NewEvent): void {
  sql<Required<NewEvent>>(
    db,
    `INSERT INTO events (at, kind, prospect_id, journey_id, touch_id, mailbox_id, reply_id, user_id, detail)
     VALUES (@at, @kind, @prospectId, @journeyId, @touchId, @mailboxId, @replyId, @userId, @detail)`,
  ).run({ ...NOTHING, ...event });
}
