/** What webhooks say of a happening: the same resources that the API answers, as they are when it is looked at. */
import { z } from "zod";
import { HAPPENING_KINDS, type HappeningKind } from "../../core/connections/happenings.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { journeyResource, journeySchema, touchResource, touchSchema } from "../resources/journey.ts";
import { at, id, time } from "../resources/listing.ts";
import { latestMeeting, meetingSchema } from "../resources/meeting.ts";
import { prospectResource, prospectSchema } from "../resources/prospect.ts";
import { replyResource, replySchema } from "../resources/reply.ts";

/** Raised when a receiver would have to read it otherwise; what is only added raises nothing. */
const VERSION = 1;

export const payloadSchema = z
  .object({
    type: z.enum(["test", "rule.acted", ...HAPPENING_KINDS]),
    version: z.literal(VERSION),
    timestamp: time,
    data: z.object({
      prospect: prospectSchema.nullable(),
      sequence: z.object({ id, name: z.string() }).nullable(),
      journey: journeySchema.nullable(),
      touch: touchSchema.nullable(),
      reply: replySchema.nullable(),
      meeting: meetingSchema.nullable(),
      mailbox: z.object({ id, address: z.string() }).nullable(),
      user: z
        .object({ id, name: z.string() })
        .nullable()
        .meta({ description: "Who did it; null for the program." }),
      from: z.string().nullable().meta({ description: "Of a stage: which it was." }),
      to: z.string().nullable().meta({ description: "Of a stage: which it is." }),
      detail: z.string().nullable().meta({ description: "The label's name, the link that was followed, …" }),
    }),
  })
  .meta({ id: "WebhookPayload" });
export type Payload = z.infer<typeof payloadSchema>;

export interface Happened {
  id: number;
  kind: HappeningKind;
  at: number;
  prospectId: number | null;
  journeyId: number | null;
  touchId: number | null;
  replyId: number | null;
  mailboxId: number | null;
  userId: number | null;
  detail: string | null;
}

/** A letter can be longer than a receiver takes. */
const LONGEST_TEXT = 20_000;
const ABOUT_MEETINGS = /^meeting\./;

export function payloadOf(app: App, of: Happened): Payload {
  const { db } = app;
  const named = (query: "users" | "sequences", of: number | null) =>
    of === null
      ? null
      : (sql(
          db,
          query === "users"
            ? "SELECT id, name FROM users WHERE id = @of"
            : "SELECT id, name FROM sequences WHERE id = @of",
        ).get<{ id: number; name: string }>({ of }) ?? null);
  const { prospectId, journeyId, touchId, replyId, mailboxId } = of;
  const journey = journeyId === null ? null : journeyResource(app, null, journeyId);
  const reply = replyId === null ? null : replyResource(app, replyId);
  const mailbox =
    mailboxId === null
      ? undefined
      : sql(db, "SELECT id, address FROM mailboxes WHERE id = @mailboxId").get<{
          id: number;
          address: string;
        }>({
          mailboxId,
        });
  const stages =
    of.kind === "prospect.stage_changed"
      ? z.object({ from: z.string(), to: z.string() }).parse(JSON.parse(of.detail ?? "{}"))
      : null;
  return {
    ...{ type: of.kind, version: VERSION, timestamp: at(of.at) },
    data: {
      prospect: prospectId === null ? null : prospectResource(app, null, prospectId),
      sequence: named("sequences", journey?.sequenceId ?? null),
      journey,
      touch: touchId === null ? null : touchResource(app, null, touchId),
      reply: reply && { ...reply, text: reply.text.slice(0, LONGEST_TEXT) },
      meeting: prospectId !== null && ABOUT_MEETINGS.test(of.kind) ? latestMeeting(app, prospectId) : null,
      mailbox: mailbox ?? null,
      user: named("users", of.userId),
      from: stages?.from ?? null,
      to: stages?.to ?? null,
      detail: stages ? null : of.detail,
    },
  };
}

const NOTHING: Payload["data"] = {
  ...{
    prospect: null,
    sequence: null,
    journey: null,
    touch: null,
    reply: null,
    meeting: null,
    mailbox: null,
    user: null,
  },
  ...{ from: null, to: null, detail: null },
};

/** What the test press sends. */
export const testPayload = (now: number): Payload => ({
  ...{ type: "test", version: VERSION, timestamp: at(now) },
  data: { ...NOTHING, detail: "A test. Whoever reads this is connected." },
});

/** What a rule tells of somebody; `detail` is the rule's name. */
export const rulePayload = (
  app: App,
  now: number,
  { prospectId, detail }: { prospectId: number; detail: string },
): Payload => ({
  ...{ type: "rule.acted", version: VERSION, timestamp: at(now) },
  data: { ...NOTHING, prospect: prospectResource(app, null, prospectId), detail },
});
