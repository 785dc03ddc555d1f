/** The numbers that a text says, in digits or in words, by their value. */

export interface SaidNumber {
  value: number;
  /** As it is written there. */
  as: string;
}

const lined = (words: string, from: number, by = 1): [string, number][] =>
  words.split(" ").map((word, nth) => [word, from + nth * by]);

/** "One" is left out: it counts nothing in "one thing", and what it counts is seldom a claim. */
const EN = new Map<string, number>([
  ...lined(
    "two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen",
    2,
  ),
  ...lined("twenty thirty forty fifty sixty seventy eighty ninety", 20, 10),
  ["dozen", 12],
]);
const DE = new Map<string, number>([
  ...lined("zwei drei vier fünf sechs sieben acht neun zehn elf zwölf", 2),
  ...lined("zwanzig dreißig vierzig fünfzig sechzig siebzig achtzig neunzig", 20, 10),
]);
/** What stands before it is so many of these. */
const TIMES = new Map<string, number>([
  ["hundred", 100],
  ["thousand", 1_000],
  ["million", 1_000_000],
  ["hundert", 100],
  ["tausend", 1_000],
]);

/** "1,240", "1.240" and "1 240" are one number; "2.5" and "2,5" are another. */
function amountOf(digits: string): number {
  const plain = digits.replace(/[\s\u00a0\u202f'’]/g, "");
  const grouped = /^\d{1,3}([.,]\d{3})+$/.test(plain) ? plain.replace(/[.,]/g, "") : plain.replace(",", ".");
  return Number.parseFloat(grouped);
}

/** In the order of the text. `language`: words are read in English, and in German where it is "de". */
export function numbersSaid(text: string, language = ""): SaidNumber[] {
  const found: SaidNumber[] = [];
  const words = language === "de" ? DE : EN;
  for (const [as] of text.matchAll(/\d+(?:[.,'’\u00a0\u202f ]\d{3}(?!\d))*(?:[.,]\d+)?%?/g))
    found.push({ value: amountOf(as.replace("%", "")), as });
  let sum: number | null = null;
  let as: string[] = [];
  const end = () => {
    if (sum !== null) found.push({ value: sum, as: as.join(" ") });
    sum = null;
    as = [];
  };
  const tokens = text.toLowerCase().match(/\p{L}+|[^\p{L}\s-]+/gu) ?? [];
  for (let at = 0; at < tokens.length; at++) {
    const token = tokens[at] as string;
    const value = words.get(token) ?? inOneWord(token, words);
    const times = TIMES.get(token);
    if (value !== undefined) {
      // "Forty two" is one number, "four, two" are two.
      if (sum !== null && !(sum >= 20 && value < (sum >= 100 ? 100 : 10))) end();
      sum = (sum ?? 0) + value;
      as.push(token);
    } else if (times !== undefined && sum !== null) {
      sum *= times;
      as.push(token);
    } else if (token === "and" && sum !== null && tokens[at + 1] === "a" && tokens[at + 2] === "half") {
      sum += 0.5;
      as.push("and a half");
      at += 2;
    } else end();
  }
  end();
  return found;
}

/** "Vierundzwanzig" counts its ones first. */
function inOneWord(token: string, words: ReadonlyMap<string, number>): number | undefined {
  const at = token.length <= 20 ? token.indexOf("und") : -1;
  if (at <= 0 || words !== DE) return undefined;
  const ones = token.slice(0, at) === "ein" ? 1 : words.get(token.slice(0, at));
  const tens = words.get(token.slice(at + 3));
  return ones !== undefined && tens !== undefined ? ones + tens : undefined;
}
