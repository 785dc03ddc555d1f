/** What a booking page offers: kept as JSON, checked at its form. */
import { z } from "zod";
import { timeSchema } from "../day-and-time.ts";

const number = (least: number, most: number) =>
  z.coerce.number("Type a number.").int().min(least, `At least ${least}.`).max(most, `At most ${most}.`);

/** Minutes that a call may take. */
export const LENGTHS = [15, 20, 30, 45, 60, 90] as const;
export const MOST_QUESTIONS = 6;

export const bookingRulesSchema = z.object({
  /** What the visitor reads above the times. */
  about: z.string().trim().max(600, "At most 600 characters.").default(""),
  days: z
    .array(z.coerce.number().int().min(1).max(7))
    .min(1, "Choose at least one day.")
    .default([1, 2, 3, 4, 5]),
  opens: timeSchema.default("09:00"),
  closes: timeSchema.default("17:30"),
  /** The lengths that a visitor may choose from, in minutes. */
  lengths: z
    .array(z.coerce.number().refine((each) => (LENGTHS as readonly number[]).includes(each)))
    .min(1, "Choose at least one length.")
    .default([30]),
  /** Free minutes before and after each call. */
  buffer: number(0, 120).default(0),
  /** Hours from now before which nobody can book. */
  notice: number(0, 168).default(2),
  daysAhead: number(1, 90).default(14),
  /** Calls on one day for one host; 0 for as many as fit. */
  mostADay: number(0, 20).default(0),
  /** "phone": the host calls, and the page asks for the number. "place": everybody comes to the same place or link. */
  where: z.enum(["phone", "place"]).default("phone"),
  place: z.string().trim().max(300, "At most 300 characters.").default(""),
  questions: z
    .array(
      z.object({
        text: z.string().trim().min(1, "Write the question.").max(200),
        required: z.coerce.boolean().default(false),
      }),
    )
    .max(MOST_QUESTIONS)
    .default([]),
  /** Hours before the call at which the visitor is reminded by mail; 0: never. */
  remindHours: number(0, 72).default(24),
});
export type BookingPageRules = z.infer<typeof bookingRulesSchema>;

export const bookingPageSchema = bookingRulesSchema
  .extend({
    name: z.string().trim().min(1, "Give the page a name.").max(60, "At most 60 characters."),
    /** The last part of a new page's address. */
    slug: z
      .string()
      .trim()
      .toLowerCase()
      .regex(/^[a-z0-9](?:[a-z0-9-]{1,58}[a-z0-9])$/, "Small letters, digits and hyphens, three at least.")
      .optional(),
    hostIds: z.array(z.coerce.number().int()).min(1, "Choose who takes the calls.").max(30),
  })
  .refine(({ opens, closes }) => opens < closes, {
    path: ["closes"],
    message: "The hours close after they open.",
  })
  .refine(({ where, place }) => where === "phone" || place !== "", {
    path: ["place"],
    message: "Type where you meet: an address, or the link of your video room.",
  });
