/** What a writing assistant is told and what it answers: the API is described in docs/writing-assistant.md. */
import { z } from "zod";
import { STEP_KINDS } from "../sequence/limits.ts";
import type { Path, PathNode } from "../sequence/path.ts";
import { LANGUAGES, TONES } from "./brief-choices.ts";

const line = (most: number) => z.string().trim().max(most);
export const briefSchema = z.object({
  /** Who we are, and what we do. */
  who: line(600).min(10, "Say in a sentence who you are and what you do."),
  /** Whom we write to. */
  whom: line(400).min(3, "Say whom you write to."),
  /** What the message is to bring about. */
  goal: line(300).min(3, "Say what you would like them to do."),
  /** What it is worth to them. */
  value: line(600).default(""),
  /** Why now. */
  occasion: line(300).default(""),
  tone: z.enum(TONES).default("plain"),
  language: z.enum(Object.keys(LANGUAGES) as [keyof typeof LANGUAGES]).default("en"),
  channels: z
    .array(z.enum(["email", "social", "call"]))
    .min(1)
    .default(["email"]),
  /** How many touches. */
  steps: z.number().int().min(1).max(8).default(4),
});
export type Brief = z.infer<typeof briefSchema>;

const draftStep = z.object({
  kind: z.enum(STEP_KINDS),
  name: z.string().trim().min(1).max(60),
  /** Working days after the touch before. */
  days: z.number().int().min(0).max(60),
  subject: z.string().max(200).default(""),
  text: z.string().max(20_000),
});
export const draftSchema = z.object({
  name: z.string().trim().min(1).max(80),
  steps: z.array(draftStep).min(1).max(20),
});
export type Draft = z.infer<typeof draftSchema>;

export const wordingsSchema = z.object({ wordings: z.array(z.string().min(1).max(20_000)).max(5) });

/** A drafted sequence as a path, for the rep to read and change. */
export function pathOfDraft({ steps }: Draft, newId: () => string): Path {
  return steps.map(({ kind, name, days, subject, text }): PathNode => {
    const base = { id: newId(), name, note: "", wait: { days, working: true } };
    return kind === "email" || kind === "approved_email"
      ? {
          ...base,
          kind,
          variants: [{ id: "a", weight: 1, subject, body: text }],
          format: "formatted",
          quotes: false,
          attachments: [],
        }
      : { ...base, kind, text, journey: "waits", skipAfter: 4, asNote: false };
  });
}
