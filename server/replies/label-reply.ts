/** Says what a reply means: the label is set, what follows from it is applied, and one press takes it all back. */

import { z } from "zod";
import { daySchema } from "../../core/day-and-time.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { remember, takeBack, undoableOf } from "../consequences/remember.ts";
import { ofProspect } from "../consequences/scopes.ts";
import { recordEvent } from "../db/events.ts";
import { type Db, sql, type Tx, transact } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { type LabelRow, labelByCode } from "./labels.ts";
import { readingOf } from "./stored-reading.ts";

const form = z.object({
  replyId: z.coerce.number().int(),
  label: z.string().min(1, "Choose a label."),
  /** When they are back or want to be asked again; "" for what the letter says, or nothing. */
  day: z.union([daySchema, z.literal("")]).default(""),
});

interface Labelled {
  prospectId: number;
  touchId: number | null;
  journeyId: number | null;
  mailboxId: number;
  reading: string | null;
}

const labelledReply = (db: Db, replyId: number): Labelled | undefined =>
  sql(
    db,
    `SELECT r.prospect_id AS prospectId, r.touch_id AS touchId, t.journey_id AS journeyId, r.mailbox_id AS mailboxId, r.reading
     FROM replies r LEFT JOIN touches t ON t.id = r.touch_id
     WHERE r.id = @replyId AND r.prospect_id IS NOT NULL AND r.kind IN ('person', 'automatic', 'left', 'challenge', 'notice')`,
  ).get<Labelled>({ replyId });

/** Sets a label; another one that the reply had is taken back first. Returns the id by which it is undone. */
export function labelReply(app: App, userId: By, input: unknown): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { db, clock } = app;
  const label = labelByCode(db, read.data.label);
  if (!label) return refused({ label: "This label no longer exists." });
  // Whoever wants no more mail must be heard, whoever reads it first.
  const no = mayNot(
    app,
    userId,
    label.code === "opt_out" ? "reply.opt_out" : "reply.change",
    read.data.replyId,
  );
  if (no) return no;
  return transact(app, ({ db }): Outcome<number> => {
    const { replyId, day } = read.data;
    const earlier = undoableOf(db, replyId);
    if (earlier) takeBack(db, earlier.id, clock.now());
    const id = setLabel(db, { replyId, label, userId, day: day || null, at: clock.now() });
    return id === null ? refused({ form: "This message gets no label." }) : done(id);
  });
}

/** `userId` null: the tool does it by itself. Null if the message is not one to label. */
export function setLabel(
  db: Tx,
  {
    replyId,
    label,
    userId,
    day,
    at,
  }: { replyId: number; label: LabelRow; userId: number | null; day: string | null; at: number },
): number | null {
  const reply = labelledReply(db, replyId);
  if (!reply) return null;
  const { prospectId, touchId, journeyId, mailboxId } = reply;
  const about = { kind: "label" as const, prospectId, replyId, userId, what: label.name, at };
  return remember(db, about, ofProspect(db, prospectId), () => {
    sql(
      db,
      `UPDATE replies SET label_id = @labelId, labelled_at = @at, labelled_by = @userId,
         read_at = CASE WHEN @userId IS NULL THEN read_at ELSE coalesce(read_at, @at) END WHERE id = @replyId`,
    ).run({ replyId, labelId: label.id, userId, at });
    apply(
      db,
      {
        kind: "labelled",
        label: label.code,
        name: label.name,
        effects: label.effects,
        day: day ?? dayRead(reply, label),
      },
      { at, prospectId, touchId, journeyId, mailboxId, replyId, userId },
    );
  });
}

/** The day that the letter names, where it was read as this label says. */
const dayRead = ({ reading }: Pick<Labelled, "reading">, { code }: LabelRow): string | null => {
  const read = reading === null ? null : readingOf(reading);
  return read?.label === code ? read.day : null;
};

/** Takes back the last label of a reply, with everything that it did. */
export function undoLabel(app: App, userId: By, replyId: number): Outcome<number> {
  const { db, clock } = app;
  const last = undoableOf(db, replyId);
  // Who set it may take it back, also from a colleague's letter.
  const no = mayNot(app, userId, "reply.change", replyId);
  if (no && (!last || mayNot(app, userId, "undo", last.id))) return no;
  if (!last) return refused({ form: "There is nothing to take back any more." });
  return transact(app, ({ db }): Outcome<number> => {
    const back = takeBack(db, last.id, clock.now());
    if (!back) return refused({ form: "There is nothing to take back any more." });
    recordEvent(db, {
      at: clock.now(),
      kind: "label_undone",
      prospectId: back.prospectId,
      replyId,
      userId,
      detail: last.what,
    });
    return done(back.kept);
  });
}
