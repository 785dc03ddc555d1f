import { startOfDay, startOfNextDay } from "../../core/calendar.ts";
import type { User } from "../accounts/session.ts";
import { whose } from "../accounts/whose.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";
import { type OwnNotice, ownNotices } from "../notices/own-notices.ts";
import { type LiveState, liveState } from "./live-state.ts";

export interface DayTick {
  at: number;
  prospectId: number;
  name: string;
  mailbox: string;
}

export interface DayLine {
  now: number;
  zone: string;
  dayStart: number;
  dayEnd: number;
  sent: DayTick[];
  planned: DayTick[];
  replies: DayTick[];
  /** How everything was before it was looked at, so that a page knows when it is behind. */
  asOf: LiveState;
  demo: boolean;
  /** A clock move that goes on, and how far it is. */
  moving: { id: number; kind: string; now: number | null } | null;
  engineSeen: number | null;
  /** What the user is told, the newest first. */
  notices: OwnNotice[];
}

const PERSON = `${nameSql()} AS name`;

/** Of whose mailbox `m` it is. */
const OF = "(@everybody OR m.user_id = @userId)";

/** Today of whom the user looks at: what went, what goes, who answered. */
export function dayLine(app: App, user: Pick<User, "id" | "looksAt" | "zone">): DayLine {
  const { db, clock, config } = app;
  const asOf = liveState(app);
  const now = clock.now();
  const day = { from: startOfDay(now, user.zone), to: startOfNextDay(now, user.zone) };
  const ticks = (text: string) => sql(db, text).all<DayTick>({ ...day, ...whose(user) });
  return {
    now,
    zone: user.zone,
    dayStart: day.from,
    dayEnd: day.to,
    sent: ticks(
      `SELECT t.sent_at AS at, p.id AS prospectId, ${PERSON}, m.address AS mailbox
       FROM touches t JOIN prospects p ON p.id = t.prospect_id JOIN mailboxes m ON m.id = t.mailbox_id
       WHERE ${OF} AND t.state = 'sent' AND t.kind != 'test' AND t.sent_at >= @from AND t.sent_at < @to ORDER BY t.sent_at`,
    ),
    planned: ticks(
      `SELECT j.next_at AS at, p.id AS prospectId, ${PERSON}, m.address AS mailbox
       FROM journeys j JOIN prospects p ON p.id = j.prospect_id JOIN mailboxes m ON m.id = j.next_mailbox_id
       WHERE ${OF} AND j.state = 'active' AND j.next_at >= @from AND j.next_at < @to ORDER BY j.next_at`,
    ),
    replies: ticks(
      `SELECT r.at, p.id AS prospectId, ${PERSON}, m.address AS mailbox
       FROM replies r JOIN prospects p ON p.id = r.prospect_id JOIN mailboxes m ON m.id = r.mailbox_id
       WHERE ${OF} AND r.kind = 'person' AND r.at >= @from AND r.at < @to ORDER BY r.at`,
    ),
    asOf,
    demo: config.demo,
    moving: config.demo
      ? (sql(
          db,
          "SELECT id, kind, now FROM clock_moves WHERE state IN ('asked', 'moving') ORDER BY id LIMIT 1",
        ).get<NonNullable<DayLine["moving"]>>([]) ?? null)
      : null,
    engineSeen:
      sql(db, "SELECT ticked_wall AS at FROM engine_lease").get<{ at: number | null }>([])?.at ?? null,
    notices: ownNotices(app, user.id),
  };
}
