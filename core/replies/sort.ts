/**
 * What a person's reply means. Standards and plain words come first; for the rest a small model is asked
 * (model.ts), which learned from letters written for it (training/) and from the corrections made here.
 */
import { absenceIn, wantsSomething } from "./absence.ts";
import type { Label } from "./labels.ts";
import { judge, type Model } from "./model.ts";
import { type NamedPerson, namedPerson } from "./named-person.ts";
import { newText } from "./new-text.ts";
import { dayToAskAgain, type LetterContext, returnDay } from "./return-date.ts";

/** Below it a reading says that it is unsure, and nothing is done on it alone. */
export const SURE = 0.8;
/** An opt-out that is only likely is shown as one: to overlook it costs more than to look at it. */
const LIKELY_OPT_OUT = 0.3;
/** What plain words are worth: nobody has seen them mean anything else. */
const PLAIN = 0.99;

export interface Reading {
  /** A label of core/replies/labels.ts, or one of the team's own. */
  label: Label | (string & {});
  /** In [0, 1]; right about as often as it says (docs/sorting.md). */
  confidence: number;
  sure: boolean;
  /** What it went by. */
  by: "plain words" | "absence" | "model" | "assistant" | "nothing to read";
  /** The words that decided, as [from, to) in the text. */
  words: [number, number][];
  /** The day they are back, or want to be asked again: "YYYY-MM-DD". */
  day: string | null;
  /** Somebody else whom they name. */
  person: NamedPerson | null;
}

const PLAIN_OPT_OUT =
  /^\W*(?:(?:hi|hello|dear \S+|please|pls|bitte|merci de|por favor|per favore|just|ok|thanks|thank you)\W+)*(?:stop(?: it| this| now| please)?|unsubscribe(?: me| us)?|remove(?: me| us)?(?: please)?|take me off|opt[ -]?out|abmelden|austragen|desinscription|désinscription|désabonner|baja|darme de baja|descadastrar|cancellatemi|cancellami|uitschrijven|afmelden|avregistrera|afmeld|meld meg av|wypisz|odhlásit|отписаться|退订|配信停止|수신\s?거부)\W*(?:please|thanks|thank you|now|danke|merci|gracias|me|mig|meg)?\W*$/iu;

export interface Letter extends LetterContext {
  text: string;
  /** Addresses that are nobody else's: the writer's own and ours. */
  own: readonly string[];
}

export function sortReply(letter: Letter, model: Model): Reading {
  const text = newText(letter.text);
  const found = reading(text, model);
  return {
    ...found,
    sure: found.confidence >= SURE,
    day:
      found.label === "away"
        ? (returnDay(text, letter)?.day ?? null)
        : found.label === "not_now"
          ? (dayToAskAgain(text, letter)?.day ?? null)
          : null,
    person: found.label === "away" || found.label === "wrong_person" ? namedPerson(text, letter.own) : null,
  };
}

function reading(text: string, model: Model): Pick<Reading, "label" | "confidence" | "by" | "words"> {
  if (!/[\p{L}\p{N}]/u.test(text))
    return { label: "question", confidence: 0, by: "nothing to read", words: [] };
  // Greeting and name taken off, what stands alone is plain.
  const alone = text
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);
  const plain = alone.slice(0, 4).find((line) => line.length < 80 && PLAIN_OPT_OUT.test(line));
  if (plain !== undefined && alone.length <= 6) {
    const from = text.indexOf(plain);
    return { label: "opt_out", confidence: PLAIN, by: "plain words", words: [[from, from + plain.length]] };
  }
  const absence = wantsSomething(text) ? null : absenceIn(text);
  if (absence !== null) {
    const from = text.indexOf(absence);
    return {
      label: "away",
      confidence: 0.97,
      by: "absence",
      words: from < 0 ? [] : [[from, from + absence.length]],
    };
  }
  const judged = judge(model, text);
  const optOut = judged.all.find(({ label }) => label === "opt_out")?.chance ?? 0;
  if (judged.label !== "opt_out" && optOut >= LIKELY_OPT_OUT)
    return { label: "opt_out", confidence: optOut, by: "model", words: judged.words };
  return { label: judged.label, confidence: judged.confidence, by: "model", words: judged.words };
}
