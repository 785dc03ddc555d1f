import type { WaitReason } from "../../core/sending/reasons.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";

export interface WaitingRow {
  id: number;
  prospectId: number;
  name: string;
  company: string;
  sequenceName: string;
  reason: WaitReason;
  detail: string | null;
  nextAt: number | null;
  mailbox: string | null;
  zone: string | null;
}

const PAGE = 50;

/** One page of the waiting journeys, soonest first, with the recorded reason; all of them or those of one reason. */
export function waitingJourneys(
  { db }: App,
  reason: WaitReason | null,
  page: number,
): { rows: WaitingRow[]; total: number; pageSize: number } {
  const where =
    "j.state = 'active' AND j.wait_reason IS NOT NULL AND (@reason IS NULL OR j.wait_reason = @reason)";
  const rows = sql(
    db,
    `SELECT j.id, p.id AS prospectId, ${nameSql()} AS name,
       coalesce(c.name, '') AS company, s.name AS sequenceName, j.wait_reason AS reason, j.wait_detail AS detail,
       j.next_at AS nextAt, m.address AS mailbox, p.time_zone AS zone
     FROM journeys j JOIN prospects p ON p.id = j.prospect_id JOIN sequences s ON s.id = j.sequence_id
     LEFT JOIN companies c ON c.id = p.company_id LEFT JOIN mailboxes m ON m.id = j.next_mailbox_id
     WHERE ${where} ORDER BY j.next_at IS NULL DESC, j.next_at, j.id LIMIT ${PAGE} OFFSET @offset`,
  ).all<WaitingRow>({ reason, offset: page * PAGE });
  const total =
    sql(db, `SELECT count(*) AS count FROM journeys j WHERE ${where}`).get<{ count: number }>({
      reason,
    })?.count ?? 0;
  return { rows, total, pageSize: PAGE };
}
