/** Answers that are being written: kept for each conversation and user until they are sent. */
import { z } from "zod";
import type { App } from "../app.ts";
import { type Db, sql } from "../db/open.ts";
import { answerKey, isAnswered } from "./answer-key.ts";

const form = z.object({
  replyId: z.coerce.number().int(),
  text: z.string().max(20_000),
  key: answerKey,
});

/**
 * Keeps what is typed so far; an empty text forgets it. "sent" for what has gone out already: it was on its way here
 * while the answer overtook it. "unread" for what is no draft.
 */
export function keepDraft({ db, clock }: App, userId: number, input: unknown): "kept" | "sent" | "unread" {
  const read = form.safeParse(input);
  if (!read.success) return "unread";
  const { replyId, text, key } = read.data;
  return db
    .transaction(() => {
      if (isAnswered(db, replyId, key)) return "sent";
      if (text.trim() === "") dropDraft(db, userId, replyId);
      else
        sql(
          db,
          `INSERT INTO answer_drafts (reply_id, user_id, text, at)
           SELECT id, @userId, @text, @now FROM replies WHERE id = @replyId
           ON CONFLICT (reply_id, user_id) DO UPDATE SET text = @text, at = @now`,
        ).run({ replyId, userId, text, now: clock.now() });
      return "kept";
    })
    .immediate();
}

export function dropDraft(db: Db, userId: number, replyId: number): void {
  sql(db, "DELETE FROM answer_drafts WHERE reply_id = @replyId AND user_id = @userId").run({
    replyId,
    userId,
  });
}

export function draftOf({ db }: App, userId: number, replyId: number): string {
  return (
    sql(db, "SELECT text FROM answer_drafts WHERE reply_id = @replyId AND user_id = @userId").get<{
      text: string;
    }>({ replyId, userId })?.text ?? ""
  );
}
