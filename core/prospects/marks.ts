/** What a file says of whether somebody may be written to: "Email Opt Out = true", "Bounced", a status "unsubscribed". It is believed. */
import { fold } from "../fold.ts";

/** `opted_out`: they want no mail. `bounced`: the address takes none. */
export type Mark = "opted_out" | "bounced";

/** Names of columns, folded, in some thirty languages. A telephone's "do not call" is none. */
const OPT_OUT_COLUMN = new RegExp(
  [
    "opt(?:ed)?[ _-]?out|unsub(?:scri\\p{L}*)?(?!\\p{L})|do[ _-]?not[ _-]?(?:contact|e?-?mail|market|disturb|send)|don'?t[ _-]?(?:contact|e?-?mail)|(?<!\\p{L})dnc(?!\\p{L})|(?<!\\p{L})dne(?!\\p{L})|suppress\\p{L}*|blacklist\\p{L}*|block[ _-]?list\\p{L}*|no[ _-]?(?:contact|e?-?mails?|marketing|mailings?)(?!\\p{L})|gdpr[ _-]?(?:erase|delete|objection)|remove[ _-]?me",
    "abgemeldet|abmeld\\p{L}*|abbestell\\p{L}*|widerspr\\p{L}*|werbesperre|kontaktsperre|mailsperre|sperrvermerk|gesperrt|keine[ _-]?(?:werbung|mails?|e-?mails?|kontakt\\p{L}*)|nicht[ _-]?(?:kontaktieren|anschreiben|mailen)",
    "desabonn\\p{L}*|desinscri\\p{L}*|ne[ _-]?pas[ _-]?(?:contacter|solliciter|demarcher|ecrire)|^opposition$|refus(?:e)?[ _-]?(?:mail|email|prospection)",
    "(?:^|(?<!planta)[ _-])baja(?:[ _-]voluntaria)?$|dado[ _-]?de[ _-]?baja|no[ _-]?(?:contactar|molestar|escribir|enviar)|desuscri\\p{L}*|lista[ _-]?negra|lista[ _-]?robinson|excluid[oa]",
    "descadastr\\p{L}*|nao[ _-]?(?:contactar|contatar|enviar|perturbar)|removid[oa]|cancelou[ _-]?(?:subscricao|inscricao)",
    "disiscri\\p{L}*|non[ _-]?(?:contattare|scrivere|inviare|disturbare)|opposizione|cancellat[oa]",
    "uitgeschreven|uitschrij\\p{L}*|afgemeld|niet[ _-]?(?:mailen|contacteren|benaderen|contact\\p{L}*)|geen[ _-]?(?:mail|contact|reclame)\\p{L}*",
    "avregistrerad|avanmald|inte[ _-]?kontakta|kontakta[ _-]?ej|ej[ _-]?(?:kontakt|utskick|mail)\\p{L}*|sparrad|afmeldt|frameldt|avmeldt|ikke[ _-]?kontakt\\p{L}*|kontakt[ _-]?ikke|reservert|reklamebeskyttelse|ei[ _-]?saa[ _-]?(?:lahettaa|ottaa)|markkinointikielto|sahkopostikielto|peruutettu",
    "wypis(?:an\\p{L}*)?(?!\\p{L})|rezygnacj\\p{L}*|nie[ _-]?(?:kontaktowac|pisac|wysylac)\\p{L}*|sprzeciw|zablokowan\\p{L}*|odhlasen\\p{L}*|nekontaktovat|neposilat|nekontaktovat|zakaz[ _-]?kontaktu|leiratkoz\\p{L}*|ne[ _-]?keresse\\p{L}*|tiltott|dezabonat\\p{L}*|nu[ _-]?(?:contactati|trimiteti)|odjavljen\\p{L}*|ne[ _-]?kontaktirati",
    "отпис\\p{L}*|не[ _-]?(?:писать|беспокоить|контактировать|отправлять)|черн\\p{L}*[ _-]?спис\\p{L}*|отказ\\p{L}*|відпис\\p{L}*|не[ _-]?турбувати",
    "abonelikten[ _-]?cik\\p{L}*|iletisim(?:e)?[ _-]?(?:gecme\\p{L}*|yok)|mail[ _-]?atma|διαγρα(?:φ|μμ)\\p{L}*|απεγγραφ\\p{L}*|μην[ _-]?επικοινων\\p{L}*",
    "配信停止|配信不可|連絡不可|連絡禁止|送信不可|退会|退订|退訂|取消订阅|勿扰|请勿联系|请勿发送|黑名单|不联系|拒收",
    `${fold("수신거부")}|${fold("수신 거부")}|${fold("연락금지")}|${fold("발송금지")}|${fold("구독취소")}`,
    "إلغاء الاشتراك|الغاء الاشتراك|لا تتصل|لا ترسل|عدم الاتصال|הסר\\p{L}*|לא ליצור קשר|לא לשלוח|संपर्क न करें|berhenti langganan|jangan hubungi|huy dang ky|khong lien he",
  ].join("|"),
  "u",
);
/**
 * What columns say in a sentence: a language's "not", and behind it within a few words what is not to be done. Forms of
 * what was done or not ("not contacted", "nicht kontaktiert", "not yet") are left out: they tell of the past.
 */
const NEVER: readonly [not: string, done: string][] = [
  [
    "not|never|don'?t|dont|stop|no more",
    "(?:be |being )?(?:contact(?!ed|s)|e?-?mail(?!ed|ing list)|writ(?:e|ing)|send(?!er)|solicit|market)|(?:to|want|wish)\\p{L}*(?: to)?(?: be)? (?:contacted|e?-?mailed|written)",
  ],
  [
    "nicht|keine?|nie",
    "kontaktier(?!t)|anschreib|anmail|mail(?!ing ?list)|e-?mail|senden|versenden|zusend|schreiben|werbung|newsletter",
  ],
  [
    "ne|pas de|plus de|plus d|stop",
    "contacter|envoyer|ecrire|solliciter|demarcher|relancer|e?-?mails?|courriels?|mailing|newsletter|prospection",
  ],
  ["no", "contactar|envi(?:ar|e|en)|escribir|correos?|e?-?mails?|publicidad|mandar"],
  ["nao|sem", "contac?tar|enviar|escrever|e?-?mails?|correio|mandar|publicidade"],
  ["non|niente", "contattare|inviare|scrivere|mandare|e?-?mails?|pubblicita|disturbare"],
  [
    "niet|geen",
    "aanschrijv\\p{L}*|mail(?:en|s)?|e-?mails?|contacteren|benaderen|sturen|zenden|schrijven|nieuwsbrief|reclame",
  ],
  [
    "inte|ej|ikke|ingen|inga|aldrig|aldri",
    "kontaktas?|kontaktes|kontakte?|mejl\\p{L}*|mail\\p{L}*|e-?posta?|send\\p{L}*|sendes|skicka\\p{L}*|skriv\\p{L}*|reklam\\p{L}*|utskick\\p{L}*|nyhe[dt]s?brev\\p{L}*",
  ],
  [
    "ei|ala|mitte",
    "sahkopost\\p{L}*|laheta\\p{L}*|lahettaa|postia|mainos\\p{L}*|posti\\p{L}*|yhteyt\\p{L}*|saata\\p{L}*|kirjuta\\p{L}*|kirju",
  ],
  ["nie", "wysyla\\p{L}*|pisa\\p{L}*|kontaktowa\\p{L}*|mailowa\\p{L}*|chce \\p{L}*mail\\p{L}*"],
  [
    "nepreje si|nechce|nezada|nema zajem o|neprijimat",
    "e?-?mail\\p{L}*|posta|postu|zpravy|newsletter\\p{L}*|kontakt\\p{L}*|nabidky",
  ],
  ["ne|nem", "kuld\\p{L}*|levelet|leveleket|hirlevel\\p{L}*|keres\\p{L}*|kapcsolat\\p{L}*|irj\\p{L}*"],
  ["nu|fara", "(?:se )?(?:trimite\\p{L}*|contacta\\p{L}*|scrie\\p{L}*|e?-?mail\\p{L}*)"],
  ["ne|nemoj\\p{L}*|nikako", "sl[aá]ti|salji\\p{L}*|posilja\\p{L}*|kontakt\\p{L}*|pisati|obavestav\\p{L}*"],
  [
    "не|без|нет",
    "пиши(?:те)?|слать|отправлять|присылать|писать|рассыл\\p{L}*|контактировать|надсилати|писати|надсил\\p{L}*|писем|изпраща\\p{L}*|пращай\\p{L}*|слати",
  ],
  [
    "μην?|δεν|οχι",
    "(?:να )?(?:σταλ\\p{L}*|στελν\\p{L}*|στειλ\\p{L}*|επικοινων\\p{L}*|ενοχλ\\p{L}*|e?-?mails?)",
  ],
  ["khong|dung", "gui|lien he|nhan"],
  ["jangan|tidak", "kirim\\p{L}*|hubungi|email|dikirim\\p{L}*|dihubungi"],
  ["لا|عدم|ممنوع", "(?:ال)?(?:ترسل|تراسل|إرسال|ارسال|اتصال|تتصل|مراسلة|تواصل)"],
  ["לא|אין|אל", "(?:ל?)(?:שלוח|שלח|ליצור|פנות|דיוור)\\p{L}*"],
];
/** Between a "not" and what it denies; "yet" makes it the past. */
const BETWEEN =
  "(?:(?!of |yet|noch|encore|aun|todavia|ainda|ancora|nog|endnu|enda|jeste|jeszcze|еще|ще|more)[\\p{L}'’]+[\\s_-]+){0,3}";
/** A not, glued to its verb, or told by an ending. */
const IN_ONE_WORD =
  "ne(?:kuldend\\p{L}*|psat|pisat|zasil|posil|oslov|kontakt|rozesil|posiel|zasiel|siust|siunt|sut|rakst)\\p{L}*|neatsiust\\p{L}*|gonder(?:me|ilme)(?:sin|yin|yiniz)?|gecilmesin|ulasilmasin|istemiyor|istemez";
/** Gone from the lists, or a leave taken back: "removed from list", "baja de la lista", "permission revoked". */
const LEFT = [
  "(?:removed|excluded?|remove|deleted|left|off) (?:from|the) (?:the |all )?(?:mailing|list|e?-?mail|campaign|newsletter)\\p{L}*",
  "(?:permission|consent|opt[ _-]?in|einwilligung|consentement|consentimiento|consentimento|consenso|zgod\\p{L}*|souhlas|suhlas|согласие)[ _-](?:is )?(?:revoked|withdrawn|denied|refused|widerrufen|entzogen|retire|revocad[oa]|revocato|odvolan|отозвано)",
  "(?:withdr[ae]w\\p{L}*|revok\\p{L}*|denied|widerruf\\p{L}*|retrait|revoca|revoc\\p{L}*|cofnie\\p{L}*|odvolan\\p{L}*|отозва\\p{L}*)[ _-](?:\\p{L}+ ){0,2}(?:consent\\p{L}*|permission|einwilligung|consenso|zgod\\p{L}*|souhlas\\p{L}*|согласи\\p{L}*)",
  "ausgetragen|(?:mail|mailing|versand|kontakt|brief|werbe)[ _-]?(?:sperre|verbot|stopp?)(?!\\p{L}| ?code)|robinson[ _-]?li\\p{L}+",
  "liste rouge|oppos\\p{L}+ (?:aux?|a la|a l') ?\\p{L}+",
  "(?:^|[ _-])baja (?:de|del|en)(?! california)|(?:pidio|pide|ha pedido|solicito|solicita)(?: \\p{L}+)? baja|no desea|exclusion publicitaria",
  "cancelou|cancelad[oa]$|nao quer|ha chiesto di non|non vuole|non desidera",
  "wil geen|wenst geen|vill inte|(?:kontakta|skicka|maila|mejla|kontakt|send|skriv) (?:inte|ej|ikke)|onsker ikke|onsker ingen|vil ikke|ne souhaite p(?:as|lus)|ne veut p(?:as|lus)|will (?:keine?|nicht)",
  "perunut|rezygn\\p{L}*|odjav\\p{L}*|відмов\\p{L}*",
  fold(
    "(?:メール|メルマガ|配信|送信|連絡|案内|dm)(?:は)?(?:不要|拒否|停止|禁止|解除|お断り)|送らない|オプトアウト|受信拒否",
  ),
  "(?:不要|不|勿|请勿|不可|禁止|拒绝|拒收)(?:再)?(?:发|联系|发送|邮件|打扰|聯繫|寄)|已?退(?:订|訂)",
  `(?:${["메일", "이메일", "수신", "연락", "발송"].map(fold).join("|")}) ?(?:${["거부", "금지", "중단", "제외"].map(fold).join("|")})|${fold("보내지")}|${fold("연락하지")}`,
  "(?:מחק|הוסר|להסיר)\\p{L}*",
  fold("(?:न|ना|मत) ?(?:भेज|संपर्क)|(?:ईमेल|मेल) (?:न|मत)"),
].join("|");
const SAYS_NEVER = new RegExp(
  [
    ...NEVER.map(
      ([not, done]) => `(?<!\\p{L})(?:${not})(?!\\p{L})[\\s_'’-]+${BETWEEN}(?<!\\p{L})(?:${done})`,
    ),
    `(?<!\\p{L})(?:${IN_ONE_WORD})(?!\\p{L})`,
    LEFT,
  ].join("|"),
  "u",
);
const WITHDRAWN = new RegExp(LEFT, "u");

const BOUNCED_COLUMN =
  /(?:hard|soft|mail|email)?[ _-]?bounc(?:e|ed|es)(?!\p{L})|(?:e-?mail|address)[ _-]?(?:is[ _-]?)?invalid|invalid[ _-]?(?:e-?mail|address)|undeliverable|unzustellbar|ungultige?[ _-]?(?:e-?mail|adresse)|rucklaufer|invalide|rebotad[oa]|rebote|devolvid[oa]|rimbalzat[oa]|onbestelbaar|studs\p{L}*|obestallbar|niedostarcz\p{L}*|nedorucitel\p{L}*|недостав\p{L}*|宛先不明|不達|退信|无效邮箱|반송/u;
/** A consent: what it denies is no more than that. And what is about the telephone, or the post. */
const NO_MARK =
  /opt[ _-]?in|consent|einwilligung|consentement|call|phone|anruf|telefon|sms|fax|post(?:al)?(?!\p{L})|count|reason|grund|link|url/u;

const PHONE = /call|phone|anruf|telefon|sms|fax/u;

const OF_THEM =
  "e-?mail\\p{L}*|mail\\p{L}*|contact\\p{L}*|kontakt\\p{L}*|lead|person|subscription|subscriber|marketing|abo|correo|courriel|kirje|adres\\p{L}*|рассылки|письма";
const STATUS_COLUMN = new RegExp(
  `^(?:(?:${OF_THEM})[ _-]*)?(?:status|state|zustand|statut|estado|stato|stan|stav|staus|tila|durum|allapot|статус|状態|状态|상태)(?:[ _-]+(?:of |de la |de |del |do |da |der |des |van |av |af |d')?(?:${OF_THEM}))?$`,
  "u",
);
const SAYS_OPTED_OUT = new RegExp(`^(?:${OPT_OUT_COLUMN.source})$`, "u");
const SAYS_BOUNCED = new RegExp(`^(?:${BOUNCED_COLUMN.source}|invalid|dead)$`, "u");

/** In these words a column says that it is not so. */
const NO =
  /^(?:|0|[-–—.]+|n|no|non|nein|nao|nie|ne|nee|nej|nei|ei|nem|nu|нет|не|hayir|yok|oxi|οχι|falsch|faux|falso|false|f|off|never|none|null|nan|n\/?a|empty|active|aktiv|subscribed|opted[ _-]?in|allowed|ok|valid|deliverable|unknown|いいえ|否|无|아니오|لا|לא|नहीं)$/u;

const YES =
  /^(?:y|yes|true|t|1|x|✓|✔|ja|jah|oui|si|sim|tak|ano|igen|da|да|так|evet|ναι|kylla|taip|ja\.|wahr|vrai|verdadero|verdadeiro|vero|waar|sant|sand|prawda|pravda|истина|はい|是|예|네|نعم|כן|co|ya)$/u;

/**
 * Whether a column says nothing but yes and no, and yes of somebody: it may say who wants no mail, in words that nobody
 * has listed.
 */
export function saysYesOrNo(cells: Iterable<string>): boolean {
  let isSaid = false;
  for (const cell of cells) {
    const said = fold(cell.slice(0, 20)).trim();
    if (YES.test(said)) isSaid = true;
    else if (!NO.test(said)) return false;
  }
  return isSaid;
}

export type MarkUse = "opt_out" | "bad_address";

/** What a column is by its name, or null. */
export function markColumn(header: string): MarkUse | null {
  const name = fold(header.slice(0, 120)).trim();
  if (NO_MARK.test(name)) return WITHDRAWN.test(name) && !PHONE.test(name) ? "opt_out" : null;
  return OPT_OUT_COLUMN.test(name) || SAYS_NEVER.test(name)
    ? "opt_out"
    : BOUNCED_COLUMN.test(name)
      ? "bad_address"
      : null;
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
  return SAYS_OPTED_OUT.test(said) || SAYS_NEVER.test(said)
    ? "opted_out"
    : SAYS_BOUNCED.test(said)
      ? "bounced"
      : null;
}
