/**
 * Finds our own emails in what comes back, however it is quoted: by their words in their order, whatever marks, wrapping
 * or heading a mail program put around them. What we wrote is known, so that none of it is ever read as an answer.
 */
import { fold } from "../fold.ts";

/** An email that went to this person. */
export interface OurEmail {
  subject: string;
  text: string;
  /** Who sent it, and to which address. */
  fromName: string;
  fromAddress: string;
  recipient: string;
}

interface Token {
  word: string;
  line: number;
  from: number;
  to: number;
}

/** Words in a row by which a place in our email is looked up. */
const SHINGLE = 3;
/** Places of one shingle that are tried: "to be able to" may stand in an email a hundred times. */
const MOST_PLACES = 8;
/** Words that a quoting program may put between two of ours ("TB>"), or leave out. */
const MOST_BETWEEN = 3;
/** As much text in a row is ours also where somebody writes on in the same line; nobody else's sentence is so alike. */
const UNMISTAKABLE = 45;
const MOST_TOKENS = 20_000;

const TOKEN =
  /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}]|[\p{L}\p{N}\p{M}]+(?:['’][\p{L}\p{M}]+)*/gu;
const UNSPACED = /^[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}]$/u;

function tokensOf(lines: readonly string[]): Token[] {
  const tokens: Token[] = [];
  for (const [line, text] of lines.entries())
    for (const match of text.matchAll(TOKEN)) {
      if (tokens.length >= MOST_TOKENS) return tokens;
      tokens.push({
        word: fold(match[0]).replaceAll("’", "'"),
        line,
        from: match.index,
        to: match.index + match[0].length,
      });
    }
  return tokens;
}

/** A character of Chinese or Japanese says about as much as three letters. */
const sizeOf = ({ word }: Token) => (UNSPACED.test(word) ? 3 : word.length);

/** The words of each line that are ours, as [from, to) in it. */
export type Covered = ReadonlyMap<number, [number, number][]>;

export function findOurs(lines: readonly string[], ours: readonly OurEmail[]): Covered {
  const tokens = tokensOf(lines);
  const isOurs = new Uint8Array(tokens.length);
  for (const { text } of ours) markOurs(tokens, tokensOf(text.split("\n")), isOurs);
  markShortLines(tokens, ours, isOurs);
  const covered = new Map<number, [number, number][]>();
  for (const [at, token] of tokens.entries()) {
    if (!isOurs[at]) continue;
    const spans = covered.get(token.line);
    const last = spans?.at(-1);
    if (last && isOurs[at - 1]) last[1] = token.to;
    else if (spans) spans.push([token.from, token.to]);
    else covered.set(token.line, [[token.from, token.to]]);
  }
  return covered;
}

/** Greedy: from each place the longest run of words that stands in our email too. Linear in both. */
function markOurs(tokens: readonly Token[], own: readonly Token[], isOurs: Uint8Array): void {
  const key = (list: readonly Token[], at: number) =>
    `${list[at]?.word} ${list[at + 1]?.word} ${list[at + 2]?.word}`;
  const places = new Map<string, number[]>();
  for (let at = 0; at + SHINGLE <= own.length; at++) {
    const known = places.get(key(own, at));
    if (!known) places.set(key(own, at), [at]);
    else if (known.length < MOST_PLACES) known.push(at);
  }
  const runs: { from: number; to: number; own: number; ownTo: number }[] = [];
  for (let at = 0; at + SHINGLE <= tokens.length; ) {
    let best = { length: 0, own: 0 };
    for (const place of places.get(key(tokens, at)) ?? []) {
      let length = SHINGLE;
      while (tokens[at + length] !== undefined && tokens[at + length]?.word === own[place + length]?.word)
        length++;
      if (length > best.length) best = { length, own: place };
    }
    if (best.length === 0) {
      at++;
      continue;
    }
    const run = { from: at, to: at + best.length, own: best.own, ownTo: best.own + best.length };
    const before = runs.at(-1);
    const goesOn =
      before &&
      run.from - before.to <= MOST_BETWEEN &&
      run.own >= before.ownTo &&
      run.own - before.ownTo <= MOST_BETWEEN &&
      isMark(tokens, before.to, run.from);
    if (goesOn) Object.assign(before, { to: run.to, ownTo: run.ownTo });
    else runs.push(run);
    at = run.to;
  }
  for (const { from, to } of runs.map((run) => withEdges(run, tokens, own)))
    if (isWholeLines(tokens, from, to) || sizeBetween(tokens, from, to) >= UNMISTAKABLE)
      isOurs.fill(1, from, to);
}

/** What stands between two runs is a program's mark if it begins a line, or if nothing stands there. */
const isMark = (tokens: readonly Token[], from: number, to: number) =>
  from === to || tokens[from]?.line !== tokens[from - 1]?.line;

/** A run of shingles misses the one or two words before and behind it that are ours as well. */
function withEdges(
  run: { from: number; to: number; own: number; ownTo: number },
  tokens: readonly Token[],
  own: readonly Token[],
) {
  let { from, to, own: first, ownTo: end } = run;
  while (from > 0 && first > 0 && tokens[from - 1]?.word === own[first - 1]?.word) {
    from--;
    first--;
  }
  while (to < tokens.length && end < own.length && tokens[to]?.word === own[end]?.word) {
    to++;
    end++;
  }
  return { from, to };
}

function sizeBetween(tokens: readonly Token[], from: number, to: number): number {
  let size = 0;
  for (let at = from; at < to; at++) size += sizeOf(tokens[at] as Token);
  return size;
}

/** Begins a line, but for one word of a mark, and ends one. */
const isWholeLines = (tokens: readonly Token[], from: number, to: number) =>
  (tokens[from - 1]?.line !== tokens[from]?.line || tokens[from - 2]?.line !== tokens[from]?.line) &&
  tokens[to]?.line !== tokens[to - 1]?.line;

/** "Interested?", "Tessa": too short to be found by themselves, ours if they stand next to what is. */
function markShortLines(tokens: readonly Token[], ours: readonly OurEmail[], isOurs: Uint8Array): void {
  const whole = new Set(
    ours.flatMap(({ text, fromName, subject }) =>
      [...text.split("\n"), fromName, subject].map((line) => wordsOf(tokensOf([line]))).filter(Boolean),
    ),
  );
  const lines: [from: number, to: number][] = [];
  for (let from = 0, to = 0; from < tokens.length; from = to) {
    while (tokens[to]?.line === tokens[from]?.line && to < tokens.length) to++;
    lines.push([from, to]);
  }
  const spread = ([from, to]: [number, number], beside: [number, number] | undefined) => {
    if (!beside || isOurs[from]) return;
    const touches = from > beside[0] ? isOurs[beside[1] - 1] : isOurs[beside[0]];
    if (touches && whole.has(wordsOf(tokens.slice(from, to)))) isOurs.fill(1, from, to);
  };
  for (const [at, line] of lines.entries()) spread(line, lines[at - 1]);
  for (let at = lines.length - 1; at >= 0; at--) spread(lines[at] as [number, number], lines[at + 1]);
}

const wordsOf = (tokens: readonly Token[]) => tokens.map(({ word }) => word).join(" ");
