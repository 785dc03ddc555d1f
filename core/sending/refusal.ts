/**
 * Whose fault it is when a mail server refuses an email: read from the enhanced status code (RFC 3463, with the
 * registry of RFC 5248) and the words together, since servers give either of them wrongly. One judge for what a server
 * answers at once and for what a report says later.
 */

/** Which command was answered, or that it stands in a report (RFC 3464). */
export type RefusedAt = "MAIL" | "RCPT" | "DATA" | "report";

/**
 * `recipient`: the address cannot work. `sender`: our own address, domain or sign-in is wrong, whoever it is for.
 * `policy`: the receiver's rules refuse it. `email`: this email's size, content or way. `later`: nothing is wrong for good.
 */
export type Fault = "recipient" | "sender" | "policy" | "email" | "later";

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

/** Bad destination mailbox, system or syntax, ambiguous, moved, no such host, disabled (RFC 3463 3.2, 3.3; RFC 7505). */
const BAD_DESTINATION = new Set(["1.1", "1.2", "1.3", "1.4", "1.6", "1.10", "2.1"]);
const FULL = "2.2";

/** Our own side is wrong: the sender's address or domain is not known to them, or may not be used. */
const OUR_OWN =
  /\bsender\b.{0,60}\b(rejected|refused|verif\w*|not (found|exist|resolve|owned|permitted|allowed)|unknown|invalid|null mx|unresolvable|domain)|\b(mail from|return[- ]path|envelope from|from address)\b.{0,60}\b(not (found|exist|resolve|verified|valid)|does(n't| not) (exist|resolve)|unknown|invalid|unresolvable)|domain of sender|your (own )?(sending |mail )?domain\b.{0,40}\b(not (found|exist)|does(n't| not) (exist|resolve))|(sending|daily|outgoing|outbound|sender)\b.{0,30}\b(quota|limit)/i;
/** A queue that gave up says nothing of the address (Exim's words among them). */
const GAVE_UP =
  /retry (time(out)?|timeout) (exceeded|not reached)|(have|has) been failing for a long time|(delivery|queue|message|retry)\w* (time )?(expired|timed out)|too old\b|not delivered (for|after) \d+ (hours|days)/i;
/** Words by which servers without (or with the wrong) enhanced code say that it is about the sender or their own rules. */
const ABOUT_US =
  /\b(relay\w*|sender|not owned|authenticat\w*|authoriz\w*|log ?in|policy|spam|spf|dkim|dmarc|block(ed|[ -]?list\w*)|blacklist\w*|denied|banned|reputation|rate|too many|quota exceeded for|limit|prohibit\w*|prohibition|unsolicited|junk|phish\w*|virus|malware|listed (?:in|by|on|at)|dnsbl|rbl|not permitted|refused by (?:rule|policy|filter)\w*)\b/i;
const UNKNOWN_PERSON =
  /\b(user|mailbox|recipient|account|address)\b.{0,40}\b(unknown|not (found|exist|available)|does(n't| not) exist|invalid|disabled|closed|deactivated|deleted|retired|no longer|unavailable)|no such (user|mailbox|person|recipient|address)|unknown (user|recipient|mailbox)|invalid recipient|(was|were|could|can|be)(n['’]?t| not)( be)? found|no mailbox here|doesn['’]?t have an? .{0,20}account|unroute?able|non-?existent (host|domain|user|address)|no such (host|domain)|has no (mx|mail exchanger)|null ?mx|does not accept (any )?mail|domain( name)? .{0,80}(not exist|not found)|host (unknown|not found)|existiert nicht|unbekannt|n['’]existe pas|inconnue?|introuvable|no existe|desconocid[oa]|inexistente|não existe|desconhecid[oa]|non esiste|sconosciut[oa]|inesistente|bestaat niet|onbekend|findes ikke|finns inte|(?:finnes|eksisterer) ikke|existerar inte|ok[aä]nd|ukjent|ukendt|ei ole olemassa|tuntematon|neexistuje|neznám|nie istnieje|nieznan|nie ma takiego|nem létezik|ismeretlen|nu exist[aă]|necunoscut|не существует|неизвестн|не найден|не існує|невідом|δεν υπάρχει|άγνωστ|bulunamadı|bilinmeyen|mevcut değil|غير موجود|אינו קיים|לא קיים|存在し(?:な|ませ)|見つか(?:りませ|らな)|宛先不明|該当(?:する)?(?:ユーザー|アドレス)|ユーザー?不明|不存在|查无此人|無此|不明なユーザ|존재하지 않|찾을 수 없|없는 (?:주소|사용자)|अस्तित्व में नहीं|não foi encontrad|no se (?:ha )?encontr|non (?:è stato )?trovat|niet gevonden|nicht gefunden|gibt es nicht/i;
const NO_ROOM =
  /\b(mailbox|inbox|user|recipient|account)\b.{0,40}\b(full|over ?quota|quota|storage)|insufficient storage|out of storage|storage allocation|quota exceeded for (the )?(mailbox|recipient|inbox)|(?:postfach|mailbox).{0,30}voll|bo[iî]te.{0,30}pleine|buz[oó]n.{0,20}lleno|caixa.{0,30}cheia|casella.{0,20}piena|postvak.{0,20}vol\b|(?:brevlådan|postboks|indbakke)\p{L}*.{0,20}(?:full|fuld)|postilaatikko.{0,20}täynnä|skrzynka.{0,30}(?:pełna|przepełniona)|schránka.{0,20}pln|přeplněn|megtelt|переполнен|ящик.{0,20}полон|πλήρες|kutusu dolu|ממלאה|ممتلئ|容量.{0,12}(?:超|いっぱい)|メールボックス.{0,12}(?:満|いっぱい)|(?:邮箱|信箱|郵箱).{0,6}满|已满|已滿|가득|용량.{0,6}초과/iu;

/** The detail of the first enhanced code in a reply, "5.7.1" as { class: 5, detail: "7.1" }. */
export function enhancedCode(words: string): { class: number; detail: string } | null {
  const found = words.match(/(?:^|[^\d.])([245])\.(\d{1,3}\.\d{1,3})(?!\d|\.\d)/);
  return found ? { class: Number(found[1]), detail: found[2] as string } : null;
}

/** A general code says less than the words. */
const isGeneral = (status: string) => /\.0$/.test(status);

/** `status`: the report's own code, where it is one. */
export function judge(status: string | null, words: string, at: RefusedAt): Fault {
  const said = enhancedCode(words);
  // A report's own status is often a general 5.0.0 where the server's words are exact.
  const code = said && (status === null || isGeneral(status)) ? said : (enhancedCode(status ?? "") ?? said);
  const detail = code?.detail ?? "";
  if (code?.class === 4) return "later";
  if (detail === "1.7" || detail === "1.8" || OUR_OWN.test(words)) return "sender";
  if (detail === FULL || NO_ROOM.test(words) || GAVE_UP.test(words)) return "later";
  if (BAD_DESTINATION.has(detail))
    // A server that says "bad address" at MAIL means the sender's.
    return at === "MAIL" ? "sender" : at === "DATA" ? "email" : "recipient";
  if (at === "MAIL") return "sender";
  const isAboutUs = ABOUT_US.test(words);
  if (at !== "DATA") {
    // "5.7.1 no such user": the words are exact where the code is a habit.
    if (UNKNOWN_PERSON.test(words) && !(isAboutUs && detail.startsWith("7."))) return "recipient";
    // No host, or none that can be reached for good (4.1 is also how some say "no such person").
    if (/^4\.(1|4)$/.test(detail)) return "recipient";
    // A host that takes no mail at all (RFC 7504).
    if (/^\D*521\b/.test(words) && !isAboutUs) return "recipient";
  }
  // Message too big, bad content, a loop: another email may pass.
  if (/^(2\.3|3\.4|6\.|4\.[36])/.test(detail))
    return at === "report" && isAboutUs && detail.startsWith("6.") ? "policy" : "email";
  if (detail.startsWith("7.")) return "policy";
  if (/^[2345]\./.test(detail)) return isAboutUs ? "policy" : at === "report" ? "later" : "sender";
  if (isAboutUs) return "policy";
  if (at === "DATA") return "email";
  if (at === "RCPT") return "recipient";
  return code !== null || /(?:^|\D)55[0134](?:\D|$)/.test(words) ? "recipient" : "later";
}

/** Of what a server answered to one of our commands. */
export function faultOf({ code, words, command, hasSent }: Refusal): Fault {
  if (code < 500) return "later";
  const fault = judge(null, words, command);
  const isCertain = BAD_DESTINATION.has(enhancedCode(words)?.detail ?? "");
  return fault === "recipient" && !isCertain && !hasSent ? "sender" : fault;
}
