import type { App } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { sql } from "../db/open.ts";

export type ReplyKind = "person" | "automatic" | "left" | "bounce" | "delay" | "complaint" | "receipt";

export interface ReplyRow {
  id: number;
  prospectId: number;
  name: string;
  company: string;
  title: string;
  subject: string;
  kind: ReplyKind;
  /** "likely": no id says so; the rep is asked. */
  certainty: "sure" | "likely" | "denied";
  fromAddress: string;
  at: number;
  readAt: number | null;
  mailbox: string;
  /** Where an answer would go, and whether nothing may be written there. */
  answerTo: string;
  blocked: boolean;
}

export type ReplyFilter = "unread" | "people" | "automatic" | "bounces";

const WHERE: Record<ReplyFilter, string> = {
  unread: "r.kind IN ('person', 'left') AND r.certainty != 'denied' AND r.read_at IS NULL",
  people: "r.kind IN ('person', 'left') AND r.certainty != 'denied'",
  automatic: "r.kind IN ('automatic', 'receipt')",
  bounces: "r.kind IN ('bounce', 'delay', 'complaint')",
};
const MOST_ROWS = 200;

/** The newest replies of a kind. `keep` is a reply that stays in the list although it has been read since. */
export function listReplies({ db }: App, filter: ReplyFilter, keep: number | null): ReplyRow[] {
  return sql<Record<string, unknown>, Omit<ReplyRow, "blocked">>(
    db,
    `SELECT r.id, r.prospect_id AS prospectId,
       coalesce(nullif(trim(p.first_name || ' ' || p.last_name), ''), p.email) AS name,
       coalesce(c.name, '') AS company, p.title, r.subject, r.kind, r.at, r.read_at AS readAt, m.address AS mailbox,
       r.answer_to AS answerTo, r.certainty, r.from_address AS fromAddress
     FROM replies r JOIN prospects p ON p.id = r.prospect_id LEFT JOIN companies c ON c.id = p.company_id
     JOIN mailboxes m ON m.id = r.mailbox_id
     WHERE (${WHERE[filter]}) OR r.id = @keep
     ORDER BY r.at DESC, r.id DESC LIMIT ${MOST_ROWS}`,
  )
    .all({ keep })
    .map((row) => ({ ...row, blocked: isBlocked(db, row.answerTo) }));
}

export function countReplies({ db }: App): Record<ReplyFilter, number> {
  return sql<[], Record<ReplyFilter, number>>(
    db,
    `SELECT ${Object.entries(WHERE)
      .map(([name, where]) => `coalesce(sum(${where}), 0) AS ${name}`)
      .join()} FROM replies r WHERE r.prospect_id IS NOT NULL`,
  ).get([]) as Record<ReplyFilter, number>;
}

export function countUnread({ db }: App): number {
  return (
    sql<[], { count: number }>(
      db,
      `SELECT count(*) AS count FROM replies r WHERE ${WHERE.unread} AND r.prospect_id IS NOT NULL`,
    ).get([])?.count ?? 0
  );
}

/** Marks a reply as read, or (false) as to be read again. */
export function markRead({ db, clock }: App, id: number, read: boolean): void {
  sql<Record<string, unknown>>(db, "UPDATE replies SET read_at = @at WHERE id = @id").run({
    id,
    at: read ? clock.now() : null,
  });
}
