/** From a message's source to what the engine decides on. Runs where a hostile message can be given up (read-message.ts). */

import { simpleParser } from "mailparser";
import { type InvitationAnswer, invitationAnswer } from "../../core/meetings/calendar-events.ts";
import { plainFileName, plainLine } from "../../core/plain-line.ts";
import { type LetterFacts, type ReadLetter, readLetter } from "../../core/replies/letter.ts";
import { textOfHtml } from "./html-text.ts";

export interface ParsedMessage extends ReadLetter {
  messageId: string;
  /** Message-IDs of In-Reply-To and References, the nearest first. */
  answers: string[];
  references: string;
  fromAddress: string;
  fromName: string;
  /** Where an answer goes: Reply-To, else From (RFC 5322 3.6.2). */
  answerTo: string;
  subject: string;
  /** Who gets a copy. */
  copied: { name: string; address: string }[];
  /** All of its text, and what its kind is told by: read again once it is known what of it is ours. */
  body: string;
  facts: LetterFacts;
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
const MOST_IDS = 50;
const MOST_COPIED = 20;
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
  const from = mail.from?.value[0];
  const fromAddress = (from?.address ?? "").toLowerCase();
  const subject = (mail.subject ?? "").slice(0, 1_000);
  // A report for people only has the email, or its header, as a part of its text.
  const returnedId = messageIdIn(returned ?? body);
  const facts = {
    headers,
    fromAddress,
    subject,
    deliveryStatus,
    feedback,
    disposition: part(/^message\/disposition-notification/),
  };
  return {
    messageId: mail.messageId ?? `<${mail.date?.getTime() ?? arrivedAt}.${from?.address}>`,
    answers: [...new Set([mail.inReplyTo, ...references.toReversed()].filter((id) => id !== undefined))],
    references: references.join(" "),
    fromAddress,
    fromName: plainLine(from?.name ?? "", 200),
    answerTo: mail.replyTo?.value[0]?.address?.toLowerCase() || fromAddress,
    subject,
    copied: [mail.cc ?? []]
      .flat()
      .flatMap(({ value }) => value)
      .slice(0, MOST_COPIED)
      .flatMap(({ name, address }) =>
        address ? [{ name: plainLine(name, 200), address: address.toLowerCase() }] : [],
      ),
    ...readLetter(body, facts, []),
    body,
    facts,
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
