/** What readings and labels are called on screen. */
import { isLabel, type Label } from "../../core/replies/labels";
import type { Tone } from "../components/pill";
import { count } from "../components/words";

const NAMES: Record<Label, string> = {
  interested: "interested",
  question: "a question",
  not_now: "not now",
  not_interested: "not interested",
  wrong_person: "the wrong person",
  away: "away",
  opt_out: "an opt-out",
};

const TONES: Record<Label, Tone> = {
  interested: "kelp",
  question: "tile",
  not_now: "ochre",
  not_interested: "quiet",
  wrong_person: "ochre",
  away: "quiet",
  opt_out: "clay",
};

/** As the end of "This reads as …". */
export const readingWords = (code: string, own: ReadonlyMap<string, string>): string =>
  isLabel(code) ? NAMES[code] : `“${own.get(code) ?? code}”`;

/** As one of several heaps: "3 questions, 1 not now". */
export function readingCount(code: string, number: number, own: ReadonlyMap<string, string>): string {
  if (code === "question") return count(number, "question");
  if (code === "opt_out") return count(number, "opt-out");
  if (code === "wrong_person") return count(number, "wrong person", "wrong people");
  return `${number} ${code === "unsure" ? "unsure" : readingWords(code, own)}`;
}

export const labelTone = (code: string): Tone => (isLabel(code) ? TONES[code] : "tile");

/** After these there is nothing to answer, and the next reply opens. */
export const SETTLES = new Set(["not_interested", "opt_out", "away"]);

/** Whether a person can answer it. */
export const isAnswerable = (kind: string) => kind === "person" || kind === "automatic" || kind === "left";
/** Whether it can be given a label. */
export const isLabelled = (kind: string) => isAnswerable(kind) || kind === "challenge" || kind === "notice";
