/** What a file says of whether somebody may be written to: "Email Opt Out = true", "Bounced", a status "unsubscribed". It is believed. */
import { fold } from "../fold.ts";

/** `opted_out`: they want no mail. `bounced`: the address takes none. */
export type Mark = "opted_out" | "bounced";

/** Names of columns, folded, in some thirty languages. A telephone's "do not call" is none. */
const OPT_OUT_COLUMN = new RegExp(
  [
    "opt(?:ed)?[ _-]?out|unsub(?:scri\\p{L}*)?(?!\\p{L})|do[ _-]?not[ _-]?(?:contact|e?-?mail|market|disturb|send)|don'?t[ _-]?(?:contact|e?-?mail)|(?<!\\p{L})dnc(?!\\p{L})|(?<!\\p{L})dne(?!\\p{L})|suppress\\p{L}*|blacklist\\p{L}*|block[ _-]?list\\p{L}*|no[ _-]?(?:contact|e?-?mails?|marketing|mailings?)(?!\\p{L})|gdpr[ _-]?(?:erase|delete|objection)|remove[ _-]?me",
    "abgemeldet|abmeld\\p{L}*|abbestell\\p{L}*|widerspr\\p{L}*|werbesperre|kontaktsperre|mailsperre|sperrvermerk|gesperrt|keine[ _-]?(?:werbung|mails?|e-?mails?|kontakt\\p{L}*)|nicht[ _-]?(?:kontaktieren|anschreiben|mailen)",
    "desabonn\\p{L}*|desinscri\\p{L}*|ne[ _-]?pas[ _-]?(?:contacter|solliciter|demarcher|ecrire)|opposition|refus(?:e)?[ _-]?(?:mail|email|prospection)",
    "(?:^|[ _-])baja$|dado[ _-]?de[ _-]?baja|no[ _-]?(?:contactar|molestar|escribir|enviar)|desuscri\\p{L}*|lista[ _-]?negra|lista[ _-]?robinson|excluid[oa]",
    "descadastrad[oa]|nao[ _-]?(?:contactar|contatar|enviar|perturbar)|removid[oa]|cancelou[ _-]?(?:subscricao|inscricao)",
    "disiscritt[oa]|non[ _-]?(?:contattare|scrivere|inviare|disturbare)|opposizione|cancellat[oa]",
    "uitgeschreven|afgemeld|niet[ _-]?(?:mailen|contacteren|benaderen|contact\\p{L}*)|geen[ _-]?(?:mail|contact|reclame)\\p{L}*",
    "avregistrerad|avanmald|inte[ _-]?kontakta|kontakta[ _-]?ej|ej[ _-]?(?:kontakt|utskick|mail)\\p{L}*|sparrad|afmeldt|frameldt|avmeldt|ikke[ _-]?kontakt\\p{L}*|kontakt[ _-]?ikke|reservert|reklamebeskyttelse|ei[ _-]?saa[ _-]?(?:lahettaa|ottaa)|markkinointikielto|sahkopostikielto|peruutettu",
    "wypisan\\p{L}*|rezygnacj\\p{L}*|nie[ _-]?(?:kontaktowac|pisac|wysylac)\\p{L}*|sprzeciw|zablokowan\\p{L}*|odhlasen\\p{L}*|nekontaktovat|neposilat|nekontaktovat|zakaz[ _-]?kontaktu|leiratkoz\\p{L}*|ne[ _-]?keresse\\p{L}*|tiltott|dezabonat\\p{L}*|nu[ _-]?(?:contactati|trimiteti)|odjavljen\\p{L}*|ne[ _-]?kontaktirati",
    "отпис\\p{L}*|не[ _-]?(?:писать|беспокоить|контактировать|отправлять)|черн\\p{L}*[ _-]?спис\\p{L}*|отказ\\p{L}*|відпис\\p{L}*|не[ _-]?турбувати",
    "abonelikten[ _-]?cik\\p{L}*|iletisim(?:e)?[ _-]?(?:gecme\\p{L}*|yok)|mail[ _-]?atma|διαγραφ\\p{L}*|απεγγραφ\\p{L}*|μην[ _-]?επικοινων\\p{L}*",
    "配信停止|配信不可|連絡不可|連絡禁止|送信不可|退会|退订|退訂|取消订阅|勿扰|请勿联系|请勿发送|黑名单|不联系|拒收",
    `${fold("수신거부")}|${fold("수신 거부")}|${fold("연락금지")}|${fold("발송금지")}|${fold("구독취소")}`,
    "إلغاء الاشتراك|الغاء الاشتراك|لا تتصل|لا ترسل|عدم الاتصال|הסר\\p{L}*|לא ליצור קשר|לא לשלוח|संपर्क न करें|berhenti langganan|jangan hubungi|huy dang ky|khong lien he",
  ].join("|"),
  "u",
);
const BOUNCED_COLUMN =
  /(?:hard|soft|mail|email)?[ _-]?bounc(?:e|ed|es)(?!\p{L})|(?:e-?mail|address)[ _-]?(?:is[ _-]?)?invalid|invalid[ _-]?(?:e-?mail|address)|undeliverable|unzustellbar|ungultige?[ _-]?(?:e-?mail|adresse)|rucklaufer|invalide|rebotad[oa]|rebote|devolvid[oa]|rimbalzat[oa]|onbestelbaar|studs\p{L}*|obestallbar|niedostarcz\p{L}*|nedorucitel\p{L}*|недостав\p{L}*|宛先不明|不達|退信|无效邮箱|반송/u;
/** A consent: what it denies is no more than that. And what is about the telephone, or the post. */
const NO_MARK =
  /opt[ _-]?in|consent|einwilligung|consentement|call|phone|anruf|telefon|sms|fax|post(?:al)?(?!\p{L})|count|reason|grund|link|url/u;

const STATUS_COLUMN =
  /^(?:(?:e-?mail|mail|contact|lead|person|subscription|subscriber|marketing|kontakt|abo)[ _-]*)?(?:status|state|zustand|statut|estado|stato|stan|stav|staus|статус|状態|状态|상태)$/u;
const SAYS_OPTED_OUT = new RegExp(`^(?:${OPT_OUT_COLUMN.source})$`, "u");
const SAYS_BOUNCED = new RegExp(`^(?:${BOUNCED_COLUMN.source}|invalid|dead)$`, "u");

/** In these words a column says that it is not so. */
const NO =
  /^(?:|0|[-–—.]+|n|no|non|nein|nao|nie|ne|nee|nej|nei|ei|nem|nu|нет|не|hayir|yok|oxi|οχι|falsch|faux|falso|false|f|off|never|none|null|nan|n\/?a|empty|active|aktiv|subscribed|opted[ _-]?in|allowed|ok|valid|deliverable|unknown|いいえ|否|无|아니오|لا|לא|नहीं)$/u;

export type MarkUse = "opt_out" | "bad_address";

/** What a column is by its name, or null. */
export function markColumn(header: string): MarkUse | null {
  const name = fold(header.slice(0, 120)).trim();
  if (NO_MARK.test(name)) return null;
  return OPT_OUT_COLUMN.test(name) ? "opt_out" : BOUNCED_COLUMN.test(name) ? "bad_address" : null;
}

/** Whether a column tells of states, among which may be one that counts. */
export const isStatusColumn = (header: string): boolean =>
  STATUS_COLUMN.test(fold(header.slice(0, 120)).trim());

/** What a cell of such a column says: whatever is no "no" is a yes, be it a day, an x or a reason. */
export function markOf(use: MarkUse, cell: string): Mark | null {
  if (NO.test(fold(cell).trim())) return null;
  return use === "opt_out" ? "opted_out" : "bounced";
}

/** What a status says. */
export function markOfStatus(cell: string): Mark | null {
  const said = fold(cell.slice(0, 120)).trim();
  return SAYS_OPTED_OUT.test(said) ? "opted_out" : SAYS_BOUNCED.test(said) ? "bounced" : null;
}
