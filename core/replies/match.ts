/** Which of our emails an incoming message is about, and how sure that is. */
import { getDomain } from "tldts";
import { isFreeMail } from "../prospects/free-mail.ts";

/** A sent email that could be meant. */
export interface SentEmail {
  touchId: number;
  prospectId: number;
  messageId: string;
  /** Where it went. */
  recipient: string;
  /** Every address of its prospect, also those they had or got since. */
  addresses: readonly string[];
  subject: string;
  sentAt: number;
}

export interface Incoming {
  /** Message-IDs it names, the nearest first: In-Reply-To, References, or the one that a report returns. */
  ids: readonly string[];
  /** Our touch's number, from a report's Original-Envelope-Id (RFC 3461 4.4). */
  envelopeTouchId: number | null;
  /** The sender, or the addresses that a report is about: the original ones first. */
  addresses: readonly string[];
  subject: string;
  at: number;
  /** Addresses that stand in what the message quotes: of whom our email went to, where they answer from elsewhere. */
  quotedAddresses?: readonly string[];
  /** Whether the subject and the sender's company may do where ids and addresses do not: only for a person's words. */
  mayBeColleague: boolean;
}

/** `sure`: an id or the address says so. `likely`: somebody of the same company answers the same subject. */
export type Match = { email: SentEmail; certainty: "sure" | "likely"; isQuoted?: boolean };

/** Clocks of servers differ; an answer cannot be much older than its question. */
const CLOCKS_DIFFER = 10 * 60_000;
/** Nobody answers last year's letter without quoting it. */
export const REMEMBERED_FOR = 90 * 24 * 3_600_000;

/** "Re:" and "Fwd:" in the languages of mail programs, and the marks that gateways put before what comes from outside. */
const PREFIX =
  /^\s*(?:(?:re|fwd?|ref|aw|wg|antwort|sv|vs|vb|vl|antw|doorst|tr|rv|r|rif|i|enc|res|odp|pd|ynt|ilt|ha|απ|πρθ|отв|ответ|רד|תשובה|رد|回复|答复|转发|轉寄|返信|転送|회신|전달)\s*(?:\[\d+\]|\(\d+\))?\s*[:：]|[[*(<]{1,3}\s*(?:external|extern[eo]?|ext|outside|caution|spam\?*)(?:\s+(?:e?-?mail|sender|message))?\s*[\])>*]{1,3}\s*:?)/iu;

/** A subject without what answering and forwarding puts before it, in small letters. */
export function bareSubject(subject: string): string {
  let bare = subject;
  while (PREFIX.test(bare)) bare = bare.replace(PREFIX, "");
  return bare.replace(/\s+/g, " ").trim().toLowerCase();
}

/** Whether a subject says that it answers or forwards something. */
export const isAnswered = (subject: string): boolean => PREFIX.test(subject);

export function matchIncoming(incoming: Incoming, candidates: readonly SentEmail[]): Match | null {
  const sure = (email: SentEmail | undefined): Match | null => (email ? { email, certainty: "sure" } : null);
  const byId = incoming.ids
    .map((id) => candidates.find(({ messageId }) => messageId === id))
    .find((email) => email !== undefined);
  if (byId) return sure(byId);
  const byEnvelope = candidates.find(({ touchId }) => touchId === incoming.envelopeTouchId);
  if (byEnvelope) return sure(byEnvelope);

  const before = candidates
    .filter(({ sentAt }) => sentAt <= incoming.at + CLOCKS_DIFFER)
    .toSorted((a, b) => b.sentAt - a.sentAt || b.touchId - a.touchId);
  for (const address of incoming.addresses) {
    const exactly = before.filter(({ recipient }) => recipient === address);
    const to = exactly.length > 0 ? exactly : before.filter(({ addresses }) => addresses.includes(address));
    const found = to.find(({ subject }) => bareSubject(subject) === bareSubject(incoming.subject)) ?? to[0];
    if (found) return sure(found);
  }

  if (!incoming.mayBeColleague) return null;
  for (const address of incoming.quotedAddresses ?? []) {
    const quoted = before.find(
      ({ recipient, subject, sentAt }) =>
        recipient === address &&
        sentAt >= incoming.at - REMEMBERED_FOR &&
        bareSubject(subject) === bareSubject(incoming.subject),
    );
    if (quoted) return { email: quoted, certainty: "likely", isQuoted: true };
  }
  const company = companyDomain(incoming.addresses[0] ?? "");
  const subject = bareSubject(incoming.subject);
  if (company === null || subject === "") return null;
  const email = before.find(
    (each) =>
      each.sentAt >= incoming.at - REMEMBERED_FOR &&
      companyDomain(each.recipient) === company &&
      bareSubject(each.subject) === subject,
  );
  return email ? { email, certainty: "likely" } : null;
}

/** The registrable domain of an address; null at providers for everybody. */
export function companyDomain(address: string): string | null {
  const host = address.slice(address.lastIndexOf("@") + 1);
  return host === "" || isFreeMail(host) ? null : getDomain(host);
}
