/** The emails of the sequences that somebody may see, to be used again in another. */
import { fold } from "../../core/fold.ts";
import { everyStep, isEmail } from "../../core/sequence/path.ts";
import { asWords } from "../../core/writing/document.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sequenceById } from "../db/sequences.ts";
import { visibleSequences } from "./visible-sequences.ts";

export interface WrittenEmail {
  key: string;
  /** Where it stands: sequence and step. */
  from: string;
  /** As one reads it; "" in the thread of the email before. */
  subject: string;
  /** As it is stored. */
  body: string;
  /** What it says. */
  words: string;
}

const MOST_FOUND = 20;

/** Those that hold all of the words, in their text or in the names of their step and sequence; the latest sequences first. */
export function writtenEmails(app: App, by: By, wanted: string): WrittenEmail[] {
  const words = fold(wanted.slice(0, 200)).split(/\s+/).filter(Boolean);
  const found: WrittenEmail[] = [];
  for (const { id, name } of visibleSequences(app, by).toReversed()) {
    const sequence = sequenceById(app.db, id);
    for (const step of everyStep(sequence?.path ?? []).filter(isEmail))
      for (const variant of step.variants) {
        const { subject, body } = variant;
        const from = `${name}, ${step.name}`;
        const text = fold(`${from} ${subject} ${body}`);
        if (body.trim() === "" || !words.every((word) => text.includes(word))) continue;
        const key = `${id} ${step.id} ${variant.id}`;
        found.push({ key, from, subject: asWords(subject), body, words: asWords(body) });
        if (found.length === MOST_FOUND) return found;
      }
  }
  return found;
}
