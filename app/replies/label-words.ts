/** What readings and labels are called on screen. */
import type { Tone } from "../components/pill";

const NAMES: Record<string, string> = {
  interested: "interested",
  question: "a question",
  not_now: "not now",
  not_interested: "not interested",
  wrong_person: "the wrong person",
  away: "away",
  opt_out: "an opt-out",
};

const TONES: Record<string, Tone> = {
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
  NAMES[code] ?? `“${own.get(code) ?? code}”`;

export const labelTone = (code: string): Tone => TONES[code] ?? "tile";

/** After these there is nothing to answer, and the next reply opens. */
export const SETTLES = new Set(["not_interested", "opt_out", "away"]);
