/** From a message's source to what the engine decides on. Runs where a hostile message can be given up (read-message.ts). */

import EmailReplyParser from "email-reply-parser";
import { simpleParser } from "mailparser";
import { type InvitationAnswer, invitationAnswer } from "../../core/meetings/calendar-events.ts";
import { plainFileName, plainLine } from "../../core/plain-line.ts";
import { type IncomingKind, sortIncoming } from "../../core/replies/incoming.ts";
import { splitQuoted } from "../../core/replies/quoted.ts";
import { textOfHtml } from "./html-text.ts";

export interface ParsedMessage {
  messageId: string;
  /** Message-IDs of In-Reply-To and References, the nearest first. */
  answers: string[];
  references: string;
  fromAddress: string;
  fromName: string;
  /** Where an answer goes: Reply-To, else From (RFC 5322 3.6.2). */
  answerTo: string;
  subject: string;
  /** What they wrote, without what they quote; "" if that is all there is. */
  text: string;
  /** What they quote; where their words stand in between, with these. */
  quoted: string;
  kind: IncomingKind;
  /** Names of what is attached. */
  attached: string[];
  /** What it answers to an invitation, if it is such an answer. */
  invitation: InvitationAnswer | null;
  /** The Message-ID of the email that a report returns. */
  returnedId: string | null;
  /** Our touch's number, from the envelope that a report is about (RFC 3461 4.4). */
  envelopeTouchId: number | null;
  at: number;
}

/** More of a text nobody reads, and nothing that decides stands there. */
const MOST_CHARACTERS = 200_000;
/** The reply parser is quadratic in blank and in long lines; it gets what people write by hand. */
const BY_HAND = 20_000;
const LONGEST_LINE = 1_000;
const MOST_IDS = 50;
const MOST_ATTACHED = 20;

export async function parseMessage(source: Buffer, arrivedAt: number): Promise<ParsedMessage> {
  const mail = await simpleParser(source, {
    keepDeliveryStatus: true,
    skipImageLinks: true,
    maxHtmlLengthToParse: MOST_CHARACTERS,
  });
  const references = [mail.references ?? []].flat().slice(-MOST_IDS);
  const headers = new Map(
    mail.headerLines.map(({ key, line }) => [key.toLowerCase(), line.slice(line.indexOf(":") + 1).trim()]),
  );
  const part = (type: RegExp) => {
    const found = mail.attachments.find(({ contentType }) => type.test(contentType));
    return found ? found.content.subarray(0, MOST_CHARACTERS).toString("utf8") : null;
  };
  const deliveryStatus = part(/^message\/(global-)?delivery-status/);
  const feedback = part(/^message\/feedback-report/);
  const returned = part(/^(message\/(global|rfc822)|text\/rfc822-headers)/);
  // HTML that is too long or too deep for the parser's own reading leaves the text empty.
  const body = (mail.text || textOfHtml(mail.html || "", MOST_CHARACTERS))
    .slice(0, MOST_CHARACTERS)
    .replace(/\r\n/g, "\n")
    .replace(/\n[ \t\u00a0]*(?=\n[ \t\u00a0]*\n)/g, "")
    .trim();
  const written = writtenText(body);
  const from = mail.from?.value[0];
  const fromAddress = (from?.address ?? "").toLowerCase();
  const text = written || (isQuotation(body) ? "" : body);
  const subject = (mail.subject ?? "").slice(0, 1_000);
  // A report for people only has the email, or its header, as a part of its text.
  const returnedId = messageIdIn(returned ?? body);
  return {
    messageId: mail.messageId ?? `<${mail.date?.getTime() ?? arrivedAt}.${from?.address}>`,
    answers: [...new Set([mail.inReplyTo, ...references.toReversed()].filter((id) => id !== undefined))],
    references: references.join(" "),
    fromAddress,
    fromName: plainLine(from?.name ?? "", 200),
    answerTo: mail.replyTo?.value[0]?.address?.toLowerCase() || fromAddress,
    subject,
    text,
    // Answers that stand between what they answer are shown with the whole of it.
    quoted: (body.startsWith(text) ? body.slice(text.length) : body).trim(),
    kind: sortIncoming({
      headers,
      fromAddress,
      subject,
      text,
      deliveryStatus,
      feedback,
      disposition: part(/^message\/disposition-notification/),
    }),
    attached: mail.attachments
      .filter(({ contentType }) => !/^(message|text\/(rfc822-headers|calendar))/.test(contentType))
      .slice(0, MOST_ATTACHED)
      .map(({ filename, contentType }) => (filename ? plainFileName(filename, 200) : contentType)),
    invitation: invitationAnswer(part(/^(text|application)\/(calendar|ics)/) ?? ""),
    returnedId,
    envelopeTouchId: envelopeTouchId(deliveryStatus ?? feedback ?? ""),
    at: arrivedAt,
  };
}

/** Nothing of their own stands in it. */
const isQuotation = (body: string) => body.split("\n").every((line) => /^\s*(>|$)/.test(line));

function writtenText(body: string): string {
  const isByHand = body.length <= BY_HAND && !body.split("\n").some((line) => line.length > LONGEST_LINE);
  return isByHand ? new EmailReplyParser().read(body).getVisibleText().trim() : splitQuoted(body).written;
}

/** The first Message-ID field in a text, quoted or not. */
function messageIdIn(text: string): string | null {
  for (const line of text.split("\n")) {
    const field = line.replace(/^[> \t]+/, "");
    if (/^message-id:/i.test(field)) return field.match(/<[^<>\s]{1,250}>/)?.[0] ?? null;
  }
  return null;
}

function envelopeTouchId(status: string): number | null {
  const line = status.split("\n").find((each) => /^original-envelope-id:/i.test(each));
  const id = line
    ?.slice(line.indexOf(":") + 1)
    .trim()
    .match(/^t(\d{1,15})$/)?.[1];
  return id === undefined ? null : Number(id);
}
