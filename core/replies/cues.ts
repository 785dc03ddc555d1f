/**
 * Turns of phrase that say what a reply means, by kind and language, in small letters without accents (core/fold.ts).
 * They are features of the model beside its words: what each is worth is learned (train.ts), not said here.
 */
import { fold } from "../fold.ts";

interface Phrases {
  /** Tried where a word begins. */
  spaced: RegExp;
  /** Of scripts without spaces: searched anywhere. */
  unspaced: RegExp | null;
}

const UNSPACED = /[\u3040-\u30ff\u4e00-\u9fff\uac00-\ud7af]/;

/** `…` stands for up to four words between two. */
function anyOf(...phrases: string[]): Phrases {
  const source = phrases.map((phrase) =>
    // Folding would make "a blank" of the sign for "no blank".
    phrase
      .split("\\S")
      .map(fold)
      .join("\\S")
      .replaceAll(" ", "\\s+")
      .replaceAll("…", "(?:\\s+[^\\s.!?]+){0,4}?\\s+"),
  );
  const unspaced = source.filter((each) => UNSPACED.test(each));
  return {
    spaced: new RegExp(`(?:${source.filter((each) => !UNSPACED.test(each)).join("|")})(?![\\p{L}\\d])`, "uy"),
    unspaced: unspaced.length > 0 ? new RegExp(unspaced.join("|"), "u") : null,
  };
}

export const CUES = {
  /** They want no more mail: at least one stands in every plain opt-out. */
  stop: anyOf(
    "unsubscribe[ds]?|unsubscribing|opt(?:ing)?[ -]?out|remove…(?:me|us|my|our|address|email|name|details|list|database|institution)|removed from",
    "(?:take|get|keep|strike|leave|cross) (?:me|us|my|our|this)…(?:off|out|list|lists|database|from)|get off (?:this|your) list|(?:from|off) (?:your|this|the|all|any) (?:\\S+ )?(?:list|lists|database|records|mailing|mailings|newsletter)",
    "(?:stop|quit|cease|stopped)…(?:emailing|mailing|writing|sending|contacting|spamming|messaging|e-mailing|emails|messages|mails|correspondence|communication|this|these|it|harassing|bothering)|cease and desist|end (?:this|these|them)|^stop|^delete|^remove",
    "(?:do not|don't|dont|don’t|never|not) (?:ever )?(?:e-?mail|contact|write|message|send|call|bother)…(?:again|any ?more|any more|any longer|further|us|me|anything)|(?:do not|don't|don’t|never) (?:ever )?(?:e-?mail|contact|write to|message|spam|bother) (?:me|us)",
    "(?:removing|deleting|erasing) (?:my|me|us|our)|cancel (?:my|our) subscription|report you|no (?:more|further|additional) (?:e-?mails?|mails?|messages?|contact|communications?|correspondence|of these|of this)|refrain from…(?:contacting|emailing|writing|sending)|(?:don't|don’t|do not|no longer) (?:want|wish) to (?:receive|get|hear)",
    "(?:delete|erase|destroy|purge)…(?:data|details|address|information|me|email|record|contact)|under (?:the )?gdpr|gdpr (?:art|request)\\S*|right to (?:be forgotten|erasure)|report(?:ed|ing)? (?:you|this|it|as)…spam|(?:is|as|pure|more) spam|unsolicited|(?:erase|delete|remove) what|last one|(?:never|not) ask(?:ed)? for (?:any|them|this)|leave (?:me|us) alone|lose my|go away|stop it|blocked|never (?:signed|subscribed|asked|gave|consented|opted)|did not (?:sign|subscribe|consent|opt)|didn't (?:sign|subscribe|consent)|object to",
    "(?:aus|von) (?:dem|ihrem|ihrer|der|eurem) (?:\\S*verteiler|\\S*liste)|verteiler|abmelden|abbestellen|austragen|(?:keine|keinerlei) (?:weiteren?|mehr|werbe)?\\s*(?:e-?mails?|mails|nachrichten|werbung|zusendungen|anschreiben|newsletter|kontakt\\S*)|nicht mehr (?:an|an\\S+|zu |kontaktieren|schreiben|anschreiben)|schreiben sie (?:mir|uns) (?:bitte )?nicht|losch\\S*…(?:daten|adresse)|(?:losch|entfern|streich)\\S* sie|horen sie auf|widerspreche\\S*|(?:um|die) (?:\\S+ )?loschung|nie eingewilligt|melde ich mich…ab|bestelle ich…ab|nie wieder|(?:schicken|senden|schreiben) sie…(?:nichts|nicht|keine\\S*)…?mehr|nicht mehr (?:an\\S+|kontakt\\S*|schreib\\S*|mail\\S*|belastig\\S*|erhalten|bekommen|horen|zusenden|schicken|senden)|nichts mehr (?:von|schicken|senden|horen|bekommen|erhalten)|mochte\\S* keine|unterlassen|unterlass|verschon\\S*|lassen sie (?:mich|uns) (?:bitte )?in ruhe|unerwunscht\\S*",
    "desinscri\\S*|desabonn\\S*|(?:retir|supprim|effac|enlev|radi)\\S*…(?:liste|donnees|adresse|coordonnees|moi|nous|fichier\\S*|base)|(?:retirez|supprimez|enlevez|effacez|desinscrivez)-(?:moi|nous)|(?:retirer|supprimer|effacer|enlever) (?:mon|mes|nos|notre) (?:adresse|donnees|coordonnees)|(?:effac|supprim)\\S* mon|ne (?:(?:m'|m’)|(?:me|nous) )(?:ecri|contact|envo|sollicit|relanc|import|derang|mail|adress|transm|harcel|demarch|spam|ennuy)\\S* plus|ne (?:plus|jamais) (?:(?:m'|m’)\\S+|me|nous|recevoir|etre|entendre)|ne (?:souhaite|veux|desire|voulons|souhaitons) plus|(?:arretez|cessez)|plus (?:de|aucun) (?:mails?|messages?|courriels?|sollicitation)|ne plus nous|sollicit\\S*|d'effacer|fichez|foutez|laissez-(?:moi|nous)",
    "dar(?:me|nos)?(?: de)? baja|darme de baja|de baja de|me doy de baja|desuscri\\S*|(?:elimin|borr|quit|suprim|saqu|retir)\\S*…(?:lista|datos|direccion|correo|base)|(?:eliminenme|elimineme|eliminarme|borrenme|borreme|quitenme|quiteme|saquenme|saqueme|borrela|bajenme)|no (?:me|nos) (?:escriban|envien)|nada mas|borren|eliminen|no (?:me|nos) (?:escrib|contact|envi|mand|volv|vuelv|llam)\\S*|no (?:quiero|deseo|queremos) (?:recibir|mas|seguir)|dej(?:e|en) de|dej(?:e|en)me en paz|ni un correo mas",
    "descadastr\\S*|cancelar (?:a )?(?:inscricao|subscricao|assinatura)|(?:remov|retir|tir|apag|elimin|exclu)\\S*…(?:lista|dados|endereco|email|base)|(?:remova|retire|tire|exclua|apague|tirem|removam|retirem)-(?:me|nos|o)|nao (?:me|nos) (?:escrev|contact|envi|mand|volt)\\S*|nao (?:quero|desejo|queremos|pretendo) (?:receber|mais|continuar)|par(?:e|em) de|deix(?:e|em)-(?:me|nos) em paz|deixar de receber|nao (?:me )?contacte mais",
    "disiscri\\S*|cancell\\S*…(?:dati|indirizzo|iscrizione|lista)|cancella(?:temi|rmi|teci)|(?:mi|ci) (?:tolga|cancelli|rimuova|tolgano)|(?:toglie|rimuov|togli)(?:temi|etemi|teci|rmi|ermi|imi|ete|ere)|non (?:mi|ci) (?:scriv|contatt|mand|invi)\\S*|non contatta\\S*|non voglio (?:piu|ricevere)|non (?:desidero|vogliamo) (?:piu )?ricevere|smett\\S* di|basta (?:mail|email|messaggi)|non (?:inviarmi|scrivermi|mandarmi|contattarmi|inviarci)|altre comunicazioni|mi lasci in pace|lasciatemi",
    "(?:af|uit)(?:melden|schrijven|gemeld|geschreven)|meld…(?:af)|(?:haal|verwijder|schrap|wis)…(?:lijst|gegevens|adres|eruit|bestand|me|mij|ons)|geen (?:mails?|e-?mails?|berichten|reclame)…meer|niet meer (?:mailen|schrijven|contact\\S*|benaderen)|geen contact meer|ontvang\\S*…(?:geen|niet)…meer|geen (?:mail|post) meer|stop met|stuur me…(?:niet|geen)|laat (?:me|ons) met rust",
    "avregistrera\\S*|utskick\\S*|(?:ta|tag) bort|sluta (?:mejla|maila|skicka|skriva|kontakta)|inga fler|(?:skicka|kontakta|skriv) (?:mig )?(?:inte|inga|aldrig)|vill inte (?:ha|fa)…(?:mer|fler|reklam)|radera|fjern (?:mig|meg|os|oss)|afmeld|(?:slet|slett) (?:mig|meg|mine|opplysning\\S*|oplysning\\S*|adress\\S*)|(?:ikke|ingen) (?:send|kontakt|skriv|flere)|(?:send|kontakt|skriv) (?:mig|meg|oss|os)? ?ikke|ikke (?:send|skriv|kontakt)|stopp? med at \\S+|hold op|(?:onsker|vil) ikke (?:a )?(?:motta|have|fa)|(?:nooit|aldrig|aldri) (?:meer|mer|mere)|slutt a|meld (?:meg|mig|oss) (?:av|af)|poista(?:kaa)?|alkaa (?:lahettako|ottako)|peruuta tilaus",
    "(?:usun|wypis|skresl|wykresl|skasow)\\S*|(?:prosze )?(?:wiecej )?(?:do mnie )?nie (?:pisac|wysylac|kontaktowac)|nie chce (?:otrzymywac|dostawac|wiecej)|odhlas\\S*|vymaz\\S*|odstran\\S*|uz (?:mi|nam) nepiste|nepiste|nechci (?:dostavat|uz)|удалите|удалить|отпишите|отписаться|не пишите|не звоните|больше не (?:пишите|звоните|присылайте|хочу|беспокойте)|уберите|smazte|vyradte|не хочу получать|не присылайте|спам",
    "配信停止|配信を停止|送らないで|削除してください|不要再|别再|退订|取消订阅|删除|移除|수신 ?거부|보내지 마|삭제|listeden cikar|listenizden|bir daha (?:yazma|gonderme|mail)\\S*|aboneligi\\S*|لا ترسل\\S*|احذف\\S*|إلغاء الاشتراك|توقف عن",
  ),
  noInterest: anyOf(
    "(?:zero|little) (?:need|demand|use)|lacks|not go ahead|won't be|(?:don't|do not|doesn't|does not|won't) (?:believe|fit|suit|apply|help|make)|not (?:at all )?(?:\\S+ )?(?:interested|a fit|relevant|for (?:us|me)|in the market|useful|of interest|what we)|no (?:interest|thanks|thank you|need|use for)|(?:don't|don’t|do not|won't|will not) (?:need|require|want|see the)|all set|(?:i'll|we'll|i’ll|we’ll|will) (?:pass|stick|stay)|must decline|happy with (?:our|what|the|them)|already (?:have|work|use|using|covered)|well served|in-house|chosen (?:a|another|someone)|went with|go(?:ne)? with (?:someone|another)|it's a no|nope|no plans? to|satisfied with",
    "nichts fur (?:uns|mich)|keinen (?:nutzen|mehrwert|grund)|kein(?:en|e)? (?:interesse|bedarf|verwendung)|nein,? danke|nicht (?:interessiert|relevant|notig)|(?:brauche|brauchen|benotige|benotigen|wollen|will)…nicht|(?:brauchen|benotigen) (?:wir )?(?:das|es|so etwas) nicht|passt…nicht zu|bereits…(?:anbieter|lieferanten|partner|losung)|zufrieden|kommt…nicht in frage|anderen (?:anbieter|lieferanten) entschieden",
    "pas (?:interess\\S*|besoin|concern\\S*|pour (?:nous|moi))|declinons|aucune utilite|non,? merci|sans interet|aucun (?:interet|besoin)|ne (?:donner\\S*|correspond|souhait\\S*)…(?:pas|suite)|deja un (?:prestataire|fournisseur|outil)|satisfaits?|ne nous (?:concerne|interesse)|n'en avons",
    "no (?:me|nos) interesa|no,? gracias|sin interes|no (?:lo )?(?:necesitamos|necesito)|no (?:estamos|estoy) interesad\\S*|no tenemos interes|ya (?:tenemos|trabajamos|contamos)|no es para|no encaja|contentos|satisfechos",
    "(?:nao tenho|sem|nao temos) interesse|nao,? obrigad\\S*|nao (?:precisamos|preciso|estamos interessad\\S*|estou interessad\\S*)|ja (?:temos|trabalhamos|contamos)|nao e para|satisfeitos|nao vamos avancar",
    "non (?:mi|ci) (?:interessa|serve)|decliniamo|gia un|no,? grazie|nessun (?:interesse|bisogno)|non (?:siamo|sono) interessat\\S*|non ne abbiamo|abbiamo gia|gia un fornitore|soddisfatti|non fa per|non intendiamo",
    "zien ervan af|hebben (?:dit|dat)…niet|geen (?:interesse|behoefte)|nee,? (?:dank|bedankt)\\S*|niet (?:geinteresseerd|nodig|relevant|interessant)|niets voor ons|al een (?:leverancier|partner)|tevreden|past niet",
    "inte intresserad\\S*|nej,? tack|ikke interesser\\S*|nej,? tak|nei,? takk|behover (?:det |vi )?inte|(?:trenger|trenger vi|behover) (?:vi |det |dette )?ikke|(?:redan|allerede) (?:en )?\\S*(?:leverantor|leverandor)|ei kiinnosta|ei kiitos|emme tarvitse|ikke (?:relevant|aktuelt)|nojda|fornoyde|tilfredse",
    "nie (?:jestesmy|jestem) zainteresowan\\S*|nie,? dziekuj\\S*|nie potrzebujemy|mamy juz|nemame zajem|ne,? dekuj\\S*|nepotrebujeme|uz mame|не интерес\\S*|нет,? спасибо|не нужно|не нуждаемся|уже есть",
    "興味が?(?:ありません|ない)|結構です|不要です|不需要|没有?兴趣|沒興趣|关 ?심 ?없|관심 ?없|필요 ?없|ilgilenmiyor\\S*|gerek yok|hayir,? tesekkur\\S*|لست مهتم\\S*|لا شكرا|غير مهتم\\S*",
  ),
  later: anyOf(
    "not (?:now|right now|yet|this (?:year|quarter|month|season|week)|at (?:the|this) (?:moment|time)|currently|a priority|the right (?:time|moment)|a good time)|(?:next|this coming) (?:quarter|year|spring|summer|autumn|fall|winter|season|fiscal)|in (?:q[1-4]|the (?:new year|fall|autumn|spring|summer|winter|second half|future))|(?:later|another time)|in (?:a few|several|six|three|two|\\d+) (?:months|weeks)|in (?:a|half a) year|no budget|budget…(?:spent|gone|frozen)|on hold|on pause|(?:check|come|circle|get|touch|write|ping|reach|follow|try|ask|contact|talk)…(?:back|again|base)…(?:in|after|next|later|when|once)|after (?:the|that|easter|christmas|summer)|too (?:busy|early|soon)|bad time|timing (?:isn't|is not|isn’t)|swamped|hiring freeze|renew(?:ed|al)|locked into|just signed|revisit|(?:until|before|in|around|from) (?:next|the (?:end|new|summer|autumn|spring)|january|february|march|april|may|june|july|august|september|october|november|december|20\\d\\d)|(?:budget|contract|agreement|funding|licence)…(?:until|before|runs|decided|ends|frozen|fixed)|keep in touch|(?:come|get) back to you|write again|remind me|(?:two|\\w+) years|eight weeks|months|in the middle of|once we|when (?:we|things|the)",
    "(?:im moment|momentan|derzeit|zurzeit|aktuell|gerade|jetzt)…(?:nicht|kein\\S*|schlecht)|spater|nachst\\S* (?:jahr|quartal|monat)|im (?:herbst|fruhjahr|fruhling|sommer|winter|januar|februar|marz|april|mai|juni|juli|august|september|oktober|november|dezember)|nach (?:den|dem|der) (?:\\S*ferien|sommer|urlaub|messe|umzug)|in (?:einem|einigen|zwei|drei|sechs|ein paar) (?:halben )?(?:jahr|monaten|wochen)|zu fruh|danach|frisch|(?:eben|gerade) erst|mitten in|verlangert|unterschrieben|melden sie sich|muss warten|kein budget|eingefroren|(?:melden|fragen|schreiben|kommen)…(?:wieder|noch einmal|nochmal|erneut)",
    "(?:pas|ni) (?:pour le moment|maintenant|actuellement|cette annee)|plus tard|trimestre|(?:l'|l’)annee prochaine|apres (?:l'|l’|les|la|le)\\s?(?:ete|vacances|rentree)|rentree|(?:dans|d'ici) (?:six|trois|deux|quelques|\\d+) mois|trop tot|(?:venons|vient) de (?:signer|renouveler|changer)|ensuite|pas (?:de|le) budget|bon moment|gele\\S*|(?:recontact|relanc|reven|reparl|ecriv)\\S*…(?:en|apres|dans|a la)|en (?:janvier|fevrier|mars|avril|mai|juin|juillet|aout|septembre|octobre|novembre|decembre)",
    "(?:ahora|de momento|por ahora|este ano|actualmente)…(?:no|sin)|ahora (?:mismo )?no|no es (?:el|buen)…momento|mas adelante|proximo (?:trimestre|ano|mes)|ano que viene|despues (?:del|de)|despues|acabamos de (?:firmar|renovar|cambiar)|a tope|luego|dentro de (?:seis|tres|dos|unos|\\d+) meses|no hay presupuesto|sin presupuesto|pronto para|(?:escrib|contact|pregunt|vuelv)\\S*…(?:en|otra vez|dentro|despues)",
    "agora nao|de momento|por enquanto|proximo (?:trimestre|ano|mes)|ano que vem|para o ano|mais tarde|depois d[oae]s?|depois|acabamos de (?:assinar|renovar|mudar)|ate ao? fim|insista|daqui a (?:seis|tres|dois|uns|\\d+) meses|nao ha (?:orcamento|verba)|sem (?:orcamento|verba)|cedo para|momento certo|(?:escrev|contact|volt|fal)\\S*…(?:em|depois|daqui|no)",
    "(?:al momento|per ora|adesso|ora)…(?:non|no)|non (?:adesso|ora|e il momento)|prossimo (?:trimestre|anno|mese)|(?:l'|l’)anno prossimo|piu avanti|dopo (?:l'|l’|le|la|il)\\s?(?:estate|ferie)|poi|appena (?:firmato|rinnovato|cambiato)|prima di|fino a fine|tra (?:sei|tre|due|qualche|\\d+) mesi|presto per|(?:riscriv|ricontatt|risent|richied|riprov|riparl)\\S*",
    "(?:nu|op dit moment|momenteel|voorlopig)…(?:niet|geen)|nu niet|later|volgend (?:kwartaal|jaar|seizoen)|na de (?:zomer|vakantie|verhuizing)|over (?:een half jaar|zes|drie|een paar|\\d+) ?(?:maanden)?|te vroeg|daarna|(?:net|pas) (?:getekend|verlengd|gewisseld|voor een jaar)|half jaar|geen budget|(?:mail|bel|vraag|probeer|neem)…(?:nog eens|weer|opnieuw|daarna)",
    "inte (?:just )?nu|inte akkurat|ikke (?:lige|akkurat) (?:nu|na)|nasta (?:kvartal|ar)|naste (?:kvartal|ar)|neste (?:kvartal|ar)|til (?:efteraret|hosten|varen|foraret)|i (?:januar|januari|september|oktober|august|augusti|mars|marts)|etter sommeren|efter (?:sommeren|sommaren)|(?:hor av|aterkom|kontakt|kontakta|ta kontakt|skriv)…(?:igen|igjen)|derefter|deretter|darefter|(?:precis|nettopp|lige|nyss) (?:skrivit|skrevet|signert|fornyat)|prioriter\\S*|om (?:tre|to|tva|et) (?:maneder|manader|ar)|ingen budget|budsjett|ei juuri nyt|ensi vuonna|syksylla|myohemmin|palataan",
    "nie teraz|w (?:przyszlym|nastepnym) (?:roku|kwartale|miesiacu)|jesienia|po wakacjach|za (?:pol roku|szesc|trzy)|nie mamy budzetu|obecnie…nie|ted ne|pristi rok|na podzim|nemame rozpocet|pozdeji|pozniej|не сейчас|позже|осенью|весной|в следующем|нет бюджета|пока не|сейчас не",
    "来年|今は|秋に|後日|また(?:ご)?連絡|明年|现在不|暂时|以后再|再联系|내년|나중에|지금은|다시 연락|simdi degil|su anda|gelecek (?:yil|ay)|onumuzdeki yil|daha sonra|eylulde|ocakta|ليس الآن|لاحقا|العام القادم|السنة القادمة",
  ),
  wrongPerson: anyOf(
    "(?:wrong|not the right|not the best|not the correct) (?:person|contact|department|desk|address|one|team|\\S+ i'm)|(?:not|outside) my (?:area|remit|department|job|responsibility)|not (?:responsible|in charge)|(?:don't|don’t|do not|no longer) (?:handle|deal|work|decide|look)|(?:please |kindly )?(?:contact|try|ask|speak (?:to|with)|talk to|reach out to|write to|direct)…(?:instead|who|colleague|department|team|office|mr|ms|mrs|manager|director|head|lead)|(?:my|our) (?:colleague|successor|predecessor|buyer|head of|\\S+ (?:manager|director|department))|(?:forwarded|passed|passing|forwarding)…(?:to|on)|(?:copying|copied|looping|handing)…in|retired|left the|took over|taken over|(?:would be|is) the (?:one|person|right)|the person you|(?:in cc|cc'd|in copy)|(?:should|must) (?:go|be sent) to|(?:takes care of|is handled by|is decided by|belongs to)|(?:i'm|i am) (?:only|just) (?:a|an|the)|you need (?:mr|ms|mrs|to)|who decides|ask \\S+\\.|redirect|address your|she doesn't work|he doesn't work",
    "(?:falsche\\S*|nicht der richtige|nicht die richtige) (?:ansprechpartner\\S*|person|abteilung|adresse)|(?:bin|dafur)…nicht (?:zustandig|verantwortlich)|zustandig\\S*|wenden sie sich…an|ansprechpartner\\S*|weitergeleitet|nachfolger\\S*|im ruhestand|nicht mehr in|zentrale|nichts zu tun|verantwortlich\\S*|schreiben sie an|(?:nur|lediglich) (?:praktikant\\S*|am empfang|aushilfe)|meinen (?:kollegen|vorganger)|weitergegeben|fragen sie \\S+ \\S+",
    "(?:pas|plus) (?:la bonne personne|le bon interlocuteur|mon domaine|moi qui)|mauvaise personne|adressez-vous|(?:contacter|voir avec|voyez avec)|transmis|transfere|destinataire|successeur|retraite|le siege|(?:stagiaire|a l'accueil|benevole)|(?:s'en occupe|qui decide|gere cela)|releve (?:de|pas)|responsable de|ne travaille plus",
    "no soy (?:la persona|el|quien)|(?:contact|dirija|dirij|hable|escriba)\\S*…(?:con|al|a la|a mi)|no (?:llevo|me encargo|es mi)|ya no trabajo|equivocad\\S*|persona (?:responsable|indicada|adecuada)|responsable es|he (?:pasado|reenviado)|jubilad\\S*|sucesor\\S*|competencia|la central|(?:de eso|eso) (?:se encarga|lo lleva|lo decide)|solo soy|diri(?:ja|jase)\\S*|escriba a",
    "nao sou (?:a pessoa|o responsavel|eu)|(?:contacte|contate|fale|dirija-se|escreva)…(?:com|a|ao|o)|nao (?:trato|e comigo|sou eu)|ja nao trabalho|nao trabalho mais|enganou-se|pessoa (?:responsavel|certa|indicada)|responsavel e|encaminhei|reformad\\S*|aposentad\\S*|sucessor\\S*|quem (?:trata|decide)|sou apenas|na sede",
    "non sono (?:la persona|io|il)|(?:contatti|si rivolga|scriva|parli)…(?:con|al|a|alla|all'ufficio)|non (?:me ne occupo|e di mia)|non lavoro piu|sbagliato (?:persona|indirizzo)|persona (?:giusta|competente)|responsabile e|inoltrato|in pensione|sede centrale|competenza|(?:se ne occupa|decide|e compito)|sono solo|si rivolga",
    "(?:niet|verkeerde) (?:de juiste )?(?:persoon|afdeling|contactpersoon)|(?:ga ik niet over|niet verantwoordelijk)|neem contact op met|doorgestuurd|opvolger|met pensioen|moet(?:en)? (?:u )?bij|hoofdkantoor|gaat daarover|regelt dat|beslist|(?:maar|slechts) (?:stagiair|receptionist|vrijwilliger)|verkeerde te pakken|richt u|verantwoordelijk\\S*|werk niet meer",
    "inte (?:ratt person|jag som|mitt)|ikke (?:den rette|rett person|mitt omrade|mit)|(?:kontakta|kontakt|prata med|tale med|snakk med|snak med)…(?:som|pa|hos)?|skickat vidare|vidaresant|sendt videre|videresendt|(?:min|mitt) kollega|arbetar inte langre|slutade?t? i|ansvarig|ansvarlig|en vastaa|ottakaa yhteytta",
    "nie jestem wlasciwa|nie (?:zajmuje|odpowiadam)|(?:skontaktowac|pisac)…(?:do|z)|nie pracuje|przekazal\\S*|nejsem spravna|nemam na starosti|kontaktujte|predal\\S*|обратились не|не отвечаю|напишите (?:в|к|на)|обратитесь|занимается|не работаю|obratte se|napiste na|zwrocic sie|pisac do",
    "担当(?:者)?では|担当では|ご連絡ください|不负责|找错人|请联系|负责人|담당자가 아|담당이 아|문의하세요|ilgilenmiyorum|yanlis kisi|لست الشخص|تواصل مع",
  ),
  positive: anyOf(
    "(?:are|were|we're|just) (?:\\S+ )?(?:looking (?:for|at)|searching|shopping|evaluating|comparing|reviewing)|what we need|for exactly|(?:sounds?|looks?|seems?) (?:really |very |quite )?(?:interesting|good|great|useful|promising)|(?:i'm|i’m|i am|we are|we're|we’re|count \\S+) (?:\\S+ )?(?:interested|curious|keen|open)|interested in|(?:let's|let’s|lets) (?:talk|chat|do|speak|connect|meet|find)|(?:happy|glad|keen|love|like|pleased) to (?:talk|chat|hear|see|learn|know|discuss|take|have|speak)|tell me more|more (?:information|info|details)|send (?:me |us |over |the |some )*(?:more|info\\S*|details|proposal|quote|deck|brochure|times|invite|samples|pricing|offer)|(?:set up|schedule|arrange|book)…(?:call|meeting|demo|chat|visit|something)|(?:call|ring|phone) me|(?:works?|suits?)…(?:for|me|well)|demo|yes,? please|good timing|timely|^yes|^sure|absolutely|definitely|sign me up|next steps?|get started|a (?:quote|proposal)|availab\\S*|times",
    "(?:suchen|vergleichen|brauchen) (?:wir )?(?:gerade|aktuell|zurzeit|so)|genau richtig|preise|unterlagen|vorschlag|mit interesse gelesen|mehr erfahren|(?:klingt|hort sich) (?:\\S+ )?(?:interessant|gut|spannend)|ja,? (?:gern\\S*|bitte)|gern\\S*|(?:mehr|weitere) (?:informationen|infos|details)|rufen sie (?:mich|uns)|(?:termin|angebot|vorfuhrung|demo|testzugang)\\S*|(?:haben|hatten) (?:wir )?interesse|telefonieren|lassen sie uns|passt mir",
    "(?:cherchons|comparons|cherche) |tombe a pic|brochure|tarifs|plus de details|(?:envoyer|transmettre)…(?:devis|offre|brochure|tarifs|details)|(?:m'|m’|nous )interesse|interessee?s?|(?:oui,? )?(?:volontiers|avec plaisir)|(?:plus|davantage) (?:d'|d’)?(?:informations?|details)?|appelez-(?:moi|nous)|(?:creneaux?|rendez-vous|devis|demonstration|demo)|parlons|en savoir|d'accord|convient|disponible",
    "(?:buscando|comparando)|folleto|(?:enviarme|mandarnos|pasarme)|mas detalles|(?:me|nos) interesa|suena (?:bien|interesante)|(?:mas|mayor) informacion|envieme|mandeme|llameme|hablemos|podemos hablar|presupuesto para|demostracion|demo|me gustaria|de acuerdo|me viene bien|adelante|saber mas",
    "(?:a procura|a comparar|procurando)|(?:enviar-me|mandar-nos|me enviar)|mais detalhes|conte comigo|contar comigo|vamos a isso|tenho interesse|parece (?:interessante|bem)|mais (?:informac\\S*|detalhes)|envie-me|mande-(?:me|nos)|ligue-me|podemos falar|orcamento para|demonstracao|demo|gostaria|gostava|vamos (?:conversar|falar|marcar)|reuniao|saber mais",
    "(?:cercando|confrontando|alla ricerca)|(?:mandarmi|inviarci|farci avere)|piu dettagli|procediamo|mi interessa|sembra (?:interessante|utile)|(?:maggiori|piu) informazioni|mi (?:chiami|mandi|invii)|parliamone|possiamo sentirci|preventivo|dimostrazione|demo|vorrei|volentieri|saperne di piu|d'accordo",
    "(?:zoeken|vergelijken|op zoek)|meer details|(?:prijzen|brochure) (?:sturen|mailen|toesturen)|doen we|doe mee|klinkt (?:interessant|goed)|ja,? graag|graag|(?:meer|nadere) (?:informatie|info)|bel me|stuur me…(?:meer|informatie)|laten we|offerte|demo|afspraak|schikt",
    "(?:later|lyder|hores) (?:intressant|interessant|spennende|bra|ut|godt)|ja,? (?:tack|tak|takk|gjerne|garna)|(?:mer|mere) info\\S*|ring (?:mig|meg)|(?:kan|ska|skal) vi (?:prata|tale|snakke|ta|ses)|offert|tilbud|tilbudet|demo|kuulostaa|lisatietoja|tarjous|gjerne|garna",
    "szukamy|przeslac oferte|wiecej szczegolow|hledame|ukazku|ищем|предложение|презентаци\\S*|узнать больше|brzmi (?:ciekawie|dobrze)|wiecej informacji|prosze (?:o oferte|zadzwonic)|chetnie|zni to|vice informaci|mame zajem|zavolat|интересно|подробн\\S*|давайте|созвонимся|пришлите",
    "興味があります|詳しい|資料|デモ|見積|感兴趣|更多资料|演示|방문|관심 있|자료를|ilgileniyor\\S*|daha fazla bilgi|gorusebilir\\S*|أنا مهتم|المزيد من المعلومات|نتحدث",
  ),
  /** They propose a time, or ask for one. */
  meets: anyOf(
    "when (?:are|would|can|could) (?:you|we)|what time|(?:monday|tuesday|wednesday|thursday|friday|tomorrow)…(?:\\d{1,2}|morning|afternoon|noon|lunch|works|suits?)|(?:mon|tues|wednes|thurs|fri)day (?:at|after|before|morning|afternoon)|(?:see|try) it|(?:come|drop) by|visit|trial|invite|invitation|(?:next|this) week\\?|free (?:on|for|to|next|this)|(?:a|quick|short) (?:call|chat|conversation|word|demo)|half an hour|\\d+ minutes|in action|(?:show|convince) (?:me|us)|go ahead|i'm in|pilot|how (?:do|can) (?:we|i) (?:order|start|sign|buy|get|register)|where do (?:we|i) sign",
    "wann (?:haben|waren|konnen|konnten)|(?:montag|dienstag|mittwoch|donnerstag|freitag|morgen)s?…(?:uhr|vormittag\\S*|nachmittag\\S*|passt|ginge)|um \\d{1,2}|\\d{1,2} uhr|ausprobieren|zeigen|vorfuhr\\S*|termin\\S*|bin dabei|bald sprechen|kennenlernen",
    "quand (?:etes|pouvons|pourriez|seriez)|a quelle heure|(?:lundi|mardi|mercredi|jeudi|vendredi)…(?:h|matin|apres-midi|convient)|\\d{1,2} ?h(?:eures?)?|essayer|invitation|rencontrer|echange|montrer|preneur",
    "cuando (?:esta|podemos|tiene|podria|le)|a que hora|(?:lunes|martes|miercoles|jueves|viernes)…(?:a las|manana|tarde|bien)|invitacion|probarlo|reunion|ensen\\S*|hueco|fechas",
    "quando (?:esta|tem|podemos|nos|pode)|a que horas|(?:segunda|terca|quarta|quinta|sexta)\\S*…(?:as|manha|tarde|jeito)|convite|experimentar|testar|marcar|horarios|acesso",
    "quando (?:e libero|e disponibile|possiamo|potrebbe)|a che ora|(?:lunedi|martedi|mercoledi|giovedi|venerdi)…(?:alle|mattina|pomeriggio|bene)|invito|provarlo|incontro|qualche data|mostrar\\S*",
    "wanneer (?:heeft|heb|kunnen|kunt|kan)|hoe laat|(?:maandag|dinsdag|woensdag|donderdag|vrijdag)…(?:uur|ochtend|middags|past|schikt|kan)|uitnodiging|proberen|afspraak|tijden",
    "(?:nar|hvornar|nar|vilken tid) (?:har|kan|passer)|(?:mandag|tirsdag|onsdag|torsdag|fredag|mandag|tisdag)…(?:klockan|klokken|kl|passar|passer|formiddag|ettermiddag)|boka|booke|prova|prove|mote|tidspunkt\\S*|vise det|visa det",
    "kiedy|kdy|termin\\S*|prezentacj\\S*|ukazk\\S*|когда (?:можете|удобно|вам)|показать|демо|попробовать",
    "いつ|お話し|通話|什么时候方便|通话|통화|ne zaman (?:uygun|musait)|متى",
  ),
  /** Praise that is none, and other ways to say no without the word. */
  scorn: anyOf(
    "(?:another|yet another|one more) (?:\\S+ )?(?:sales\\S*|cold|vendor|pitch|dashboard|email)|just what (?:i|my|we)|nice try|lucky me|how original|what a treat|do you really|seriously|why would|good luck|best of luck|all the best|too expensive|far too|(?:decided|voted) (?:against|to go|not)|no (?:value|point|reason)|didn't work|were not convinced|weren't convinced|unconvinced",
    "noch (?:ein|eine|so ein)\\S*|schon wieder|hat…(?:gefehlt|noch gefehlt)|na toll|viel (?:zu|erfolg)|zu teuer|dagegen entschieden|konkurrenz",
    "encore un\\S*|manquait (?:que|plus)|quelle chance|trop (?:cher|complique|gros)|bonne continuation|(?:choisi|retenu|prefere) (?:une?|quelqu)",
    "otro (?:vendedor|correo)|(?:lo|era) (?:que|lo que)…faltaba|que ilusion|(?:demasiado|muy) (?:caro|complicado|grande)|(?:elegido|decidido|optado|escogido)…(?:otra|por)|suerte",
    "mais um|(?:era )?(?:so )?o que (?:me )?faltava|que alegria|(?:caro|complicado) demais|(?:demasiado|muito) (?:caro|complicado|grande)|(?:optamos|escolhemos|decidimos)…(?:outra|por)|boa sorte",
    "un altro venditore|ancora un|ci mancava|(?:proprio )?quello che mi mancava|troppo (?:caro|complicato|grande)|(?:scelto|preferito|optato)…(?:un|altra|altri)|buon lavoro",
    "(?:weer|alweer) een|zat ik op te wachten|ontbrak er|veel te|te (?:duur|ingewikkeld)|(?:ander|concurrent|anders) gekozen|gekozen",
    "(?:annu|enda|endnu) en|(?:alldeles )?for dyrt|(?:valt|valgt) en an\\S*|hurra",
    "za drogo|wybralismy|prilis drahe|zbytecne|дорого|выбрали друг\\S*|удачи",
    "別の業者|別の会社|太贵|已经有|이미 다른|cok pahali|zaten|لدينا مورد",
  ),
  /** They say what they do, where it matters that they do something else. */
  role: anyOf(
    "(?:i|i'm|i am) (?:run|look after|work (?:in|for|on)|do|the|a|only|just|now|responsible for)…(?:shop|cafe|education|press|library|fundraising|finance|legal|reception|intern|marketing|department|team|office)|nothing to do with|(?:is|are) your (?:man|woman|person|contact)|you want|not me|would know",
    "ich (?:leite|mache|betreue|arbeite)…(?:und nicht|nicht)|weiterhelfen|(?:ist|ware) (?:der|die) richtige",
    "je (?:m'occupe|suis|travaille|gere) (?:du|de|d'|au|a)|(?:faut|doit) (?:joindre|voir|contacter)|pour (?:les|la|le|cela)[^.]* c'est",
    "(?:yo )?(?:soy|llevo|estoy en|trabajo en)|de (?:esto|estas cosas|eso) sabe",
    "trabalho (?:na|no|em)|(?:o assunto|isso) e com",
    "(?:io )?mi occupo di|senta (?:il|la|l)|lavoro (?:in|al|alla)",
    "ik doe|ik werk|moet u…hebben|jag jobbar|jeg (?:jobber|arbejder)|fraga \\S+",
  ),
  // ── Single words; what they say together is learned from their pairs ──
  /** What we send, and what we hold about them. */
  mail: anyOf(
    "e-?mails?|mails?|mailings?|messages?|letters|correspondence|newsletters?|contact|approaches|address|details|data|lists?|database|records|advertising|offers|spam",
    "nachrichten?|zuschriften?|zusendungen|werbung|adresse|daten|verteiler|liste|kontaktaufnahme|schreiben",
    "courriels?|courriers?|envois?|sollicitations?|publicite|adresse|donnees|coordonnees|fichiers?|demarchage",
    "correos?|mensajes?|envios|publicidad|direccion|datos|lista|base de datos|contactos|mensagens|publicidade|endereco|dados|envio",
    "messaggi|comunicazioni|pubblicita|indirizzo|dati|elenco|e-mail|posta",
    "berichten|reclame|adres|gegevens|bestand|lijst|post|mejl|utskick\\S*|reklam\\S*|adress\\S*|uppgifter|listan?|listen|oplysninger|opplysninger|viestej\\S*|wiadomosci|adres\\S*|danych?|dane|listy|bazy|zprav\\S*|udaje|adresu|письм\\S*|рассылк\\S*|адрес|данны\\S*|базы",
  ),
  /** Ending, taking out, keeping away. */
  ends: anyOf(
    "stop\\S*|quit|cease|end|enough|drop|remov\\S*|delet\\S*|eras\\S*|strike|refrain|desist|unsubscrib\\S*|cancel|forget|block\\S*|policy against|object",
    "verzichten|unterlass\\S*|aufhoren|losch\\S*|entfern\\S*|streich\\S*|abmeld\\S*|austrag\\S*|einstellen|verbitte",
    "cess\\S*|arret\\S*|supprim\\S*|retir\\S*|effac\\S*|desabonn\\S*|oubli\\S*|radi\\S*",
    "dej(?:e|en|ar)|borr\\S*|elimin\\S*|quit\\S*|retir\\S*|cese\\S*|suprim\\S*|autorizo|par(?:e|em|ar)|apag\\S*|remov\\S*|deix\\S* de|cess\\S*",
    "smett\\S*|cancell\\S*|rimuov\\S*|togl\\S*|elimin\\S*|diffido|cess\\S*",
    "stop\\S*|halen|haal|verwijder\\S*|schrap\\S*|wis\\S*|staak|sluta|upphor|ta bort|radera|fjern\\S*|slett?\\S*|ophor|poista\\S*|lopetta\\S*|przesta\\S*|usun\\S*|skasow\\S*|prestante|smaz\\S*|vymaz\\S*|прекрат\\S*|удалит\\S*|перестан\\S*",
  ),
  no: anyOf(
    "no|not|never|none|nothing|nobody|neither|nor|without|cannot|can't|don't|won't|doesn't|isn't|shan't|wouldn't|didn't|aren't",
    "nein|nicht|nie|kein\\S*|nichts|niemand|ohne|weder",
    "non|ne|pas|jamais|aucun\\S*|rien|sans|ni",
    "nunca|nada|ningun\\S*|sin|tampoco|nao|nem|nenhum\\S*|sem",
    "nessun\\S*|mai|niente|senza|nulla",
    "nee|niet|nooit|geen|niets|zonder|inte|aldrig|ingen|inga|inget|ikke|intet|ei|nie|nigdy|zadn\\S*|ne|nikdy|нет|не|никогда|ничего",
  ),
  /** Colleagues, offices and callings. */
  others: anyOf(
    "colleagues?|successor|predecessor|department|manager|director|registrar|conservators?|curator|officer|head of|desk|council|procurement|purchasing|buyer|accounts|reception|trustees|board|the person|somebody|someone|whoever",
    "kolleg\\S*|nachfolger\\S*|abteilung|leiter\\S*|direktor\\S*|einkauf|verwaltung|restaurierung|registratur|technik|zentrale|frau|herrn?|hausmeister",
    "collegues?|successeur|service|directeur|directrice|responsable|achats|comptabilite|conservation|regisseur|mme|m\\.|monsieur|madame",
    "companer[oa]s?|sucesor\\S*|departamento|director[a]?|responsable|compras|conservador[a]?|don|dona|senor[a]?|colegas?|diretor[a]?|doutor[a]?|responsavel|guia",
    "collegh?[ai]|ufficio|direttor\\S*|responsabile|acquisti|biglietteria|dottor\\S*|signor[a]?",
    "collega'?s?|afdeling|directeur|beheerder|inkoop|kolleg\\S*|avdelning\\S*|avdeling\\S*|afdeling\\S*|chef\\S*|dzial\\S*|kierowni\\S*|oddeleni|отдел\\S*|коллег\\S*|директор\\S*",
  ),
  /** First persons plural that decide: "the board chose another". */
  chose: anyOf(
    "(?:went|gone|stay|staying|stick|sticking|stuck|remain|muddle)|(?:liked|preferred|chose|chosen|picked|decided|selected)|(?:current|present|existing|own) (?:supplier|provider|system|solution|firm|partner|one)",
    "bleiben|entschieden|bisherig\\S*|eigene[ns]?|verwendung|vorhanden\\S*",
    "restons|choisi|prefer\\S*|fournisseur actuel|notre propre",
    "preferimos|apanamos|seguimos|quedamos con|propi[oa]|elegido|ficamos|mantemos|propri[oa]|escolhemos",
    "restiamo|scelto|prefer\\S*|propri[oa]|attuale",
    "blijven|belangstelling|gekozen|eigen|huidige|behaller|beholder|zostajemy|zustavame|остаемся|остаёмся",
  ),
  /** Talking, coming by, trying: what leads on. */
  leadsOn: anyOf(
    "talk|speak|call|meet\\S*|visit|pop by|drop by|come by|show|see it|see the|demo\\S*|trial|try|sample|quote|proposal|figure|invite|curious|keen|interest\\S*|welcome",
    "vorbei\\S*|ansehen|anschauen|treffen|sprechen|telefon\\S*|zeigen|angebot|vorschlag|neugierig|interess\\S*|probier\\S*",
    "proposition|devis|rencontr\\S*|parl\\S*|montr\\S*|essa\\S*|curieu\\S*|interess\\S*|equiper|appel\\S*",
    "mandeme|ensen\\S*|hablar|llam\\S*|reunion|probar|interes\\S*|curios\\S*|chamada|conversar|mostr\\S*|experiment\\S*",
    "incurios\\S*|vediamo|videochiamata|sentir\\S*|parlar\\S*|provar\\S*|interess\\S*|mostr\\S*",
    "agenda|bel|bellen|praten|zien|proberen|interess\\S*|later som|prata|traffas|prova|tale|snakke|se det|chetnie|rozmaw\\S*|spotka\\S*|promluv\\S*|setkat|обсуд\\S*|созвон\\S*|встрет\\S*",
  ),
  asks: anyOf(
    "how (?:much|many|long|often|do|does|did|is|are|would|accurate)|what(?:'s|’s)? (?:is|are|does|do|kind|would|happens|about|the|do you)|where (?:is|are|did|do|does)|who (?:else|is|are|would|does)|which|(?:does|do|is|are|can|could|would|will|has|have) (?:it|you|your|this|that|there|they|we)|price|cost",
    "was (?:kostet|ist|sind|bedeutet|genau)|wie (?:hoch|viel|lange|funktioniert|kann|oft)|wo (?:werden|liegen)|woher|wer (?:ist|nutzt)|welche\\S*|gibt es|konnen sie|haben sie|funktioniert",
    "combien|quel(?:le)?s?|ou (?:sont|avez|se)|est-ce (?:que|compatible)|avez-vous|pouvez-vous|faut-il|livrez-vous|comment|qui (?:assure|est)",
    "cuanto|cual|que precio|donde|de donde|tienen|funciona|como (?:funciona|se)|podria|hacen|quien",
    "quanto|qual|onde|funciona|tem|pode explicar|como (?:funciona)|quem|voces|dove|quanto (?:costa|dura)|puo spiegar\\S*|avete|chi",
    "wat (?:kost|is)|hoe|waar|werkt het|heeft u|kunt u|wie|vad|var|hur|fungerar|har ni|hva|hvor|hvad|virker|paljonko|mista",
    "ile|skad|czy|gdzie|jak|kolik|kde|funguje|сколько|откуда|работает|いくら|どこ|ですか|多少|哪里|얼마|어떻게|fiyat\\S*|nereden|كم|من أين",
  ),
} as const satisfies Record<string, Phrases>;

export type Cue = keyof typeof CUES;

const WORD_BEGINS = /(?<![\p{L}\d])[\p{L}\d]/gu;

/** Each cue that stands in a text, where it stands first, as [cue, begin, end] in the folded text. */
export function cuesIn(folded: string): [Cue, number, number][] {
  const begins = [...folded.matchAll(WORD_BEGINS)].map(({ index }) => index);
  const found: [Cue, number, number][] = [];
  for (const [cue, { spaced, unspaced }] of Object.entries(CUES) as [Cue, Phrases][]) {
    const match = firstAt(spaced, folded, begins) ?? unspaced?.exec(folded) ?? null;
    if (match) found.push([cue, match.index, match.index + match[0].length]);
  }
  return found;
}

function firstAt(pattern: RegExp, text: string, begins: readonly number[]): RegExpExecArray | null {
  for (const begin of begins) {
    pattern.lastIndex = begin;
    const match = pattern.exec(text);
    if (match) return match;
  }
  return null;
}
