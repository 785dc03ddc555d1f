/** What an outside model says of replies that the one here is unsure of: if a manager allowed it, and never acted on alone. */

import { z } from "zod";
import { LABELS } from "../../core/replies/labels.ts";
import { newText } from "../../core/replies/new-text.ts";
import { type Reading, SURE } from "../../core/replies/sort.ts";
import type { App } from "../app.ts";
import { askAssistant, readAssistant } from "../assistant/ask.ts";
import { sql } from "../db/open.ts";
import { AppError } from "../errors.ts";
import { log } from "../log.ts";
import { readingOf } from "./stored-reading.ts";

const MOST_AT_ONCE = 5;
const MOST_SENT = 3_000;

const answer = z.object({
  label: z.enum(LABELS),
  confidence: z.number().min(0).max(1),
});

/** Asks about some of them, each once. Returns how many were asked about. */
export async function readAgain(app: App): Promise<number> {
  if (!readAssistant(app).readsReplies) return 0;
  const { db } = app;
  const unsure = sql(
    db,
    `SELECT id, text, reading FROM replies WHERE read_at IS NULL AND kind = 'person' AND label_id IS NULL
       AND reading ->> '$.by' = 'model' AND NOT reading ->> '$.sure' ORDER BY id DESC LIMIT ${MOST_AT_ONCE}`,
  ).all<{ id: number; text: string; reading: string }>([]);
  for (const { id, text, reading } of unsure) {
    const before = readingOf(reading);
    const said = await ask(app, newText(text).slice(0, MOST_SENT));
    const after: Reading = said
      ? {
          ...before,
          label: said.label,
          confidence: said.confidence,
          sure: said.confidence >= SURE,
          by: "assistant",
        }
      : // Asked once: one that does not answer is not asked again and again about the same letter.
        { ...before, by: "assistant" };
    sql(db, "UPDATE replies SET reading = @reading WHERE id = @id AND label_id IS NULL").run({
      id,
      reading: JSON.stringify(after),
    });
  }
  return unsure.length;
}

async function ask(app: App, text: string): Promise<z.infer<typeof answer> | null> {
  try {
    return await askAssistant(app, {
      path: "/label",
      body: { text, labels: LABELS },
      instructions: `Say what this reply to a business email means. The object is {"label": one of ${LABELS.join(", ")}, "confidence": a number from 0 to 1 that is right about as often as it says}.`,
      answer,
    });
  } catch (error) {
    if (!(error instanceof AppError)) throw error;
    log.warn({ reason: error.message }, "the assistant did not read a reply");
    return null;
  }
}
