import type { App } from "../app.ts";
import { sql } from "../db/open.ts";

/** What open pages follow; each counts up. */
export interface LiveState {
  /** Emails sent, and what recipients did. */
  events: number;
  /** Letters that came, and what was said of them. */
  replies: number;
  plan: number;
  /** Of the demo's clock. */
  clock: string;
}

export function liveState({ db, config }: App): LiveState {
  const row = sql(
    db,
    `SELECT (SELECT coalesce(max(id), 0) FROM events) AS events, (SELECT number FROM reply_revision) AS replies,
       (SELECT number FROM plan_revision) AS plan`,
  ).get<Omit<LiveState, "clock">>([]) ?? { events: 0, replies: 0, plan: 0 };
  const clock = config.demo
    ? (sql(
        db,
        `SELECT coalesce((SELECT id || state || coalesce(now, '') FROM clock_moves ORDER BY id DESC LIMIT 1), '') AS words`,
      ).get<{ words: string }>([])?.words ?? "")
    : "";
  return { ...row, clock };
}
