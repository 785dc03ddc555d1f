import { startOfDay } from "../../core/calendar.ts";
import type { Stage } from "../../core/prospects/stages.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";

export interface DaySoFar {
  sent: number;
  read: number;
  touches: number;
  calls: number;
  booked: number;
  moved: { name: string; stage: Stage }[];
}

/** What the day has brought: done by the user, and moved by anybody. */
export function daySoFar({ db, clock }: App, user: Pick<User, "id" | "zone">): DaySoFar {
  const now = clock.now();
  const from = startOfDay(now, user.zone);
  const count = (text: string) => sql(db, text).get<{ count: number }>({ from, userId: user.id })?.count ?? 0;
  return {
    sent: count("SELECT count(*) AS count FROM events WHERE kind = 'email_sent' AND at >= @from"),
    read: count("SELECT count(*) AS count FROM replies WHERE labelled_by = @userId AND labelled_at >= @from"),
    touches: count(
      "SELECT count(*) AS count FROM events WHERE kind = 'touch_done' AND at >= @from AND user_id = @userId",
    ),
    calls: count(
      "SELECT count(*) AS count FROM touches WHERE kind = 'call' AND state = 'done' AND ended_at >= @from AND user_id = @userId",
    ),
    booked: count("SELECT count(*) AS count FROM events WHERE kind = 'booked' AND at >= @from"),
    moved: sql(
      db,
      `SELECT ${nameSql()} AS name, e.detail AS stage FROM events e JOIN prospects p ON p.id = e.prospect_id
       WHERE e.kind = 'stage_set' AND e.at >= @from ORDER BY e.id DESC LIMIT 6`,
    ).all<{ name: string; stage: Stage }>({ from }),
  };
}
