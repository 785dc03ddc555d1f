/** A chat channel that is told of happenings: in which words, and when it is left in peace. */
import { z } from "zod";
import { timeSchema } from "../day-and-time.ts";
import { mergeProblems, renderMerge } from "../writing/merge.ts";
import { CHANNEL_FIELDS } from "./channel-words.ts";

export const channelSchema = z.object({
  words: z
    .string()
    .trim()
    .min(1, "Say in which words it is told.")
    .max(500)
    .superRefine((words, context) => {
      const [problem] = mergeProblems(words, CHANNEL_FIELDS);
      if (problem) context.addIssue({ code: "custom", message: problem });
    }),
  /** The same time twice: never quiet. */
  quietFrom: timeSchema.default("20:00"),
  quietUntil: timeSchema.default("07:30"),
});
export type Channel = z.infer<typeof channelSchema>;

/** The line that a channel gets. */
export function channelText(words: string, values: Readonly<Partial<Record<string, string>>>): string {
  const known = Object.fromEntries(CHANNEL_FIELDS.map((field) => [field, values[field] || "–"]));
  const rendered = renderMerge(words, known);
  return (rendered.ok ? rendered.text : words).replace(/\s+/g, " ").replace(/\s–$/, "").trim();
}
