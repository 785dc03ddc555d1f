/** Columns that hold JSON: what comes out of one is checked as what comes in at a door is. */
import { z } from "zod";

/** Throws a ZodError for what the schema does not fit. */
export const jsonOf = <T>(schema: z.ZodType<T>, text: string): T => schema.parse(JSON.parse(text));

const numbers = z.array(z.number());
export const numbersIn = (text: string): number[] => jsonOf(numbers, text);

const words = z.array(z.string());
export const wordsIn = (text: string): string[] => jsonOf(words, text);

const fields = z.record(z.string(), z.string());
/** Values by the name of their field. */
export const fieldsIn = (text: string): Record<string, string> => jsonOf(fields, text);
