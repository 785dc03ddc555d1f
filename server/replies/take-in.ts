/** Keeps an incoming message and draws its consequences: where a reply, a bounce, a complaint is handled. */
import type { Happening } from "../../core/replies/consequences.ts";
import { isGrave } from "../../core/replies/grave.ts";
import type { Failure, IncomingKind } from "../../core/replies/incoming.ts";
import { readLetter } from "../../core/replies/letter.ts";
import { LIKELY_BECAUSE } from "../../core/replies/likely-because.ts";
import type { Match } from "../../core/replies/match.ts";
import { copiedPerson, namedPerson } from "../../core/replies/named-person.ts";
import type { OurEmail } from "../../core/replies/our-words.ts";
import { returnDay } from "../../core/replies/return-date.ts";
import { type Reading, sortReply } from "../../core/replies/sort.ts";
import type { AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { noteArrival, type Touch, touchById } from "../db/ledger.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { type Db, sql, type Tx } from "../db/open.ts";
import { remainingProspect } from "../db/prospects.ts";
import { OPT_OUT_SUBJECT } from "../mail/compose.ts";
import type { ParsedMessage } from "../mail/parse.ts";
import { readLink } from "../secrets.ts";
import { findEmail } from "./find-email.ts";
import { setLabel } from "./label-reply.ts";
import { labelByCode } from "./labels.ts";
import { modelInUse } from "./sorter.ts";
import { takeInvitationAnswer } from "./take-invitation-answer.ts";

/** False if the message is about none of our emails, or known. */
export function takeIn(app: AppTx, mailbox: Mailbox, message: ParsedMessage): boolean {
  const { db } = app;
  if (optsOut(app, message)) return true;
  const { kind } = message;
  const invited = takeInvitationAnswer(db, message);
  // A calendar program's yes says nothing more; what somebody wrote along with it is for the desk.
  if (invited && (invited.prospectId === null || !hasOwnWords(message))) return true;
  if (kind.kind === "bounce") {
    if (takeBounce(db, mailbox, message, kind.failures)) return true;
    // A report about none of ours is read as the letter that it may be, unless a program wrote it by the standard.
    return message.facts.deliveryStatus === null && takeIn(app, mailbox, asLetter(message));
  }
  // Whoever answers an invitation of ours is the invited person, whatever address they answer from.
  const addresses =
    kind.kind === "complaint" || kind.kind === "delay"
      ? [kind.address ?? ""]
      : kind.kind === "receipt"
        ? []
        : [...new Set([message.fromAddress, message.answerTo, ...(invited ? [invited.email] : [])])];
  const match = findEmail(db, {
    ids: [message.returnedId, ...message.answers].filter((id) => id !== null),
    envelopeTouchId: message.envelopeTouchId,
    addresses: addresses.filter((address) => address !== ""),
    subject: message.subject,
    at: message.at,
    mayBeColleague: kind.kind === "person" || kind.kind === "challenge",
    quotedAddresses: addressesIn(message.quoted),
  });
  if (!match) {
    // Who booked without ever having been written to: their words are kept all the same.
    if (invited?.prospectId != null) {
      const stranger = {
        certainty: "sure",
        email: { prospectId: invited.prospectId, touchId: null },
      } as const;
      keep(db, mailbox, message, stranger, null, readingOf(db, mailbox, message, invited.prospectId));
    }
    return invited !== null;
  }
  // Now it is known whom it is from, and so what of it is ours.
  const read = READ_AGAIN.has(kind.kind)
    ? { ...message, ...readLetter(message.body, message.facts, oursTo(db, match.email.prospectId), true) }
    : message;
  // Of a death, or a grave illness, no word does anything: it waits for the rep.
  const isHeld = LETTERS.has(read.kind.kind) && isGrave(read.text);
  const certain: Match = isHeld ? { ...match, certainty: "likely" } : match;
  const detail = isHeld ? LIKELY_BECAUSE.grave : match.isQuoted ? LIKELY_BECAUSE.quoted : detailOf(read.kind);
  return keepAndApply(
    db,
    mailbox,
    isHeld ? { ...read, kind: { kind: "person" } } : read,
    certain,
    isHeld ? { kind: "likely_reply" } : happeningOf(read.kind, certain),
    detail,
  );
}

const LETTERS: ReadonlySet<IncomingKind["kind"]> = new Set(["person", "automatic", "left"]);

const MOST_ADDRESSES = 10;
/** The addresses in a text, in small letters. */
const addressesIn = (text: string): string[] => [
  ...new Set(
    (text.slice(0, 5_000).match(/[\p{L}\p{N}_.+-]{1,64}@[\p{L}\p{N}.-]{1,200}/gu) ?? [])
      .map((each) => each.toLowerCase().replace(/\.+$/, ""))
      .slice(0, MOST_ADDRESSES),
  ),
];

/** Letters, whose kind may have been told by words of ours that they quote. */
const READ_AGAIN: ReadonlySet<IncomingKind["kind"]> = new Set([
  "person",
  "automatic",
  "left",
  "challenge",
  "notice",
]);

const asLetter = (message: ParsedMessage): ParsedMessage => ({
  ...message,
  ...readLetter(message.body, message.facts, [], true),
});

const detailOf = (kind: IncomingKind) => ("because" in kind ? kind.because : null);

function happeningOf(kind: IncomingKind, match: Match): Happening | null {
  switch (kind.kind) {
    case "person":
      return { kind: match.certainty === "sure" ? "replied" : "likely_reply" };
    case "automatic":
      return { kind: "away", because: kind.because };
    case "challenge":
      return { kind: "challenged", because: kind.because };
    case "left":
      return { kind: "left_company", because: kind.because };
    case "complaint":
      return { kind: "complained", because: kind.because };
    default:
      return null; // delays, receipts and notices are kept, and change nothing
  }
}

/** Emails that are looked for in what somebody writes: nobody quotes older ones. */
const MOST_OURS = 12;

/** What went to somebody, the newest first. */
const oursTo = (db: Db, prospectId: number): OurEmail[] =>
  sql(
    db,
    `SELECT t.subject, t.body AS text, t.recipient, m.sender_name AS fromName, m.address AS fromAddress
       FROM touches t JOIN mailboxes m ON m.id = t.mailbox_id
       WHERE t.prospect_id = @prospectId AND t.state IN ('claimed', 'sent') AND t.recipient != ''
       ORDER BY t.id DESC LIMIT ${MOST_OURS}`,
  ).all<OurEmail>({ prospectId });

/** A notice of another address. */
const CHANGED =
  /(?:new|changed?|another|neue|geändert|nouvelle|changé|nueva|cambiad|nov[oa]|mudou|nuov[oa]|cambiat|nieuw|gewijzigd|ny(?:tt)?|endret|ändrad|nowy|zmienił|nová|změn|новый|изменил)\p{L}*\s+(?:\p{L}+\s+)?(?:e-?mail|mail|address|adress?e?|dirección|correo|endereço|indirizzo|adres|adresa|адрес)|(?:address|adresse|dirección|endereço|indirizzo|adres|адрес)\b.{0,40}(?:changed|geändert|changé|cambiado|mudou|cambiato|gewijzigd|endret|изменил)/iu;

/** What is said of an absence that no header proves: it pauses, and stays on the desk. */
const BY_WORDS = 0.7;

/** An opt-out in plain words acts by itself: it errs on the quiet side, and one press takes it back. What only the model reads never does. */
const actsAlone = ({ label, by, sure }: Reading) => sure && label === "opt_out" && by === "plain words";

/** Addresses that are nobody else's: the writer's and ours. */
const ownOf = (
  { fromAddress, answerTo }: ParsedMessage,
  mailbox: Mailbox,
  prospect: { email: string | null } | undefined,
): string[] => [fromAddress, answerTo, mailbox.address, prospect?.email ?? ""];

/** What a person, or an automatic answer, says; null for reports of machines, which say nothing for themselves. */
function readingOf(db: Db, mailbox: Mailbox, message: ParsedMessage, prospectId: number): Reading | null {
  if (!LETTERS.has(message.kind.kind) && message.kind.kind !== "notice") return null;
  const prospect = remainingProspect(db, prospectId);
  const reading = sortReply(
    {
      text: message.text,
      subject: message.subject,
      ourSubjects: oursTo(db, prospectId).map(({ subject }) => subject),
      mixed: message.mixed,
      at: message.at,
      zone: prospect?.timeZone ?? mailbox.zone,
      country: prospect?.country ?? "",
      own: ownOf(message, mailbox, prospect),
    },
    modelInUse(db),
  );
  if (message.kind.kind === "person")
    return reading.label === "wrong_person" && !reading.person?.email
      ? {
          ...reading,
          person: copiedPerson(message.copied, ownOf(message, mailbox, prospect)) ?? reading.person,
        }
      : reading;
  if (message.kind.kind === "notice") {
    // A new address, or whoever is to be written to instead, is proposed; nothing else in it is for anybody.
    const person = namedPerson(message.text, [message.fromAddress, mailbox.address, prospect?.email ?? ""]);
    return person?.email && CHANGED.test(`${message.subject}\n${message.text}`)
      ? {
          ...reading,
          label: "wrong_person",
          confidence: BY_WORDS,
          sure: false,
          by: "plain words",
          day: null,
          person,
        }
      : null;
  }
  // Its kind is known by its standard; the text says until when, and who answers instead.
  const letter = {
    at: message.at,
    zone: prospect?.timeZone ?? mailbox.zone,
    country: prospect?.country ?? "",
  };
  const isAway = message.kind.kind === "automatic";
  const isCertain = !(message.kind.kind === "automatic" && message.kind.byWords);
  return {
    ...reading,
    label: isAway ? "away" : "wrong_person",
    confidence: isCertain ? 0.99 : BY_WORDS,
    sure: isCertain,
    by: "absence",
    day: isAway ? (returnDay(`${message.subject}\n${message.text}`, letter)?.day ?? null) : null,
    person: namedPerson(message.text, [message.fromAddress, mailbox.address, prospect?.email ?? ""]),
  };
}

/** A report may be about several addresses, and one of ours may stand behind a forward. */
function takeBounce(db: Tx, mailbox: Mailbox, message: ParsedMessage, failures: readonly Failure[]): boolean {
  const about = {
    envelopeTouchId: message.envelopeTouchId,
    subject: message.subject,
    at: message.at,
    mayBeColleague: false,
  };
  const ids = [message.returnedId, ...message.answers].filter((id) => id !== null);
  const named = findEmail(db, { ...about, ids, addresses: [] });
  const found = new Map<number, { match: Match; failure: Failure }>();
  for (const failure of failures) {
    const address = failure.address ?? "";
    const match =
      named && named.email.recipient === address
        ? named
        : address === ""
          ? null
          : findEmail(db, { ...about, envelopeTouchId: null, ids: [], addresses: [address] });
    if (match && !found.has(match.email.touchId)) found.set(match.email.touchId, { match, failure });
  }
  if (found.size === 0 && named)
    found.set(named.email.touchId, { match: named, failure: failures[0] as Failure });
  let taken = false;
  for (const { match, failure } of found.values()) {
    const { hard, policy, words } = failure;
    const again = !hard && !policy && cameBackBefore(db, match.email.prospectId, match.email.touchId);
    const bounced: Happening = { kind: "bounced", hard, policy, again, words };
    if (keepAndApply(db, mailbox, message, match, bounced, words)) taken = true;
    else if (taken) draw(db, mailbox, message, match, bounced, null);
  }
  return taken;
}

/** Whether the email before this one came back for now, too. */
const cameBackBefore = (db: Db, prospectId: number, touchId: number): boolean =>
  sql(
    db,
    `SELECT 1 FROM events WHERE kind = 'bounced' AND bounce = 'soft' AND touch_id = (
       SELECT max(id) FROM touches WHERE prospect_id = @prospectId AND id < @touchId AND state = 'sent' AND kind != 'test')`,
  ).get({ prospectId, touchId }) !== undefined;

function keepAndApply(
  db: Tx,
  mailbox: Mailbox,
  message: ParsedMessage,
  match: Match,
  happening: Happening | null,
  detail: string | null,
): boolean {
  // Of somebody who was erased nothing more is kept.
  if (!remainingProspect(db, match.email.prospectId)) return false;
  const reading = readingOf(db, mailbox, message, match.email.prospectId);
  const replyId = keep(db, mailbox, message, match, detail, reading);
  if (replyId === null) return false;
  if (happening)
    draw(
      db,
      mailbox,
      message,
      match,
      happening.kind === "away" ? { ...happening, day: reading?.day ?? null } : happening,
      replyId,
    );
  if (happening?.kind === "replied" && reading && actsAlone(reading)) {
    const label = labelByCode(db, reading.label);
    if (label) setLabel(db, { replyId, label, userId: null, day: null, at: message.at });
  }
  return true;
}

function draw(
  db: Tx,
  mailbox: Mailbox,
  { at }: ParsedMessage,
  { email }: Match,
  happening: Happening,
  replyId: number | null,
): void {
  const touch = touchById(db, email.touchId) as Touch;
  const prospectId = remainingProspect(db, email.prospectId)?.id ?? email.prospectId;
  noteArrival(db, touch.id);
  const { id: touchId, journeyId, recipient } = touch;
  apply(db, happening, { at, prospectId, journeyId, touchId, mailboxId: mailbox.id, replyId, recipient });
}

/** The token may stand behind whatever a gateway puts before a subject, and come from any address of theirs. */
const OPT_OUT = new RegExp(`\\b${OPT_OUT_SUBJECT}\\s+([\\w.~-]{10,300})`, "i");

function optsOut({ db, key }: AppTx, { subject, at, kind }: ParsedMessage): boolean {
  const token = OPT_OUT.exec(subject)?.[1];
  if (!token || kind.kind === "bounce") return false;
  const payload = readLink("opt-out", token, key);
  const prospect = payload === null ? undefined : remainingProspect(db, Number(payload));
  if (!prospect) return false;
  apply(db, { kind: "opted_out" }, { at, prospectId: prospect.id });
  return true;
}

/** Lines that calendar programs write by themselves, and what they repeat of the invitation. */
const BY_PROGRAM =
  /^(when|where|who|what|time|date|location|organi[sz]er|attendees?|invitees?|wann|wo|quand|où|cuándo|dónde)\b|\b(has|have) (accepted|declined|tentatively)\b|\b(accepted|declined|tentative(ly accepted)?) (this|the|your) invitation|^(accepted|declined|tentative|akzeptiert|zugesagt|abgelehnt|accepté|refusé|aceptad|rechazad|aceit|recusad)/i;

/** Whether somebody wrote something besides their yes or no. */
const hasOwnWords = ({ text, subject }: ParsedMessage): boolean =>
  text.split("\n").some((line) => {
    const said = line.trim();
    return (
      /\p{L}{2}/u.test(said) &&
      !BY_PROGRAM.test(said) &&
      !subject.includes(said) &&
      !/^https?:\S+$/.test(said)
    );
  });

/** What is known of a message's place: the email it is about, or only the person. */
type About = Pick<Match, "certainty"> & { email: { prospectId: number; touchId: number | null } };

function keep(
  db: Db,
  mailbox: Mailbox,
  message: ParsedMessage,
  match: About,
  detail: string | null,
  reading: Reading | null,
): number | null {
  const result = sql(
    db,
    `INSERT INTO replies (mailbox_id, message_id, prospect_id, touch_id, kind, certainty, from_address, from_name,
       answer_to, subject, text, quoted, attached, detail, thread_references, at, reading)
     VALUES (@mailboxId, @messageId, @prospectId, @touchId, @kind, @certainty, @fromAddress, @fromName,
       @answerTo, @subject, @text, @quoted, @attached, @detail, @references, @at, @reading)
     ON CONFLICT (mailbox_id, message_id) DO NOTHING`,
  ).run({
    mailboxId: mailbox.id,
    messageId: message.messageId,
    prospectId: remainingProspect(db, match.email.prospectId)?.id ?? match.email.prospectId,
    touchId: match.email.touchId,
    kind: message.kind.kind,
    certainty: match.certainty,
    fromAddress: message.fromAddress,
    fromName: message.fromName,
    answerTo: message.answerTo,
    subject: message.subject,
    text: message.text,
    quoted: message.quoted,
    attached: JSON.stringify(message.attached),
    reading: reading === null ? null : JSON.stringify(reading),
    detail,
    references: message.references,
    at: message.at,
  });
  return result.changes === 1 ? Number(result.lastInsertRowid) : null;
}
