/** What a team and its CRM have in common: who comes in and goes out, which field is which, what is told and when a deal is made. */
import { z } from "zod";
import { pathSchema } from "../connections/json-path.ts";
import { PERSON_FIELDS } from "../prospects/fields.ts";
import { parseFilter } from "../prospects/filter.ts";
import { STAGES, type Stage } from "../prospects/stages.ts";

/** Who is right where both sides changed the same field. */
export const WINNERS = ["there", "here", "later", "ask"] as const;
export type Winner = (typeof WINNERS)[number];

/** At what a deal is made there. */
export const DEAL_MOMENTS = ["never", "first_email", "positive", "booked"] as const;

/** The person's fields besides the team's own; a company's stand in another thing there. */
export const MAPPED = [...PERSON_FIELDS, "stage", "owner"] as const;

const fieldMapSchema = z.object({
  /** Of `MAPPED`, or "custom:loans_a_year". */
  field: z
    .string()
    .max(80)
    .refine(
      (field) => MAPPED.some((each) => each === field) || /^custom:[\w]+$/.test(field),
      "There is no such field.",
    ),
  /** Where it stands in a person there; "company.…" in their company. Unused for an owner, who is known by their address. */
  there: z.union([pathSchema, z.literal("")]),
  wins: z.enum(WINNERS),
});
export type FieldMap = z.infer<typeof fieldMapSchema>;

export const settingsSchema = z.object({
  /** The id of a saved filter there, whose people come in; "": everybody there. */
  view: z.string().max(200).default(""),
  /** The list on which those come who are new. */
  list: z.string().trim().min(1, "Name the list on which people come in.").max(80).default("From the CRM"),
  /** Whether people are made there, and whom of ours: a filter as JSON, "" for everybody. */
  makesPeople: z.boolean().default(false),
  filter: z
    .string()
    .max(8_000)
    .refine((text) => text === "" || parseFilter(text) !== null, "This is no filter.")
    .default(""),
  fields: z
    .array(fieldMapSchema)
    .max(60)
    .refine(
      (all) => new Set(all.map(({ field }) => field)).size === all.length,
      "A field stands there twice.",
    )
    .refine(
      (all) => all.some(({ field, there }) => field === "email" && there !== ""),
      "Say where the email address stands: by it people are known.",
    )
    .refine(
      (all) => all.every(({ field, there }) => there !== "" || field === "owner"),
      "Say of each field where it stands there.",
    ),
  /** What our stages are called there. */
  stages: z.partialRecord(z.enum(STAGES), z.string().trim().max(60)).default({}),
  deals: z
    .object({
      at: z.enum(DEAL_MOMENTS).default("never"),
      name: z.string().trim().min(1, "Say what a deal is called.").max(200).default("{{company}}"),
      /** The id of the stage there at which it begins. */
      stage: z.string().max(200).default(""),
    })
    .prefault({}),
  logs: z
    .object({
      sent: z.boolean().default(true),
      replies: z.boolean().default(true),
      meetings: z.boolean().default(true),
    })
    .prefault({}),
});
export type CrmSettings = z.infer<typeof settingsSchema>;

/** As the stand-in, and docs/crm.md, name them. */
export const USUAL_SETTINGS: CrmSettings = settingsSchema.parse({
  fields: [
    { field: "email", there: "email", wins: "ask" },
    { field: "firstName", there: "name.first", wins: "later" },
    { field: "lastName", there: "name.last", wins: "later" },
    { field: "title", there: "job_title", wins: "later" },
    { field: "company", there: "company.name", wins: "there" },
    { field: "companyDomain", there: "company.domain", wins: "there" },
    { field: "city", there: "address.city", wins: "later" },
    { field: "country", there: "address.country", wins: "later" },
    { field: "phone", there: "phone", wins: "later" },
    { field: "stage", there: "status", wins: "here" },
    { field: "owner", there: "", wins: "there" },
  ],
  stages: {
    new: "new",
    contacted: "contacted",
    in_conversation: "in talks",
    meeting_booked: "meeting",
    won: "customer",
    lost: "lost",
  },
});

/** Ours for theirs; null where none is called so. */
export function stageHere(stages: CrmSettings["stages"], there: string): Stage | null {
  const wanted = there.trim().toLowerCase();
  return STAGES.find((stage) => wanted !== "" && stages[stage]?.toLowerCase() === wanted) ?? null;
}
