/**
 * Opt-outs in plain words. What is read here is acted on alone, so a sentence counts only if nothing else can be meant
 * by it; where one speaks of stopping otherwise (denied, reported, asked about, put in quotation marks, for a while, for
 * one matter) it is told apart, so that nobody reads it as a wish.
 */
import { fold } from "../fold.ts";

export interface StopWords {
  /** The words that ask for no more mail, as [from, to) in the letter; null if none do for certain. */
  plain: [number, number] | null;
  /** Words that speak of stopping and ask for something else. */
  otherwise: [number, number][];
}

const READ = 5_000;

/** Spaces of a phrase match any white space; `…` stands for up to three words; folded, like the text. */
const anyOf = (phrases: readonly string[]) =>
  new RegExp(
    `(?<![\\p{L}\\d])(?:${phrases
      .map((phrase) =>
        phrase
          .split(/(\\p\{L\}|\\.)/)
          .map((part) => (part.startsWith("\\") ? part : fold(part)))
          .join("")
          .replaceAll("…", "(?: [^ .!?]+){0,3}? ")
          .replaceAll("[^ .!?]", "[^\\s.!?]")
          .replaceAll(" ?", "\\s*")
          .replaceAll(" ", "\\s+"),
      )
      .join("|")})(?:(?![\\p{L}\\d])|(?<=@))`,
    "u",
  );

const US = "(?:me|us|my|our|this|it all|these|everyone here|the above|all of us|both of us)";
/** Requests, by language: whoever says so of themselves wants no more mail. */
const REQUEST = anyOf([
  `(?:unsubscribe|unsubcribe|unsubscibe|unsuscribe|unsubscrib|suppress|blacklist|de-?list|unlist) (?:${US}|at once|immediately|now)`,
  "(?:unsubscribe|suppress|remove|delete|delist|drop) \\S*@",
  "(?:please|pls|plz|kindly|just|asking you to|want to|wish to|like to) (?:unsubscribe|unsubcribe|unsubscibe|opt[ -]?out)",
  `(?:remove|take|get|strike|cross|drop|scratch|delete|erase|wipe|purge|scrub|leave|keep) ${US}…?(?:off|from|out of) (?:(?:your|the|this|that|any|all|every|future|further) )?(?:[^ .!?]+ ){0,2}?(?:list|lists|mailing|mailings|mailing list|database|databases|records|system|systems|crm|emails|mails|distribution|newsletter|books|files|address book|contacts|spam|sequence|campaign)`,
  "(?:take|cross|strike|scratch) (?:me|us|my (?:name|address|email)|our (?:name|address|email)|this address) off(?: (?:please|pls|now|thanks|thank you|it|this|at once))?(?= ?[.!,)]| ?$)",
  "(?:address|addresses|name|one|person|company|inbox) (?:that |which )?(?:you (?:can|may|could|should|might) |to )(?:cross|strike|take|scratch|delete|remove|drop|lose)(?: off| out)?(?: (?:your|the) list)?",
  "(?:cross|strike|scratch) (?:my|our|this) (?:[^ ]+ )?(?:address|name|email|e-mail) off",
  "remove (?:me|us)(?: (?:please|pls|now|thanks|thank you|at once|immediately|already))?(?= ?[.!,)]| ?$)",
  "(?:delete|erase|remove|destroy|purge|wipe) (?:all )?(?:of )?(?:my|our|any|whatever|all|every|the)…?(?:personal )?(?:data|details|information|address|addresses|email address|e-mail|record|records|contact details)(?= |[.!,]|$)(?! (?:for|in|of) (?:the|this|that|line|row))",
  "(?:lose|forget|bin|burn) (?:my|our|this) (?:[^ ]+ )?(?:address|number|email|e-mail|details)",
  "(?:stop|quit|cease|desist from|refrain from) (?:with )?(?:all )?(?:the |these |those |your |this )?(?:emailing|e-mailing|mailing|contacting|messaging|spamming|bothering|harassing|pestering|writing|sending)(?: (?:to )?(?:me|us|these|this|here|here again|emails|mails|messages|it|stuff|things)|(?= ?[.!,]| ?$| or | and ))",
  "(?:stop|quit|cease) (?:all )?(?:the |these |those |your |this |any )?(?:emails|e-mails|mails|messages|spam|spamming|contact|correspondence|communication|communications|mailings)",
  "(?:do not|don't|dont|never|please never|kindly do not) (?:ever )?(?:e-?mail|mail|contact|message|spam|bother|pester|disturb) (?:me|us|this (?:address|office|company|number))(?: (?:again|any ?more|any longer|further|ever|please))?",
  "(?:do not|don't|dont|never) (?:ever )?(?:send|write|e-?mail|contact)(?: to)?(?: (?:me|us|here|this address))?(?: (?:any ?thing|any (?:more|further)|more|further))?(?: (?:emails|mails|messages|else|of these|of this))? (?:again|any ?more|any longer|ever|else)",
  "(?:no more|no further|not another|no additional) (?:e-?mails?|mails?|messages?|contact|communications?|correspondence|mailings?|of these|of this)",
  "(?:do not|don't|dont|no longer) (?:want|wish|care) to (?:receive|get|be (?:contacted|emailed|mailed|written to)|hear from (?:you|your company))",
  "(?:neither|nor|nobody|no one|not)…receives?…(?:further|more|any)…?(?:correspondence|e-?mails?|mails?|messages?|contact|communications?|mailings)",
  "(?:not|never) (?:to )?be (?:contacted|e-?mailed|mailed|written to|approached|included)(?: by you)?(?: (?:again|any ?more|further|in future))?",
  "cease (?:and desist|all (?:contact|communication|correspondence))",
  "(?:i|we) (?:hereby )?(?:object to|withdraw|revoke)…(?:my|our|the|any)…?(?:data|consent|marketing|processing|emails)|(?:right to (?:erasure|be forgotten|object))|(?:request|demand|exercise)…(?:erasure|deletion)",
  "leave (?:me|us) alone|never (?:write|mail|email|contact)(?: to)? (?:me|us|here|this address) again|go away and",
  "(?:blocked|blocking) and report(?:ed|ing)|(?:report|reporting|reported) (?:you|this|it) (?:as|for|to)…?(?:spam|ico|authority|authorities|regulator)",
  // German
  "(?:nehmen|streichen|entfernen|loschen|tragen|werfen|nimm|streich|entferne|losch|losche|trag) (?:sie )?(?:bitte )?(?:mich|uns|meine|unsere|diese)…?(?:aus|von|vom)?…?(?:\\p{L}*verteiler\\p{L}*|\\p{L}*liste\\p{L}*|\\p{L}*datenbank|\\p{L}*adresse\\p{L}*|daten|kontaktdaten|newsletter|aus)",
  "(?:mich|uns|meine (?:adresse|daten|mail\\p{L}*)|unsere (?:adresse|daten))(?: bitte)?(?: [^ .!?]+){0,5}? (?:aus dem|aus ihrem|aus ihrer|aus eurem|aus der|von der|von ihrer|von dieser|aus)(?: [^ .!?]+)? (?:\\p{L}*verteiler|\\p{L}*liste|datenbank|kartei)",
  "(?:keine|keinerlei)(?: weiteren?)? (?:e-?mails?|mails|nachrichten|werbung|werbemails|zusendungen|newsletter|kontaktaufnahme|anschreiben)(?: (?:mehr|dieser art|bitte))",
  "keine weiteren (?:e-?mails?|mails|nachrichten|zusendungen|kontaktversuche|anfragen)",
  "(?:schreiben|kontaktieren|schicken|senden|belastigen|mailen) sie (?:mir|uns|mich)(?: bitte)? (?:nicht mehr|nichts mehr|nie wieder|keine \\p{L}+ mehr|nicht wieder)",
  "(?:nicht mehr|nie wieder|nie mehr)(?: von ihnen)? (?:kontaktiert|angeschrieben|kontaktieren|anschreiben|schreiben|belastigt|belastigen|mailen)",
  "(?:widerspreche|widersprechen)(?: [^ .!?]+){0,6}? (?:daten|werbung|werbezwecke\\p{L}*|nutzung|verarbeitung|zusendung)|um loschung|bitte (?:um )?(?:abmeldung|abmelden|austragen|loschen)|(?:melde|melden) (?:mich|sie mich|uns)(?: hiermit| bitte)? (?:ab|vom)|lassen sie (?:mich|uns)(?: bitte| endlich)? in ruhe|horen sie (?:bitte )?auf",
  // French
  "(?:me|nous) (?:desinscrire|desabonner|retirer|supprimer|radier|enlever)|(?:retirez|supprimez|enlevez|desinscrivez|desabonnez|rayez|effacez|radiez|oubliez)-(?:moi|nous)|(?:retirer|supprimer|effacer|enlever|rayer) (?:mon|mes|nos|notre) (?:adresse|donnees|coordonnees|nom|mail|contact)|(?:merci|veuillez|prière) (?:de )?(?:ne plus|vous abstenir)|ne (?:m['’]|(?:me|nous) )?(?:ecrivez|contactez|envoyez|sollicitez|relancez|importunez|derangez) plus|(?:arretez|cessez) (?:de |vos |les |ces |tout )|plus (?:de|aucun) (?:mails?|messages?|courriels?|sollicitations?|publicite)|ne (?:souhaite|veux|desire|souhaitons|voulons) plus (?:recevoir|etre|avoir)|(?:desinscription|desabonnement) (?:svp|merci|immediate?)|laissez-(?:moi|nous) tranquille",
  // Spanish
  "(?:dame|denme|deme|dadme|dar(?:me|nos)?|me doy|darse) de baja|(?:dar|de) baja (?:mi|este|esta|nuestro)|(?:elimin|borr|quit|saqu|sac|suprim|retir|bórr|remuev)\\p{L}*(?:me|nos|an)? (?:de|mis datos|mi correo|mi direccion|nuestros datos|este correo|mi email)(?: [^ .!?]+){0,2}|(?:elimin|borr|quit|saqu|sac|retir)\\p{L}{1,4}(?:me|nos)(?= ?[.!,]| ?$| de)|no (?:me|nos) (?:escrib|contact|envi|mand|molest|llam|vuelv)\\p{L}* (?:mas|a escribir|a contactar|a enviar|a mandar|nada|ningun)|no (?:quiero|deseo|queremos|deseamos) (?:recibir|mas correos|que me)|(?:dej|par)\\p{L}{1,3} de (?:escribir|enviar|mandar|molestar|contactar)\\p{L}*|no mas (?:correos|mails|emails|mensajes)|(?:cancel)\\p{L}* (?:mi )?suscripcion|dej\\p{L}*(?:me|nos) en paz",
  // Portuguese
  "(?:remov|retir|tir|apag|elimin|exclu|descadastr|delet)\\p{L}*(?:-me|-nos)|me (?:remov|retir|tir|apag|elimin|exclu|descadastr)\\p{L}+|(?:remov|retir|tir|apag|elimin|exclu|delet|descadastr)\\p{L}* (?:me|nos|o meu|a minha|meu|minha|os meus|meus|este|esse|nosso)(?: [^ .!?]+){0,4}? (?:e-?mail|endereco|contacto|contato|nome|dados|lista|base|cadastro)|nao (?:me|nos) (?:escrev|contact|contat|envi|mand|volt|perturb|incomod)\\p{L}* mais|nao (?:quero|desejo|queremos|pretendo) (?:receber|mais)|nao (?:envi|mand|escrev)\\p{L}+ mais|(?:par|deix)\\p{L}{1,3} de (?:enviar|mandar|escrever|contactar|me|nos)|(?:cancelar|cancelem|cancele) (?:a )?(?:minha )?(?:inscricao|subscricao|assinatura)|deix\\p{L}{1,2}-(?:me|nos) em paz|chega de (?:e-?mails|mensagens)",
  // Italian
  "(?:cancell|rimuov|toglie|togli|elimin|disiscriv|disiscriva)\\p{L}*(?:mi|temi|temi|teci|rmi|rci|ci)(?= |[.!,]|$)|(?:mi|ci) (?:cancelli|tolga|rimuova|elimini|tolgano|cancellino|disiscriva|disiscrivete)|(?:cancell|elimin|rimuov)\\p{L}* (?:i miei dati|il mio (?:indirizzo|nome|contatto)|la mia (?:mail|email|iscrizione)|i nostri dati)|non (?:mi|ci) (?:scriv|contatt|mand|invi|disturb)\\p{L}* piu|non (?:voglio|desidero|vogliamo|desideriamo) (?:piu )?(?:ricevere|essere)|smett\\p{L}+ di|basta (?:con (?:le |queste )?)?(?:mail|email|messaggi)|(?:non scrivete|non scriva)(?:mi|ci)? piu|lasci\\p{L}*(?:mi|ci|temi) in pace",
  // Dutch
  "(?:schrijf|meld) (?:mij|me|ons) (?:[^ .!?]+ ){0,3}?(?:uit|af)|(?:haal|verwijder|schrap|wis|gooi) (?:mij|me|ons|mijn|onze|dit)(?: [^ .!?]+){0,4}? (?:lijst|maillijst|mailinglijst|bestand|adresbestand|gegevens|adres|database|systeem|eruit|eraf)|(?:stuur|mail|schrijf|benader) (?:mij|me|ons)(?: aub| alstublieft)? (?:niet|niets|geen \\p{L}+|nooit) meer|(?:wil|willen|wens) (?:ik |wij |we )?(?:geen|niet)(?: [^ .!?]+){0,3}? (?:mails|mail|berichten|meer)(?: meer)?|geen (?:mails?|e-?mails?|berichten) meer|stop (?:hiermee|met (?:mailen|sturen|dit|deze))|laat (?:mij|me|ons) met rust|(?:graag|aub|wil) (?:uitschrijven|afmelden)",
  // Nordic
  "(?:ta|tag) bort (?:mig|min|vår|oss|mitt)|avregistrera (?:mig|oss|min)|(?:skicka|skriv|kontakta|mejla|maila)(?: mig| oss)? (?:inte|inga|aldrig|ej)(?: [^ .!?]+){0,3}? (?:mer|fler|mera|igen)|(?:vill|onskar) inte (?:ha|fa|langre)(?: [^ .!?]+){0,3}? (?:mer|fler|mejl|mail|utskick|meddelanden)|sluta (?:mejla|maila|skicka|skriva|kontakta|spamma)|inga fler (?:mejl|mail|utskick)|radera (?:mina|min|mig|vara)",
  "meld (?:meg|mig|oss|os) (?:av|af|fra)|(?:fjern|slet|slett|stryk) (?:meg|mig|oss|os|min|mine|vores|var|denne)|(?:ikke|ikkje) (?:send|kontakt|skriv)|(?:send|skriv|kontakt) (?:meg|mig|oss|os )?(?: )?(?:ikke|aldri|aldrig)(?: [^ .!?]+){0,3}? (?:mere|mer|igen|igjen|flere)|(?:onsker|vil) ikke (?:[^ .!?]+ ){0,3}?(?:flere|mer|mere) (?:e-?post|mails?|henvendelser|beskeder)|(?:slutt|stopp|stop|hold op) med (?:a|at) (?:sende|skrive|maile|kontakte)|ingen flere (?:mails?|e-?poster|henvendelser)|afmeld (?:mig|os)|framelde?",
  "poista\\p{L}* (?:minut|minun|meidat|osoitteeni|tietoni|yhteystietoni)|(?:alkaa|ala) (?:enaa )?(?:lahetta\\p{L}+|ottako|ota)|en halua (?:enaa )?(?:naita|viesteja|posti\\p{L}*|sahkopost\\p{L}*)|ei enaa (?:viesteja|sahkoposteja|naita)|lopettakaa|peruuta\\p{L}* tilau\\p{L}+",
  // Slavic
  "(?:wypis|usun|skresl|wykresl|skasuj)\\p{L}* (?:mnie|nas|moj\\p{L}*|nasz\\p{L}*|ten adres)|(?:wypisanie|usuniecie|wykreslenie|skreslenie) (?:mnie|nas|moj\\p{L}*|z|adresu|danych)|(?:prosze )?(?:wiecej )?(?:do mnie |do nas )?nie (?:pisac|wysylac|kontaktowac|przysylac)(?: [^ .!?]+){0,3}|nie (?:pisz|piszcie|wysylaj|wysylajcie|przysylajcie)\\p{L}*(?: [^ .!?]+)? wiecej|nie (?:chce|zycze sobie|chcemy)(?: juz| wiecej)? (?:otrzymywac|dostawac|wiecej|maili)",
  "(?:odhlas|vyrad|vymaz|smaz|odstran|vyskrtn)\\p{L}* (?:me|nas|mne|mi|moj[ie]|mou|muj|z|nase)(?: [^ .!?]+){0,3}|(?:uz )?(?:mi |nam )?(?:nepiste|neposilejte|neposielajte|nekontaktujte)(?: (?:mi|nam|me))?|(?:nepreji|neprajem) si (?:dostavat|dal)|nechci (?:uz )?(?:dostavat|dalsi|zadne)",
  "(?:отпишите|удалите|исключите|уберите|вычеркните|видаліть|відпишіть) (?:меня|нас|мой|мои|наш|мене|мою|этот)|(?:больше )?не (?:пишите|присылайте|шлите|отправляйте|звоните|беспокойте|пишіть|надсилайте)(?: мне| нам| сюда| мені)?(?: больше| більше| ничего)?|не хочу (?:больше )?(?:получать|отримувати)|(?:прошу|просьба) (?:меня |нас )?(?:удалить|исключить|отписать|больше не|не присылать|не писать)|прекратите|хватит (?:писать|слать|спамить)",
  "(?:izbrisite|odjavite|obrisite|uklonite|skinite) (?:me|nas|moj\\p{L}*)|(?:nemojte|ne) (?:mi |nam )?(?:vise )?(?:slati|pisati|saljite|pisite)(?: [^ .!?]+)?|отпишете ме|премахнете ме|не ми (?:пишете|изпращайте)",
  // Others
  "(?:listenizden|listeden|veri tabaninizdan)(?: [^ .!?]+){0,2}? (?:cikar|sil)\\p{L}*|(?:beni|bizi|adresimi|verilerimi|e-postami)(?: [^ .!?]+){0,3}? (?:cikar|sil)\\p{L}*|(?:bir daha|artik) (?:bana |bize )?(?:yazma|gonderme|mail|e-posta)\\p{L}*(?: [^ .!?]+)?|(?:mail|e-posta|mesaj) (?:almak )?iste(?:miyor|mem)\\p{L}*|aboneligi\\p{L}* iptal",
  "(?:διαγραψτε|αφαιρεστε|διαγραψε|βγαλτε|σβηστε) (?:με|μας|τη|το|τα)(?: [^ .!?]+)?|(?:μη|μην) (?:μου|μας|με|ξανα\\p{L}*)(?: ξανα)?\\s?(?:στελνετε|στειλετε|γραφετε|γραψετε|ενοχλ\\p{L}+)|δεν (?:θελω|επιθυμω)(?: πλεον)? (?:να (?:λαμβανω|παιρνω))|(?:διαγραφη|απεγγραφη) (?:μου|παρακαλω)",
  "(?:toroljon|toroljenek|toroljek|vegyen|vegyenek|iratkoztass\\p{L}*|iratkoztat\\p{L}*)(?: [^ .!?]+){0,2}? (?:le|ki|listarol|nyilvantartasbol|adatbazisbol|a listarol|engem)|(?:ne|többet ne|tobbet ne) (?:irjon|irjanak|kuldjon|kuldjenek|keressen|keressenek)(?: [^ .!?]+)?|nem (?:kerek|szeretnek)(?: [^ .!?]+){0,2}? (?:tobb|kapni)|leiratkoz\\p{L}+",
  "(?:dezabonati|stergeti|eliminati|scoateti)-(?:ma|ne)|(?:sa )?ma (?:dezabonati|stergeti|eliminati|scoateti)|nu (?:imi|ne|mi|ma|mai)(?: mai)? (?:scrieti|trimiteti|contactati)(?: [^ .!?]+)?|nu (?:mai )?(?:doresc|vreau) (?:sa )?(?:mai )?(?:primesc|fiu)",
  "(?:hapus|keluarkan) (?:saya|kami|alamat|data)|jangan (?:kirim|hubungi|email)(?: [^ .!?]+){0,2}? lagi|berhenti (?:mengirim|berlangganan)|(?:xoa|bo|huy) (?:toi|dia chi|dang ky)|(?:dung|khong) (?:gui|lien he)(?: [^ .!?]+){0,3}? nua",
]);
/** The same where words are not parted by spaces, or have no capitals: found anywhere in the sentence. */
const REQUEST_ANYWHERE = new RegExp(
  [
    "配信(?:を)?(?:停止|不要|解除|中止|ストップ)|(?:メール|連絡|送信|案内|配信)(?:は|を|の)?(?:一切)?(?:送らないで|送ってこないで|やめて|止めて|不要です|お断り|控え|ご遠慮|停止)|送らないで|送って来ないで|リストから(?:外|削除|除)|(?:アドレス|情報|データ|登録)(?:を|の)?(?:削除|解除|抹消)",
    "(?:不要|别|請勿|请勿|勿)(?:再)?(?:给我|給我|向我|往这)?(?:们|們)?(?:再)?(?:发|發|寄|联系|聯繫|聯絡|打扰|打擾|骚扰|写信|来信)|(?:退订|退訂|取消订阅|取消訂閱)|(?:从|從|把).{0,12}(?:移除|删除|刪除|除名|删掉|去掉)|(?:删除|刪除|移除)(?:我|我们|我們)",
    "수신 ?거부|(?:메일|이메일|연락|광고)(?:을|를|은|는)?.{0,8}(?:보내지|하지|그만|원하지|받고 싶지)|(?:목록|명단|리스트)에서.{0,6}(?:삭제|제외|빼)|구독 ?(?:취소|해지)|(?:정보|주소)(?:를|을)?.{0,4}삭제",
    "(?:إزالتي|ازالتي|حذفي|شطبي|إلغاء اشتراكي|الغاء اشتراكي|إلغاء الاشتراك|الغاء الاشتراك)|(?:احذف|احذفوا|أزيلوا|أزل|ازل|امسح|شيل)(?:وا|ني|وني|ي)?.{0,24}(?:القائمة|قائمت|بريد|عنوان|بيانات|اسمي)|احذفوني|أزيلوني|لا (?:ترسل|ترسلوا|تراسل|تراسلوني|تتواصل|تتصل|أريد|نريد).{0,30}(?:مرة أخرى|مجددا|بعد الآن|رسائل|بريد|مزيد)|توقف(?:وا)? عن (?:إرسال|ارسال|مراسلتي|الإرسال)|لا ترسلوا",
    "להסיר אות(?:י|נו)|הסר(?:ו|י)? אות(?:י|נו)|תסיר(?:ו|י)? אות(?:י|נו)|(?:להסיר|הסירו|מחקו|למחוק|תמחקו) (?:את )?(?:הכתובת|הפרטים|המייל|שמי|פרטי)|(?:אל|לא) ת?(?:שלחו|תשלחו|תשלח|תכתבו|פנו|תפנו).{0,24}(?:יותר|עוד)?|(?:הפסיקו|תפסיקו|להפסיק) (?:לשלוח|לכתוב)|לא (?:מעוניין|מעוניינת|רוצה) לקבל",
    "(?:सूची|लिस्ट|मेलिंग).{0,16}(?:हटा|निकाल)|(?:मेरा|मेरी|मुझे|हमें).{0,30}(?:हटा दें|हटाएं|हटाइए|हटाओ|निकाल दें|डिलीट)|(?:ईमेल|मेल|संदेश|मैसेज).{0,12}(?:मत|न|ना|बंद).{0,6}(?:भेज|कर)|(?:भेजना|ईमेल) बंद",
    "(?:ยกเลิก|หยุด|อย่า|กรุณาอย่า|ไม่ต้อง)(?:การ)?(?:ส่ง|รับ|ติดต่อ)|ลบ(?:ชื่อ|อีเมล|ที่อยู่|ข้อมูล)|যোগাযোগ করবেন না|تلاش نکنید|(?:مرا|ایمیل مرا|آدرس مرا).{0,20}(?:حذف|پاک) کنید|(?:ارسال|ایمیل) نکنید|لغو اشتراک",
  ].join("|"),
  "u",
);

/** A line that stands alone and says nothing else. */
const ALONE =
  /^[^\p{L}]*(?:(?:hi|hello|dear \S+|please|pls|plz|kindly|bitte|merci de|s'il vous plait|svp|por favor|per favore|aub|graag|prosze|prosim|just|ok|thanks|thank you|so|and|yes|the word is|as requested|hereby)\W+)*(?:stop(?: it| this| now| please| all| e-?mails?| mail| emailing(?: me| us)?)?|stopp|unsub(?:scribe|cribe|scibe|scrib|s)?(?: me| us| all| now| immediately| at once| this address)?|unsuscribe|remove(?: me| us| my (?:e-?mail|address)| from (?:the |your )?(?:mailing )?list)?(?: please| now)?|take me off|opt[ -]?out|opt me out|no more|cancel subscription|suppress|abmelden|abmeldung|austragen|loschen|desinscription|desinscrire|desabonner|desabonnement|stop svp|baja|darme de baja|dar de baja|desuscribir|cancelar (?:suscripcion|inscricao)|descadastrar|remover|sair|cancellami|cancellatemi|cancellazione|disiscrizione|disiscrivimi|uitschrijven|afmelden|avregistrera|avanmal\p{L}*|afmeld|afmelding|meld meg av|avmeld|peruuta|poista|wypisz|wypisz mnie|rezygnuje|odhlasit|odhlasit se|odhlaste|odhlasenie|отписаться|отписка|отпишите|стоп|leiratkozas|leiratkozom|dezabonare|dezabonati-ma|abonelikten cik|iptal|cikar|απεγγραφη|διαγραφη|退订|退訂|取消订阅|取消訂閱|配信停止|停止|수신\s?거부|구독\s?취소|الغاء الاشتراك|إلغاء الاشتراك|توقف|הסר|הסרה|रोकें|ยกเลิก)\W*(?:please|pls|thanks|thank you|thx|now|immediately|at once|danke|bitte|merci|svp|gracias|grazie|obrigad[oa]|tack|tak|takk|dank|dekuji|dziekuje|spasibo|me|mig|meg|\S+@\S+)?[^\p{L}]*$/u;

/** What makes a request another's, another time's, or none: before it in its sentence. */
const DENIED =
  /(?<!\p{L})(?:do not|don't|dont|never|no need to|not|won't|wouldn't|didn't|nicht|kein\p{L}*|ne|pas|no|nao|non|niet|inte|ikke|ala|en|nie|ne|не)\s+(?:(?:yet|just|want to|wish to|you|please|ever|you dare|sie|bitte)\s+){0,3}$/u;
const OF_OTHERS =
  /(?<!\p{L})(?:if|when|whenever|whether|unless|in case|suppose|once|before (?:you|i|we)|how (?:do|does|can|would|should|many)|where (?:do|does|can)|(?:can|could|do|does|will|would|should|may) (?!(?:you|u|ya|i|we|somebody|someone)(?!\p{L}))\p{L}+|let(?:s|ting)? (?:them|people|members|users|customers)|they|he|she|people|members|customers|users|readers|clients|guests|patients|somebody|someone|anybody|anyone|everybody|others|who|that can|which|tool|feature|button|link|able to|ability to|option to|allow\p{L}*|wenn|falls|ob|sobald|man|kunden|mitglieder|nutzer|jemand|konnen (?!sie|wir)\p{L}+|si|lorsque|quand|les clients|quelqu'un|on peut|cuando|los clientes|los socios|alguien|se puede|se|quando|os clientes|alguem|qualcuno|i clienti|als|wanneer|klanten|leden|iemand|om|nar|hvis|kunder|medlem\p{L}*|nogen|nagon|noen|jos|asiakkaat|jesli|klienci|ktos|kdyz|pokud|nekdo|если|когда|клиенты|кто-то)(?!\p{L})/u;
/** "If possible" asks all the same. */
const POLITE =
  /(?<!\p{L})(?:if|si|se|wenn|als|om)\s(?:at all )?(?:it's |it is |es )?(?:possible|you (?:can|could|would|please|don't mind)|you would be so kind|moglich|posible|possivel|possibile|mogelijk|mojligt|muligt|sie so freundlich waren|non vi dispiace)(?!\p{L})/gu;
/** And behind it. */
const FOR_A_MATTER =
  /^\W*(?:(?:as|from being) (?:the |a |an |your |our )?(?:\p{L}+ ){0,2}(?:contact|buyer|user|admin|owner|reference|recipient|signatory|approver)|from (?:the |this |that |your )?(?:\p{L}+ )?(?:quote|offer|order|invoice|call|invite|invitation|meeting|agenda|cc|copy|thread|role|project|shortlist|loop|chain|conversation|equation|contract)|hold\b|speaker|guard)/u;
const FOR_A_WHILE =
  /^[^,;.!?]*?(?<!\p{L})(?:until|till|unless|before (?!i(?!\p{L}))|'til|by (?:phone|post|text|whatsapp)|on my (?:mobile|phone)|during|so often|so much|that often|every (?:day|week)|just (?:email|mail|write|call|ring|send)|rather (?:email|mail|write|call|send)|(?:this|next) (?:week|month)|in (?:january|february|march|april|may|june|july|august|september|october|november|december)|on (?:mon|tues|wednes|thurs|fri|satur|sun)days?|at (?:this|that) (?:number|address)|to (?:the |this |that |my old |my other |my private )\p{L}+(?: \p{L}+)? (?:number|address)|(?:but|instead) (?:write|call|email|mail|send|ring|keep)|bis (?!\p{L}+ schreib)|sondern|jusqu\p{L}*|avant (?:le|la|l)|hasta|antes de|sino|antes d[oea]|mas sim|fino (?:a|al)|prima d|innan|ennen|przed|pred|раньше)(?!\p{L})/u;
/** Who names somebody else for the matter speaks of it, not of our list. */
const NAMES_ANOTHER =
  /(?<!\p{L})(?:instead|it's \p{L}+(?: \p{L}+)? now|it is \p{L}+(?: \p{L}+)? now|is (?:now )?(?:the|your) (?:right )?(?:contact|person)|(?:write|speak|talk|send (?:it|them|these|this)) to \p{L}+|(?:add|put|use|contact|try|ask|email) (?!(?:me|us)(?!\p{L}))\p{L}+(?: \p{L}+)? (?:instead|on|in)|took over|has taken over|replaces me|my successor|stattdessen|nachfolg\p{L}+|a ma place|remplace|en su lugar|mi sustitut\p{L}+|al posto mio|in plaats|istallet|i stedet)(?!\p{L})/u;
/** A mark of speech that opens before and closes behind. */
const OPENS = /(?:["“”„«»「『]|(?<!\p{L})['‘‚])[^"“”„«»「」『』]{0,40}$/u;
const CLOSES = /^[^"“”„«»「」『』]{0,40}(?:["“”»」』]|['’](?!\p{L}))/u;

const sentencesIn = (text: string): [from: number, to: number][] => {
  const found: [number, number][] = [];
  let from = 0;
  for (const match of text.matchAll(/[.!?。！？]+(?=\s|$)|[。！？]|\n+/gu)) {
    found.push([from, match.index + match[0].length]);
    from = match.index + match[0].length;
  }
  found.push([from, text.length]);
  return found.filter(([start, end]) => /\p{L}/u.test(text.slice(start, end)));
};

export function stopWords(letter: string): StopWords {
  const text = letter.slice(0, READ);
  const sentences = sentencesIn(text);
  const otherwise: [number, number][] = [];
  let plain: [number, number] | null = null;
  for (const [index, [from, to]] of sentences.entries()) {
    const original = text.slice(from, to).slice(0, 1_000);
    const sentence = fold(original);
    // A line alone, or the last words behind a greeting on the same line.
    const isAlone = sentences.length <= 7 && sentence.trim().length < 80 && ALONE.test(sentence.trim());
    const request = REQUEST.exec(sentence) ?? REQUEST_ANYWHERE.exec(original);
    if (!isAlone && !request) {
      for (const said of sentence.matchAll(SPEAKS_OF_IT))
        otherwise.push([from + said.index, from + said.index + said[0].length]);
      continue;
    }
    const next = sentences[index + 1];
    const following = next ? fold(text.slice(...next)).slice(0, 200) : "";
    // Folding keeps lengths but for a few letters: near enough.
    if (request && !isAlone && isOtherwise(sentence, request, following)) {
      const end = request.index + request[0].length;
      const matter = FOR_A_MATTER.exec(sentence.slice(end))?.[0].length ?? 0;
      otherwise.push([from + request.index, from + end + matter]);
    } else plain ??= trimmed(text, from, to);
  }
  return { plain, otherwise };
}

/** Speaks of unsubscribing without asking for it: "I unsubscribed from three others". */
const SPEAKS_OF_IT =
  /(?<!\p{L})(?:unsubscribe[drs]?|unsubscribing|opt(?:ed|ing|s)?[ -]?out|(?:don't|do not|never|nicht|ne|no|nao|non|niet) stop|stop (?:by|in|off|over|sign|button|light|watch|valve|cock)\p{L}*|asks? to be removed|(?:take|strike|cross|remove|drop|delete) (?:me|us|my name)(?: off)? (?:as|from being) (?:the |your |a |an )?\p{L}+|removed from|removal (?:firm|company|service|van)\p{L}*|abmeld\p{L}+|desinscri\p{L}+|desabonn\p{L}+|descadastr\p{L}+|disiscri\p{L}+|dar(?:se)? de baja|uitschrijv\p{L}+|odhlas\p{L}+|отпис\p{L}+)(?!\p{L})/gu;

function isOtherwise(sentence: string, request: RegExpExecArray, following: string): boolean {
  const before = sentence.slice(0, request.index);
  const behind = sentence.slice(request.index + request[0].length);
  if (OPENS.test(before) && CLOSES.test(behind)) return true;
  if (DENIED.test(before)) return true;
  if (
    OF_OTHERS.test(
      before
        .replace(POLITE, " ")
        .replace(/^.*[,;:–—]\s(?=please|pls|bitte|kindly|merci|por favor|so |then )/u, ""),
    )
  )
    return true;
  if (FOR_A_MATTER.test(behind) || /^\W*(?:as|from) (?:the |your )?contact/u.test(behind)) return true;
  if (FOR_A_WHILE.test(behind)) return true;
  return NAMES_ANOTHER.test(behind) || NAMES_ANOTHER.test(following);
}

function trimmed(text: string, from: number, to: number): [number, number] {
  const own = text.slice(from, to);
  const start = from + own.length - own.trimStart().length;
  return [start, start + own.trim().length];
}

/** The words of a letter that ask for no more mail for certain, or null. */
export const plainOptOut = (letter: string): [number, number] | null => stopWords(letter).plain;

/** A subject that somebody wrote, and not we: "Unsubscribe" over an empty letter. */
export const isOptOutSubject = (subject: string): boolean =>
  ALONE.test(fold(subject).trim()) || REQUEST.test(fold(subject));
