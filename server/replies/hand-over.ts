/** Hands a conversation over to a teammate or a seller, with the story so far. */

import { randomUUID } from "node:crypto";
import { z } from "zod";
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App } from "../app.ts";
import { recordEvent } from "../db/events.ts";
import { mailboxById } from "../db/mailboxes.ts";
import { sql, transact } from "../db/open.ts";
import { fullName, prospectById } from "../db/prospects.ts";
import { addReminder } from "../db/reminders.ts";
import { queueServiceMail } from "../db/service-mails.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { conversation } from "./conversation.ts";

const form = z.object({
  replyId: z.coerce.number().int(),
  /** A teammate's number, or an address of somebody without an account here. */
  to: z.union([
    z.coerce.number().int().positive(),
    z.email("Choose a teammate, or type the address of a seller.").max(254),
  ]),
  note: z.string().trim().max(2_000).default(""),
});

/** A teammate becomes the owner and finds it on Today; anybody else gets the story by mail. Returns to whom it went. */
export function handOver(app: App, user: User, input: unknown): Outcome<string> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { replyId, to, note } = read.data;
  const no = mayNot(app, user.id, "reply.change", replyId);
  if (no) return no;
  const { db, clock } = app;
  const now = clock.now();
  return transact(app, (): Outcome<string> => {
    const reply = sql(
      db,
      "SELECT prospect_id AS prospectId, mailbox_id AS mailboxId FROM replies WHERE id = @replyId AND prospect_id IS NOT NULL",
    ).get<{ prospectId: number; mailboxId: number }>({ replyId });
    const prospect = reply && prospectById(db, reply.prospectId);
    if (!reply || !prospect) return refused({ form: "This conversation is no longer here." });
    const mate =
      typeof to === "number"
        ? sql(db, "SELECT id, name, email FROM users WHERE id = @to AND removed_at IS NULL").get<{
            id: number;
            name: string;
            email: string;
          }>({ to })
        : null;
    if (typeof to === "number" && !mate) return refused({ to: "This teammate is no longer here." });
    const notTheirs = mate && mayNot(app, user.id, "prospect.change", prospect.id);
    if (notTheirs) return notTheirs;
    if (mate) {
      sql(db, "UPDATE prospects SET owner_id = @owner WHERE id = @id").run({
        owner: mate.id,
        id: prospect.id,
      });
      addReminder(db, {
        prospectId: prospect.id,
        replyId,
        userId: mate.id,
        kind: "errand",
        text:
          note === "" ? `${user.name} handed ${fullName(prospect)} over to you.` : `${user.name}: ${note}`,
        at: now,
        day: null,
      });
    }
    const mailbox = mailboxById(db, reply.mailboxId);
    if (!mate && mailbox)
      queueServiceMail(db, {
        kind: "hand_over",
        mailboxId: mailbox.id,
        recipient: String(to),
        recipientName: "",
        subject: `${fullName(prospect)}${prospect.company ? `, ${prospect.company}` : ""}: handed over by ${user.name}`,
        body: storyText(app, prospect.id, fullName(prospect), note),
        prospectId: prospect.id,
        meetingId: null,
        messageId: `<hand.${randomUUID()}@${mailbox.address.split("@")[1]}>`,
        dueAt: now,
      });
    sql(
      db,
      "UPDATE replies SET answered_at = @now, read_at = coalesce(read_at, @now) WHERE id = @replyId",
    ).run({ replyId, now });
    const whom = mate?.name ?? String(to);
    recordEvent(db, {
      at: now,
      kind: "handed_over",
      prospectId: prospect.id,
      replyId,
      userId: user.id,
      detail: whom,
    });
    return done(whom);
  });
}

/** Who they are and everything written so far, the newest first. */
function storyText(app: App, prospectId: number, name: string, note: string): string {
  const person = prospectById(app.db, prospectId);
  const about = [
    name,
    [person?.title, person?.company].filter(Boolean).join(", "),
    [person?.email, person?.phone].filter(Boolean).join(" · "),
    [person?.city, person?.country].filter(Boolean).join(", "),
  ].filter(Boolean);
  const letters = conversation(app, prospectId)
    .filter(({ state }) => state === null || state === "sent")
    .toReversed()
    .map(
      ({ who, at, text }) =>
        `— ${who}, ${new Date(at).toISOString().slice(0, 16).replace("T", " ")} UTC\n${text}`,
    );
  return [note, about.join("\n"), ...letters].filter(Boolean).join("\n\n");
}
