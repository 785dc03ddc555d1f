/**
 * What a person's reply means. Standards and plain words come first; for the rest a small model is asked
 * (model.ts), which learned from letters written for it (training/) and from the corrections made here.
 */
import { absenceIn, wantsSomething } from "./absence.ts";
import { isGrave } from "./grave.ts";
import type { Label } from "./labels.ts";
import { bareSubject } from "./match.ts";
import { judge, type Model } from "./model.ts";
import { type NamedPerson, namedPerson } from "./named-person.ts";
import { newText } from "./new-text.ts";
import { isOptOutSubject, stopWords } from "./opt-out.ts";
import { dayToAskAgain, type LetterContext, returnDay } from "./return-date.ts";

/** Below it a reading says that it is unsure, and nothing is done on it alone. */
export const SURE = 0.8;
/** An opt-out that is only likely is shown as one: to overlook it costs more than to look at it. */
const LIKELY_OPT_OUT = 0.3;
/** What plain words are worth: nobody has seen them mean anything else. */
const PLAIN = 0.99;
const ABSENT = 0.97;

export interface Reading {
  /** A label of core/replies/labels.ts, or one of the team's own. */
  label: Label | (string & {});
  /** In [0, 1]; right about as often as it says (docs/sorting.md). */
  confidence: number;
  sure: boolean;
  /** What it went by. */
  by: "plain words" | "absence" | "model" | "assistant" | "nothing to read" | "grave";
  /** The words that decided, as [from, to) in the text. */
  words: [number, number][];
  /** The day they are back, or want to be asked again: "YYYY-MM-DD". */
  day: string | null;
  /** Somebody else whom they name. */
  person: NamedPerson | null;
}

export interface Letter extends LetterContext {
  /** What they wrote, without what they quote. */
  text: string;
  /** Addresses that are nobody else's: the writer's own and ours. */
  own: readonly string[];
  subject?: string;
  /** Of the emails that went to them: what a subject repeats of those is not theirs. */
  ourSubjects?: readonly string[];
  /** Nobody can tell what of the text is theirs (quoted.ts). */
  mixed?: boolean;
}

/** What is said of a text that may be partly ours. */
const DOUBTFUL = 0.5;

export function sortReply(letter: Letter, model: Model): Reading {
  const text = newText(letter.text);
  const read = reading(letter, text, model);
  const confidence = letter.mixed ? Math.min(read.confidence, DOUBTFUL) : read.confidence;
  return {
    ...read,
    confidence,
    sure: confidence >= SURE,
    day:
      read.label === "away"
        ? (returnDay(text, letter)?.day ?? null)
        : read.label === "not_now"
          ? (dayToAskAgain(text, letter)?.day ?? null)
          : null,
    person: read.label === "away" || read.label === "wrong_person" ? namedPerson(text, letter.own) : null,
  };
}

type Read = Pick<Reading, "label" | "confidence" | "by" | "words">;

function reading(letter: Letter, text: string, model: Model): Read {
  // Whatever else stands there: a person reads it, and no word of it is marked.
  if (isGrave(text)) return { label: "question", confidence: 0, by: "grave", words: [] };
  const { plain, otherwise } = stopWords(text);
  if (plain) return { label: "opt_out", confidence: PLAIN, by: "plain words", words: [plain] };
  if (subjectOptsOut(letter) && otherwise.length === 0)
    return { label: "opt_out", confidence: PLAIN, by: "plain words", words: [] };
  if (!/[\p{L}\p{N}\p{Extended_Pictographic}]/u.test(text))
    return { label: "question", confidence: 0, by: "nothing to read", words: [] };
  // What speaks of stopping and wants something else says nothing to the model.
  const judged = judge(model, blanked(text, otherwise));
  const absence = wantsSomething(text) ? null : absenceIn(text);
  if (absence !== null && (judged.label === "away" || judged.confidence < SURE)) {
    const from = text.indexOf(absence);
    return {
      label: "away",
      confidence: judged.label === "away" ? ABSENT : DOUBTFUL,
      by: "absence",
      words: from < 0 ? [] : [[from, from + absence.length]],
    };
  }
  const optOut = judged.all.find(({ label }) => label === "opt_out")?.chance ?? 0;
  if (judged.label !== "opt_out" && optOut >= LIKELY_OPT_OUT)
    return { label: "opt_out", confidence: optOut, by: "model", words: judged.words };
  return { label: judged.label, confidence: judged.confidence, by: "model", words: judged.words };
}

/** A subject that they wrote themselves, over an empty letter too. */
function subjectOptsOut({ subject = "", ourSubjects = [] }: Letter): boolean {
  const bare = bareSubject(subject);
  return (
    bare !== "" &&
    bare === subject.replace(/\s+/g, " ").trim().toLowerCase() &&
    !ourSubjects.some((ours) => bareSubject(ours) === bare) &&
    isOptOutSubject(bare)
  );
}

function blanked(text: string, spans: readonly [number, number][]): string {
  let left = text;
  for (const [from, to] of spans) left = left.slice(0, from) + " ".repeat(to - from) + left.slice(to);
  return left;
}
