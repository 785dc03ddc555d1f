/** From which mailbox a host's invitations and confirmations leave. */
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";

interface From {
  id: number;
  address: string;
}

/** The mailbox of their thread if it is the host's own, else the host's first one that sends; none: nobody is written to. */
export function mailboxFor(
  db: Db,
  { userId, prospectId }: { userId: number; prospectId: number | null },
): From | undefined {
  return sql(
    db,
    `SELECT m.id, m.address FROM mailboxes m WHERE m.user_id = @userId AND m.removed_at IS NULL AND m.state != 'paused'
     ORDER BY m.id = (SELECT t.mailbox_id FROM touches t WHERE t.prospect_id = @prospectId AND t.state = 'sent' ORDER BY t.id DESC LIMIT 1) DESC,
       m.state = 'active' DESC, m.id LIMIT 1`,
  ).get<From>({ userId, prospectId });
}

/** Whether strangers can book with somebody: the link with which they confirm needs a mailbox to leave from. */
export const canConfirm = ({ db }: App, { id }: { id: number }): boolean =>
  mailboxFor(db, { userId: id, prospectId: null }) !== undefined;
