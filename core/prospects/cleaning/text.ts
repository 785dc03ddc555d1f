/** What names, companies and titles have in common: signs that are no text, and letters in disguise. */
import { decodeHTML } from "entities";
import iconv from "iconv-lite";
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

/**
 * An address in Latin letters, where some of them only look so: a word that mixes the alphabets, or a whole word in
 * front of a Latin domain. An address that is honestly of another alphabet stays.
 */
export function latinAddress(text: string): string {
  if (isAscii(text) || !FOREIGN.test(text) || !LATIN.test(text)) return text;
  const read = Array.from(text, (letter) => LOOK_ALIKES[letter] ?? letter).join("");
  return FOREIGN.test(read) ? replaceLookAlikes(text) : read;
}

/** Writes words that mix the alphabets with Latin letters; words of one alphabet stay. */
export function replaceLookAlikes(text: string): string {
  if (isAscii(text)) return text;
  return text.replace(/[\p{L}\p{M}]+/gu, (word) => {
    if (!FOREIGN.test(word) || !LATIN.test(word)) return word;
    return Array.from(word, (letter) => LOOK_ALIKES[letter] ?? letter).join("");
  });
}

const EMOJI =
  /(?:\p{Extended_Pictographic}|\p{Regional_Indicator}|\p{Emoji_Modifier}|\d(?=\ufe0f?\u20e3)|\u200d|\ufe0f|\u20e3|[★☆✓●■►◆~*_#|])+/gu;
const KEPT_SIGNS = /[©®™]/;

/** Without emoji, flags and ornaments; the marks ©, ® and ™ go too, since nobody greets with them. */
export function dropEmoji(text: string): string {
  if (/^[\p{L}\p{M} .'’-]*$/u.test(text)) return text;
  return text.replace(EMOJI, " ").replace(KEPT_SIGNS, " ").replace(/ {2,}/g, " ").trim();
}

/**
 * One space between words, none around. Full-width and hard spaces count (Unicode Zs), and so do
 * controls; signs without a width go, but for the joiners that Arabic and Indian scripts are written with.
 */
export function collapseSpaces(text: string): string {
  if (/^[!-~]+( [!-~]+)*$/.test(text)) return text;
  return text
    .replace(/(?<![\p{Script=Arabic}\p{Script=Devanagari}\p{Script=Bengali}])[\u200c\u200d]/gu, "")
    .replace(/(?![\u200c\u200d])\p{Default_Ignorable_Code_Point}/gu, "")
    .replace(/(?:[\s\p{Zs}\u2800\u3164]|(?![\u0080-\u009f])\p{Cc})+/gu, " ")
    .trim();
}

const LATIN_READ = /^[\u00a0-\u017f\u0218-\u021b\u1e00-\u1eff\u2010-\u203a€™]+$/u;
const ANY_READ =
  /^(?:[\u00a0-\u01b0\u0218-\u021b\u0259\u018f\u1e00-\u1eff\u2010-\u203a€™]+|[\u0386-\u03ce]{2,}|[\u0400-\u045f\u0490\u0491]{2,}|[\u05d0-\u05ea]{2,}|[\u0621-\u064a]{2,}|[\u3040-\u30ff\u4e00-\u9fff\uac00-\ud7af]+)$/u;
/**
 * What UTF-8 is read as by mistake, by how often that happens; the letters that then stand first, and
 * what must come out. Without these limits real Polish and Russian words would be read as others.
 */
const MISREADINGS = [
  { encoding: "win1252", first: /^[ÂÃÄÅÆÈÉÎÏÐÑ×ØÙáâãäåæçèéìíð]/u, read: ANY_READ },
  { encoding: "macintosh", first: /^[√ƒ≈¬‚]/u, read: LATIN_READ },
  { encoding: "win1250", first: /^[ĂÄĹÂâ]/u, read: LATIN_READ },
  { encoding: "win1251", first: /^(?:[РС][^\u0410-\u044f]){3}/u, read: /^[\u0400-\u045f]+$/u },
  { encoding: "cp850", first: /^[├─┼┬]/u, read: LATIN_READ },
];
/** Twice is common, three times happens. */
const MOST_MISREADINGS = 3;

/**
 * Text without what programs did to it on the way: UTF-8 that was read as something else ("JosÃ©"),
 * entities ("Smith &amp; Sons"), percent signs ("M%C3%BCller"), tags, accents in pieces, letters of
 * fancy alphabets. What cannot be read back for certain stays.
 */
export function repairText(text: string): string {
  let repaired = text;
  if (repaired.includes("&"))
    for (let again = 0; again < 2 && /&#?\w+;/.test(repaired); again++) repaired = decodeHTML(repaired);
  if (repaired.includes("<")) repaired = repaired.replace(/<\/?[a-z][a-z0-9]{0,9}(?:\s[^<>@]*)?\/?>/gi, " ");
  if (/%[0-9a-f]{2}/i.test(repaired)) repaired = decodedPercent(repaired);
  if (isAscii(repaired)) return repaired;
  for (let time = 0; time < MOST_MISREADINGS; time++) {
    const better = rereadRuns(repaired);
    if (better === repaired) break;
    repaired = better;
  }
  return repaired
    .replace(
      /[\uff01-\uff5e\u{1d400}-\u{1d7ff}\u2460-\u24ff\ufb00-\ufb06\u0132\u0133\u01c4-\u01cc\u01f1-\u01f3\uff65-\uff9f]+/gu,
      (run) => run.normalize("NFKC"),
    )
    .normalize("NFC");
}

function decodedPercent(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

const utf8 = new TextDecoder("utf-8", { fatal: true });

/** Each run of letters that are not ASCII is read again, as much of it as gives fewer letters or quotation marks. */
function rereadRuns(text: string): string {
  return text.replace(/[^\x20-\x7e]+( (?![\x20-\x7e]))?/gu, (run) => {
    const letters = Array.from(run.replace(/ $/, "\u00a0"));
    let better = "";
    for (let at = 0; at < letters.length; ) {
      let taken = Math.min(letters.length - at, LONGEST_RUN);
      let read: string | null = null;
      for (; taken > 1; taken--) {
        read = reread(letters.slice(at, at + taken).join(""));
        if (read !== null) break;
      }
      better += read ?? letters[at];
      at += Math.max(1, taken);
    }
    return better === letters.join("") ? run : better;
  });
}

/** Longer runs of foreign letters than this are read piece by piece. */
const LONGEST_RUN = 24;

/** The bytes that were read as this run; null if the encoding has no such letters. */
function bytesOf(run: string, encoding: string): Uint8Array | null {
  // Programs read the bytes that Windows-1252 leaves out as the controls of Latin-1.
  const bytes = Array.from(run, (letter) => {
    const code = letter.charCodeAt(0);
    if (encoding === "win1252" && code < 0x100) return Uint8Array.of(code);
    const encoded = iconv.encode(letter, encoding);
    return iconv.decode(encoded, encoding) === letter ? encoded : null;
  });
  return bytes.every((each) => each !== null) ? Buffer.concat(bytes) : null;
}

function reread(run: string): string | null {
  for (const { encoding, first, read: isRead } of MISREADINGS) {
    if (!first.test(run)) continue;
    const bytes = bytesOf(run, encoding);
    if (!bytes) continue;
    try {
      const read = utf8.decode(bytes);
      if (read.length < run.length && isRead.test(read)) return read;
    } catch {
      // No UTF-8 in this reading.
    }
  }
  return null;
}

/** Letters that were lost on the way and cannot be told: "M\ufffdller", "M?ller", or the rest of a misreading. */
export function hasBrokenLetters(text: string): boolean {
  return /[?\ufffdÃÂ]/.test(text) && /\ufffd|\p{L}\?+\p{L}|[ÃÂ][\u0080-\u00bf]/u.test(text);
}

/** Accents that stand alone are apostrophes between letters ("O´Brien"), and accents behind a vowel ("Andre´"). */
export function straightApostrophes(text: string, country = ""): string {
  if (!/[´`ʻʼʹ′‘‛＇ˈ'’]|\bMc /.test(text)) return text;
  const composed = text
    // "O' Brien" and "Mc Donald" are one word.
    .replace(/\b([ODL])(['’´`]) (?=\p{Lu})/gu, "$1$2")
    .replace(/\bMc (?=\p{Lu})/gu, "Mc")
    .replace(/(\p{L})´(?=\s|$|-)/gu, (_, letter: string) => `${letter}\u0301`.normalize("NFC"))
    .replace(/(\p{L})`(?=\s|$|-)/gu, (_, letter: string) => `${letter}\u0300`.normalize("NFC"))
    // In Uzbek the turned comma is part of a letter: "To‘lqin".
    .replace(country === "UZ" ? /(?<=\p{L})[´`](?=\p{L})/gu : /(?<=\p{L})[´`ʼʹ′‘‛＇ˈ](?=\p{L})/gu, "'");
  // Italian typewriters have no accents on capitals: "NICOLO'".
  return country === "IT"
    ? composed.replace(/([aeiouAEIOU])['’](?=\s|$)/g, (_, letter: string) =>
        `${letter}\u0300`.normalize("NFC"),
      )
    : composed;
}

/**
 * Turkish and Azeri have two letters i, Lithuanian keeps dots; elsewhere the language does not matter. Where the
 * country does not tell, letters do that nobody else writes.
 */
export function localeOf(country: string, text: string): string | undefined {
  return (
    { TR: "tr", AZ: "az", LT: "lt" }[country.toUpperCase()] ??
    (/[İıĞğ]|I.*Ş|Ş.*I/.test(text) ? "tr" : undefined)
  );
}

/** Written in capitals only, or without any. Needs two letters to tell. */
export function isShouted(text: string): boolean {
  return !/(?!ß)\p{Ll}/u.test(text) && /\p{Lu}.*\p{Lu}/su.test(text);
}
export function isWhispered(text: string): boolean {
  return !/\p{Lu}/u.test(text) && /\p{Ll}/u.test(text);
}

export function capitalise(word: string, locale?: string): string {
  const lower = word.toLocaleLowerCase(locale);
  const [first = ""] = lower;
  const capital = first.toLocaleUpperCase(locale);
  // ß and its like have no capital of their own.
  return capital.length > first.length ? lower : capital + lower.slice(first.length);
}
