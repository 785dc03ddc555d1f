/** One email step as one prospect gets it: subject and body, signature and opt-out line. */
import { type Step, threadSubject } from "../../core/sequence/steps.ts";
import { fieldsIn, renderMarkup, renderMerge } from "../../core/writing/merge.ts";
import type { App } from "../app.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { type Prospect, prospectValues } from "../db/prospects.ts";
import type { Sequence } from "../db/sequences.ts";
import { bookingLink, optOutLink } from "../mail/compose.ts";

export type RenderedStep =
  | {
      ok: true;
      subject: string;
      body: string;
      /** The body as Markdown in which merged values are protected. */
      markup: string;
    }
  | { ok: false; emptyField: string }
  | { ok: false; emptyField: null; error: string };

type Sender = Pick<Mailbox, "senderName" | "signature" | "userId">;

/** Renders with the sender's fields of the mailbox. The opt-out line is added unless the text has a link of its own. */
export function renderStep(
  app: App,
  {
    sequence,
    step,
    prospect,
    mailbox,
  }: { sequence: Pick<Sequence, "steps">; step: Step; prospect: Prospect; mailbox: Sender },
): RenderedStep {
  const optOut = optOutLink(app, prospect.id);
  const booking = bookingLink(app, slugOf(app, mailbox.userId), prospect.id);
  const values = {
    ...prospectValues(prospect),
    sender_name: mailbox.senderName,
    sender_first_name: mailbox.senderName.split(" ")[0] ?? "",
    booking_link: booking,
    opt_out_link: optOut,
  };
  const index = sequence.steps.findIndex(({ id }) => id === step.id);
  const subject = renderMerge(threadSubject(sequence.steps, index), values);
  if (!subject.ok) return subject;
  const body = renderMerge(step.body, values);
  if (!body.ok) return body;
  const markup = renderMarkup(step.body, values, [booking, optOut]);
  if (!markup.ok) return markup;
  const footer = fieldsIn(step.body).includes("opt_out_link")
    ? ""
    : `\n\nNot for you? Tell me here and I will not write again: ${optOut}`;
  const signature = mailbox.signature.trim() === "" ? "" : `\n\n${mailbox.signature.trim()}`;
  return {
    ok: true,
    subject: subject.text.replace(/\s+/g, " ").trim(),
    body: `${body.text.trim()}${signature}${footer}`,
    markup: `${markup.text.trim()}${signature}${footer}`,
  };
}

function slugOf({ db }: App, userId: number): string {
  return (
    sql<{ userId: number }, { slug: string }>(
      db,
      "SELECT booking_slug AS slug FROM users WHERE id = @userId",
    ).get({
      userId,
    })?.slug ?? ""
  );
}
