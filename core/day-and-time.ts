/** How a day and a time of day are written, in forms and in files. */
import { z } from "zod";

export const daySchema = z.iso.date("Write the day as 2026-09-15.");
export const timeSchema = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "Write the time as 08:30.");
