/** Languages as they are stored (ISO 639-1), spoken where, and read from what people write. */
import { fold } from "./fold.ts";

/** Those in which pages for prospects are written (app/public/messages); another is a file there and a word here. */
export const PUBLIC_LANGUAGES = [
  "en",
  "pt",
  "es",
  "fr",
  "de",
  "it",
  "nl",
  "sv",
  "nb",
  "da",
  "fi",
  "pl",
  "ja",
] as const;
export type PublicLanguage = (typeof PUBLIC_LANGUAGES)[number];

export const isPublicLanguage = (code: string): code is PublicLanguage =>
  (PUBLIC_LANGUAGES as readonly string[]).includes(code);

/** Norwegian says its name in three ways (RFC 5646 3.1.11 names "no" the macrolanguage). */
const SAME: Record<string, PublicLanguage> = { no: "nb", nn: "nb" };

/** "pt-BR" and "PT" are Portuguese; null for what no page is written in. */
export function publicLanguage(tag: string): PublicLanguage | null {
  const code = tag.trim().toLowerCase().split(/[-_]/)[0] ?? "";
  const known = SAME[code] ?? code;
  return isPublicLanguage(known) ? known : null;
}

/** The one language of most of a country's letters; countries of several are left out: there the browser says it. */
const SPOKEN: Record<PublicLanguage, string> = {
  en: "GB IE US AU NZ",
  pt: "PT BR AO MZ CV",
  es: "ES MX AR CO CL PE VE EC GT CU BO DO HN PY SV NI CR PA UY",
  fr: "FR MC SN CI",
  de: "DE AT LI",
  it: "IT SM VA",
  nl: "NL SR",
  sv: "SE AX",
  nb: "NO SJ",
  da: "DK",
  fi: "FI",
  pl: "PL",
  ja: "JP",
};

/** By a country's code; null where several are spoken, or none of ours. */
export const languageOfCountry = (country: string): PublicLanguage | null =>
  PUBLIC_LANGUAGES.find((language) => SPOKEN[language].split(" ").includes(country)) ?? null;

/** What each language calls itself. */
export const ownNameOf = (language: string): string => {
  const name = new Intl.DisplayNames(language, { type: "language" }).of(language) ?? language;
  return name.charAt(0).toLocaleUpperCase(language) + name.slice(1);
};

/** A language as somebody types it, as its code: "Portuguese", "português", "pt-PT"; null for none that is known. */
export function languageCode(typed: string): string | null {
  const text = fold(typed.trim());
  if (text === "") return null;
  const known = publicLanguage(text);
  if (known !== null && text.length <= 7) return known;
  return (
    PUBLIC_LANGUAGES.find((language) =>
      ["en", language].some(
        (by) =>
          fold(new Intl.DisplayNames(by, { type: "language" }).of(language) ?? "").split(" ")[0] === text,
      ),
    ) ?? (text === "norwegian" || text === "norsk" ? "nb" : null)
  );
}
