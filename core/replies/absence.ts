/**
 * What people write when they are away or have left, in the languages that reps meet most. A letter is read clause by
 * clause, by the kinds of words in it: being away, coming back, a time, whose it is, and what is over.
 */

/** Matches any of these as words of their own; `…` stands for up to five words between two. */
const anyOf = (...words: string[]) =>
  new RegExp(
    `(?<![\\p{L}\\d])(?:${words
      .join("|")
      .replaceAll(" ", "\\s+")
      .replaceAll("…", "(?:\\s+[^\\s!?]+){0,5}?\\s+")})(?![\\p{L}\\d])`,
    "iu",
  );

const AWAY = anyOf(
  "out of (?:the |my )?office|out of (?:town|the country)|in the field|ooo|away|off (?:until|till|from|this|next|today|tomorrow|all|on|for|sick)",
  "out (?:sick|today|this week|next week|all week|until|till|through|from)|sick|unwell|in hospital|taking (?:some )?time off|travell?ing",
  // Who starts it soon is still there.
  "(?<!start |starting |begin |before |after |into |of )(?:parental|maternity|paternity|annual|sick|medical|study|family|compassionate|research) leave|on (?:my |a |an )?(?:\\p{L}+ ){0,2}(?:leave|vacation|holidays?|sabbatical|trip|honeymoon|training|tour)",
  "(?:at|attending) (?:a |an |the )?(?:\\p{L}+ )?(?:conference|fair|trade show|workshop|course|training)",
  "(?:my|our) (?:\\p{L}+ )?leave|(?:don['’]t|do not) work (?:on )?(?:mon|tues|wednes|thurs|fri)days?",
  // Whoever says so is not there now.
  "(?:upon|on|after) my return|when i(?:['’]m| am| get)? back|when i return|(?:nach|bei) meiner rückkehr|à mon retour|a (?:mi regreso|la vuelta)|(?:quando|assim que) regressar|al mio rientro|(?:bij|na) mijn terugkomst|når jeg er tilbage",
  "not (?:be )?(?:in the office|available|at work|working)|unavailable|closed|only (?:work|in the office|here)|part[- ]time|reduced hours",
  "(?:limited|no|little|patchy|sporadic|intermittent|irregular|restricted|without) (?:access to (?:my )?(?:e-?mails?|messages|inbox)|(?:e-?mail|internet)(?: access)?)",
  "not (?:be )?(?:reading|checking|answering) (?:my )?(?:e-?mails?|messages)",
  "(?:im|in) (?:\\p{L}+ )?(?:urlaub|elternzeit|mutterschutz|betriebsferien|kur)|ferien|abwesend|krank(?:geschrieben)?",
  "nicht am (?:platz|schreibtisch|arbeitsplatz)|(?:betriebs|sommer|schul|weihnachts|oster|werks|semester)ferien|wieder (?:persönlich )?(?:erreichbar|verfügbar|für sie da|im (?:büro|haus|dienst|einsatz))",
  "auf (?:einer )?(?:dienstreise|geschäftsreise|reisen?|tagung|messe|fortbildung|konferenz)|außer haus|geschlossen",
  "nicht (?:im|am|in der) (?:haus|hause|büro|arbeitsplatz|dienst|museum|archiv)|(?:nicht|schlecht|nur eingeschränkt|eingeschränkt) erreichbar|nicht zu erreichen",
  "(?:wegen|aufgrund) (?:\\p{L}+ )?(?:krankheit|urlaubs?|elternzeit)|(?:kann|können)…nicht (?:beantworten|lesen|bearbeiten)",
  "absente?|absence|de retour (?:le|au bureau|à partir)|congés? (?:maternité|parental|annuels?|maladie)|en (?:congés?|vacances|déplacement|formation|mission|arrêt)|hors du bureau|indisponible|injoignable|accès limité|fermée?s?",
  "pas (?:au bureau|joignable|disponible)",
  "fuera(?: de(?: la)? oficina)?|de (?:vacaciones|viaje|baja|permiso|licencia)|estaré de vuelta|cerramos por vacaciones|en formación|no (?:me encuentro|estoy|estaré) (?:en (?:la|mi) oficina|disponible|localizable)|ausente|(?:sin|no tendré|no tengo) acceso|cerrad[oa]",
  "fora(?: do escritório)?|(?:de|em|no período de) (?:férias|licença|baixa)|ausência|em (?:viagem|formação)|(?:sem|não terei|não tenho) acesso|encerrad[oa]",
  "in (?:ferie|vacanza|viaggio|congedo|maternità|malattia|trasferta)|fuori (?:sede|ufficio|città)|assente|chius[oa]|senza accesso",
  "di nuovo (?:in ufficio|in sede|disponibile|operativ[oa])|assenza|(?:sono|sarò) via",
  "non (?:ci )?(?:sono|sarò) (?:in ufficio|disponibile|raggiungibile)",
  "afwezig|(?:op|met) (?:vakantie|verlof|reis)|(?:ouderschaps|zwangerschaps|zorg)verlof|gesloten",
  "(?:ben|zijn|is) er (?:even )?niet|afwezigheid|niet aan het werk|(?:ben|heb) vrij|weer (?:bereikbaar|aanwezig|op kantoor|beschikbaar)",
  "niet (?:op kantoor|aanwezig|bereikbaar|beschikbaar)",
  "(?:på|på min|har) (?:sommer)?(?:ferie|semester|rejse|reise|resa)|ikke (?:på|til stede på) (?:kontoret|arbejde|jobb)",
  "(?:har|tar|holder|håller) (?:fri|ledigt?|ferie|semester)|på (?:\\p{L}+)?(?:permisjon|orlov|kursus?|konferanse|konferens|tjänsteresa|tjenestereise)|(?:tilbage|tilbake|åter|tillbaka) (?:på|i) (?:kontoret|jobb|arbejde|tjänst)",
  "inte på (?:kontoret|plats|jobbet)|fraværende|frånvarande|bortreist|bortrest|föräldraledig|tjänstledig|barsel(?:sorlov)?|permisjon",
  "lomalla|poissa|(?:vanhempain|sairaus|äitiys|opinto|kesä)(?:vapaa|loma)\\p{L}*|en ole (?:toimistolla|paikalla|töissä)",
  "na (?:\\p{L}+ )?(?:urlopie|zwolnieniu|delegacji|chorobowym|wyjeździe)|nieobecn(?:a|y|i|ość)|poza biurem|nie ma mnie|w podróży",
  "na (?:\\p{L}+ )?(?:dovolené|dovolenke|mateřské|nemocenské|služební cestě)|mimo kancelář|(?:nejsem|nebudu|nie som) (?:v kanceláři|v práci|přítomn\\p{L}+)|čerpám dovolenou|nepřítomn\\p{L}+",
  "в (?:\\p{L}+ )?(?:отпуск[еу]|командировк[еу]|отъезде|декрете)|на (?:больничном|конференции)|отсутству\\p{L}+|(?:нет|не будет|не буду|буду не) (?:на месте|в офисе|на работе)|вне офиса|у відпустці",
  "szabadságon|nem vagyok (?:az? )?(?:irodában|elérhető)|betegszabadság\\p{L}*|házon kívül",
  "în (?:concediu|delegație|vacanță)|(?:nu sunt|lipsesc) (?:la|de la|din) birou",
  "σε (?:\\p{L}+ )?άδεια|εκτός (?:γραφείου|έδρας)|απουσιάζω|λείπω",
  "(?:yıllık |doğum |hastalık )?izinde(?:yim|yiz)?|tatilde(?:yim|yiz)?|ofis(?:te)? (?:dışında(?:yım)?|değilim)|raporluyum|şehir dışında(?:yım)?",
  "في إجازة|خارج المكتب",
);

/** The same in scripts that put no spaces between words. */
const AWAY_UNSPACED =
  /不在|休暇|休業|休館|休職|育休|産休|お休み|休み(?:ます|です|を)|出張(?:中|の|で)|休假|度假|请假|請假|出差|产假|病假|不在办公室|휴가|부재|출장|병가|육아휴직|자리를 비/u;
/** Whoever asks for something in the same breath wants an answer, unless it is for what cannot wait. */
const ASKS_UNSPACED = /ください|下さい|お願い|请|請|吧|吗|주세요|시죠|ですか|ますか|[?？]/u;
const URGENT_UNSPACED = /急|급/u;

const BACK = anyOf(
  "back|return(?:ing)?",
  "zurück|wieder",
  "de retour|(?:mon|notre) retour|rentre(?:rai)?|reviens|reviendrai",
  "de vuelta|(?:mi )?regreso|regresaré|vuelvo|volveré",
  "de volta|(?:meu )?regresso|volto|regressarei|voltarei",
  "(?:al mio )?rientro|rientrerò|torno|tornerò",
  "terug|weer",
  "tilbage|tilbake|tillbaka|palaan|wracam|wrócę|vrátím se|budu zpět|вернусь|возвращаюсь|возвращении|visszatérek|revin|mă întorc|επιστρέφω|θα επιστρέψω|dön(?:üyorum|eceğim)",
);

/** Coming back to somebody is an answer, not an absence. */
const COMES_BACK_TO_US = anyOf(
  "(?:get|come|be|report|circle)(?:ing)? back (?:to|with)|(?:circl|com|check)(?:e|ing)? back (?:in|on|after|when|once|next|later)|back to you|return (?:your|the|a|it)",
  "(?:komme|kommen|melde|melden)…(?:zurück|wieder)|auf sie zurück",
  "re(?:viens|viendrai|viendrons|venir) vers|vuelvo a (?:escribir|contactar)|volto a (?:contactar|escrever|falar)",
  "kom…terug|(?:kom|vend)(?:e|er|mer)?(?: \\p{L}+)? (?:tilbage|tilbake|tillbaka|igen)|återkommer|återkom|wróćmy|wrócimy|вернёмся|вернемся|palataan",
);

/** Somebody speaks of how things are with them, or with the house, now or soon. */
const SELF = anyOf(
  "i(?:['’]?m| am|['’]ll| will| only| shall)|we(?:['’]re| are|['’]ll| will)|(?:our|the) (?:office|museum|team|archive|library|gallery)|am|will be",
  "ich|wir|bin|sind|(?:unser|das) (?:museum|haus|archiv|büro|institut)",
  "je|j['’]ai|nous|suis|serai",
  "estoy|estaré|estamos|tengo|tendré|me encuentro",
  "estou|estarei|estamos|tenho|terei|encontro-me|encontramo-nos",
  "sono|sarò|siamo",
  "ik|wij|we zijn|ben",
  "jeg|vi|jag|olen|jestem|będę|przebywam|jsem|budu|я|мы|меня|нахожусь|vagyok|leszek|sunt|voi|είμαι|θα|biz|ben|أنا|سأكون",
);

/** What is said of somebody else: they are away, and whoever writes is not. */
const OTHERS = anyOf(
  "she|he|they|who|(?:my|our) (?:boss|colleague|director|manager|head|assistant|registrar|curator)s?",
  "sie ist|er ist|(?:meine?|unsere?) (?:kolleg\\p{L}+|chef\\p{L}*|direktor\\p{L}*|leiter\\p{L}*)",
  "elle|qui|il (?:est|sera)|(?:mon|ma|notre) (?:collègue|directeur|directrice|chef\\p{L}*)",
  "ella|él|(?:mi|nuestr[ao]) (?:colega|compañer[oa]|directora?|jef[ea])",
  "ela|ele|(?:o meu|a minha|o nosso|a nossa) (?:colega|diretora?|chefe)",
  "lei|lui|(?:il mio|la mia|il nostro|la nostra) (?:collega|direttore|direttrice|capo)",
  "zij|hij|(?:mijn|onze) (?:collega|directeur)|hun|hon|han|min (?:kollega|chef)",
);

/** It was so, and is over. */
const PAST = anyOf(
  "was|were|been|had|did|told|asked|saw|got|came|went|thought|missed|returned|discussed|spent|just back|now back|back now|only read|finally read|(?:i|we) \\p{L}+ed",
  "war|waren|gewesen|hatte|hatten|habe…(?:gelesen|gesehen|gesprochen)",
  "étais|était|étions|avais|avait|ai lu|ai vu",
  "estuve|estaba|estuvimos|he (?:leído|visto|estado)",
  "estive|estava|estivemos",
  "ero|eravamo|stat[oa]|ho (?:letto|visto)",
  "heb…gelezen|waren",
  "var|har vært|har været|har varit",
);

const WEEKDAYS =
  "(?:mon|tues|wednes|thurs|fri|satur|sun)days?|montags?|dienstags?|mittwochs?|donnerstags?|freitags?|samstags?|sonntags?|lundi|mardi|mercredi|jeudi|vendredi|samedi|dimanche|lunes|martes|miércoles|jueves|viernes|(?:segunda|terça|quarta|quinta|sexta)(?:-feira)?|lunedì|martedì|mercoledì|giovedì|venerdì|maandag|dinsdag|woensdag|donderdag|vrijdag|mandag|tirsdag|onsdag|torsdag|fredag|måndag|tisdag";
const MONTHS =
  "jan(?:uary|uar|vier)?|feb(?:ruary|ruar)?|février|mar(?:ch|s|zo)?|märz|maart|apr(?:il)?|avril|abril|may|mai|mayo|maio|maggio|mei|june?|juni|juin|junio|junho|giugno|july?|juli|juillet|julio|julho|luglio|aug(?:ust|usti|ustus)?|août|agosto|sept?(?:ember|embre|iembre)?|setembro|settembre|o[ck]t(?:ober|obre|ubre)?|outubro|ottobre|nov(?:ember|embre|iembre)?|novembro|de[cz](?:ember|embre)?|diciembre|dezembro|dicembre|décembre|(?:tammi|helmi|maalis|huhti|touko|kesä|heinä|elo|syys|loka|marras|joulu)kuu\\p{L}*";
const TIME = new RegExp(
  `(?<![\\p{L}])(?:${WEEKDAYS}|${MONTHS}|until|till?|from|through|bis|ab|jusqu\\p{L}*|hasta|até|fino|tot|tom|asti|saakka|do|до|с|по|od|până|pana|μέχρι|έως|ως|kadar|حتى|(?:this|next|all|the whole|for a|nächste|kommende|diese|cette|esta|próxim[oa]|prossim[oa]|volgende|næste|neste|nästa) (?:week|month|year|few|working day|woche|semaine|semana|mes|mês|settimana|mese|maand|uge|uke|vecka)|semaine prochaine|tomorrow|today|morgen|heute|demain|mañana|amanhã|domani|fortnight|weeks?|currently|presently|at the moment|derzeit|zurzeit|zur zeit|momentan|aktuell|actuellement|actualmente|atualmente|neste momento|attualmente|momenteel|for tiden)(?![\\p{L}])|(?<!\\d)\\d{1,2}(?:\\.|st|nd|rd|th|/\\d|\\s)`,
  "iu",
);

/** "Am 31. März" is not two sentences. No letter has one longer than 1,000 characters. */
const sentencesOf = (text: string) =>
  text
    .split(/(?<=[^\d][.!?])\s|(?<=[。！？])|\n+/)
    .map((sentence) => sentence.trim().slice(0, 1_000))
    .filter((sentence) => sentence !== "");
const clausesOf = (sentence: string) =>
  sentence.split(/[,;:–—(]|\s(?:and|but|und|aber|et|mais|y|pero|e|mas|maar|og|men|och)\s/u);

/** How far into a clause it still begins. */
const BEGINNING = 15;

/** What is closed for good does not come back: an answer, not an absence. */
const FOR_EVER = anyOf(
  "for good|for ?ever|permanently|endgültig|für immer|définitivement|para siempre|definitivamente|de vez|per sempre|voorgoed|for godt|för gott|na zawsze|навсегда",
);

function isAbsent(sentence: string): boolean {
  if (PAST.test(sentence) || FOR_EVER.test(sentence)) return false;
  if (AWAY_UNSPACED.test(sentence)) return !ASKS_UNSPACED.test(sentence) || URGENT_UNSPACED.test(sentence);
  const isOurs = (clause: string, at: number) =>
    at >= 0 && !OTHERS.test(clause) && (SELF.test(clause) || (at < BEGINNING && TIME.test(sentence)));
  const clauses = clausesOf(sentence);
  if (clauses.some((clause) => isOurs(clause, clause.search(AWAY)))) return true;
  if (COMES_BACK_TO_US.test(sentence)) return false;
  return clauses.some((clause) => TIME.test(clause) && isOurs(clause, clause.search(BACK)));
}

/** Whether there is talk of being away, whoever may be and whenever. */
export const speaksOfAbsence = (text: string): boolean => AWAY.test(text) || AWAY_UNSPACED.test(text);

/** The sentence by which somebody says that they are away, now or soon, or null. */
export const absenceIn = (text: string): string | null => sentencesOf(text).find(isAbsent) ?? null;

/** What stands in an absence besides the absence: thanks, who answers instead, that it will be read. */
const BESIDES =
  /@|\d{5}|(?<!\p{L})(?:get back|pick (?:this|it) up|gelesen|thank|thanks|danke?|vielen dank|merci|gracias|obrigad\p{L}|grazie|bedankt|dank|tack|takk?|kiitos|dziękuj\p{L}|děkuj\p{L}|спасибо|contact|write to|e-?mail (?:to|my)|call|reach|reply|respond|answer|forward|forwarded|read|access|emergenc\p{L}+|urgent\p{L}*|meantime|wenden|antwort\p{L}*|beantwort\p{L}*|weitergeleitet|dringend\p{L}*|vertret\p{L}+|vertritt|kontakt\p{L}*|contact\p{L}*|répond\p{L}*|transmis\p{L}*|urgen\p{L}*|adress\p{L}*|respond\p{L}*|contest\p{L}*|dirij\p{L}*|lerei|rispond\p{L}*|leggerò|antwoord\p{L}*|beantwoord\p{L}*|spoed|dringend|svar\p{L}*|besvar\p{L}*|haster|brådskande|vastaan|kiireell\p{L}*|odpowie\p{L}*|odpowiadam|piln\p{L}+|odpov\p{L}+|naléhav\p{L}+|отвечу|срочн\p{L}+|best|kind|warm|regards|wishes|grüße?n?|cordialement|saludos?|saluti|groet\p{L}*|hälsning\p{L}*|hilsen|terveisin|pozdraw\p{L}+|pozdrav\p{L}*)(?!\p{L})|急|ご連絡|お問い合わせ|ありがとう|谢谢|联系|감사|연락/iu;
const GREETING_WORDS = 4;

/** A yes, a no, a wish, or the turn to one: a word to whoever wrote. */
const ANSWERS = anyOf(
  "but|yes|yeah|yep|yup|sure|okay|ok|nope|want|need|buy|agreed|deal|keen|go ahead|count me in|sounds good",
  "ja gern\\p{L}*|nein danke|oui|d['’]accord|claro que|con gusto|volentieri|graag gedaan|ja tack|ja takk|chętnie|давайте|igen",
);

/** Whether nothing stands in a letter but an absence, as machines write it, and no word to whoever wrote. */
export const isOnlyAbsence = (text: string): boolean =>
  !ANSWERS.test(text) &&
  sentencesOf(text).every(
    (sentence) =>
      isAbsent(sentence) || BESIDES.test(sentence) || sentence.split(/\s+/).length <= GREETING_WORDS,
  );

const HOUSE =
  "(?:company|organi[sz]ation|museum|archive|library|gallery|firm|institution|institute|team|university|college|business|practice|agency|department|group|foundation|role|position|job|post)";
const HAS_LEFT = anyOf(
  `left (?:the |our |this )?(?:\\p{L}+ )?${HOUSE}`,
  "(?:has|have|had) left (?!(?:a|my|your|it|this|these|me|us with|no|some|already|early|for the day|the (?:office|building|house|room|door|lights?|oven|meeting))(?: |$))",
  "left \\S+(?: \\S+){0,3} (?:on (?:the )?\\d|in (?:20\\d\\d|january|february|march|april|may|june|july|august|september|october|november|december)|at the end of)",
  "no longer (?:works?|working|employed) (?:for|at|here|in|with us)|no longer works with",
  "no longer (?:with|at|part of|a member of|employed|here)(?: (?:us|the|our|\\p{L}+))?",
  "(?:i|i['’]ve|has|have|who) (?:now |since |recently )?(?:retired|resigned)(?! (?:the|our|my|all|these|those|some|an?) )",
  "(?:has|have|i['’]ve) moved (?:on|to (?:a |an )?(?:new|another|different) (?:company|job|employer|role|position))",
  "(?:does not|doesn['’]t|do not|don['’]t) work (?:here|at|for|with)(?: \\S+){0,4} any ?(?:more|longer)",
  "(?:a|our) former (?:employee|member of staff)|(?:my|his|her|their) last (?:working )?day",
  "(?:mailbox|address|account) is no longer (?:monitored|in use|active|read|used|valid)",
  "arbeite[nt]? nicht mehr|arbeite[nt]?…nicht mehr|nicht mehr(?: \\S+){0,4} (?:tätig|beschäftigt|angestellt)",
  "nicht mehr (?:bei uns|im haus|im museum|im archiv|für uns)|im ruhestand|in (?:den ruhestand|rente|pension)|pensioniert",
  "(?:unternehmen|firma|haus|museum|archiv|institut) (?:\\S+ ){0,4}verlassen|ausgeschieden",
  "ai? quitté|ne (?:travaille|fais|fait) plus (?:partie|chez|pour|ici|au|à|dans|avec nous)|pris (?:sa|ma) retraite|à la retraite",
  "n['’](?:est|exerce) plus (?:en poste|chez|dans|à|au|parmi)",
  "ya no (?:trabaj[ao]|form[ao] parte|pertenezco|pertenece)|he dejado (?:la|el|mi)|ha dejado (?:la|el|nuestr[ao])|dejó (?:la|el|nuestr[ao])|(?:se ha|me he) jubilado|(?:se|me) jubil[óé]",
  "já não (?:trabalh[ao]|faço parte|faz parte)|deixei (?:a|o|de trabalhar)|não faço mais parte|não trabalh[ao] mais|deixou [ao] (?:empresa|instituição|organização|museu|arquivo)",
  "(?:está|estou) (?:aposentad|reformad)[oa]|reformou-se|aposentou-se",
  "non lavor[ao] più|non (?:faccio|fa) più parte|ho lasciato|ha lasciato (?:l['’]|la |il |lo )?(?:azienda|società|organizzazione|istituzione|museo|archivio|nostr[oa])|in pensione",
  "werkt? (?:hier )?niet (?:meer|langer)|maakt? geen deel meer uit|heb (?:\\S+ ){1,3}verlaten|heeft (?:de organisatie|het bedrijf|het museum|ons) verlaten|met pensioen|uit dienst|niet meer werkzaam",
  "arbejder ikke længere|jobber ikke lenger|(?:arbetar )?inte längre (?:anställd|kvar|här|hos)|arbetar inte längre|har (?:sluttet|slutat)|er (?:stoppet|fratrådt)|på pension|i pension|pensjonist|(?:arbetar|jobbar|arbejder) (?:ej|inte) kvar|har avslutat sin anställning",
  "(?:en|ei) (?:enää )?työskentele|ei ole enää (?:töissä|palveluksessa)|(?:en|ei) ole enää",
  "(?:już|więcej) nie pracuj[eę]|nie pracuj[eę] (?:już|więcej)|(?:odszedł|odeszła|odszedłem|odeszłam) (?:z|na emeryturę)|(?:již|už)(?: \\S+)? nepracuj\\p{L}*",
  "больше (?:здесь |у нас )?не работа\\p{L}+|уволил\\p{L}+|покинул\\p{L}* (?:компанию|музей)|на пенсии|artık (?:\\S+ ){0,3}çalışm\\p{L}+|(?:görevinden|şirketten|müzeden) ayrıl\\p{L}+",
);
const HAS_LEFT_UNSPACED = /退職(?:し|いた|と|の)|退社し|(?:已|已经)(?:离职|退休)|不再(?:在|任职)|퇴사|퇴직/u;

/** The sentence that says that somebody "has left the company", be it by them, a colleague or a machine, or null. */
export const departureIn = (text: string): string | null => sentencesOf(text).find(saysWhoLeft) ?? null;

const SEVERAL = anyOf("we|wir|nous|nosotros|nós|noi|wij|vi");
/** Where a clause begins in which somebody else may be meant. */
const NEW_CLAUSE = /[,;:–—]|\s(?:that|dass|que|che|dat|att|at|as)\s/u;

/** One person leaves: "we are no longer part of the city" is the house's news. */
function saysWhoLeft(sentence: string): boolean {
  if (HAS_LEFT_UNSPACED.test(sentence)) return true;
  const at = sentence.search(HAS_LEFT);
  return at >= 0 && !SEVERAL.test(sentence.slice(0, at).split(NEW_CLAUSE).at(-1) ?? "");
}

const WANTS_SOMETHING = anyOf(
  "(?:not |no longer |very |quite )?interested|let['’]?s|happy to|glad to|could we|can we|would (?:like|love) to(?! (?:inform|let|tell|note))|i['’]?d (?:like|love) to(?! (?:inform|let|tell|note))",
  "(?:call|ring|text) me|send (?:me|us|over|it|the)|(?:please|kindly) (?:send|call me|remove|stop|write to me|follow up)",
  "unsubscribe|remove (?:me|us)|take me off|stop (?:writing|emailing|contacting)|no,? thanks?|not (?:for us|relevant|now)",
  "interess(?:e|iert|ant)|rufen sie|melden sie sich|schicken sie|kein(?:e|en)? (?:bedarf|interesse|weiteren)",
  "intéress(?:e|é|ée|és|ant)|rappelez|appelez-moi|envoyez|contactez-moi",
  "interesa|interesad[oa]|llám[ae](?:me|nos)?|envíeme|mándeme|interessad[oa]|ligue-me|envie-me|mande-me",
  "interessat[oa]|mi (?:chiami|contatti|mandi)|geïnteresseerd|bel me|stuur me|interesserede?|intresserade?",
  "chętnie|porozmawiajmy|proszę (?:zadzwonić|napisać|o (?:telefon|ofertę|kontakt))|zavolejte|ozvěte se|máme zájem|интерес\\p{L}+|созвонимся|позвоните|напишите|пришлите",
  "soittakaa|palataan|kiinnost\\p{L}+|keressen|hívjon|sunați|reveniți|arayın|yazın|görüş\\p{L}+|καλέστε|γράψτε",
);
const EMERGENCY =
  /urgen|emergenc|dringend|immediate(ly)? (help|assistance|attention)|in the meantime|spoed|haster|brådskande/i;

/** Whether a letter asks or answers something: it is to be read, whatever it says about a holiday. "In urgent cases call …" asks nothing of us. */
export const wantsSomething = (text: string): boolean =>
  sentencesOf(text).some(
    (sentence) => !EMERGENCY.test(sentence) && (sentence.includes("?") || WANTS_SOMETHING.test(sentence)),
  );
