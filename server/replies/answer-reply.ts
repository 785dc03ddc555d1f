import { z } from "zod";
import {
  dayOf,
  HOUR,
  instantOn,
  instantOnDay,
  MINUTE,
  minutesOf,
  weekdayOf,
  workingDayNumberAfter,
} from "../../core/calendar.ts";
import { daySchema, timeSchema } from "../../core/day-and-time.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { enterTouch } from "../db/ledger.ts";
import { type Mailbox, mailboxById } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { linesOfFiles } from "../mail/file-links.ts";
import { answerIdOf, answerKey, isInLedger } from "./answer-key.ts";
import { dropDraft } from "./drafts.ts";
import { markRead } from "./list-replies.ts";

const form = z.object({
  replyId: z.coerce.number().int(),
  text: z.string().trim().min(1, "Write the answer first.").max(20_000),
  /** Given by the page, so that pressing twice sends once. */
  key: answerKey,
  /** When it goes: at once, on their next working morning, or on a day of the rep's. */
  when: z.enum(["now", "morning", "at"]).default("now"),
  date: daySchema.optional(),
  time: timeSchema.default("09:00"),
  attachments: z.array(z.coerce.number().int()).max(10).default([]),
  /** "1": they go as links to look at. */
  linksFiles: z.string().default(""),
  /** A short reminder in the same thread if nothing comes back within so many working days; 0: none. */
  nudgeAfter: z.coerce.number().int().min(0).max(30).default(0),
  nudge: z.string().trim().max(5_000).default(""),
});

interface AnsweredReply {
  replyId: number;
  mailboxId: number;
  prospectId: number;
  answerTo: string;
  messageId: string;
  references: string;
  subject: string;
  zone: string | null;
}

const HOURS = { days: [1, 2, 3, 4, 5], opens: "08:30" };

/**
 * Puts a rep's answer into the ledger, in the thread and from the mailbox of the reply; the engine sends it at its next tick,
 * whatever the sending hours: a person is waiting. Or later, as the rep chose, and then with a nudge behind it.
 */
export function answerReply(app: App, user: Pick<User, "id" | "zone">, input: unknown): Outcome<null> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { replyId, text, key, when, date, time: at, attachments, linksFiles, nudgeAfter, nudge } = read.data;
  const { db, clock } = app;
  const no = mayNot(app, user.id, "reply.change", replyId);
  if (no) return no;
  const found = answerable(db, replyId);
  if ("error" in found) return refused({ form: found.error });
  const { reply, mailbox } = found;
  const links = linksFiles === "1" ? linesOfFiles(app, attachments, reply.prospectId) : "";
  if (links === null) return refused({ form: "A file is no longer here. Attach it again." });
  const now = clock.now();
  const dueAt =
    when === "now"
      ? null
      : when === "morning"
        ? nextMorning(now, reply.zone ?? user.zone)
        : date
          ? instantOn(date, at, user.zone)
          : null;
  if (when === "at" && date === undefined) return refused({ date: "Choose the day on which it goes." });
  if (dueAt !== null && dueAt < now - MINUTE) return refused({ date: "This is over. Choose a later time." });
  if (nudgeAfter > 0 && nudge === "")
    return refused({ nudge: "Write what the reminder says, or leave it out." });
  db.transaction(() => {
    const messageId = queueAnswer(db, {
      reply,
      mailbox,
      text: `${text}${links}`,
      key,
      dueAt,
      attachments: linksFiles === "1" ? [] : attachments,
      unlessReply: false,
      now,
    });
    if (messageId === null) return;
    if (nudgeAfter > 0)
      queueAnswer(db, {
        reply: { ...reply, references: `${reply.references} ${reply.messageId}`.trim(), messageId },
        mailbox,
        text: nudge,
        key: `${key}-nudge`,
        dueAt: workingMorning(dueAt ?? now, nudgeAfter, reply.zone ?? user.zone),
        attachments: [],
        unlessReply: true,
        now,
      });
    markRead(app, user.id, replyId, true);
    sql(db, "UPDATE replies SET answered_at = @now WHERE id = @replyId").run({
      replyId,
      now,
    });
    dropDraft(db, user.id, replyId);
  }).immediate();
  return done(null);
}

const comeBack = z.object({
  replyId: z.coerce.number().int(),
  date: daySchema,
  text: z.string().trim().min(1, "Write what you will say then.").max(20_000),
  nudgeAfter: z.coerce.number().int().min(0).max(30).default(5),
  nudge: z.string().trim().max(5_000).default(""),
  key: answerKey,
});

/** Writes again on the day that they asked for, with a nudge some days later: unless they write before. */
export function comeBackLater(app: App, user: Pick<User, "id" | "zone">, input: unknown): Outcome<null> {
  const read = comeBack.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { replyId, date, text, nudgeAfter, nudge, key } = read.data;
  const { db, clock } = app;
  const no = mayNot(app, user.id, "reply.change", replyId);
  if (no) return no;
  const found = answerable(db, replyId);
  if ("error" in found) return refused({ form: found.error });
  const { reply, mailbox } = found;
  const now = clock.now();
  const zone = reply.zone ?? user.zone;
  const dueAt = instantOn(date, "09:10", zone);
  if (dueAt <= now) return refused({ date: "Choose a day that lies ahead." });
  db.transaction(() => {
    const shared = { mailbox, attachments: [], unlessReply: true, now };
    const messageId = queueAnswer(db, { ...shared, reply, text, key, dueAt });
    if (messageId !== null && nudgeAfter > 0 && nudge !== "")
      queueAnswer(db, {
        ...shared,
        reply: { ...reply, references: `${reply.references} ${reply.messageId}`.trim(), messageId },
        text: nudge,
        key: `${key}-nudge`,
        dueAt: workingMorning(dueAt, nudgeAfter, zone),
      });
    markRead(app, user.id, replyId, true);
    sql(db, "UPDATE replies SET answered_at = @now WHERE id = @replyId").run({
      replyId,
      now,
    });
    // The letter itself comes back; nobody has to be reminded to write it.
    sql(
      db,
      `UPDATE reminders SET ended_at = @now, how = 'done' WHERE prospect_id = @prospectId AND kind = 'come_back' AND ended_at IS NULL`,
    ).run({ prospectId: reply.prospectId, now });
  }).immediate();
  return done(null);
}

/** Takes back an answer that has not gone yet. */
export function dropLater(app: App, by: By, touchId: number): Outcome<null> {
  const { db, clock } = app;
  const no = mayNot(app, by, "answer.drop", touchId);
  if (no) return no;
  const dropped = sql(
    db,
    "UPDATE touches SET state = 'skipped', ended_at = @now WHERE id = @touchId AND kind = 'answer' AND state = 'queued'",
  ).run({ touchId, now: clock.now() }).changes;
  return dropped === 1 ? done(null) : refused({ form: "It has left already." });
}

function answerable(db: Db, replyId: number): { reply: AnsweredReply; mailbox: Mailbox } | { error: string } {
  const reply = sql(
    db,
    `SELECT r.id AS replyId, r.mailbox_id AS mailboxId, r.prospect_id AS prospectId, r.answer_to AS answerTo, r.message_id AS messageId,
       r.thread_references AS "references", r.subject, p.time_zone AS zone
     FROM replies r JOIN prospects p ON p.id = r.prospect_id
     WHERE r.id = @replyId AND r.kind IN ('person', 'automatic', 'left') AND r.answer_to != ''`,
  ).get<AnsweredReply>({ replyId });
  const mailbox = reply && mailboxById(db, reply.mailboxId);
  if (!reply || !mailbox) return { error: "This reply cannot be answered." };
  if (isBlocked(db, reply.answerTo))
    return { error: `${reply.answerTo} is on the block list. Take it off there first, with the reason.` };
  return { reply, mailbox };
}

/** Returns its Message-ID, or null if it was queued already. */
function queueAnswer(
  db: Db,
  answer: {
    reply: AnsweredReply;
    mailbox: Mailbox;
    text: string;
    key: string;
    dueAt: number | null;
    attachments: readonly number[];
    unlessReply: boolean;
    now: number;
  },
): string | null {
  const { reply, mailbox, text, key, dueAt, attachments, unlessReply, now } = answer;
  const messageId = answerIdOf(key, mailbox.address);
  if (isInLedger(db, messageId)) return null;
  const id = enterTouch(db, {
    kind: "answer",
    journeyId: null,
    stepId: null,
    version: null,
    prospectId: reply.prospectId,
    mailboxId: reply.mailboxId,
    recipient: reply.answerTo,
    state: "queued",
    messageId,
    inReplyTo: reply.messageId,
    references: `${reply.references} ${reply.messageId}`.trim(),
    subject: /^re:/i.test(reply.subject) ? reply.subject : `Re: ${reply.subject}`,
    body: mailbox.signature.trim() === "" ? text : `${text}\n\n${mailbox.signature.trim()}`,
    markup: null,
    claimedAt: null,
    claimedWall: null,
    attachments: JSON.stringify(attachments),
    dueAt,
    unlessReply: unlessReply ? 1 : 0,
  });
  sql(db, "UPDATE touches SET at = @now WHERE id = @id").run({ id, now });
  return messageId;
}

/** Their next morning of a working day, or this one while it is early. */
function nextMorning(now: number, zone: string): number {
  const today = instantOn(dayOf(now, zone), HOURS.opens, zone);
  if (today > now && today - now < 8 * HOUR && HOURS.days.includes(weekdayOf(now, zone))) return today;
  return workingMorning(now, 1, zone);
}

const workingMorning = (from: number, days: number, zone: string) =>
  instantOnDay(workingDayNumberAfter(from, days, HOURS.days, zone), minutesOf(HOURS.opens), zone);
