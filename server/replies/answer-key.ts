/** Every answer has a key, given by the page on which it is written: what is pressed twice, or arrives late, is known by it. */
import { z } from "zod";
import { type Db, sql } from "../db/open.ts";

export const answerKey = z.string().regex(/^[\w-]{8,64}$/);

/** The Message-ID with which the answer leaves `mailbox`, an address. */
export const answerIdOf = (key: string, mailbox: string) => `<answer.${key}@${mailbox.split("@")[1]}>`;

/** Whether the answer with this key is in the ledger. */
export function isAnswered(db: Db, replyId: number, key: string): boolean {
  const from = sql(
    db,
    "SELECT m.address FROM replies r JOIN mailboxes m ON m.id = r.mailbox_id WHERE r.id = @replyId",
  ).get<{ address: string }>({ replyId });
  return from !== undefined && isInLedger(db, answerIdOf(key, from.address));
}

export const isInLedger = (db: Db, messageId: string): boolean =>
  sql(db, "SELECT 1 FROM touches WHERE message_id = @messageId").get({ messageId }) !== undefined;
