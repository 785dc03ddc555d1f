/** Texts that an answer can begin with, by what the reply means: for the rep to read and change. Nothing goes by itself. */
import type { Reading } from "../../core/replies/sort.ts";

export interface Suggestion {
  /** Below the reply. */
  answer: string;
  /** The short letter some days later, if nothing comes back. */
  nudge: string;
  /** On the day that they asked for. */
  again: string;
  /** To whoever was the wrong person, and to the one they named. */
  thanks: string;
  opening: { subject: string; body: string };
}

interface About {
  first: string;
  rep: string;
  company: string;
  label: string;
  reading: Reading | null;
  /** The subject of our letters to them. */
  subject: string;
  /** What our last letter to them said. */
  lastLetter: string;
  times: string;
  link: string;
}

const greet = (first: string) => (first === "" ? "Hello," : `Dear ${first},`);

export function suggestAnswer(about: About): Suggestion {
  const { first, label, reading, times, link } = about;
  const named = reading?.person;
  const namedFirst = named?.firstName ?? "";
  const hello = greet(first);
  const meet = times === "" ? `You can choose a time here: ${link}` : times;
  const answers: Record<string, string> = {
    interested: `${hello}\n\nthank you, I am glad to hear that. ${meet}`,
    question: `${hello}\n\nthank you for asking. \n\nIf it is easier to talk it through, you can choose a time here: ${link}`,
    not_now: `${hello}\n\nthank you for telling me. I will write again ${reading?.day ? "then" : "later in the year"}, and not before. If anything changes meanwhile, a line is enough.`,
    not_interested: `${hello}\n\nthank you for the clear answer. I will not write again about this. All the best with your work.`,
    wrong_person: `${hello}\n\nthank you for pointing me on${named?.firstName || named?.lastName ? ` to ${[named.firstName, named.lastName].filter(Boolean).join(" ")}` : ""}. I will write there, and leave you in peace.`,
  };
  return {
    answer: answers[label] ?? `${hello}\n\n`,
    nudge: `${hello}\n\nI wanted to make sure that this reached you. Would a short call suit you, or should I leave it for now?`,
    again: `${hello}\n\nyou asked me to write again about now. Is this a better moment to look at it together? ${link}`,
    thanks: `${hello}\n\nthank you for pointing me on. I will write to ${namedFirst || "your colleague"}.`,
    opening: {
      subject: about.subject.replace(/^(re|aw|sv|tr|rif|res)\s*:\s*/i, ""),
      body: `${greet(namedFirst)}\n\n${first || "A colleague of yours"}${about.company ? ` at ${about.company}` : ""} told me that you are the one to ask about this.\n\n${withoutGreeting(about.lastLetter)}`,
    },
  };
}

/** A letter without its first line where that greets. */
const withoutGreeting = (letter: string): string => {
  const [first = "", ...rest] = letter.split(/\n\s*\n/);
  return /^(dear|hello|hi|good (morning|afternoon)|liebe|sehr geehrte|guten tag|bonjour|chère?|hola|estimad|olá|car[oa]|gentile|buongiorno|beste|hej|hei)\b/i.test(
    first.trim(),
  ) && first.length < 60
    ? rest.join("\n\n")
    : letter;
};
