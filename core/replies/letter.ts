/** What a message says and what it is, once it is known which of our emails it may quote. */
import { type IncomingKind, type IncomingMessage, sortIncoming } from "./incoming.ts";
import type { OurEmail } from "./our-words.ts";
import { partQuoted, withoutSignature } from "./quoted.ts";

/** What a message's kind is told by, besides its text. */
export type LetterFacts = Omit<IncomingMessage, "text" | "body">;

export interface ReadLetter {
  /** What they wrote, without what they quote; "" if that is all there is. */
  text: string;
  /** What they quote; where their words stand in between, with these. */
  quoted: string;
  /** Nobody can tell where what they wrote begins. */
  mixed: boolean;
  kind: IncomingKind;
}

export function readLetter(
  body: string,
  facts: LetterFacts,
  ours: readonly OurEmail[],
  isNoReport = false,
): ReadLetter {
  const { written, mixed } = partQuoted(body, ours);
  const text = withoutSignature(written) || written;
  return {
    text,
    // Answers that stand between what they answer are shown with the whole of it.
    quoted: (body.startsWith(text) ? body.slice(text.length) : body).trim(),
    mixed,
    kind: sortIncoming({ ...facts, text, body }, isNoReport),
  };
}
