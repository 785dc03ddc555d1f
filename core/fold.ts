/** Text as it is searched by: without capitals and accents, so that "joao" finds João and "lodz" Łódź. */

/** Letters that are no base letter with an accent. */
const LETTERS: Record<string, string> = {
  ß: "ss",
  æ: "ae",
  œ: "oe",
  ø: "o",
  đ: "d",
  ð: "d",
  þ: "th",
  ħ: "h",
  ı: "i",
  ł: "l",
};

export function isAscii(text: string): boolean {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: all of ASCII is meant
  return /^[\x00-\x7f]*$/.test(text);
}

export function fold(text: string): string {
  const small = text.toLowerCase();
  // Most names, and 100,000 of them are folded by an import.
  if (isAscii(small)) return small;
  return small
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .replace(/[ßæœøđðþħıł]/g, (letter) => LETTERS[letter] as string);
}
