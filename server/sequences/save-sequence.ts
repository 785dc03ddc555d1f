import { z } from "zod";
import { isZone } from "../../core/calendar.ts";
import { WRITES_TO } from "../../core/prospects/verdict.ts";
import { stepsSchema } from "../../core/sequence/steps.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { sequenceById } from "../db/sequences.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { reconsiderHolds } from "./reconsider-holds.ts";
import { rescheduleJourneys } from "./reschedule.ts";

const time = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "Write the time as 08:30.");
const form = z
  .object({
    id: z.number().int(),
    name: z.string().trim().min(1, "Give the sequence a name.").max(80),
    listId: z.number().int().nullable(),
    zone: z.string().refine(isZone, "Choose a time zone."),
    days: z.array(z.number().int().min(1).max(7)).min(1, "Choose at least one weekday."),
    opens: time,
    closes: time,
    tracks: z.boolean(),
    writesTo: z.enum(WRITES_TO).default("good"),
    mailboxIds: z.array(z.number().int()),
    steps: stepsSchema,
  })
  .refine(({ opens, closes }) => opens < closes, {
    path: ["closes"],
    message: "The hours close after they open.",
  });
export type SequenceForm = z.infer<typeof form>;

/**
 * Saves a sequence; once it has been started, changed steps become a new version, and prospects on their way go on with it.
 * Returns the version's number. A step keeps its id, so nobody gets it twice.
 */
export function saveSequence(app: App, input: unknown): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { id, days, mailboxIds, steps, tracks, ...settings } = read.data;
  const { db, clock } = app;
  const now = clock.now();
  return db
    .transaction((): Outcome<number> => {
      const before = sequenceById(db, id);
      if (!before) return refused({ form: "This sequence no longer exists." });
      sql<Record<string, unknown>>(
        db,
        `UPDATE sequences SET name = @name, list_id = @listId, time_zone = @zone, days = @days, opens = @opens,
           closes = @closes, tracks = @tracks, writes_to = @writesTo WHERE id = @id`,
      ).run({ id, ...settings, days: JSON.stringify(days.toSorted()), tracks: tracks ? 1 : 0 });
      sql<{ id: number }>(db, "DELETE FROM sequence_mailboxes WHERE sequence_id = @id").run({ id });
      for (const mailboxId of new Set(mailboxIds))
        sql<Record<string, unknown>>(
          db,
          "INSERT INTO sequence_mailboxes (sequence_id, mailbox_id) VALUES (@id, @mailboxId)",
        ).run({ id, mailboxId });
      const isSame = JSON.stringify(before.steps) === JSON.stringify(steps);
      // What nobody has received yet is a draft, not a version to keep.
      const number = isSame || before.state === "draft" ? before.version : before.version + 1;
      sql<Record<string, unknown>>(
        db,
        `INSERT INTO sequence_versions (sequence_id, number, steps, saved_at) VALUES (@id, @number, @steps, @now)
         ON CONFLICT (sequence_id, number) DO UPDATE SET steps = @steps, saved_at = @now`,
      ).run({ id, number, steps: JSON.stringify(steps), now });
      if (!isSame) reconsiderHolds(app, { sequenceId: id });
      rescheduleJourneys(db, before, sequenceById(db, id) ?? before);
      return done(number);
    })
    .immediate();
}

/** Pauses a running sequence or lets a paused one go on. */
export function setSequenceState({ db }: App, id: number, state: "running" | "paused"): void {
  sql<Record<string, unknown>>(
    db,
    "UPDATE sequences SET state = @state WHERE id = @id AND state IN ('running', 'paused')",
  ).run({ id, state });
}
