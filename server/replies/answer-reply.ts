import { z } from "zod";
import type { App } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { enterTouch } from "../db/ledger.ts";
import { mailboxById } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { dropDraft } from "./drafts.ts";
import { markRead } from "./list-replies.ts";

const form = z.object({
  replyId: z.coerce.number().int(),
  text: z.string().trim().min(1, "Write the answer first.").max(20_000),
  /** Given by the page, so that pressing twice sends once. */
  key: z.string().regex(/^[\w-]{8,64}$/),
});

/**
 * Puts a rep's answer into the ledger, in the thread and from the mailbox of the reply; the engine
 * sends it at its next tick, whatever the sending hours: a person is waiting.
 */
export function answerReply(app: App, userId: number, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { replyId, text, key } = read.data;
  const { db } = app;
  const reply = sql<
    { replyId: number },
    {
      mailboxId: number;
      prospectId: number;
      answerTo: string;
      messageId: string;
      references: string;
      subject: string;
    }
  >(
    db,
    `SELECT mailbox_id AS mailboxId, prospect_id AS prospectId, answer_to AS answerTo, message_id AS messageId,
       thread_references AS "references", subject FROM replies WHERE id = @replyId AND kind IN ('person', 'automatic', 'left') AND answer_to != ''`,
  ).get({ replyId });
  const mailbox = reply && mailboxById(db, reply.mailboxId);
  if (!reply || !mailbox) return refused({ form: "This reply cannot be answered." });
  if (isBlocked(db, reply.answerTo))
    return refused({
      form: `${reply.answerTo} is on the block list. Take it off there first, with the reason.`,
    });
  const messageId = `<answer.${key}@${mailbox.address.split("@")[1]}>`;
  db.transaction(() => {
    if (
      sql<{ messageId: string }>(db, "SELECT 1 FROM touches WHERE message_id = @messageId").get({ messageId })
    )
      return;
    enterTouch(db, {
      kind: "answer",
      journeyId: null,
      stepId: null,
      version: null,
      prospectId: reply.prospectId,
      mailboxId: reply.mailboxId,
      recipient: reply.answerTo,
      state: "queued",
      messageId,
      inReplyTo: reply.messageId,
      references: `${reply.references} ${reply.messageId}`.trim(),
      subject: /^re:/i.test(reply.subject) ? reply.subject : `Re: ${reply.subject}`,
      body: mailbox.signature.trim() === "" ? text : `${text}\n\n${mailbox.signature.trim()}`,
      markup: null,
      claimedAt: null,
      claimedWall: null,
    });
    markRead(app, replyId, true);
    dropDraft(db, userId, replyId);
  }).immediate();
  return done(null);
}
