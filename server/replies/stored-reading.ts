import { z } from "zod";
import type { Reading } from "../../core/replies/sort.ts";
import { jsonOf } from "../db/json.ts";

const span = z.tuple([z.number(), z.number()]);
const readingSchema: z.ZodType<Reading> = z.object({
  label: z.string(),
  confidence: z.number(),
  sure: z.boolean(),
  by: z.enum(["plain words", "absence", "model", "assistant", "nothing to read", "grave"]),
  words: z.array(span),
  day: z.string().nullable(),
  person: z
    .object({
      firstName: z.string(),
      lastName: z.string(),
      email: z.string(),
      phone: z.string(),
      words: span,
    })
    .nullable(),
});

/** How a letter was read, as it is kept with it. */
export const readingOf = (stored: string): Reading => jsonOf(readingSchema, stored);
