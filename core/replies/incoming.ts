/**
 * What an incoming message is, before anybody reads it: a person's words, an absence, or a machine's report. Reports
 * are read by their standards (RFC 3464 delivery, RFC 5965 complaints, RFC 8098 receipts, RFC 3834 automatic answers)
 * and, where a server wrote for people only, by its words.
 */
import { type Fault, judge } from "../sending/refusal.ts";
import { absenceIn, departureIn, isOnlyAbsence, wantsSomething } from "./absence.ts";
import {
  bouncedAddresses,
  copyOfOurs,
  isDelay,
  looksDelayed,
  looksReturned,
  ownWords,
  readDeliveryStatus,
  STATUS_CODE,
} from "./delivery-report.ts";
import { isGrave } from "./grave.ts";
import { plainOptOut } from "./opt-out.ts";

export interface IncomingMessage {
  /** Header names in lower case. */
  headers: ReadonlyMap<string, string>;
  fromAddress: string;
  subject: string;
  /** Without what it quotes. */
  text: string;
  /** All of it: a report returns our email. */
  body?: string;
  /** The texts of the parts message/delivery-status, message/feedback-report and message/disposition-notification. */
  deliveryStatus: string | null;
  feedback?: string | null;
  disposition?: string | null;
}

/** An address that an email did not reach. */
export interface Failure {
  /** As we wrote it, if the report says so; after a forward it is not the last one's. */
  address: string | null;
  hard: boolean;
  /** Refused by the receiver's rules for the sender's sake. */
  policy: boolean;
  status: string | null;
  words: string;
}

export type IncomingKind =
  | { kind: "person" }
  /** `byWords`: no header says so, only its form. */
  | { kind: "automatic"; because: string; byWords?: boolean }
  /** They work there no longer. */
  | { kind: "left"; because: string }
  | { kind: "bounce"; failures: [Failure, ...Failure[]] }
  /** Still being tried. */
  | { kind: "delay"; because: string; address: string | null }
  /** They told their provider that it is spam. */
  | { kind: "complaint"; because: string; address: string | null }
  | { kind: "receipt"; because: string }
  /** A machine's letter that says nothing about anybody's being there: a ticket's number, thanks, a new address. */
  | { kind: "notice"; because: string }
  /** Their server holds the email until somebody confirms by hand that a person sent it. */
  | { kind: "challenge"; because: string };

/** Subjects that automatic answers carry where their software sets no header. An answer to one begins with "Re:". */
const AUTOMATIC_SUBJECT =
  /^(auto(matic|mated)?[ -]?(reply|response|answer|responder)\b|out[ -]of[ -](the[ -])?office|ooo\b|(currently )?away (from (the )?office|until|till)|on (holiday|leave|vacation)\b|vacation (reply|notice)|abwesen|automatische (antwort|rückantwort|abwesenheit\w*)|réponse automatique|absence du bureau|absen(t|ce)\b|respuesta autom[aá]tica|fuera de la oficina|ausencia|resposta autom[aá]tica|ausência|fora do escritório|risposta automatica|fuori (sede|ufficio)|automatisch antwoord|afwezig|autosvar|automatisk svar|fraværende|frånvaro|automaattinen vastaus|poissa|automatyczna odpowiedź|nieobecno|automatická odpověď|自動応答|自动回复|автоответ)/i;
const ANSWERED_SUBJECT = /^\s*(re|aw|sv|vs|antw|rif|r|odp)\s*:/i;
const RECEIPT_SUBJECT = /^(read|gelesen|lu|leído|lido|letto|gelezen|not read|ungelesen|non lu)\s*:/i;
const RECEIPT_TEXT =
  /\b(was (read|displayed|deleted)|wurde (gelesen|angezeigt)|a été (lu|affiché)|fue leído|foi lid[ao]|è stato letto|is gelezen|return receipt)\b/i;

/** Who reports that an email did not arrive, by the names that RFC 2142 5 and custom give them. */
const MACHINE = /^(mailer-?daemon|mail-?daemon|mdaemon|bounces?([+.-].*)?)@/;
const POSTMASTER = /^(postmaster|mail-?admin|mail\.?system)@/;
/** What a program that reports signs with, besides the names above. */
const RETURNED_SENDER =
  /^(mail|mailer|delivery|smtp|exim|postfix|no-?reply|system|admin(istrator)?|bounce)[\w.+-]*@/;
const NOBODY_READS = /^(no-?reply|do-?not-?reply|auto-?(reply|responder)|autoresponder)([+.-].*)?@/;

/** Servers that ask the sender to prove to be a person. */
const CHALLENGE =
  /(?:(?:confirm|verify|prove|validate)[^.\n]{0,60}(?:you are (?:a )?(?:human|person|real|not a (?:robot|spammer))|your (?:identity|email address|message)|that you sent|sender)|(?:click|visit|follow|reply)[^.\n]{0,80}(?:so that|to (?:have|get|let|release|deliver))[^.\n]{0,40}(?:message|e-?mail|mail)[^.\n]{0,30}(?:deliver|release|through)|(?:message|e-?mail)[^.\n]{0,60}(?:quarantine|held|waiting|on hold)[^.\n]{0,80}(?:confirm|approve|verif|click)|challenge[ -]response|sender verification|bestätigen sie[^.\n]{0,60}(?:absender|mensch|nachricht)|confirmez[^.\n]{0,60}(?:humain|expéditeur|message)|confirme[^.\n]{0,60}(?:humano|remitente|remetente|mensaje|mensagem))/i;

/** Subjects by which a machine says that somebody is away, and not that it got a letter. */
const ABSENT_SUBJECT =
  /out[ -]of[ -](the[ -])?office|\booo\b|vacation|on (leave|holiday)|abwesen|absen(t|ce)|fuera de (la )?oficina|ausen(cia|te)|ausência|fora do escritório|fuori (sede|ufficio)|afwezig|fraværende|frånvaro|poissa|nieobecno|nepřítomn|отсутств|不在|休暇|休假|부재/i;
/** What machines write that answer for a house and not for a person: receipts, tickets, new addresses, lists. */
const NOTICE =
  /(?:ticket|case|request|enquiry|inquiry|query|incident|reference|vorgang|anfrage|demande|dossier|solicitud|pedido|caso|richiesta|aanvraag|ärende|sag|zgłoszeni\p{L}|požadav\p{L}+|обращени\p{L}|заявк\p{L})\s*(?:number|no\.?|nr\.?|id|ref\.?|nummer|numéro|número|numero|numer|číslo|номер)?\s*[:：]?\s*[#№[(]?\s*(?:[A-Z]{1,6}-?)?\d{3,}|(?:thank you|thanks) for (?:contacting|getting in touch|reaching out|your (?:enquiry|inquiry|request|application|order|interest|submission|feedback))|(?:we have|we've|has been) (?:successfully )?received(?: your| and)?|your (?:message|e-?mail|request|enquiry|application|order) (?:has been|was) (?:received|registered|logged|forwarded)|(?:do not|don't|please do not) reply to this (?:e-?mail|message)|confirm (?:that you want|your (?:subscription|registration|e-?mail))|(?:new|changed|change of) (?:e-?mail )?address|address (?:has changed|is now|will change)|no longer (?:read|monitored|in use|checked)|unattended (?:mailbox|inbox|address)|(?:not|isn't) (?:monitored|attended)|opening hours|(?:have|am) (?:come|now) back|neue (?:e-?mail-?)?adresse|adresse (?:hat sich geändert|lautet)|nouvelle adresse|changé d['’]adresse|nueva dirección|cambiado de (?:dirección|correo)|novo (?:endereço|e-?mail)|nuovo indirizzo|nieuw (?:e-?mail)?adres|ny (?:e-?post|mail)?adress?e?|nowy adres|nová adresa|новый адрес|eingangsbestätigung|(?:ihre|deine) (?:nachricht|anfrage|e-?mail|bewerbung|bestellung)(?: \p{L}+){0,3} (?:erhalten|eingegangen)|accusé de réception|(?:bien|avons) reçu votre|hemos recibido (?:su|tu)|recebemos (?:o seu|a sua|sua|seu)|abbiamo ricevuto|hebben (?:uw|je|jouw) .{0,30}ontvangen|har (?:modtaget|mottatt|mottagit|fått) (?:din|ditt|deres)|otrzymaliśmy|obdrželi jsme|мы получили|получено|受け付けました|受付(?:番号|完了)|自動返信.{0,40}お問い合わせ|已收到您|접수(?:되|번호)/iu;

/** A handwritten absence is a line or three; in a longer letter such words are about something else. */
const SHORT = 700;
/** A machine's letter says at its beginning who has left. */
const READ = 5_000;
/** Characters of a sentence that the rep is shown, to judge by. */
const QUOTED = 160;

/** `isNoReport`: it is about no email of ours, so that it is read as a letter, whatever words stand in it. */
export function sortIncoming(message: IncomingMessage, isNoReport = false): IncomingKind {
  const header = (name: string) => message.headers.get(name)?.toLowerCase() ?? "";
  const subject = message.subject.trim();
  if (message.feedback) return readFeedback(message.feedback);
  if (message.disposition || /disposition-notification/.test(header("content-type")))
    return { kind: "receipt", because: "a read receipt" };
  if (message.deliveryStatus !== null) return readStatus(message.deliveryStatus, message.text);

  const submitted = header("auto-submitted");
  const isMachine = submitted !== "" && !submitted.startsWith("no");
  if (!isNoReport && isPlainReport(message, header, isMachine))
    return readPlainReport(message, header("x-failed-recipients"));
  if (RECEIPT_SUBJECT.test(subject) && (isMachine || RECEIPT_TEXT.test(message.text)))
    return { kind: "receipt", because: "a read receipt" };

  const because = automaticHeader(message, header) ?? automaticSubject(message);
  const challenge = `${subject}\n${message.text.slice(0, SHORT * 3)}`.match(CHALLENGE)?.[0];
  if (challenge && /https?:\/\/|\brepl(?:y|ying)\b|antwort|répond|respond/i.test(message.text.slice(0, READ)))
    return { kind: "challenge", because: challenge.trim().slice(0, QUOTED) };
  const beginning = message.text.slice(0, READ);
  if (because === null) return readNotice(message) ?? { kind: "person" };
  // Behind a machine's header may stand what somebody has it say about themselves: that is a person's word.
  if (plainOptOut(beginning) !== null) return { kind: "person" };
  const departure = departureIn(beginning);
  if (departure !== null) return { kind: "left", because: departure.slice(0, QUOTED) };
  const isAbsence = absenceIn(beginning) !== null || ABSENT_SUBJECT.test(subject);
  const notice = isAbsence ? undefined : NOTICE.exec(`${subject}\n${beginning}`)?.[0];
  if (notice) return { kind: "notice", because: notice.replace(/\s+/g, " ").trim().slice(0, QUOTED) };
  return { kind: "automatic", because };
}

/** Absences without a header or a usual subject, as old servers send them: nothing else may stand in them. They stay on the desk. */
function readNotice({ text }: IncomingMessage): IncomingKind | null {
  if (text.length > SHORT || wantsSomething(text) || plainOptOut(text) !== null) return null;
  const departure = departureIn(text);
  if (departure !== null) return { kind: "left", because: departure.slice(0, QUOTED) };
  const absence = absenceIn(text);
  if (absence === null || !isOnlyAbsence(text) || isGrave(text)) return null;
  return { kind: "automatic", because: `they write “${absence.slice(0, QUOTED)}”`, byWords: true };
}

/**
 * Whether a server reports without the standard part: it must have a report's sender or form, and something of ours in
 * it, be it the address or the email. What it says in which language comes last.
 */
function isPlainReport(
  { subject, text: written, body: text = written, fromAddress }: IncomingMessage,
  header: (name: string) => string,
  isMachine: boolean,
): boolean {
  if (header("x-failed-recipients") !== "") return !ANSWERED_SUBJECT.test(subject);
  const own = ownWords(text);
  const isCoded = STATUS_CODE.test(own);
  const hasOurs = copyOfOurs(text) || bouncedAddresses(text).some((address) => address !== fromAddress);
  if (MACHINE.test(fromAddress) || fromAddress === "")
    return hasOurs || isCoded || looksReturned(subject, own) || isDelay(subject, own);
  const hasNoReturn = /^<\s*>$/.test(header("return-path"));
  if (ANSWERED_SUBJECT.test(subject) && !hasNoReturn) return false;
  const hasCopy = copyOfOurs(text);
  const says = looksReturned(subject, own) || looksDelayed(subject, own);
  if (POSTMASTER.test(fromAddress) || isMachine || hasNoReturn || RETURNED_SENDER.test(fromAddress))
    return (
      (isCoded && hasOurs) ||
      ((hasCopy || looksDelayed(subject, own)) && says) ||
      // "Undeliverable" over an absence or a farewell is what they wrote over it.
      (looksReturned(subject, "") && absenceIn(own) === null && departureIn(own) === null)
    );
  return isCoded && hasCopy && says;
}

const AUTOMATIC_HEADERS = ["x-autoreply", "x-autorespond", "x-auto-reply", "x-autoresponder"];

/** What of a message's head says that a machine wrote it, or null. */
function automaticHeader(
  { headers, fromAddress }: IncomingMessage,
  header: (name: string) => string,
): string | null {
  const submitted = header("auto-submitted");
  if (submitted !== "" && !submitted.startsWith("no")) return `Auto-Submitted: ${submitted}`;
  for (const name of AUTOMATIC_HEADERS) if (headers.has(name) && header(name) !== "no") return name;
  if (/^(bulk|junk|auto_reply)/.test(header("precedence"))) return `Precedence: ${header("precedence")}`;
  return NOBODY_READS.test(fromAddress) ? `nobody reads ${fromAddress}` : null;
}

/** By its subject alone, as where a program sets no header. One over a letter that asks or wants something is a person's: the program went on adding it. */
function automaticSubject({ subject, text }: IncomingMessage): string | null {
  const trimmed = subject.trim();
  if (!AUTOMATIC_SUBJECT.test(trimmed) || wantsSomething(text)) return null;
  return `the subject “${trimmed.slice(0, 120)}”`;
}

function readFeedback(text: string): IncomingKind {
  const field = fieldsOf(text);
  const type = (field("feedback-type") ?? "abuse").toLowerCase();
  if (!/^(abuse|fraud|opt-out|other|miscategorized)/.test(type))
    return { kind: "automatic", because: `a feedback report (“${type}”)` };
  const address = field("original-rcpt-to") ?? field("removal-recipient");
  return {
    kind: "complaint",
    because: `they reported the email as unwanted (${type})`,
    address: address ? bare(address) : null,
  };
}

/** `hard`: the address will never take mail. `policy`: refused for the sender's sake, not for the address. */
const consequenceOf = (fault: Fault) => ({
  hard: fault === "recipient",
  policy: fault === "policy" || fault === "sender",
});

/** A report about more is none of one of our emails. */
const MOST_RECIPIENTS = 100;

function readStatus(status: string, text: string): IncomingKind {
  const recipients = readDeliveryStatus(status);
  const failed = recipients.filter(({ action }) => action === "failed").slice(0, MOST_RECIPIENTS);
  const [first, ...rest] = failed.map((each): Failure => {
    const words = each.words || each.status || text.slice(0, 500).split("\n")[0] || "";
    const { address, status: code } = each;
    return {
      address,
      status: code,
      words,
      ...consequenceOf(judge(code, words, "report")),
    };
  });
  if (first) return { kind: "bounce", failures: [first, ...rest] };
  const delayed = recipients.find(({ action }) => action === "delayed");
  if (delayed)
    return { kind: "delay", because: delayed.words || "it is still being tried", address: delayed.address };
  return { kind: "receipt", because: `a delivery report (“${recipients[0]?.action ?? ""}”)` };
}

/** A report that is written for people only, as older mail servers do. */
function readPlainReport(
  { text: written, body: text = written, subject }: IncomingMessage,
  failed: string,
): IncomingKind {
  if (isDelay(subject, text))
    return {
      kind: "delay",
      because: "it is still being tried",
      address: bouncedAddresses(text)[0] ?? null,
    };
  const lines = text.split("\n");
  const coded = lines.find((line) => /(?:^|[\s(#])(?:[45]\d\d[ -]|#?[45]\.\d{1,3}\.\d{1,3}\b)/.test(line));
  const words = (coded ?? lines.find((line) => looksReturned("", line)) ?? "").trim().slice(0, 500);
  if (words === "" && failed === "" && !looksReturned(subject, ""))
    return { kind: "automatic", because: "a mail server's report" };
  const addresses = failed !== "" ? failed.split(",").map(bare) : bouncedAddresses(text);
  const status = words.match(/(?:^|[^\d.])([45]\.\d{1,3}\.\d{1,3})(?!\d)/)?.[1] ?? null;
  const isForNow = /(?:^|\D)4\d\d[ -]/.test(words) || status?.startsWith("4");
  const fault = isForNow ? "later" : judge(status, coded === undefined ? ownWords(text) : words, "report");
  const [first, ...rest] = (addresses.length > 0 ? addresses : [null]).map(
    (address): Failure => ({ address, ...consequenceOf(fault), status, words }),
  );
  return { kind: "bounce", failures: [first as Failure, ...rest] };
}

/** The value of a field by its name in small letters; folded lines joined. Linear in the text. */
function fieldsOf(text: string): (name: string) => string | null {
  const fields = new Map<string, string>();
  let last = "";
  for (const line of text.split(/\r?\n/)) {
    if (/^[ \t]/.test(line) && last !== "") fields.set(last, `${fields.get(last)} ${line.trim()}`);
    const colon = line.indexOf(":");
    if (colon <= 0 || /^[ \t]/.test(line)) continue;
    last = line.slice(0, colon).toLowerCase();
    if (!fields.has(last)) fields.set(last, line.slice(colon + 1).trim());
  }
  return (name) => fields.get(name) ?? null;
}

const bare = (address: string) =>
  address
    .replace(/^[^;<]*;/, "")
    .replace(/[<>\s]/g, "")
    .toLowerCase();
