/** What recipients say, by language: parts that are put together, so that hardly two letters are alike. */
import type { ReplyKind } from "./personas.ts";

export interface Parts {
  greetings: string[];
  closings: string[];
  /** For each kind: an opening, and what may follow it; an empty follow-up says no more. */
  says: Record<ReplyKind, [openings: string[], follows: string[]]>;
  /** {until} is a day, {colleague} and {address} who answers instead. */
  away: string[];
  subject: string[];
  months: string;
}

export const LANGUAGES: Record<string, Parts> = {
  en: {
    greetings: [
      "Dear {sender},",
      "Hello {sender},",
      "Hi {sender},",
      "{sender},",
      "Good morning {sender},",
      "",
    ],
    closings: [
      "Best regards,\n{name}",
      "Kind regards,\n{name}",
      "Best,\n{first}",
      "{first}",
      "Thanks,\n{first}",
      "With best wishes,\n{name}",
      "All good things\n{first}",
    ],
    says: {
      interested: [
        [
          "your timing is good: we are comparing loggers for the autumn loans.",
          "thank you for this. We lost a lender over missing readings last year, so yes, I would like to hear more.",
          "this reached me the week our old recorder gave up, and I am keen to see yours.",
          "we have been doing this by hand in a spreadsheet, and I am tired of it. Tell me more.",
          "our conservator forwarded me your note and we are both curious.",
          "I read your sheet with interest; two of our galleries would fit.",
          "all right, you have my ear.",
          "the lenders' report is what sold me.",
        ],
        [
          "Could you show me how the lender's sheet is produced? Thursday after 14:00 would suit me.",
          "Could we speak early next week?",
          "Please send me some times.",
          "I would want our registrar on the call as well.",
          "When could one of you come by?",
          "Let me know what a trial in one room would look like.",
        ],
      ],
      question: [
        [
          "a question before I pass this on:",
          "could be useful. One thing is not clear to me:",
          "before anything else:",
          "I am not sure yet.",
          "one point your sheet leaves open:",
        ],
        [
          "does it work in a case without a network?",
          "how often do the sensors have to be calibrated, and by whom?",
          "is the data kept with you or with us?",
          "do you have anybody with a stone building like ours among your customers?",
          "what happens to the readings when the power goes?",
          "what would twelve sensors come to?",
        ],
      ],
      not_now: [
        [
          "this is not the moment: our money for the year is spent.",
          "we are in the middle of an installation and I cannot look at this now.",
          "we are moving the store this summer, so everything else waits.",
          "we signed with another supplier in January for a year.",
          "a good idea at a bad time.",
        ],
        [
          "Try me again in the autumn.",
          "Write to me in January, when the new budget opens.",
          "Perhaps after the summer.",
          "Ask again in six months.",
          "September would be better.",
        ],
      ],
      not_interested: [
        [
          "thank you, but we are well served with what we have.",
          "I am afraid there is no need for it here.",
          "we have our own system, built in-house, and no plan to change it.",
          "I have looked at it and it is not for us.",
          "splendid, one more gadget that beeps. We will manage without.",
        ],
        ["All the best with it.", "Good luck elsewhere.", "No need to follow up.", ""],
      ],
      wrong_person: [
        [
          "I think you want somebody else: I look after education.",
          "I changed departments in spring and no longer deal with this.",
          "this is not my area.",
          "you have reached the wrong desk.",
          "I only do the shop.",
        ],
        [
          "{colleague} would be the one to ask: {address}.",
          "Please write to {colleague}, {address}, who decides that.",
          "Our facilities office decides that.",
          "You may want to ask {colleague} ({address}).",
        ],
      ],
      opt_out_words: [
        [
          "please take me off your list.",
          "do not write to me again, please.",
          "I never asked for this. Remove my address.",
          "please stop these emails.",
          "kindly leave our museum out of your mailings for good.",
        ],
        ["", "Thank you.", "I mean it."],
      ],
    },
    away: [
      "Thank you for your message. I am out of the office until {until} and will answer when I am back.\n\n{name}",
      "I am on leave until {until} with no access to email. {colleague} ({address}) helps you meanwhile.\n\n{name}",
      "I am travelling with a loan and back at my desk on {until}. In urgent cases please write to the front desk.\n\n{name}",
      "Annual leave, back {until}. For anything that cannot wait: {colleague}, {address}.\n\n{name}",
    ],
    subject: ["Automatic reply: {subject}", "Out of office until {until}"],
    months: "en-GB",
  },
  de: {
    greetings: [
      "Guten Tag Frau {last},",
      "Hallo Frau {last},",
      "Sehr geehrte Frau {last},",
      "Liebe Frau {last},",
    ],
    closings: [
      "Mit freundlichen Grüßen\n{name}",
      "Beste Grüße\n{name}",
      "Viele Grüße\n{first} {lastOwn}",
      "Herzlich\n{name}",
    ],
    says: {
      interested: [
        [
          "Ihr Schreiben kommt zur rechten Zeit, wir vergleichen gerade Messgeräte.",
          "das spricht uns an, wir haben seit dem Wasserschaden Sorgen mit dem Klima.",
          "unsere Restauratorin hat mir Ihre Mail gegeben, wir sind beide neugierig.",
        ],
        [
          "Könnten Sie uns das einmal vorführen?",
          "Mir würde Dienstag um elf passen.",
          "Bitte nennen Sie mir ein paar Termine.",
        ],
      ],
      question: [
        ["bevor ich das weitergebe:", "eine Rückfrage:", "nur zum Verständnis:"],
        [
          "Wie oft muss kalibriert werden?",
          "Läuft das auch in einer Vitrine ohne WLAN?",
          "Wo liegen die Messdaten?",
          "Was käme für zwölf Fühler zusammen?",
        ],
      ],
      not_now: [
        [
          "wir stecken mitten in einem Aufbau.",
          "für dieses Jahr ist das Geld ausgegeben.",
          "wir ziehen im Sommer mit dem Depot um.",
        ],
        [
          "Melden Sie sich gern im Herbst noch einmal.",
          "Bitte fragen Sie im Januar wieder an.",
          "Nach den Sommerferien können wir sprechen.",
        ],
      ],
      not_interested: [
        [
          "danke, wir sind damit versorgt.",
          "dafür haben wir hier keine Verwendung.",
          "das haben wir uns angesehen, es ist nichts für unser Haus.",
        ],
        ["Alles Gute.", "Weiterhin viel Erfolg.", ""],
      ],
      wrong_person: [
        [
          "da sind Sie bei mir an der falschen Adresse, ich mache die Bildungsarbeit.",
          "seit dem Frühjahr bin ich dafür nicht mehr zuständig.",
        ],
        ["Bitte wenden Sie sich an {colleague}, {address}.", "Zuständig ist {colleague} ({address})."],
      ],
      opt_out_words: [
        [
          "bitte streichen Sie mich aus Ihrem Verteiler.",
          "ich wünsche keine weiteren Nachrichten von Ihnen.",
          "bitte löschen Sie meine Adresse.",
        ],
        ["", "Danke."],
      ],
    },
    away: [
      "Guten Tag,\n\nich bin bis zum {until} nicht im Haus. In dringenden Fällen hilft Ihnen {colleague} ({address}).\n\n{name}",
      "Vielen Dank für Ihre Nachricht. Ab dem {until} bin ich wieder erreichbar.\n\n{name}",
    ],
    subject: ["Automatische Antwort: {subject}", "Abwesend: {subject}"],
    months: "de",
  },
  pt: {
    greetings: ["Cara {sender},", "Olá {sender},", "Boa tarde {sender},"],
    closings: ["Com os melhores cumprimentos,\n{name}", "Cumprimentos,\n{name}", "Até breve,\n{first}"],
    says: {
      interested: [
        [
          "chegou em boa hora, andamos a comparar equipamentos.",
          "isto interessa-nos, perdemos um empréstimo por falta de registos.",
          "a nossa conservadora passou-me a sua mensagem e ficámos curiosas.",
        ],
        [
          "Pode mostrar-nos na próxima semana?",
          "Quinta depois das duas dá-me jeito.",
          "Proponha-me umas datas, por favor.",
        ],
      ],
      question: [
        ["antes de passar isto adiante:", "uma dúvida:"],
        [
          "de quanto em quanto tempo se calibra?",
          "funciona dentro de uma vitrina sem rede?",
          "quem guarda os dados, nós ou vocês?",
          "em quanto ficam doze sensores?",
        ],
      ],
      not_now: [
        ["estamos a meio de uma montagem.", "a verba deste ano já foi.", "vamos mudar as reservas no verão."],
        ["Volte a escrever-me no outono.", "Fale comigo em janeiro.", "Depois do verão conversamos."],
      ],
      not_interested: [
        [
          "obrigado, mas estamos bem servidos.",
          "vimos com atenção e não é para nós.",
          "temos sistema próprio e assim ficamos.",
        ],
        ["Boa sorte.", ""],
      ],
      wrong_person: [
        ["não sou eu que trato disso, estou no serviço educativo.", "mudei de área na primavera."],
        ["Fale com {colleague}, {address}.", "Quem decide é {colleague} ({address})."],
      ],
      opt_out_words: [
        ["peço que me retire da lista.", "não me escreva mais, por favor.", "apague o meu endereço."],
        ["", "Obrigado."],
      ],
    },
    away: [
      "Estou de férias até {until}. Entretanto pode falar com {colleague}, {address}.\n\n{name}",
      "Obrigado pela mensagem. Estou fora e regresso a {until}.\n\n{name}",
    ],
    subject: ["Resposta automática: {subject}", "Ausência até {until}"],
    months: "pt-PT",
  },
  no: {
    greetings: ["Hei {sender},", "Hei,"],
    closings: ["Vennlig hilsen\n{name}", "Hilsen\n{first}"],
    says: {
      interested: [
        [
          "dette kom beleilig, vi ser etter nye loggere nå.",
          "vi er nysgjerrige på rapporten til långiveren.",
        ],
        ["Kan du vise oss den neste uke?", "Onsdag etter lunsj passer godt."],
      ],
      question: [
        ["et spørsmål før jeg sender det videre:", "bare én ting:"],
        ["hvor ofte må de kalibreres?", "virker det uten nett?", "hva koster tolv sensorer?"],
      ],
      not_now: [
        ["vi er midt i en montering.", "årets midler er brukt opp."],
        ["Ta kontakt igjen til høsten.", "Skriv til meg i januar."],
      ],
      not_interested: [
        ["takk, men vi er fornøyde med det vi har.", "dette er ikke noe for oss."],
        ["Lykke til videre.", ""],
      ],
      wrong_person: [
        ["jeg er feil person, jeg jobber med formidling."],
        ["Ta kontakt med {colleague}, {address}."],
      ],
      opt_out_words: [
        ["vennligst fjern meg fra listen deres.", "ikke skriv til meg mer."],
        ["", "Takk."],
      ],
    },
    away: ["Jeg er på ferie til {until} og svarer når jeg er tilbake.\n\n{name}"],
    subject: ["Automatisk svar: {subject}"],
    months: "nb",
  },
  fr: {
    greetings: ["Bonjour {sender},", "Chère {sender},", "Madame,"],
    closings: ["Bien cordialement,\n{name}", "Cordialement,\n{first}"],
    says: {
      interested: [
        [
          "votre courrier tombe bien, nous comparons des enregistreurs.",
          "notre restauratrice m'a transmis votre note et cela nous intrigue toutes les deux.",
        ],
        ["Pourriez-vous nous le montrer la semaine prochaine ?", "Jeudi après 14 h me conviendrait."],
      ],
      question: [
        ["avant de transmettre :", "une précision :"],
        [
          "à quelle fréquence faut-il étalonner ?",
          "est-ce que cela marche sans réseau ?",
          "combien pour douze capteurs ?",
        ],
      ],
      not_now: [
        ["nous sommes en plein montage.", "le budget de l'année est dépensé."],
        ["Revenez vers moi à l'automne.", "Écrivez-moi en janvier."],
      ],
      not_interested: [
        ["merci, nous sommes équipés.", "après examen, ce n'est pas pour nous."],
        ["Bonne continuation.", ""],
      ],
      wrong_person: [
        ["vous vous adressez à la médiation, ce n'est pas mon domaine."],
        ["Voyez plutôt {colleague}, {address}."],
      ],
      opt_out_words: [
        ["je vous prie de me rayer de vos envois.", "ne m'écrivez plus, s'il vous plaît."],
        ["", "Merci."],
      ],
    },
    away: [
      "Je suis en congé jusqu'au {until}. Pour toute urgence : {colleague}, {address}.\n\n{name}",
      "Absent, de retour le {until}.\n\n{name}",
    ],
    subject: ["Réponse automatique : {subject}"],
    months: "fr",
  },
  es: {
    greetings: ["Hola {sender}:", "Estimada {sender}:", "Buenos días {sender},"],
    closings: ["Un saludo,\n{name}", "Saludos,\n{first}"],
    says: {
      interested: [
        [
          "llega en buen momento, estamos comparando registradores.",
          "nos interesa, perdimos un préstamo por falta de lecturas.",
        ],
        ["¿Podría enseñárnoslo la semana que viene?", "El jueves después de las dos me viene bien."],
      ],
      question: [
        ["antes de pasarlo:", "una duda:"],
        [
          "¿cada cuánto hay que calibrar?",
          "¿funciona sin red dentro de una vitrina?",
          "¿cuánto costarían doce sensores?",
        ],
      ],
      not_now: [
        ["estamos en pleno montaje.", "el presupuesto de este año está gastado."],
        ["Escríbame en otoño.", "Pregúnteme en enero."],
      ],
      not_interested: [
        ["gracias, ya estamos servidos.", "lo hemos visto y no es para nosotros."],
        ["Suerte.", ""],
      ],
      wrong_person: [["yo llevo educación, no es cosa mía."], ["Hable con {colleague}, {address}."]],
      opt_out_words: [
        ["por favor, quíteme de su lista.", "le ruego que no vuelva a escribirme."],
        ["", "Gracias."],
      ],
    },
    away: [
      "Estoy de vacaciones hasta el {until}. Para lo urgente, {colleague}, {address}.\n\n{name}",
      "Fuera de la oficina; vuelvo el {until}.\n\n{name}",
    ],
    subject: ["Respuesta automática: {subject}"],
    months: "es",
  },
  ja: {
    greetings: ["{sender} 様"],
    closings: ["{name}"],
    says: {
      interested: [
        ["ご連絡ありがとうございます。秋の貸出に向けて機器を比較しているところです。"],
        ["来週オンラインで見せていただけますか。"],
      ],
      question: [
        ["一点教えてください。"],
        ["校正はどのくらいの頻度で必要ですか。", "十二個でいくらになりますか。"],
      ],
      not_now: [["今年度の予算は使い切りました。"], ["一月にもう一度ご連絡ください。"]],
      not_interested: [["せっかくですが、今の設備で足りております。"], [""]],
      wrong_person: [["私は担当ではありません。"], ["{colleague}（{address}）にご連絡ください。"]],
      opt_out_words: [["今後のメールは送らないでください。"], [""]],
    },
    away: [
      "{until}まで不在にしております。お急ぎの方は {colleague}（{address}）までお願いします。\n\n{name}",
    ],
    subject: ["自動応答: {subject}"],
    months: "ja",
  },
};

/** Where they live says what they speak at home. */
const SPOKEN: Record<string, string> = {
  "Europe/Lisbon": "pt",
  "Europe/Berlin": "de",
  "Europe/Oslo": "no",
  "Europe/Paris": "fr",
  "Europe/Madrid": "es",
  "America/Sao_Paulo": "pt",
  "America/Mexico_City": "es",
  "America/Bogota": "es",
  "America/Lima": "es",
  "America/Argentina/Buenos_Aires": "es",
  "America/Santiago": "es",
  "Asia/Tokyo": "ja",
};

/** Many answer an English letter in English. */
export const languageOf = (zone: string, drawn: number): string =>
  drawn < 0.45 ? "en" : (SPOKEN[zone] ?? "en");
