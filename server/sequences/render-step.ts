/** One step as one prospect gets it: an email's subject and body with signature and opt-out line, or what a task says. */
import { type EmailStep, type Path, type RepStep, threadSubject } from "../../core/sequence/path.ts";
import { variantOf } from "../../core/sequence/variant-of.ts";
import { fieldsIn, renderMarkup, renderMerge, unprotected } from "../../core/writing/merge.ts";
import type { App } from "../app.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import { type Prospect, prospectValues, unreadFields } from "../db/prospects.ts";
import { drawnAt } from "../db/wording-shares.ts";
import { bookingLink, optOutLink } from "../mail/compose.ts";

export type RenderedStep =
  | {
      ok: true;
      variantId: string | null;
      /** Written by hand for this prospect. */
      isOwn: boolean;
      subject: string;
      body: string;
      /** The body as Markdown in which merged values are protected. */
      markup: string;
    }
  | { ok: false; variantId: string | null; emptyField: string }
  | {
      ok: false;
      variantId: string | null;
      emptyField: null;
      error: string;
      /** The field that holds what the assistant wrote and nobody has read, where that is what is wrong. */
      unreadField?: string;
    };

/** Why somebody waits whose text was not filled in. */
export const lackOf = (
  rendered: Exclude<RenderedStep, { ok: true }>,
): { reason: "merge_field_empty" | "line_unread" | "text_broken"; detail: string } =>
  rendered.emptyField !== null
    ? { reason: "merge_field_empty", detail: rendered.emptyField }
    : rendered.unreadField !== undefined
      ? { reason: "line_unread", detail: rendered.unreadField }
      : { reason: "text_broken", detail: rendered.error };

/** The first field of some texts that holds what the assistant wrote to somebody and nobody has read; null for none. */
export function unreadIn(
  texts: readonly string[],
  prospect: Pick<Prospect, "custom" | "unread">,
): string | null {
  const unread = unreadFields(prospect);
  return unread.length === 0
    ? null
    : (unread.find((field) => texts.some((text) => fieldsIn(text).includes(field))) ?? null);
}

/** Said of such a text instead of what it says. */
export const notRead = (field: string, variantId: string | null): RenderedStep => ({
  ...{ ok: false, variantId, emptyField: null, unreadField: field },
  error: `The ${field.replaceAll("_", " ")} was written by the assistant, and nobody has read it yet.`,
});

type Sender = Pick<Mailbox, "senderName" | "signature" | "userId">;

/**
 * Renders with the sender's fields of the mailbox. The wording is the one that this prospect draws, unless one is
 * asked for. The opt-out line is added unless the text has a link of its own.
 */
export function renderStep(
  app: App,
  about: {
    path: Path;
    step: EmailStep;
    prospect: Prospect;
    mailbox: Sender;
    sequenceId?: number | null;
    variantId?: string | null;
    /** It leaves with nobody looking at it: a line that the assistant wrote must have been read before. */
    mustBeRead?: boolean;
    /** For a look at it: its links act on nobody. */
    isTest?: boolean;
  },
): RenderedStep {
  const { path, step, prospect, mailbox } = about;
  const { values, booking, optOut } = about.isTest
    ? testValues(app, valuesFor(app, prospect, mailbox))
    : valuesFor(app, prospect, mailbox);
  const drawn =
    step.variants.find(({ id }) => id === about.variantId) ??
    variantOf(step.id, drawnAt(app.db, about.sequenceId, step, app.clock.now()).variants, prospect.id);
  const own = about.sequenceId ? ownText(app, about.sequenceId, step.id, prospect.id) : null;
  const written = own ?? drawn;
  const failed = (rendered: Exclude<ReturnType<typeof renderMerge>, { ok: true }>): RenderedStep => ({
    ...rendered,
    variantId: drawn.id,
  });
  const unread = about.mustBeRead ? unreadIn([written.subject, written.body], prospect) : null;
  if (unread !== null) return notRead(unread, drawn.id);
  const subject = renderMerge(threadSubject(path, step.id, written), values);
  if (!subject.ok) return failed(subject);
  const markup = renderMarkup(written.body, values, [booking, optOut]);
  if (!markup.ok) return failed(markup);
  const footer = written.body.includes("opt_out_link")
    ? ""
    : `\n\nNot for you? Tell me here and I will not write again: ${optOut}`;
  const signature = mailbox.signature.trim() === "" ? "" : `\n\n${mailbox.signature.trim()}`;
  return {
    ok: true,
    variantId: drawn.id,
    isOwn: own !== null,
    subject: subject.text.replace(/\s+/g, " ").trim(),
    body: `${unprotected(markup.text.trim())}${signature}${footer}`,
    markup: `${markup.text.trim()}${signature}${footer}`,
  };
}

interface Values {
  values: Record<string, string>;
  booking: string;
  optOut: string;
}

/** The booking page as a stranger finds it, and an opt-out that is nobody's. */
function testValues({ config }: App, { values, booking }: Values): Values {
  const neutral = { booking: booking.replace(/\?p=.*$/, ""), optOut: `${config.url}/opt-out/test` };
  return {
    ...neutral,
    values: { ...values, booking_link: neutral.booking, opt_out_link: neutral.optOut },
  };
}

/** A picture's value is a path of ours, which others reach by its whole address. */
const withAddresses = ({ config }: App, values: Readonly<Record<string, string>>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(values).map(([field, value]) => [
      field,
      value.startsWith("/pictures/") ? `${config.url}${value}` : value,
    ]),
  );

/** The values of the last prospect: several steps of one are rendered after each other. */
let last: { app: App; prospect: Prospect; mailbox: Sender; made: Values } | null = null;

function valuesFor(app: App, prospect: Prospect, mailbox: Sender): Values {
  if (last?.app === app && last.prospect === prospect && last.mailbox === mailbox) return last.made;
  const optOut = optOutLink(app, prospect.id);
  const booking = bookingLink(app, slugOf(app, mailbox.userId), prospect.id);
  const values = {
    ...withAddresses(app, prospectValues(prospect)),
    sender_name: mailbox.senderName,
    sender_first_name: mailbox.senderName.split(" ")[0] ?? "",
    booking_link: booking,
    opt_out_link: optOut,
  };
  last = { app, prospect, mailbox, made: { values, booking, optOut } };
  return last.made;
}

/** What a task says for one prospect, with the fields of the user who makes it. */
export function textFor(app: App, step: RepStep, prospect: Prospect, userId: number): RenderedStep {
  const sender = sql(app.db, "SELECT name, booking_slug AS slug FROM users WHERE id = @userId").get<{
    name: string;
    slug: string;
  }>({ userId });
  const text = renderMerge(step.text, {
    ...withAddresses(app, prospectValues(prospect)),
    sender_name: sender?.name ?? "",
    sender_first_name: sender?.name.split(" ")[0] ?? "",
    booking_link: bookingLink(app, sender?.slug ?? "", prospect.id),
    opt_out_link: optOutLink(app, prospect.id),
  });
  return text.ok
    ? {
        ok: true,
        variantId: null,
        isOwn: false,
        subject: "",
        body: text.text.trim(),
        markup: text.text.trim(),
      }
    : { ...text, variantId: null };
}

/** An email that was written by hand for one prospect, or null. */
function ownText({ db }: App, sequenceId: number, stepId: string, prospectId: number) {
  return (
    sql(
      db,
      `SELECT subject, body FROM own_texts
       WHERE sequence_id = @sequenceId AND step_id = @stepId AND prospect_id = @prospectId`,
    ).get<{ subject: string; body: string }>({ sequenceId, stepId, prospectId }) ?? null
  );
}

function slugOf({ db }: App, userId: number): string {
  return (
    sql(db, "SELECT booking_slug AS slug FROM users WHERE id = @userId").get<{ slug: string }>({
      userId,
    })?.slug ?? ""
  );
}
