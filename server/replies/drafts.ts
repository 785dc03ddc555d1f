/** Answers that are being written: kept for each conversation and user until they are sent. */
import { z } from "zod";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";

const form = z.object({ replyId: z.coerce.number().int(), text: z.string().max(20_000) });

/** Keeps what is typed so far; an empty text forgets it. False for what is no draft. */
export function keepDraft({ db, clock }: App, userId: number, input: unknown): boolean {
  const read = form.safeParse(input);
  if (!read.success) return false;
  const { replyId, text } = read.data;
  if (text.trim() === "") dropDraft(db, userId, replyId);
  else
    sql<Record<string, unknown>>(
      db,
      `INSERT INTO answer_drafts (reply_id, user_id, text, at)
       SELECT id, @userId, @text, @now FROM replies WHERE id = @replyId
       ON CONFLICT (reply_id, user_id) DO UPDATE SET text = @text, at = @now`,
    ).run({ replyId, userId, text, now: clock.now() });
  return true;
}

export function dropDraft(db: App["db"], userId: number, replyId: number): void {
  sql<Record<string, unknown>>(
    db,
    "DELETE FROM answer_drafts WHERE reply_id = @replyId AND user_id = @userId",
  ).run({ replyId, userId });
}

export function draftOf({ db }: App, userId: number, replyId: number): string {
  return (
    sql<Record<string, unknown>, { text: string }>(
      db,
      "SELECT text FROM answer_drafts WHERE reply_id = @replyId AND user_id = @userId",
    ).get({ replyId, userId })?.text ?? ""
  );
}
