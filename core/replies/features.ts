/** What the model sees of a letter: its words, pairs and triples of words, pieces of words and turns of phrase. */
import { fold } from "../fold.ts";
import { speaksOfAbsence } from "./absence.ts";
import { cuesIn } from "./cues.ts";
import { seemsToName } from "./dates.ts";
import { namedPerson } from "./named-person.ts";

/** More of a letter decides nothing, and nobody's letter takes long. */
const READ = 3_000;
const MOST_TOKENS = 400;

export interface Feature {
  /** Its name as a number of 32 bits: two of a hundred thousand names may share one, which does no harm. */
  id: number;
  weight: number;
  /** The words of the letter that it comes from; empty for what stands in no one place. */
  from: number;
  to: number;
}

/** FNV-1a (Fowler, Noll, Vo). */
function idOf(name: string): number {
  let hash = 0x811c9dc5;
  for (let at = 0; at < name.length; at++) {
    hash ^= name.charCodeAt(at);
    hash = Math.imul(hash, 0x01000193);
  }
  return hash | 0;
}

const TOKEN = /[\p{L}\p{M}]+(?:['’][\p{L}\p{M}]+)*|\p{N}+|[?!]|\p{Extended_Pictographic}|\S+@\S+/gu;
/** Scripts that do not put spaces between words. */
const UNSPACED = /[\u3040-\u30ff\u3400-\u9fff\uac00-\ud7af\u0e00-\u0e7f]/;

/** Words that turn what follows them into its opposite, and how many of those. */
const NEGATION =
  /^(?:no|not|never|nobody|nothing|none|cannot|without|hardly|nor|neither|\p{L}+n't|nicht|kein\p{L}*|nie|nichts|pas|jamais|aucun\p{L}*|rien|sin|nunca|nada|ningun\p{L}*|nao|nem|nenhum\p{L}*|non|nessun\p{L}*|niente|mai|niet|geen|nooit|niks|inte|ikke|ingen|inget|aldri\p{L}?|ej|ei|en|emme|nie|ne|neni|не|нет|ни|нема|degil|yok|hic|nem|nu|δεν|μη|لا|ليس|לא|אין|नहीं)$/u;
const DENIES = 4;
/** Whether a sentence begins between two words. */
const begins = (text: string, from: number, to: number) =>
  from === 0 || /[.!?:;\n。！？-]/.test(text.slice(from, to));

const WEIGHTS = {
  begin: 0.8,
  denied: 0.7,
  word: 1,
  pair: 0.8,
  triple: 0.5,
  piece: 0.6,
  cue: 2.2,
  shape: 0.5,
};

/** A letter's features; positions count in the letter as it was written, cut to its beginning. */
export function featuresOf(letter: string): Feature[] {
  const text = letter.slice(0, READ);
  const tokens = [...text.matchAll(TOKEN)].slice(0, MOST_TOKENS).map((match) => ({
    word: simple(match[0]),
    from: match.index,
    to: match.index + match[0].length,
  }));
  const found: Feature[] = [];
  const add = (name: string, weight: number, from = 0, to = 0) =>
    found.push({ id: idOf(name), weight, from, to });
  let denied = 0;
  tokens.forEach(({ word, from, to }, index) => {
    if (UNSPACED.test(word)) {
      for (let size = 1; size <= 4; size++)
        for (let at = 0; at + size <= word.length; at++)
          add(`c${word.slice(at, at + size)}`, WEIGHTS.pair, from + at, Math.min(to, from + at + size));
      return;
    }
    add(`w${word}`, WEIGHTS.word, from, to);
    const next = tokens[index + 1];
    const afterNext = tokens[index + 2];
    if (next) add(`p${word} ${next.word}`, WEIGHTS.pair, from, next.to);
    // How a sentence begins says what it is for.
    if (begins(text, tokens[index - 1]?.to ?? 0, from)) {
      add(`b${word}`, WEIGHTS.begin, from, to);
      if (next) add(`b${word} ${next.word}`, WEIGHTS.begin, from, next.to);
    }
    if (denied > 0) add(`n${word}`, WEIGHTS.denied, from, to);
    denied = /^[?!]$/.test(word) ? 0 : NEGATION.test(word) ? DENIES : denied - 1;
    if (next && afterNext) add(`t${word} ${next.word} ${afterNext.word}`, WEIGHTS.triple, from, afterNext.to);
    const bounded = `<${word}>`;
    for (const size of [4, 5])
      for (let at = 0; bounded.length > 5 && at + size <= bounded.length; at++)
        add(`s${bounded.slice(at, at + size)}`, WEIGHTS.piece, from, to);
  });
  // Folding keeps lengths but for a few letters: near enough to mark words by.
  const folded = fold(text);
  const kinds = new Set<string>();
  for (const [cue, from, to] of cuesIn(folded)) {
    if (!kinds.has(cue)) add(`cue ${cue}`, WEIGHTS.cue, from, to);
    kinds.add(cue);
  }
  const sorted = [...kinds].sort();
  for (const [index, one] of sorted.entries())
    for (const other of sorted.slice(index + 1)) add(`both ${one} ${other}`, 1);
  const names = seemsToName(folded);
  if (names.day) add("names a day", WEIGHTS.cue);
  if (names.season) add("names a season", WEIGHTS.cue);
  if (speaksOfAbsence(text)) add("absence", WEIGHTS.cue);
  const person = namedPerson(text, []);
  if (person) add(person.email === "" ? "names somebody" : "names an address", WEIGHTS.cue, ...person.words);
  const words = tokens.length;
  add(`long ${words < 4 ? 0 : words < 12 ? 1 : words < 40 ? 2 : words < 120 ? 3 : 4}`, WEIGHTS.shape);
  const asked = sentenceEnds(text);
  if (asked.all) add("only asks", WEIGHTS.cue);
  else if (asked.most) add("asks mostly", 1);
  if (/[?？؟]\s*$/.test(text.trim())) add("ends asking", WEIGHTS.shape);
  if (/[?？؟]/.test(text)) add("asks", 1);
  if (/\S@\S/.test(text)) add("has address", 1);
  if (words === 0) add("empty", 1);
  return found;
}

/** Whether all sentences that say something ask something, or most. */
function sentenceEnds(text: string): { all: boolean; most: boolean } {
  const sentences = (text.match(/[^.!?。！？؟\n]*[\p{L}\p{N}][^.!?。！？؟\n]*[.!?。！？؟]*/gu) ?? []).filter(
    (each) => each.trim().split(/\s+/).length > 2 || /[?？؟]/.test(each),
  );
  const asking = sentences.filter((each) => /[?？؟]/.test(each)).length;
  return {
    all: asking > 0 && asking === sentences.length,
    most: asking * 2 >= sentences.length && asking > 0,
  };
}

const simple = (word: string) =>
  word.includes("@") ? "@" : /^\p{N}+$/u.test(word) ? "#" : fold(word).replaceAll("’", "'");

/** Features and their values, of unit length: what is learned from and judged. */
export interface Vector {
  ids: Int32Array;
  values: Float32Array;
}

export function vectorOf(features: readonly Feature[]): Vector {
  const most = new Map<number, number>();
  for (const { id, weight } of features) most.set(id, Math.max(most.get(id) ?? 0, weight));
  const values = Float32Array.from(most.values());
  const length = Math.sqrt(values.reduce((sum, value) => sum + value * value, 0)) || 1;
  return { ids: Int32Array.from(most.keys()), values: values.map((value) => value / length) };
}
