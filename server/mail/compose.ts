/** From a ledger row to an RFC 5322 message. The same row gives the same message, also after a crash. */

import MailComposer from "nodemailer/lib/mail-composer";
import { formatEmail } from "../../core/writing/format.ts";
import type { App } from "../app.ts";
import { numbersIn } from "../db/json.ts";
import type { Touch } from "../db/ledger.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { signLink } from "../secrets.ts";
import { filesWithoutActing } from "./file-links.ts";
import { fileById } from "./files.ts";
import { readMedia } from "./media.ts";
import { movingPictureOf, withoutActing } from "./page-links.ts";

export interface ComposedEmail {
  touchId: number;
  envelope: { from: string; to: string[] };
  /** The message as it goes over the wire, for the server and for the Sent folder alike. */
  raw: Buffer;
  /**
   * What goes to those who get a copy: the same without links that act for the prospect, so that nobody else's click, booking or
   * opt-out is theirs. Null where nobody does.
   */
  copies?: Pick<ComposedEmail, "envelope" | "raw"> | null;
}

export interface EmailOptions {
  /** "" if only the address is known. */
  toName: string;
  /** Whether opens and clicks are to be seen. */
  tracksOpens: boolean;
  tracksClicks: boolean;
  /** Which emails carry the opt-out headers. */
  optOutHeader: "follow_ups" | "always";
  /** To whom everything goes as a blind copy. */
  copyTo?: readonly string[];
  /** For others than the prospect: nothing in it acts for them. */
  isCopy?: boolean;
}

export async function composeEmail(
  app: App,
  touch: Touch,
  mailbox: Mailbox,
  options: EmailOptions,
): Promise<ComposedEmail> {
  const always = touch.kind === "test" ? [] : (options.copyTo ?? []).filter((each) => each !== "");
  const others = [...new Set([...listed(touch.cc), ...listed(touch.bcc), ...always])];
  const from = mailbox.address;
  return {
    touchId: touch.id,
    envelope: { from, to: [touch.recipient] },
    raw: await build(app, touch, mailbox, options),
    copies:
      others.length === 0
        ? null
        : {
            envelope: { from, to: others },
            raw: await build(
              app,
              { ...touch, body: neutral(app, touch, touch.body), markup: neutral(app, touch, touch.markup) },
              mailbox,
              { ...options, tracksOpens: false, tracksClicks: false, isCopy: true },
            ),
          },
  };
}

/** Without what acts for the prospect: the opt-out leads nowhere, the booking page knows nobody, their page notes nothing. */
function neutral<Text extends string | null>(app: App, { prospectId }: Touch, text: Text): Text {
  const { url } = app.config;
  if (text === null) return text;
  return filesWithoutActing(app, withoutActing(app, text))
    .replaceAll(optOutLink(app, prospectId), `${url}/opt-out/copy`)
    .replaceAll(`?p=${signLink("booking", String(prospectId), app.key)}`, "") as Text;
}

async function build(
  app: App,
  touch: Touch,
  mailbox: Mailbox,
  { toName, tracksOpens, tracksClicks, optOutHeader, isCopy = false }: EmailOptions,
): Promise<Buffer> {
  const { key, config } = app;
  /** Moving pictures that travel with it: their files, by their pages. */
  const inside = new Map<string, string>();
  const isSeen = (tracksOpens || tracksClicks) && touch.journeyId !== null;
  const formatted = formatEmail(
    touch.body,
    isSeen && touch.format === "formatted"
      ? {
          linkFor: tracksClicks
            ? (url) =>
                // Nobody's opt-out has to be followed somewhere first.
                url.startsWith(`${config.url}/opt-out/`)
                  ? url
                  : `${config.url}/t/c/${signLink("click", `${touch.id} ${url}`, key)}`
            : null,
          pixel: tracksOpens ? `${config.url}/t/o/${signLink("open", String(touch.id), key)}.gif` : null,
        }
      : null,
    touch.markup ?? touch.body,
    (id) => `cid:${pictureId(id)}`,
    (page) => {
      const picture = movingPictureOf(app, page);
      if (picture?.file && picture.isInside) {
        inside.set(page, picture.file);
        return `cid:${movingId(picture.file)}`;
      }
      return `${config.url}/for/${page}/picture.gif`;
    },
  );
  const { text, html } = touch.format === "plain" ? { text: formatted.text, html: null } : formatted;
  const composer = new MailComposer({
    from: { name: mailbox.senderName, address: mailbox.address },
    to: { name: toName, address: touch.recipient },
    ...(touch.cc === "" ? {} : { cc: listed(touch.cc) }),
    ...(mailbox.replyTo === "" ? {} : { replyTo: mailbox.replyTo }),
    subject: touch.subject,
    text,
    ...(html === null ? {} : { html }),
    attachments: [
      ...filesOf(app, html, touch.attachments),
      ...movingOf(app, html === null ? [] : inside.values()),
    ],
    messageId: touch.messageId,
    ...(touch.inReplyTo ? { inReplyTo: touch.inReplyTo, references: touch.references } : {}),
    date: new Date(touch.claimedAt ?? app.clock.now()),
    ...(hasOptOut(touch, optOutHeader, isCopy)
      ? {
          headers: {
            // RFC 2369: over the web, and by a mail that any mailbox can send; RFC 8058 for one click.
            "List-Unsubscribe": {
              // Folded by hand, behind the comma: some programs read no further than a line that begins empty.
              prepared: true,
              value:
                touch.kind === "test"
                  ? `<${config.url}/opt-out/test>,\r\n <mailto:${mailbox.address}?subject=test>`
                  : `<${optOutLink(app, touch.prospectId)}>,\r\n <${optOutMail(app, mailbox.address, touch.prospectId)}>`,
            },
            "List-Unsubscribe-Post": "List-Unsubscribe=One-Click",
          },
        }
      : {}),
    disableFileAccess: true,
    disableUrlAccess: true,
  });
  return composer.compile().build();
}

/** A test goes out as the email would: with the headers that it has, but links that act on nobody. */
const hasOptOut = (touch: Touch, when: EmailOptions["optOutHeader"], isCopy: boolean): boolean =>
  !isCopy &&
  (touch.kind === "test" || touch.journeyId !== null) &&
  (when === "always" || touch.inReplyTo !== null);

const pictureId = (fileId: number): string => `picture-${fileId}@saudade`;

/** The pictures that the HTML shows, inside it, and the attachments behind it. Throws where one is gone: without it the email is another. */
function filesOf({ db }: App, html: string | null, attachments: string) {
  const pictures = [
    ...new Set([...(html ?? "").matchAll(/cid:picture-(\d+)@/g)].map(([, id]) => Number(id))),
  ];
  const file = (id: number) => {
    const kept = fileById(db, id);
    if (!kept) throw new Error("a file that it carries is no longer here. Put it in again.");
    const { name, bytes, type } = kept;
    return { filename: name, content: bytes, contentType: type };
  };
  return [
    ...pictures.map((id) => ({ ...file(id), cid: pictureId(id), contentDisposition: "inline" as const })),
    ...numbersIn(attachments).map(file),
  ];
}

const movingId = (file: string): string => `${file}@saudade`;

const movingOf = (app: App, files: Iterable<string>) =>
  [...new Set(files)].map((file) => ({
    ...{ filename: "film.gif", content: readMedia(app, file), contentType: "image/gif" },
    ...{ cid: movingId(file), contentDisposition: "inline" as const },
  }));

const listed = (addresses: string): string[] => addresses.split(/[\s,;]+/).filter(Boolean);

export function optOutLink({ key, config }: App, prospectId: number): string {
  return `${config.url}/opt-out/${signLink("opt-out", String(prospectId), key)}`;
}

/** The subject by which an opt-out by mail is known; what follows is signed like the link. */
export const OPT_OUT_SUBJECT = "unsubscribe";

function optOutMail({ key }: App, address: string, prospectId: number): string {
  const subject = `${OPT_OUT_SUBJECT} ${signLink("opt-out", String(prospectId), key)}`;
  return `mailto:${address}?subject=${encodeURIComponent(subject)}`;
}

export function bookingLink({ key, config }: App, slug: string, prospectId: number): string {
  return `${config.url}/book/${slug}?p=${signLink("booking", String(prospectId), key)}`;
}
