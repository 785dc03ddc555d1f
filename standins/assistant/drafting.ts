/**
 * Drafts from a grammar: what a brief says, put into sentences of several kinds by a seeded choice. It invents no figures, no
 * customers and no praise; what it does not know it leaves out.
 */
import { z } from "zod";
import { seeded } from "../seeded.ts";

export const brief = z.object({
  who: z.string(),
  whom: z.string(),
  goal: z.string(),
  value: z.string().default(""),
  occasion: z.string().default(""),
  tone: z.enum(["plain", "warm", "formal"]).default("plain"),
  language: z.enum(["en", "de", "pt"]).default("en"),
  channels: z.array(z.enum(["email", "social", "call"])).default(["email"]),
  steps: z.number().int().min(1).max(8).default(4),
});
type Brief = z.infer<typeof brief>;

interface Grammar {
  hello: Record<Brief["tone"], string>;
  /** "{who}", "{value}", "{occasion}", "{goal}" and "{whom}" are put in. */
  occasion: string[];
  question: string[];
  who: string[];
  value: string[];
  ask: string[];
  more: string[];
  close: string[];
  note: string[];
  call: string[];
  subject: string[];
  lastSubject: string[];
  names: { opening: string; more: string; last: string; note: string; call: string; sequence: string };
}

const GRAMMARS: Record<Brief["language"], Grammar> = {
  en: {
    hello: {
      plain: 'Hello {{ first_name | default: "there" }},',
      warm: 'Good morning {{ first_name | default: "and hello" }},',
      formal: "Dear {{ title }} {{ last_name }},",
    },
    occasion: ["{occasion}, which is why I write.", "I write because of one thing: {occasion}."],
    question: [
      "How is this handled at {{ company }} today?",
      "Who at {{ company }} looks after this?",
      "Is this something that {{ company }} has settled, or still open?",
    ],
    who: ["{who}.", "In one line, who is asking: {who}."],
    value: ["What it is worth: {value}.", "For others in your place it means this: {value}."],
    ask: [
      "Would you {goal}?",
      "May I ask you to {goal}?",
      "Is it worth ten minutes, so that you could {goal}?",
    ],
    more: [
      "One thing I left out last time: {value}. Does that change the picture at {{ company }}?",
      "A smaller question than my last one: who would have to say yes at {{ company }}?",
      "In case it helps you to decide: {value}. Any half-hour suits me: {{ booking_link }}",
    ],
    close: [
      "I have not heard from you, so I take it that now is not the time. If that changes, a line to me is enough.",
      "This is my last note. Should somebody else be the right person, a name would help me; else I leave you in peace.",
    ],
    note: [
      "I wrote to you by email as well. Glad to be in touch here.",
      "Short and without a pitch: happy to have you among my contacts.",
    ],
    call: [
      "Did the email reach them? How is it handled today? Would they {goal}?",
      "Ask who decides. Listen for what stands in the way. Offer to {goal}.",
    ],
    subject: [
      "A question about {{ company }}",
      "{whom} at {{ company }}",
      'One question, {{ first_name | default: "if I may" }}',
    ],
    lastSubject: ["Shall I leave it there?", "My last note"],
    names: {
      opening: "Opening",
      more: "Follow-up",
      last: "Last note",
      note: "Ask for contact",
      call: "Ring",
      sequence: "To {whom}",
    },
  },
  de: {
    hello: {
      plain: 'Guten Tag {{ first_name | default: "zusammen" }},',
      warm: 'Guten Morgen {{ first_name | default: "und einen schönen Tag" }},',
      formal: "Guten Tag {{ title }} {{ last_name }},",
    },
    occasion: ["{occasion}, deshalb schreibe ich Ihnen.", "Der Anlass ist einfach: {occasion}."],
    question: [
      "Wie wird das bei {{ company }} heute gehandhabt?",
      "Wer kümmert sich bei {{ company }} darum?",
    ],
    who: ["{who}.", "In einem Satz, wer fragt: {who}."],
    value: ["Was es bringt: {value}.", "Für andere in Ihrer Lage heißt das: {value}."],
    ask: ["Wären Sie bereit zu Folgendem: {goal}?", "Darf ich Sie bitten: {goal}?"],
    more: [
      "Eines habe ich beim letzten Mal ausgelassen: {value}. Ändert das etwas für {{ company }}?",
      "Eine kleinere Frage: Wer müsste bei {{ company }} ja sagen?",
    ],
    close: [
      "Ich habe nichts gehört und nehme an, dass jetzt nicht die Zeit ist. Ändert sich das, genügt eine Zeile.",
      "Das ist meine letzte Nachricht. Ist jemand anderes zuständig, hilft mir ein Name.",
    ],
    note: [
      "Ich habe Ihnen auch eine E-Mail geschrieben. Ich freue mich über den Kontakt.",
      "Kurz und ohne Angebot: gern bleibe ich hier in Verbindung.",
    ],
    call: [
      "Kam die E-Mail an? Wie wird es heute gehandhabt? Wären sie bereit zu: {goal}?",
      "Wer entscheidet? Was steht im Weg? Anbieten: {goal}.",
    ],
    subject: ["Eine Frage an {{ company }}", "{whom} bei {{ company }}"],
    lastSubject: ["Soll ich es dabei belassen?", "Meine letzte Nachricht"],
    names: {
      opening: "Einstieg",
      more: "Nachfassen",
      last: "Letzte Nachricht",
      note: "Um Kontakt bitten",
      call: "Anrufen",
      sequence: "An {whom}",
    },
  },
  pt: {
    hello: {
      plain: 'Olá {{ first_name | default: "a todos" }},',
      warm: 'Bom dia {{ first_name | default: "e boa semana" }},',
      formal: "Exmo(a). {{ title }} {{ last_name }},",
    },
    occasion: ["{occasion}, e por isso lhe escrevo.", "O motivo é simples: {occasion}."],
    question: ["Como se trata disto hoje em {{ company }}?", "Quem cuida disto em {{ company }}?"],
    who: ["{who}.", "Numa linha, quem pergunta: {who}."],
    value: ["O que vale: {value}.", "Para outros no seu lugar significa isto: {value}."],
    ask: ["Estaria de acordo com isto: {goal}?", "Posso pedir-lhe: {goal}?"],
    more: [
      "Uma coisa que deixei de fora: {value}. Muda alguma coisa em {{ company }}?",
      "Uma pergunta mais pequena: quem teria de dizer sim em {{ company }}?",
    ],
    close: [
      "Não tive resposta, por isso penso que não é a altura. Se mudar, basta uma linha.",
      "Esta é a minha última mensagem. Se for outra pessoa, um nome ajuda-me.",
    ],
    note: [
      "Também lhe escrevi por email. Fico contente com o contacto.",
      "Breve e sem venda: gosto de ficar em contacto.",
    ],
    call: [
      "O email chegou? Como se faz hoje? Aceitariam: {goal}?",
      "Quem decide? O que impede? Propor: {goal}.",
    ],
    subject: ["Uma pergunta sobre {{ company }}", "{whom} em {{ company }}"],
    lastSubject: ["Fico por aqui?", "A minha última mensagem"],
    names: {
      opening: "Abertura",
      more: "Seguimento",
      last: "Última nota",
      note: "Pedir contacto",
      call: "Telefonar",
      sequence: "Para {whom}",
    },
  },
};

const bare = (text: string) => text.trim().replace(/[.!?…]+$/, "");
const decapital = (text: string) =>
  /^(I|We|[A-Z]{2})\b/.test(text) ? text : text.charAt(0).toLowerCase() + text.slice(1);

function composer(asked: Brief) {
  const draw = seeded(JSON.stringify(asked));
  const grammar = GRAMMARS[asked.language];
  const used = new Set<string>();
  /** One that was not used yet, as long as there is one. */
  const one = (choices: readonly string[]): string => {
    const left = choices.filter((each) => !used.has(each));
    const pool = left.length > 0 ? left : choices;
    const chosen = pool[Math.floor(draw() * pool.length)] as string;
    used.add(chosen);
    return chosen
      .replaceAll("{who}", bare(asked.who))
      .replaceAll("{whom}", bare(asked.whom).slice(0, 50))
      .replaceAll("{value}", decapital(bare(asked.value)))
      .replaceAll("{occasion}", bare(asked.occasion))
      .replaceAll("{goal}", decapital(bare(asked.goal)));
  };
  const hello = grammar.hello[asked.tone];
  return { grammar, one, hello };
}

/** What needs a value is left out where the brief gives none. */
const withValue = (choices: readonly string[], asked: Brief) =>
  asked.value === "" ? choices.filter((each) => !each.includes("{value}")) : choices;

function opening(asked: Brief, { grammar, one, hello }: ReturnType<typeof composer>): string {
  const sentences = [
    asked.occasion === "" ? null : one(grammar.occasion),
    one(grammar.question),
    one(grammar.who),
    asked.value === "" ? null : one(grammar.value),
  ].filter((each) => each !== null);
  return `${hello}\n\n${sentences.join(" ")}\n\n${one(grammar.ask)}`;
}

export function draftEmail(asked: Brief): { subject: string; text: string } {
  const parts = composer(asked);
  return { subject: parts.one(parts.grammar.subject), text: opening(asked, parts) };
}

export function draftSequence(asked: Brief) {
  const parts = composer(asked);
  const { grammar, one, hello } = parts;
  const steps: { kind: string; name: string; days: number; subject: string; text: string }[] = [
    {
      kind: "email",
      name: grammar.names.opening,
      days: 0,
      subject: one(grammar.subject),
      text: opening(asked, parts),
    },
  ];
  const others = asked.channels.filter((channel) => channel !== "email");
  while (steps.length < asked.steps) {
    const isLast = steps.length === asked.steps - 1 && asked.steps > 2;
    const turn =
      steps.length % 2 === 1 ? others[Math.floor(steps.length / 2) % Math.max(1, others.length)] : undefined;
    if (turn === "social" && !isLast)
      steps.push({
        kind: "invitation",
        name: grammar.names.note,
        days: 2,
        subject: "",
        text: one(grammar.note),
      });
    else if (turn === "call" && !isLast)
      steps.push({ kind: "call", name: grammar.names.call, days: 3, subject: "", text: one(grammar.call) });
    else if (isLast)
      steps.push({
        kind: "email",
        name: grammar.names.last,
        days: 5,
        subject: one(grammar.lastSubject),
        text: `${hello}\n\n${one(grammar.close)}`,
      });
    else
      steps.push({
        kind: "email",
        name: `${grammar.names.more} ${steps.length}`,
        days: 4,
        subject: "",
        text: `${hello}\n\n${one(withValue(grammar.more, asked))}`,
      });
  }
  return { name: grammar.names.sequence.replace("{whom}", bare(asked.whom).slice(0, 60)), steps };
}

export const wish = z.object({ text: z.string().max(20_000), wish: z.enum(["shorter", "plainer"]) });

/** Words that say nothing, and those that have a simpler sister. */
const EMPTY =
  /\b(just|really|very|actually|basically|simply|quite|in fact|as you know|needless to say|I hope this (?:email|message) finds you well[.,]?|I wanted to|please feel free to)\s+/gi;
const SIMPLER: [RegExp, string][] = [
  [/\butili[sz]e(s|d)?\b/gi, "use$1"],
  [/\bleverag(e|ing)\b/gi, "use"],
  [/\bin order to\b/gi, "to"],
  [/\bprior to\b/gi, "before"],
  [/\bsubsequent to\b/gi, "after"],
  [/\bat this point in time\b/gi, "now"],
  [/\bdue to the fact that\b/gi, "because"],
  [/\ba (?:large|great) number of\b/gi, "many"],
  [/\bassist(ance)?\b/gi, "help"],
  [/\bpurchase\b/gi, "buy"],
  [/\bcommence\b/gi, "begin"],
  [/\bfacilitate\b/gi, "ease"],
  [/\bdemonstrate\b/gi, "show"],
  [/\brequire(s|d)?\b/gi, "need$1"],
  [/\bregarding\b/gi, "about"],
];

const tidy = (text: string) =>
  text
    .replace(/ {2,}/g, " ")
    .replace(/ +([.,?!])/g, "$1")
    .trim();
const sentencesOf = (text: string) => text.match(/[^.!?\n]+(?:[.!?]+|\n+|$)\s*/g) ?? [text];

export function otherWordings({ text, wish: wanted }: z.infer<typeof wish>): string[] {
  const plainer = tidy(SIMPLER.reduce((all, [from, to]) => all.replace(from, to), text.replace(EMPTY, "")));
  if (wanted === "plainer") {
    // Long sentences are parted at their "and", "but" and semicolons.
    const parted = tidy(
      plainer
        .replace(/;\s+(\w)/g, (_, letter: string) => `. ${letter.toUpperCase()}`)
        .replace(
          /, (and|but) (\w)/g,
          (_, word: string, letter: string) =>
            `. ${word === "but" ? "But " : ""}${word === "but" ? letter : letter.toUpperCase()}`,
        ),
    );
    return [...new Set([plainer, parted])].filter((each) => each !== "" && each !== text);
  }
  const sentences = sentencesOf(plainer).filter((each) => each.trim() !== "");
  const first = sentences[0] ?? plainer;
  const question = sentences.find((each) => each.includes("?"));
  const withoutLongest =
    sentences.length > 2
      ? sentences.filter((each) => each !== sentences.toSorted((a, b) => b.length - a.length)[0])
      : sentences;
  return [
    ...new Set([
      tidy(withoutLongest.join("")),
      tidy(question && question !== first ? `${first} ${question}` : first),
      plainer,
    ]),
  ].filter((each) => each !== "" && each.length < text.length);
}
