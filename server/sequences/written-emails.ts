/** The emails of the sequences that somebody may see, to be used again in another. */
import { fold } from "../../core/fold.ts";
import { type Brought, bestFirst } from "../../core/results/worked.ts";
import { everyStep, isEmail } from "../../core/sequence/path.ts";
import { asWords } from "../../core/writing/document.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sequenceById } from "../db/sequences.ts";
import { broughtByText } from "./brought.ts";
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
  brought: Brought;
}

const MOST_FOUND = 20;

/**
 * Those that hold all of the words, in their text or in the names of their step and sequence: what worked first, then the latest
 * sequences. What says the very same stands once, as it was written last.
 */
export async function writtenEmails(app: App, by: By, wanted: string): Promise<WrittenEmail[]> {
  const words = fold(wanted.slice(0, 200)).split(/\s+/).filter(Boolean);
  const broughtBy = await broughtByText(app, by);
  const found = new Map<string, WrittenEmail>();
  for (const { id, name } of visibleSequences(app, by).toReversed()) {
    const sequence = sequenceById(app.db, id);
    for (const step of everyStep(sequence?.path ?? []).filter(isEmail))
      for (const variant of step.variants) {
        const { subject, body } = variant;
        const from = `${name}, ${step.name}`;
        const text = fold(`${from} ${subject} ${body}`);
        const same = `${subject}\n${body}`;
        if (body.trim() === "" || found.has(same) || !words.every((word) => text.includes(word))) continue;
        const key = `${id} ${step.id} ${variant.id}`;
        found.set(same, { key, from, subject, body, words: "", brought: broughtBy(variant) });
      }
  }
  return bestFirst([...found.values()])
    .slice(0, MOST_FOUND)
    .map((email) => ({ ...email, subject: asWords(email.subject), words: asWords(email.body) }));
}
