/** From a message's source to what the engine decides on. */
import EmailReplyParser from "email-reply-parser";
import { simpleParser } from "mailparser";

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
  /** What they wrote, without what they quote. */
  text: string;
  quoted: string;
  headers: Map<string, string>;
  deliveryStatus: string | null;
  /** The Message-ID of the email that a delivery report returns. */
  returnedId: string | null;
  at: number;
}

export async function parseMessage(source: Buffer, arrivedAt: Date): Promise<ParsedMessage> {
  const mail = await simpleParser(source, { keepDeliveryStatus: true });
  const references = [mail.references ?? []].flat();
  const headers = new Map(
    mail.headerLines.map(({ key, line }) => [key.toLowerCase(), line.slice(line.indexOf(":") + 1).trim()]),
  );
  const status = mail.attachments.find(({ contentType }) => contentType === "message/delivery-status");
  const returned = mail.attachments.find(({ contentType }) =>
    /^(message\/rfc822|text\/rfc822-headers)/.test(contentType),
  );
  const body = (mail.text ?? "").replace(/\r\n/g, "\n").trim();
  const written = new EmailReplyParser().read(body).getVisibleText().trim();
  const from = mail.from?.value[0];
  const fromAddress = (from?.address ?? "").toLowerCase();
  return {
    messageId: mail.messageId ?? `<${mail.date?.getTime() ?? arrivedAt.getTime()}.${from?.address}>`,
    answers: [...new Set([mail.inReplyTo, ...references.toReversed()].filter((id) => id !== undefined))],
    references: references.join(" "),
    fromAddress,
    fromName: from?.name ?? "",
    answerTo: mail.replyTo?.value[0]?.address?.toLowerCase() || fromAddress,
    subject: mail.subject ?? "",
    text: written || body,
    quoted: written && body.startsWith(written) ? body.slice(written.length).trim() : "",
    headers,
    deliveryStatus: status ? status.content.toString("utf8") : null,
    // A report for people only has the email, or its header, as a part of its text.
    returnedId:
      (returned?.content.toString("utf8") ?? body).match(/^[> \t]*message-id:\s*(<[^>]+>)/im)?.[1] ?? null,
    at: arrivedAt.getTime(),
  };
}
