/**
 * Whose fault it is when a mail server refuses an email: read from the enhanced status code (RFC 3463, with the
 * registry of RFC 5248), which says what the bare reply code of RFC 5321 does not.
 */

export interface Refusal {
  /** The reply code, such as 550. */
  code: number;
  /** What the server said, its codes included. */
  words: string;
  /** The command it answered. */
  command: "MAIL" | "RCPT" | "DATA";
  /** Whether this mailbox has sent anything before: else its settings are the likelier fault. */
  hasSent: boolean;
}

/**
 * `recipient`: the address cannot work. `mailbox`: the server will not take email from this mailbox, whoever it is
 * for. `email`: this email only. `later`: nothing is wrong for good.
 */
export type RefusalFault = "recipient" | "mailbox" | "email" | "later";

/** Bad destination mailbox, system or syntax, ambiguous, moved, no such host, disabled (RFC 3463 3.2, 3.3; RFC 7505). */
const BAD_DESTINATION = new Set(["1.1", "1.2", "1.3", "1.4", "1.6", "1.10", "2.1"]);
const FULL = "2.2";

/** Words by which servers without (or with the wrong) enhanced code say that it is about the sender or their own rules. */
const ABOUT_US =
  /\b(relay\w*|sender|not owned|authenticat\w*|authoriz\w*|log ?in|policy|spam|spf|dkim|dmarc|block(ed|[ -]?list\w*)|blacklist\w*|denied|banned|reputation|rate|too many|quota exceeded for|limit|prohibit\w*|prohibition|unsolicited|junk|phish\w*|virus|malware|listed (?:in|by|on|at)|dnsbl|rbl|not permitted|refused by (?:rule|policy|filter)\w*)\b/i;
const UNKNOWN_PERSON =
  /\b(user|mailbox|recipient|account|address)\b.{0,40}\b(unknown|not (found|exist|available)|does(n't| not) exist|invalid|disabled|no longer|unavailable)|no such (user|mailbox|person|recipient|address)|unknown (user|recipient|mailbox)|invalid recipient|(was|were|could|can|be)(n['’]?t| not)( be)? found|no mailbox here|doesn['’]?t have an? .{0,20}account|unroute?able|non-?existent (host|domain|user|address)|no such (host|domain)|has no (mx|mail exchanger)|null ?mx|does not accept (any )?mail|domain( name)? .{0,80}(not exist|not found)|host (unknown|not found)|existiert nicht|unbekannt|n['’]existe pas|inconnue?|introuvable|no existe|desconocid[oa]|inexistente|não existe|desconhecid[oa]|non esiste|sconosciut[oa]|inesistente|bestaat niet|onbekend|findes ikke|finns inte/i;
const NO_ROOM =
  /\b(mailbox|inbox|user|recipient|account)\b.{0,40}\b(full|over ?quota|quota|storage)|insufficient storage|out of storage|storage allocation|quota exceeded for (the )?(mailbox|recipient|inbox)/i;

/** The detail of the first enhanced code in a reply, "5.7.1" as { class: 5, detail: "7.1" }. */
export function enhancedCode(words: string): { class: number; detail: string } | null {
  const found = words.match(/(?:^|[^\d.])([245])\.(\d{1,3}\.\d{1,3})(?!\d|\.\d)/);
  return found ? { class: Number(found[1]), detail: found[2] as string } : null;
}

export function faultOf({ code, words, command, hasSent }: Refusal): RefusalFault {
  const enhanced = enhancedCode(words);
  if (code < 500) return "later";
  if (enhanced) {
    const { detail } = enhanced;
    // A server that says "bad address" at MAIL means the sender's.
    if (BAD_DESTINATION.has(detail))
      return command === "RCPT" ? "recipient" : command === "MAIL" ? "mailbox" : "email";
    if (detail === FULL) return /sender|sending|daily|outgoing/i.test(words) ? "mailbox" : "later";
    // Message too big, bad content: another email may pass.
    if (/^(3\.4|2\.3|6\.)/.test(detail)) return "email";
    if (detail === "1.0" || detail === "0.0") return readWords(words, command, hasSent);
    return "mailbox"; // policy (7.x), our own address (1.7, 1.8), the system (3.x), routing (4.x), protocol (5.x)
  }
  return readWords(words, command, hasSent);
}

function readWords(words: string, command: Refusal["command"], hasSent: boolean): RefusalFault {
  if (command === "MAIL") return "mailbox";
  if (NO_ROOM.test(words)) return "later";
  if (command === "DATA") return ABOUT_US.test(words) ? "mailbox" : "email";
  if (UNKNOWN_PERSON.test(words) && !/sender/i.test(words)) return hasSent ? "recipient" : "mailbox";
  return ABOUT_US.test(words) || !hasSent ? "mailbox" : "recipient";
}

/** Of a report that came later: whether the address will never take mail. Full mailboxes and policies pass. */
export function isHardFailure(status: string | null, words: string): boolean {
  const said = enhancedCode(words);
  // A report's own status is often a general 5.0.0 where the server's words are exact.
  const detail = said && (status === null || /\.0\.0$|\.0$/.test(status)) ? said : enhancedCode(status ?? "");
  if (detail?.class === 4) return false;
  if (detail && detail.detail === FULL) return false;
  if (NO_ROOM.test(words)) return false;
  if (detail && BAD_DESTINATION.has(detail.detail)) return true;
  if (UNKNOWN_PERSON.test(words)) return true;
  // No host, or none that can be reached for good (4.1 is also how some say "no such person").
  if (detail && /^4\.(1|4)$/.test(detail.detail)) return true;
  if (detail && /^(7\.|6\.|5\.|4\.|3\.|2\.3)/.test(detail.detail)) return false;
  if (ABOUT_US.test(words)) return false;
  return detail !== null || /(?:^|\D)55[0134](?:\D|$)/.test(words);
}

/** Of a report that came later: whether the receiver's rules refused it for the sender's sake, not for the address. */
export function isPolicyFailure(status: string | null, words: string): boolean {
  if (isHardFailure(status, words) || NO_ROOM.test(words)) return false;
  const code = enhancedCode(words) ?? enhancedCode(status ?? "");
  // The email's size or its way, not its sender (RFC 3463 3.3, 3.4, 3.5).
  if (code?.class === 4 || (code && /^(2\.3|3\.4|4\.[36])$/.test(code.detail))) return false;
  return code ? /^7\./.test(code.detail) || ABOUT_US.test(words) : ABOUT_US.test(words);
}
