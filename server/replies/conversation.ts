import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import type { ReplyKind } from "./list-replies.ts";

export interface ConversationItem {
  id: string;
  from: "us" | "them";
  /** What kind of message: a step's email, a rep's answer, a person's reply, an automatic answer, a delivery report. */
  kind: "step" | "answer" | ReplyKind;
  who: string;
  subject: string;
  text: string;
  quoted: string;
  at: number;
  state: "queued" | "claimed" | "sent" | "refused" | null;
  /** Why it did not go, in the words of whoever refused it. */
  problem: string | null;
}

/** Everything that was written between a prospect and us, oldest first. */
export function conversation({ db }: App, prospectId: number): ConversationItem[] {
  return sql<{ prospectId: number }, ConversationItem>(
    db,
    `SELECT 't' || t.id AS id, 'us' AS "from", CASE WHEN t.journey_id IS NULL THEN t.kind ELSE 'step' END AS kind, m.address AS who, t.subject, t.body AS text, '' AS quoted,
       coalesce(t.sent_at, t.claimed_at, 9e15) AS at, t.state, t.refused_words AS problem
     FROM touches t JOIN mailboxes m ON m.id = t.mailbox_id WHERE t.prospect_id = @prospectId
       AND t.state IN ('queued', 'claimed', 'sent', 'refused') AND t.kind != 'test'
     UNION ALL
     SELECT 'r' || r.id, 'them', r.kind, coalesce(nullif(r.from_name, ''), r.from_address), r.subject, r.text, r.quoted,
       r.at, NULL, NULL
     FROM replies r WHERE r.prospect_id = @prospectId
     ORDER BY at, id`,
  ).all({ prospectId });
}
