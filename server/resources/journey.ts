/** Ways through sequences and the touches on them, as other programs read them. */
import { z } from "zod";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql, type Value } from "../db/open.ts";
import { at, id, type Listing, pageOf, time, windowOf } from "./listing.ts";

const JOURNEY_STATES = ["active", "finished", "stopped"] as const;

export const journeySchema = z
  .object({
    id,
    sequenceId: id,
    prospectId: id,
    state: z.enum(JOURNEY_STATES),
    version: z.number().int().meta({ description: "The sequence's version that they are on." }),
    placeId: z.string().nullable().meta({ description: "The step or fork that they stand before." }),
    startedAt: time,
    nextAt: time.nullable(),
    waitReason: z.string().nullable(),
    waitDetail: z.string().nullable(),
    stopReason: z.string().nullable(),
    endedAt: time.nullable(),
  })
  .meta({ id: "Journey" });
type Journey = z.infer<typeof journeySchema>;

export const journeysQuery = {
  prospect: z.coerce.number().int().optional().meta({ description: "Only this person's." }),
  sequence: z.coerce.number().int().optional().meta({ description: "Only of this sequence." }),
  state: z.enum(JOURNEY_STATES).optional(),
};

interface JourneyRow extends Omit<Journey, "startedAt" | "nextAt" | "endedAt"> {
  startedAt: number;
  nextAt: number | null;
  endedAt: number | null;
}

const JOURNEY = `SELECT j.id, j.sequence_id AS sequenceId, j.prospect_id AS prospectId, j.state, j.version, j.place_id AS placeId,
  j.started_at AS startedAt, j.next_at AS nextAt, j.wait_reason AS waitReason, j.wait_detail AS waitDetail,
  j.stop_reason AS stopReason, j.ended_at AS endedAt FROM journeys j`;

const journeyOf = (row: JourneyRow): Journey => ({
  ...row,
  startedAt: at(row.startedAt),
  nextAt: at(row.nextAt),
  endedAt: at(row.endedAt),
});

/** What others keep to themselves is not there. */
const seen = (app: App, by: By) => ({ hidden: JSON.stringify([...hiddenFrom(app, by, "sequence.see")]) });
const SEEN = "NOT IN (SELECT value FROM json_each(@hidden))";

/** Conditions for what a query names; each value that is not given asks nothing. */
function narrow(columns: Record<string, string>, query: Record<string, Value | undefined>) {
  const given = Object.entries(columns).filter(([name]) => query[name] !== undefined);
  return {
    where: given.map(([name, column]) => `${column} = @${name}`),
    values: Object.fromEntries(given.map(([name]) => [name, query[name] as Value])),
  };
}

export function listJourneys(
  app: App,
  by: By,
  query: { prospect?: number | undefined; sequence?: number | undefined; state?: string | undefined },
  listing: Listing,
) {
  const window = windowOf(listing, "j.id");
  const columns = { prospect: "j.prospect_id", sequence: "j.sequence_id", state: "j.state" };
  const { where, values } = narrow(columns, query);
  const rows = sql(
    app.db,
    `${JOURNEY} WHERE ${[...where, window.where, `j.sequence_id ${SEEN}`].join(" AND ")} ORDER BY ${window.order}`,
  ).all<JourneyRow>({ ...values, ...window.values, ...seen(app, by) });
  return pageOf(rows, listing, journeyOf);
}

export function journeyResource(app: App, by: By, journeyId: number): Journey | null {
  const row = sql(app.db, `${JOURNEY} WHERE j.id = @journeyId AND j.sequence_id ${SEEN}`).get<JourneyRow>({
    journeyId,
    ...seen(app, by),
  });
  return row ? journeyOf(row) : null;
}

const TOUCH_KINDS = [
  ...[
    "email",
    "approved_email",
    "profile_view",
    "invitation",
    "social_message",
    "call",
    "errand",
    "answer",
    "test",
  ],
] as const;
const TOUCH_STATES = [
  "draft",
  "approved",
  "open",
  "queued",
  "claimed",
  "sent",
  "done",
  "skipped",
  "refused",
] as const;

export const touchSchema = z
  .object({
    id,
    kind: z.string().meta({ description: TOUCH_KINDS.join(", ") }),
    state: z.enum(TOUCH_STATES),
    journeyId: id.nullable(),
    stepId: z.string().nullable(),
    prospectId: id,
    userId: id.nullable().meta({ description: "Whose it is, if a person makes or approves it." }),
    mailboxId: id.nullable(),
    recipient: z.string(),
    subject: z.string(),
    body: z.string().meta({ description: "An email's text, or what a task says." }),
    dueAt: time.nullable(),
    sentAt: time.nullable(),
    endedAt: time.nullable(),
    outcome: z.string().nullable().meta({ description: "How a call went." }),
  })
  .meta({ id: "Touch" });
type Touch = z.infer<typeof touchSchema>;

export const touchesQuery = {
  prospect: z.coerce.number().int().optional().meta({ description: "Only this person's." }),
  journey: z.coerce.number().int().optional().meta({ description: "Only of this way through a sequence." }),
  state: z.enum(TOUCH_STATES).optional(),
};

interface TouchRow extends Omit<Touch, "dueAt" | "sentAt" | "endedAt"> {
  dueAt: number | null;
  sentAt: number | null;
  endedAt: number | null;
}

const TOUCH = `SELECT t.id, t.kind, t.state, t.journey_id AS journeyId, t.step_id AS stepId, t.prospect_id AS prospectId,
  t.user_id AS userId, t.mailbox_id AS mailboxId, t.recipient, t.subject, t.body, t.due_at AS dueAt, t.sent_at AS sentAt,
  t.ended_at AS endedAt, t.outcome FROM touches t LEFT JOIN journeys j ON j.id = t.journey_id`;

const touchOf = (row: TouchRow): Touch => ({
  ...row,
  dueAt: at(row.dueAt),
  sentAt: at(row.sentAt),
  endedAt: at(row.endedAt),
});

const TOUCH_SEEN = `(j.sequence_id IS NULL OR j.sequence_id ${SEEN})`;

export function listTouches(
  app: App,
  by: By,
  query: { prospect?: number | undefined; journey?: number | undefined; state?: string | undefined },
  listing: Listing,
) {
  const window = windowOf(listing, "t.id");
  const columns = { prospect: "t.prospect_id", journey: "t.journey_id", state: "t.state" };
  const { where, values } = narrow(columns, query);
  const rows = sql(
    app.db,
    `${TOUCH} WHERE ${[...where, window.where, TOUCH_SEEN].join(" AND ")} ORDER BY ${window.order}`,
  ).all<TouchRow>({ ...values, ...window.values, ...seen(app, by) });
  return pageOf(rows, listing, touchOf);
}

export function touchResource(app: App, by: By, touchId: number): Touch | null {
  const row = sql(app.db, `${TOUCH} WHERE t.id = @touchId AND ${TOUCH_SEEN}`).get<TouchRow>({
    touchId,
    ...seen(app, by),
  });
  return row ? touchOf(row) : null;
}
