/**
 * What an incoming message is, before anybody reads it: a person's words, an absence, or a machine's report. Reports
 * are read by their standards (RFC 3464 delivery, RFC 5965 complaints, RFC 8098 receipts, RFC 3834 automatic answers)
 * and, where a server wrote for people only, by its words.
 */
import { type Fault, judge } from "../sending/refusal.ts";
import { absenceIn, departureIn, wantsSomething } from "./absence.ts";
import {
  bouncedAddresses,
  isDelay,
  looksDelayed,
  looksReturned,
  ownWords,
  readDeliveryStatus,
} from "./delivery-report.ts";

export interface IncomingMessage {
  /** Header names in lower case. */
  headers: ReadonlyMap<string, string>;
  fromAddress: string;
  subject: string;
  /** Without what it quotes. */
  text: string;
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
  | { kind: "automatic"; because: string }
  /** They work there no longer. */
  | { kind: "left"; because: string }
  | { kind: "bounce"; failures: [Failure, ...Failure[]] }
  /** Still being tried. */
  | { kind: "delay"; because: string; address: string | null }
  /** They told their provider that it is spam. */
  | { kind: "complaint"; because: string; address: string | null }
  | { kind: "receipt"; because: string }
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
const NOBODY_READS = /^(no-?reply|do-?not-?reply|auto-?(reply|responder)|autoresponder)([+.-].*)?@/;

/** Servers that ask the sender to prove to be a person. */
const CHALLENGE =
  /(?:(?:confirm|verify|prove|validate)[^.\n]{0,60}(?:you are (?:a )?(?:human|person|real|not a (?:robot|spammer))|your (?:identity|email address|message)|that you sent|sender)|(?:click|visit|follow|reply)[^.\n]{0,80}(?:so that|to (?:have|get|let|release|deliver))[^.\n]{0,40}(?:message|e-?mail|mail)[^.\n]{0,30}(?:deliver|release|through)|(?:message|e-?mail)[^.\n]{0,60}(?:quarantine|held|waiting|on hold)[^.\n]{0,80}(?:confirm|approve|verif|click)|challenge[ -]response|sender verification|bestätigen sie[^.\n]{0,60}(?:absender|mensch|nachricht)|confirmez[^.\n]{0,60}(?:humain|expéditeur|message)|confirme[^.\n]{0,60}(?:humano|remitente|remetente|mensaje|mensagem))/i;

/** A handwritten absence is a line or three; in a longer letter such words are about something else. */
const SHORT = 700;
/** A machine's letter says at its beginning who has left. */
const READ = 5_000;
/** Characters of a sentence that the rep is shown, to judge by. */
const QUOTED = 160;

export function sortIncoming(message: IncomingMessage): IncomingKind {
  const header = (name: string) => message.headers.get(name)?.toLowerCase() ?? "";
  const subject = message.subject.trim();
  if (message.feedback) return readFeedback(message.feedback);
  if (message.disposition || /disposition-notification/.test(header("content-type")))
    return { kind: "receipt", because: "a read receipt" };
  if (message.deliveryStatus !== null) return readStatus(message.deliveryStatus, message.text);

  const submitted = header("auto-submitted");
  const isMachine = submitted !== "" && !submitted.startsWith("no");
  const hasNoReturn = /^<\s*>$/.test(header("return-path"));
  const looksLikeReport =
    header("x-failed-recipients") !== "" ||
    looksReturned(subject, message.text) ||
    looksDelayed(subject, message.text);
  if (
    MACHINE.test(message.fromAddress) ||
    (looksLikeReport && (POSTMASTER.test(message.fromAddress) || isMachine || hasNoReturn)) ||
    (header("x-failed-recipients") !== "" && !ANSWERED_SUBJECT.test(subject))
  )
    return readPlainReport(message, header("x-failed-recipients"));
  if (RECEIPT_SUBJECT.test(subject) && (isMachine || RECEIPT_TEXT.test(message.text)))
    return { kind: "receipt", because: "a read receipt" };

  const because = automaticBecause(message, header, isMachine, submitted);
  const challenge = `${subject}\n${message.text.slice(0, SHORT * 3)}`.match(CHALLENGE)?.[0];
  if (challenge && /https?:\/\/|\brepl(?:y|ying)\b|antwort|répond|respond/i.test(message.text.slice(0, READ)))
    return { kind: "challenge", because: challenge.trim().slice(0, QUOTED) };
  const short = message.text.length <= SHORT;
  const isNotice = because !== null || (short && !wantsSomething(message.text));
  const departure = isNotice ? departureIn(message.text.slice(0, READ)) : null;
  if (departure !== null) return { kind: "left", because: departure.slice(0, QUOTED) };
  if (because !== null) return { kind: "automatic", because };
  const absence = isNotice ? absenceIn(message.text) : null;
  if (absence !== null) return { kind: "automatic", because: `they write “${absence.slice(0, QUOTED)}”` };
  return { kind: "person" };
}

function automaticBecause(
  { headers, subject, fromAddress }: IncomingMessage,
  header: (name: string) => string,
  isMachine: boolean,
  submitted: string,
): string | null {
  if (isMachine) return `Auto-Submitted: ${submitted}`;
  for (const name of ["x-autoreply", "x-autorespond", "x-auto-reply", "x-autoresponder"])
    if (headers.has(name) && header(name) !== "no") return name;
  if (/^(bulk|junk|auto_reply)/.test(header("precedence"))) return `Precedence: ${header("precedence")}`;
  if (NOBODY_READS.test(fromAddress)) return `nobody reads ${fromAddress}`;
  const trimmed = subject.trim();
  return AUTOMATIC_SUBJECT.test(trimmed) ? `the subject “${trimmed.slice(0, 120)}”` : null;
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
function readPlainReport({ text, subject }: IncomingMessage, failed: string): IncomingKind {
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
