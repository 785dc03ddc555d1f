/** What a sequence is set to, besides its path: who, when and from where, and what ends it. Kept as JSON. */
import { z } from "zod";
import { STOPPING_STAGES } from "../prospects/stages.ts";
import { conditionSchema } from "./path-schema.ts";

const addresses = z
  .string()
  .trim()
  .max(500)
  .refine(
    (text) =>
      text === "" || text.split(/[\s,;]+/).every((each) => /^[^\s@<>"]+@[^\s@<>"]+\.[^\s@<>"]+$/.test(each)),
    "Write addresses like seller@quillwater.example, several with commas between.",
  );

export const GOALS = ["reply", "interested", "meeting", "click", "won"] as const;
export type Goal = (typeof GOALS)[number];

/** How an email gets its yes: none needed, for the first people, or for everybody. */
export const APPROVALS = ["none", "first", "all"] as const;

export const sequenceSettingsSchema = z.object({
  /** Days and hours count where the prospect is, or in the sequence's own zone. */
  zoneOf: z.enum(["prospect", "sequence"]).default("prospect"),
  /** Nothing goes out on public holidays where the prospect is. */
  holidays: z.boolean().default(true),
  /** Nothing goes before this day, "YYYY-MM-DD". */
  startsOn: z.iso.date().nullable().default(null),
  /** People who get their first touch on one day; null: as many as the mailboxes carry. */
  newADay: z.number().int().min(1).max(5_000).nullable().default(null),
  /** Emails within any sixty minutes, and minutes between two, over all mailboxes; null: the mailboxes' own pace. */
  perHour: z.number().int().min(1).max(5_000).nullable().default(null),
  minutesBetween: z.number().int().min(1).max(240).nullable().default(null),
  /** While the mailbox of somebody's thread does not send: they wait, or go on from another in a new thread. */
  threadElsewhere: z.enum(["waits", "new_thread"]).default("waits"),
  /** The social account that carries out its social touches; null: they stay the rep's own. */
  accountId: z.number().int().nullable().default(null),
  cc: addresses.default(""),
  bcc: addresses.default(""),
  /** The address by which a CRM files what it gets: a blind copy. */
  crm: addresses.default(""),
  tracksOpens: z.boolean().default(false),
  tracksClicks: z.boolean().default(false),
  goal: z.enum(GOALS).default("reply"),
  stops: z
    .object({
      reply: z.boolean().default(true),
      /** Labels that end it where a reply does not, by their codes; null: those that are set to stop. */
      labels: z.array(z.string().max(60)).max(50).nullable().default(null),
      meeting: z.boolean().default(true),
      click: z.boolean().default(false),
      open: z.boolean().default(false),
      stages: z.array(z.enum(STOPPING_STAGES)).default([]),
      field: conditionSchema.nullable().default(null),
    })
    .prefault({}),
  /** A reply holds the other people of the company; never for a free-mail domain. */
  holdsCompany: z.boolean().default(true),
  /** What else happens when somebody books, or their reply gets one of these labels: an errand for the rep, "" for none. */
  thenErrand: z.string().trim().max(300).default(""),
  thenOn: z.array(z.string().max(60)).max(50).default(["interested", "question"]),
  /** Working days that somebody who is away without a date is left alone; 0: they are not. */
  awayDays: z.number().int().min(0).max(60).default(5),
  approval: z.enum(APPROVALS).default("none"),
  /** Lines that the assistant wrote go out although nobody has read them. */
  sendsUnread: z.boolean().default(false),
  /** With "first": how many people. */
  approveFirst: z.number().int().min(1).max(500).default(10),
  /** The page that its texts call “page link”. */
  pageId: z.number().int().nullable().default(null),
  tags: z.array(z.string().trim().min(1).max(30)).max(8).default([]),
});
export type SequenceSettings = z.infer<typeof sequenceSettingsSchema>;

export const DEFAULT_SETTINGS: SequenceSettings = sequenceSettingsSchema.parse({});
