/** One step as one prospect gets it: an email's subject and body with signature and opt-out line, or what a task says. */
import { type EmailStep, type Path, type RepStep, threadSubject } from "../../core/sequence/path.ts";
import { variantOf } from "../../core/sequence/variant-of.ts";
import { fieldsIn, renderMarkup, renderMerge, unprotected } from "../../core/writing/merge.ts";
import type { App } from "../app.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import { pageOf, templateOfSequence } from "../db/pages.ts";
import { type Prospect, prospectValues, unreadFields } from "../db/prospects.ts";
import { drawnAt } from "../db/wording-shares.ts";
import { bookingLink, optOutLink } from "../mail/compose.ts";
import { linesOfFiles } from "../mail/file-links.ts";
import { pageFields, pageLink } from "../mail/page-links.ts";

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
      /** Its moving picture is being made: that takes a moment, and nothing is wrong. */
      isBeingDrawn?: true;
    };

/** Why somebody waits whose text was not filled in. */
export const lackOf = (
  rendered: Exclude<RenderedStep, { ok: true }>,
): { reason: "merge_field_empty" | "line_unread" | "picture_unmade" | "text_broken"; detail: string } => {
  if (rendered.emptyField !== null) return { reason: "merge_field_empty", detail: rendered.emptyField };
  if (rendered.unreadField !== undefined) return { reason: "line_unread", detail: rendered.unreadField };
  return { reason: rendered.isBeingDrawn ? "picture_unmade" : "text_broken", detail: rendered.error };
};

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

/** The page that a stored sequence writes with, while it is there. */
export const sequencePage = ({ db }: App, sequenceId: number | null): number | null =>
  sequenceId === null ? null : templateOfSequence(db, sequenceId);

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
    /** The page that it writes with, where that is not saved yet. */
    pageId?: number | null;
    variantId?: string | null;
    /** It leaves with nobody looking at it: a line that the assistant wrote must have been read before. */
    mustBeRead?: boolean;
    /** It is about to leave: what it shows must be there. */
    leaves?: boolean;
    /** For a look at it: its links act on nobody. */
    isTest?: boolean;
  },
): RenderedStep {
  const { path, step, prospect, mailbox } = about;
  const templateId = about.pageId === undefined ? sequencePage(app, about.sequenceId ?? null) : about.pageId;
  const { values, links } = about.isTest
    ? testValues(app, valuesFor(app, prospect, mailbox, templateId), prospect, templateId)
    : valuesFor(app, prospect, mailbox, templateId);
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
  const undrawn =
    about.leaves && templateId !== null && fieldsIn(written.body).includes("page_picture")
      ? notDrawn(app.db, templateId, prospect.id, drawn.id)
      : null;
  if (undrawn) return undrawn;
  const subject = renderMerge(threadSubject(path, step.id, written), values);
  if (!subject.ok) return failed(subject);
  const markup = renderMarkup(written.body, values, links);
  if (!markup.ok) return failed(markup);
  const footer = written.body.includes("opt_out_link")
    ? ""
    : `\n\nNot for you? Tell me here and I will not write again: ${values.opt_out_link}`;
  const signature = mailbox.signature.trim() === "" ? "" : `\n\n${mailbox.signature.trim()}`;
  const files = linksTo(app, step, prospect.id, about.isTest);
  if (files === null)
    return {
      ...{ ok: false, variantId: drawn.id, emptyField: null },
      error: "A file that it links to is no longer here. Put it in again.",
    };
  return {
    ok: true,
    variantId: drawn.id,
    isOwn: own !== null,
    subject: subject.text.replace(/\s+/g, " ").trim(),
    body: `${unprotected(`${markup.text.trim()}${files}`)}${signature}${footer}`,
    markup: `${markup.text.trim()}${files}${signature}${footer}`,
  };
}

/** The links to its files that stand below its text, for one person; null where a file is gone. */
const linksTo = (
  app: App,
  { linksFiles, attachments }: EmailStep,
  prospectId: number,
  isTest = false,
): string | null =>
  linksFiles ? linesOfFiles(app, attachments, prospectId, isTest ? "look" : "theirs") : "";

/** Null where its moving picture is made. */
function notDrawn(
  db: Db,
  templateId: number,
  prospectId: number,
  variantId: string | null,
): RenderedStep | null {
  const page = pageOf(db, templateId, prospectId);
  if (page?.isDrawn) return null;
  return page?.pictureProblem
    ? {
        ok: false,
        variantId,
        emptyField: null,
        error: `Their moving picture could not be made: ${page.pictureProblem}`,
      }
    : {
        ok: false,
        variantId,
        emptyField: null,
        error: "Their moving picture is being made.",
        isBeingDrawn: true,
      };
}

interface Values {
  values: Record<string, string>;
  /** What of them stays a link where values are text. */
  links: string[];
}

const withLinks = (values: Record<string, string>): Values => ({
  values,
  links: [values.booking_link, values.opt_out_link, values.page_link, values.page_picture].filter(
    (link): link is string => link !== undefined && link !== "",
  ),
});

/** The booking page as a stranger finds it, an opt-out that is nobody's, a page on which nothing is noted. */
const testValues = (
  app: App,
  { values }: Values,
  { id, firstName }: Prospect,
  templateId: number | null,
): Values =>
  withLinks({
    ...values,
    ...pageFields(app, templateId, { id, firstName, sender: values.sender_first_name ?? "" }, "look"),
    booking_link: (values.booking_link ?? "").replace(/\?p=.*$/, ""),
    opt_out_link: `${app.config.url}/opt-out/test`,
  });

/** A picture's value is a path of ours, which others reach by its whole address. */
const withAddresses = ({ config }: App, values: Readonly<Record<string, string>>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(values).map(([field, value]) => [
      field,
      value.startsWith("/pictures/") ? `${config.url}${value}` : value,
    ]),
  );

/** The values of the last prospect: several steps of one are rendered after each other. */
let last: { app: App; prospect: Prospect; mailbox: Sender; templateId: number | null; made: Values } | null =
  null;

function valuesFor(app: App, prospect: Prospect, mailbox: Sender, templateId: number | null): Values {
  if (
    last?.app === app &&
    last.prospect === prospect &&
    last.mailbox === mailbox &&
    last.templateId === templateId
  )
    return last.made;
  const senderFirstName = mailbox.senderName.split(" ")[0] ?? "";
  const made = withLinks({
    ...withAddresses(app, prospectValues(prospect)),
    sender_name: mailbox.senderName,
    sender_first_name: senderFirstName,
    booking_link: bookingLink(app, slugOf(app, mailbox.userId), prospect.id),
    opt_out_link: optOutLink(app, prospect.id),
    ...pageFields(app, templateId, {
      id: prospect.id,
      firstName: prospect.firstName,
      sender: senderFirstName,
    }),
  });
  last = { app, prospect, mailbox, templateId, made };
  return made;
}

/** What a task says for one prospect, with the fields of the user who makes it. */
export function textFor(
  app: App,
  step: RepStep,
  prospect: Prospect,
  userId: number,
  pageId: number | null,
): RenderedStep {
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
    page_link: pageId === null ? "" : pageLink(app, pageId, prospect.id),
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
