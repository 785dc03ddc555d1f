/** From a ledger row to an RFC 5322 message. The same row gives the same message, also after a crash. */
import type { SendMailOptions } from "nodemailer";
import { formatEmail } from "../../core/writing/format.ts";
import type { App } from "../app.ts";
import type { Touch } from "../db/ledger.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { signLink } from "../secrets.ts";

export function composeEmail(
  app: App,
  touch: Touch,
  mailbox: Mailbox,
  /** "" if only the address is known. */
  toName: string,
  tracks: boolean,
): SendMailOptions {
  const { key, config } = app;
  const follow = tracks && touch.kind === "step";
  const { text, html } = formatEmail(
    touch.body,
    follow
      ? {
          linkFor: (url) => `${config.url}/t/c/${signLink("click", `${touch.id} ${url}`, key)}`,
          pixel: `${config.url}/t/o/${signLink("open", String(touch.id), key)}.gif`,
        }
      : null,
  );
  return {
    from: { name: mailbox.senderName, address: mailbox.address },
    to: { name: toName, address: touch.recipient },
    subject: touch.subject,
    text,
    ...(html === null ? {} : { html }),
    messageId: touch.messageId,
    ...(touch.inReplyTo ? { inReplyTo: touch.inReplyTo, references: touch.references } : {}),
    date: new Date(touch.claimedAt ?? app.clock.now()),
    ...(touch.kind === "step"
      ? {
          headers: {
            // RFC 2369 and, for one click, RFC 8058.
            "List-Unsubscribe": `<${optOutLink(app, touch.prospectId)}>`,
            "List-Unsubscribe-Post": "List-Unsubscribe=One-Click",
          },
        }
      : {}),
  };
}

export function optOutLink({ key, config }: App, prospectId: number): string {
  return `${config.url}/opt-out/${signLink("opt-out", String(prospectId), key)}`;
}

export function bookingLink({ key, config }: App, slug: string, prospectId: number): string {
  return `${config.url}/book/${slug}?p=${signLink("booking", String(prospectId), key)}`;
}
