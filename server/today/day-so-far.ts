import { startOfDay } from "../../core/calendar.ts";
import type { Stage } from "../../core/prospects/stages.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";

export interface DaySoFar {
  read: number;
  touches: number;
  calls: number;
  booked: number;
  moved: { name: string; stage: Stage }[];
}

/** What the day has brought the user: done by them, and what became of their people. */
export function daySoFar({ db, clock }: App, user: Pick<User, "id" | "zone">): DaySoFar {
  const now = clock.now();
  const from = startOfDay(now, user.zone);
  const count = (text: string) => sql(db, text).get<{ count: number }>({ from, userId: user.id })?.count ?? 0;
  return {
    read: count("SELECT count(*) AS count FROM replies WHERE labelled_by = @userId AND labelled_at >= @from"),
    touches: count(
      "SELECT count(*) AS count FROM events WHERE kind = 'touch_done' AND at >= @from AND user_id = @userId",
    ),
    calls: count(
      "SELECT count(*) AS count FROM touches WHERE kind = 'call' AND state = 'done' AND ended_at >= @from AND user_id = @userId",
    ),
    booked: count(
      "SELECT count(*) AS count FROM meetings WHERE user_id = @userId AND created_at >= @from AND cancelled_at IS NULL",
    ),
    moved: sql(
      db,
      `SELECT ${nameSql()} AS name, e.detail AS stage FROM events e JOIN prospects p ON p.id = e.prospect_id
       WHERE e.kind = 'stage_set' AND e.at >= @from AND @userId IN (e.user_id, p.owner_id) ORDER BY e.id DESC LIMIT 6`,
    ).all<{ name: string; stage: Stage }>({ from, userId: user.id }),
  };
}
