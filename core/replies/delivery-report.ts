/** Delivery reports: the fields of RFC 3464, and the words of servers that do not write them. */

export interface ReportedRecipient {
  action: string;
  /** Original-Recipient, which is what we wrote, else Final-Recipient. */
  address: string | null;
  status: string | null;
  words: string;
}

/** Every recipient of a message/delivery-status part, in its order. */
export function readDeliveryStatus(text: string): ReportedRecipient[] {
  const recipients: ReportedRecipient[] = [];
  for (const group of text.replace(/\r\n/g, "\n").split(/\n[ \t]*\n/)) {
    const fields = new Map<string, string>();
    let last = "";
    for (const line of group.split("\n")) {
      const colon = line.indexOf(":");
      if (/^[ \t]/.test(line)) {
        if (last !== "") fields.set(last, `${fields.get(last)} ${line.trim()}`);
      } else if (colon > 0) {
        last = line.slice(0, colon).trim().toLowerCase();
        if (!fields.has(last)) fields.set(last, line.slice(colon + 1).trim());
      }
    }
    const action = fields
      .get("action")
      ?.toLowerCase()
      .match(/^[a-z]+/)?.[0];
    const status = fields.get("status")?.match(/\d\.\d{1,3}\.\d{1,3}/)?.[0] ?? null;
    if (!action && !status) continue;
    const address = fields.get("original-recipient") ?? fields.get("final-recipient");
    recipients.push({
      action:
        action ?? (status?.startsWith("5") ? "failed" : status?.startsWith("4") ? "delayed" : "delivered"),
      address: address ? addressIn(address) : null,
      status,
      words: (fields.get("diagnostic-code") ?? "")
        .replace(/^[\w-]+;\s*/, "")
        .replace(/\s+/g, " ")
        .slice(0, 500),
    });
  }
  return recipients;
}

const addressIn = (field: string) =>
  field
    .slice(field.indexOf(";") + 1)
    .replace(/[<>\s]/g, "")
    .toLowerCase() || null;

const RETURNED_SUBJECT =
  /(?<!\p{L})(undeliver|delivery (status notification|has failed|failure|failed|problem)|failure notice|mail (delivery|system error|failure)|returned (mail|to sender)|non[- ]?delivery|delivery notification|message (not|could not be) delivered|unzustellbar|nicht (zustellbar|zugestellt)|zustell(ung|fehler)|non (remis|distribu|livr)|échec de (la )?remise|no se (puede|pudo|ha podido) entregar|no entregado|devuelto|falha (na|de) entrega|não (foi )?entregue|mancat[oa] (recapito|consegna)|niet (bezorgd|afgeleverd)|niedostarczon|nie dostarczono|kunde inte (levereras|leverera)|kunne (ikke|inte) lever|ikke leveret|ej levererat|toimitus epäonnistui|ei voitu toimittaa|nedoručiteln|nebyla doručena|nepodařilo (se )?doručit|nedoručen|kézbesít|nem kézbesíthető|nelivrat|не доставлен|недоставлен|невозможно доставить|не может быть доставлен|teslim edilemedi|iletilemedi|παράδοσ|لم يتم تسليم|تعذر التسليم|לא נמסר|配信(でき|不能|エラー|に失敗)|送信(でき|エラー)|不達|退信|无法投递|無法傳遞|投递失败|未送达|전송 ?(실패|되지)|배달(되지| ?실패)|반송)/iu;
const RETURNED_TEXT =
  /(could ?n[o']t be delivered|was not delivered|unable to deliver|delivery to the following|undeliverable|permanent (fatal )?error|remote host said|following address(es)? (failed|had)|address(es)? couldn't be found|(konnte|kann) (leider )?nicht zugestellt|existiert nicht|n'existe pas|no existe|não existe|inexistente|non esiste|bestaat niet|(was|were)(n't| not) found|could(n't| not) be found|wasn't able to deliver|n'a pas pu être (remis|distribu|livr)|no (se )?pudo (ser )?entreg|não pôde ser entregue|non è stato (possibile|recapitato)|kon niet worden (bezorgd|afgeleverd)|this is a permanent error|does not exist|user unknown|no such user|over quota|mailbox (is )?full|nepodařilo doručit|neexistuje|nie można dostarczyć|nie ma takiego|kunde inte leverer|finns inte|kunne ikke lever|findes ikke|ei voitu toimittaa|nem kézbesíthető|nu a putut fi livrat|не может быть доставлен|не доставлен|не существует|переполнен|teslim edilemedi|配信でき|存在し(?:な|ませ)|届けられ|无法投递|不存在|찾을 수 없|전송되지)/iu;
const DELAYED_SUBJECT =
  /\b(delay|delayed|verzögert|retard|retrasad|atrasad|ritard|vertraagd|warning: (message|could not))/i;
const DELAYED_TEXT =
  /(will (keep (on )?(trying|retrying)|be (retried|tried)|retry|try again)|(still|has been) (being )?(tried|retrying|queued|delayed)|has not (yet )?been delivered (yet|after)|delivery attempts will continue|no action is required|not (yet )?delivered .{0,40}will|you do not need to resend)/i;

/** Whether subject or text say that an email came back. */
export function looksReturned(subject: string, text: string): boolean {
  return RETURNED_SUBJECT.test(subject) || RETURNED_TEXT.test(text.slice(0, 20_000));
}

/** Whether both say that an email is still on its way. */
export function looksDelayed(subject: string, text: string): boolean {
  return DELAYED_SUBJECT.test(subject) && DELAYED_TEXT.test(text.slice(0, 20_000));
}

export function isDelay(subject: string, text: string): boolean {
  const beginning = text.slice(0, 20_000);
  return (
    (DELAYED_SUBJECT.test(subject) || DELAYED_TEXT.test(beginning)) &&
    !/giving up|permanent error|no more attempts|will not be retried|has failed permanently/i.test(beginning)
  );
}

/** A reply code of RFC 5321, an enhanced one of RFC 3463, on their own or behind a word. */
export const STATUS_CODE =
  /(?:^|[\s(#:：<>])(?:[45][0-7]\d(?=[\s\-:：,.)]|$)(?! ?(?:[€$£%]|units|pieces|people|euro))|[45]\.\d{1,3}\.\d{1,3}\b)/m;

/** Behind such a line comes our own email or its header. */
const OURS_FOLLOWS =
  /^(-{3,}.*(copy|original|returned)|.{0,40}(original message|copy of the message)|\s*(return-path|received|message-id|mime-version|dkim-signature|x-[\w-]{2,40}):\s)/i;

/** Whether a report carries our email, or its header, in its text: the fields that only a message's head has. */
export const copyOfOurs = (text: string): boolean =>
  /^[> \t]*message-id:\s*<[^<>\s]+>/im.test(text.slice(0, 50_000));

/** The beginning of a report for people, without what it returns of ours. */
export function ownWords(text: string): string {
  const lines = text.slice(0, 2_000).split("\n");
  const end = lines.findIndex((line) => OURS_FOLLOWS.test(line.slice(0, 200)));
  return lines.slice(0, end < 0 ? undefined : end).join("\n");
}

/** The addresses a report for people is about: those that head a line or stand alone, else the first one. Linear in the text. */
export function bouncedAddresses(text: string): string[] {
  const found: string[] = [];
  let first: string | null = null;
  for (const line of text.slice(0, 50_000).split("\n").slice(0, 400)) {
    if (OURS_FOLLOWS.test(line.slice(0, 200))) break;
    if (line.length > 1_000 || !line.includes("@")) continue;
    const address = addressOfLine(line);
    if (address === null || /^(mailer-?daemon|postmaster)@/.test(address)) continue;
    first ??= address;
    if (
      line
        .trim()
        .replace(/[<>:()"'*\s-]/g, "")
        .toLowerCase() === address ||
      /^\s*<[^<>\s]+>\s*[:(]/.test(line)
    )
      found.push(address);
  }
  return [...new Set(found.length > 0 ? found : first ? [first] : [])];
}

/** The first address in a line, looked for from its @ outwards. */
function addressOfLine(line: string): string | null {
  const at = line.indexOf("@");
  let from = at;
  while (from > 0 && /[\p{L}\p{N}!#$%&'*+/=?^_`{|}~.-]/u.test(line[from - 1] as string)) from--;
  let to = at + 1;
  while (to < line.length && /[\p{L}\p{N}.-]/u.test(line[to] as string)) to++;
  const address = line.slice(from, to).replace(/\.+$/, "").toLowerCase();
  return from < at && address.includes(".", at - from) ? address : null;
}
