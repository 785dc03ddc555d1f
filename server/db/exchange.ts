/** Mails of the ramp exchange (server/sending/ramp-exchange.ts), as far as the reader of mail must know them. */
import { type Db, sql } from "./open.ts";

/** Whether a message is one of these, by its Message-ID; notes that it arrived. */
export function isExchange(db: Db, messageId: string | undefined, now: number): boolean {
  const id = messageId?.trim();
  if (!id) return false;
  const known = sql(db, "SELECT 1 FROM exchange_mails WHERE message_id = @id").get({ id });
  if (known === undefined) return false;
  sql(db, "UPDATE exchange_mails SET arrived_at = @now WHERE message_id = @id AND arrived_at IS NULL").run({
    id,
    now,
  });
  return true;
}
