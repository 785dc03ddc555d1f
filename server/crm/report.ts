/** What a look through everything there found, counted, with examples. */
import { z } from "zod";

/** What becomes of a thing; the order of the page. */
export const FINDINGS = [
  "new",
  "known",
  "here",
  "there",
  "conflict",
  "refused",
  "gone",
  "out",
  "deal",
] as const;
export type Finding = (typeof FINDINGS)[number];

const line = z.object({
  count: z.number(),
  examples: z.array(z.object({ name: z.string(), words: z.string() })),
});
export const reportSchema = z.partialRecord(z.enum(FINDINGS), line);
export type Report = z.infer<typeof reportSchema>;

const EXAMPLES = 5;

export interface Found {
  finding: Finding;
  name: string;
  words: string;
}

export function addFound(report: Report, { finding, name, words }: Found): void {
  const known = report[finding] ?? { count: 0, examples: [] };
  report[finding] = known;
  known.count++;
  if (known.examples.length < EXAMPLES) known.examples.push({ name, words });
}
