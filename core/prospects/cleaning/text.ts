/** What names, companies and titles have in common: signs that are no text, and letters in disguise. */
import { isAscii } from "../../fold.ts";

/** Cyrillic and Greek letters that look like Latin ones (Unicode TR 39, the confusables of these scripts). */
const LOOK_ALIKES: Record<string, string> = {
  а: "a",
  е: "e",
  о: "o",
  р: "p",
  с: "c",
  у: "y",
  х: "x",
  і: "i",
  ѕ: "s",
  ј: "j",
  ԁ: "d",
  һ: "h",
  А: "A",
  В: "B",
  Е: "E",
  К: "K",
  М: "M",
  Н: "H",
  О: "O",
  Р: "P",
  С: "C",
  Т: "T",
  У: "Y",
  Х: "X",
  І: "I",
  Ѕ: "S",
  Ј: "J",
  ο: "o",
  α: "a",
  ν: "v",
  ι: "i",
  κ: "k",
  ρ: "p",
  Α: "A",
  Β: "B",
  Ε: "E",
  Ζ: "Z",
  Η: "H",
  Ι: "I",
  Κ: "K",
  Μ: "M",
  Ν: "N",
  Ο: "O",
  Ρ: "P",
  Τ: "T",
  Υ: "Y",
  Χ: "X",
};
const FOREIGN = /[\p{Script=Cyrillic}\p{Script=Greek}]/u;
const LATIN = /\p{Script=Latin}/u;

/** Whether one of its words mixes Latin with letters that only look Latin. */
export function hasLookAlikes(text: string): boolean {
  if (isAscii(text)) return false;
  return text.split(/[^\p{L}\p{M}]+/u).some((word) => FOREIGN.test(word) && LATIN.test(word));
}

/** Writes words that mix the alphabets with Latin letters; words of one alphabet stay. */
export function replaceLookAlikes(text: string): string {
  if (isAscii(text)) return text;
  return text.replace(/[\p{L}\p{M}]+/gu, (word) => {
    if (!FOREIGN.test(word) || !LATIN.test(word)) return word;
    return Array.from(word, (letter) => LOOK_ALIKES[letter] ?? letter).join("");
  });
}

const EMOJI = /(?:\p{Extended_Pictographic}|\p{Regional_Indicator}|\u200d|\ufe0f|\u20e3|[★☆✓●■►◆~*_#|])+/gu;
const KEPT_SIGNS = /[©®™]/;

/** Without emoji, flags and ornaments; the marks ©, ® and ™ go too, since nobody greets with them. */
export function dropEmoji(text: string): string {
  if (/^[\p{L}\p{M} .'’-]*$/u.test(text)) return text;
  return text.replace(EMOJI, " ").replace(KEPT_SIGNS, " ").replace(/ {2,}/g, " ").trim();
}

/** One space between words, none around; full-width and hard spaces count (Unicode Zs). */
export function collapseSpaces(text: string): string {
  return text.replace(/[\s\u00a0\u200b\ufeff]+/gu, " ").trim();
}

export const hasLatin = (text: string) => LATIN.test(text);

/** Turkish and Azeri have two letters i, Lithuanian keeps dots; elsewhere the language does not matter. */
export function localeOf(country: string): string | undefined {
  return { TR: "tr", AZ: "az", LT: "lt" }[country.toUpperCase()];
}

/** Written in capitals only, or without any. Needs two letters to tell. */
export function isShouted(text: string): boolean {
  const letters = text.replace(/[^\p{Lu}\p{Ll}]/gu, "");
  return letters.length > 1 && !/\p{Ll}/u.test(letters);
}
export function isWhispered(text: string): boolean {
  const letters = text.replace(/[^\p{Lu}\p{Ll}]/gu, "");
  return letters.length > 0 && !/\p{Lu}/u.test(letters);
}

export function capitalise(word: string, locale?: string): string {
  const lower = word.toLocaleLowerCase(locale);
  const [first = ""] = lower;
  return first.toLocaleUpperCase(locale) + lower.slice(first.length);
}
