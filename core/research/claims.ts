/**
 * Whether a line says only what its source says. A machine that writes about a company invents what sounds right: a name, a
 * number, a quotation. These three can be looked up word for word, so they are; what the sentence makes of them is the reader's.
 */
import { fold } from "../fold.ts";
import { numbersSaid } from "./numbers.ts";

/** More of a line than anybody writes, and of a source than is read. */
const MOST_LINE = 4_000;
const MOST_SOURCE = 200_000;

export interface Ground {
  /** What was read. */
  source: string;
  /** What is known anyway: names of the person, their company, and what was asked. */
  given: readonly string[];
  /** The line's language (ISO 639-1); "" if nobody knows. */
  language: string;
}

/** The names, numbers and quotations of a line that stand in none of it, as they are written; empty where all do. Linear. */
export function unsupported(line: string, { source, given, language }: Ground): string[] {
  const said = line.slice(0, MOST_LINE).normalize("NFC");
  const ground = [...given, source.slice(0, MOST_SOURCE)].join("\n").normalize("NFC");
  const { quotations, rest } = quotationsOf(said);
  return [
    ...quotations.filter((quotation) => !bare(ground).includes(bare(quotation))),
    ...missingNumbers(said, ground, language),
    ...missingNames(rest, ground, language),
  ];
}

const CLOSED_BY: Record<string, string> = {
  "“": "”",
  "„": "“",
  "«": "»",
  "»": "«",
  '"': '"',
  "「": "」",
  "『": "』",
};

/** What stands between quotation marks, and the line without it. */
function quotationsOf(line: string): { quotations: string[]; rest: string } {
  const quotations: string[] = [];
  let rest = "";
  for (let at = 0; at < line.length; at++) {
    const sign = line[at] as string;
    const closing = CLOSED_BY[sign];
    const end = closing === undefined ? -1 : line.indexOf(closing, at + 1);
    // Where nothing closes it, no later mark of the kind needs to be looked for.
    if (end < 0) rest += sign;
    else {
      quotations.push(line.slice(at + 1, end));
      rest += " , ";
      at = end;
    }
  }
  return { quotations: quotations.filter((each) => bare(each) !== ""), rest };
}

/** Letters and digits only, folded, with one space between words. */
const bare = (text: string): string =>
  fold(text)
    .replace(/[^\p{L}\p{N}]+/gu, " ")
    .trim();

function missingNumbers(line: string, ground: string, language: string): string[] {
  const known = new Set(numbersSaid(ground, language).map(({ value }) => value));
  return numbersSaid(line, language)
    .filter(({ value }) => !known.has(value))
    .map(({ as }) => as);
}

/** Nouns have capitals there: only two in a row are taken for a name. */
const CAPITAL_NOUNS = new Set(["de", "lb"]);
/** Behind an article stand two nouns, "eine Menge Papier", and no name. */
const COUNTS_NOUNS = /^(k?ein|d(er|ie|as|en|em|es)|ihr|unser|viel|mehr)/;
/** Whoever does this at the beginning of a sentence is somebody. */
const DOES =
  /^(lent|lends|says|said|told|tells|writes|wrote|won|wins|announced|announces|joined|gave|bought|sold)$/;
/** Written with a capital wherever it stands, or where a sentence begins with it. */
const NO_NAME =
  /^(i|i'm|i've|i'd|i'll|he|she|it|we|they|you|who|nobody|somebody|everybody|everyone|this|that|mr|ms|mrs|dr)$/;

interface Word {
  text: string;
  folded: string;
  isCapital: boolean;
  /** It begins a sentence. */
  isFirst: boolean;
  /** Nothing but a space stands between it and the word before. */
  isJoined: boolean;
  /** Where it stands in the text. */
  from: number;
  to: number;
}

function wordsOf(text: string): Word[] {
  const words: Word[] = [];
  let end = 0;
  for (const found of text.matchAll(/\p{L}[\p{L}\p{M}\p{N}'’]*/gu)) {
    const between = text.slice(end, found.index);
    const written = found[0].replace(/['’]s?$/, "");
    end = found.index + found[0].length;
    words.push({
      text: written,
      folded: fold(written).replaceAll("’", "'"),
      isCapital: /^\p{Lu}/u.test(written),
      isFirst: words.length === 0 || /[.!?:…\n]/.test(between),
      isJoined: /^[ \u00a0]$/.test(between),
      from: found.index,
      to: found.index + written.length,
    });
  }
  return words;
}

function missingNames(line: string, ground: string, language: string): string[] {
  const known = new Set<string>();
  const knownAsNames = new Set<string>();
  for (const { folded, isCapital } of wordsOf(ground)) {
    known.add(folded);
    if (isCapital) knownAsNames.add(folded);
  }
  const isKnown = ({ folded }: Word) => known.has(folded) || known.has(folded.replace(/s$/, ""));
  const missing: string[] = [];
  for (const run of runsOfCapitals(wordsOf(line))) {
    const [first, ...others] = run;
    if (!first) continue;
    const isSomebody = run.length > 1 || CAPITAL_NOUNS.has(language) ? false : DOES.test(first.next);
    const named =
      first.isFirst && !isKnown(first) && others.length === 0 && !isSomebody
        ? []
        : first.isFirst && !isKnown(first) && others.length > 0 && others.every(isKnown)
          ? others
          : run;
    const asked = named.filter(({ folded }) => !NO_NAME.test(folded));
    if (CAPITAL_NOUNS.has(language)) {
      const apart = asked.filter(({ isFirst }) => !isFirst);
      const isCounted = apart[0] !== undefined && COUNTS_NOUNS.test(apart[0].before);
      if (apart.length > 1 && !isCounted && !apart.every(isKnown)) missing.push(phrase(line, apart));
    } else if (
      !asked.every(isKnown) ||
      (asked.length > 1 && !asked.every((word) => asName(word, knownAsNames)))
    )
      missing.push(phrase(line, asked));
  }
  return missing;
}

const phrase = (line: string, words: readonly Word[]) => line.slice(words[0]?.from, words.at(-1)?.to);

/** "Paper Today" is no name of a source in which paper is a thing. */
const asName = ({ folded, isFirst }: Word, names: ReadonlySet<string>) => isFirst || names.has(folded);

/** What may stand inside a name in small letters: "Marine Archive of Leith". */
const INSIDE = /^(of|the|and|for|on|de|da|do|dos|das|del|di|du|des|der|den|van|von|la|le|e|y)$/;

interface Named extends Word {
  /** The words around it; "" for none. */
  before: string;
  next: string;
}

/** Words with capitals that stand next to each other. */
function runsOfCapitals(words: readonly Word[]): Named[][] {
  const runs: Named[][] = [];
  let run: Named[] = [];
  const end = () => {
    if (run.length > 0) runs.push(run);
    run = [];
  };
  for (const [at, word] of words.entries()) {
    const next = words[at + 1];
    const before = words[at - 1];
    const isInside =
      run.length > 0 &&
      before !== undefined &&
      !before.isCapital &&
      INSIDE.test(before.folded) &&
      before.isJoined;
    if (!word.isCapital) {
      if (!(run.length > 0 && word.isJoined && INSIDE.test(word.folded) && next?.isCapital && next.isJoined))
        end();
      continue;
    }
    if (run.length > 0 && (!word.isJoined || word.isFirst || (!before?.isCapital && !isInside))) end();
    run.push({ ...word, before: before?.folded ?? "", next: next?.folded ?? "" });
  }
  end();
  return runs;
}
