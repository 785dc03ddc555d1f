import { textAsRead } from "../../core/writing/format.ts";
import type { App } from "../app.ts";
import { wordsIn } from "../db/json.ts";
import { sql } from "../db/open.ts";
import type { ReplyKind } from "./list-replies.ts";

export interface ConversationItem {
  id: string;
  from: "us" | "them";
  /** What kind of message: a step's email, a rep's answer, a person's reply, an automatic answer, a delivery report. */
  kind: "step" | "answer" | "invitation" | ReplyKind;
  who: string;
  subject: string;
  text: string;
  /** The beginning of what they quote. */
  quoted: string;
  at: number;
  state: "queued" | "claimed" | "sent" | "refused" | null;
  /** When an answer that was put off goes; null: in a moment. */
  dueAt: number | null;
  /** It goes only if nothing came back meanwhile. */
  unlessReply: boolean;
  /** Names of what came with it. */
  attached: string[];
  /** Why it did not go, in the words of whoever refused it. */
  problem: string | null;
}

type Row = Omit<ConversationItem, "attached" | "unlessReply"> & {
  attached: string;
  unlessReply: 0 | 1;
  markup: string | null;
};

/** It is folded away, and the earlier letters stand below it anyway. */
const MOST_QUOTED = 20_000;

/** Everything that was written between a prospect and us, across all mailboxes, oldest first. */
export function conversation({ db }: App, prospectId: number): ConversationItem[] {
  return sql(
    db,
    `SELECT 't' || t.id AS id, 'us' AS "from", CASE WHEN t.journey_id IS NULL THEN t.kind ELSE 'step' END AS kind, m.address AS who, t.subject, t.body AS text, t.markup, '' AS quoted,
       coalesce(t.sent_at, t.claimed_at, t.due_at, 9e15) AS at, t.state, CASE t.state WHEN 'queued' THEN t.due_at END AS dueAt, t.unless_reply AS unlessReply,
       (SELECT json_group_array(f.name) FROM json_each(t.attachments) a JOIN files f ON f.id = a.value) AS attached, t.refused_words AS problem
     FROM touches t JOIN mailboxes m ON m.id = t.mailbox_id WHERE t.prospect_id = @prospectId
       AND t.state IN ('queued', 'claimed', 'sent', 'refused') AND t.kind != 'test'
     UNION ALL
     SELECT 'r' || r.id, 'them', r.kind, coalesce(nullif(r.from_name, ''), r.from_address), r.subject, r.text, NULL, substr(r.quoted, 1, @quoted),
       r.at, NULL, NULL, 0, r.attached, NULL
     FROM replies r WHERE r.prospect_id = @prospectId
     UNION ALL
     SELECT 's' || s.id, 'us', 'invitation', m.address, s.subject, s.body, NULL, '', coalesce(s.sent_at, s.due_at), s.state, NULL, 0, '[]', s.trouble
     FROM service_mails s JOIN mailboxes m ON m.id = s.mailbox_id
     WHERE s.prospect_id = @prospectId AND s.kind = 'invitation' AND s.state IN ('sent', 'claimed')
     ORDER BY at, id`,
  )
    .all<Row>({ prospectId, quoted: MOST_QUOTED })
    .map(({ markup, ...row }) => ({
      ...row,
      text: row.from === "us" ? textAsRead(row.text, markup) : row.text,
      unlessReply: row.unlessReply === 1,
      attached: wordsIn(row.attached),
    }));
}
