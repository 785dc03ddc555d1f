/** Which language a public page is in, and its words: what a visitor chose, theirs as we know it, their browser's, English. */
import Negotiator from "negotiator";
import { ownNameOf, type PublicLanguage, publicLanguage } from "../../core/languages";
import da from "./messages/da.json";
import de from "./messages/de.json";
import en from "./messages/en.json";
import es from "./messages/es.json";
import fi from "./messages/fi.json";
import fr from "./messages/fr.json";
import it from "./messages/it.json";
import ja from "./messages/ja.json";
import nb from "./messages/nb.json";
import nl from "./messages/nl.json";
import pl from "./messages/pl.json";
import pt from "./messages/pt.json";
import sv from "./messages/sv.json";
import type { Tongue } from "./tongue";

type Messages = Record<string, Record<string, string>>;
const MESSAGES: Record<PublicLanguage, Messages> = { en, pt, es, fr, de, it, nl, sv, nb, da, fi, pl, ja };

/**
 * `parts`: the page's own parts of the messages, so that a browser gets no others. `known`: the visitor's language as we know it.
 * `only`: the languages that a page is written in, the usual one first.
 */
export function tongueFor(
  request: Request,
  known: PublicLanguage | null,
  parts: readonly string[],
  only: readonly PublicLanguage[] | null = null,
): Tongue {
  const chosen = publicLanguage(new URL(request.url).searchParams.get("lang") ?? "");
  const browser = browserLanguage(request);
  const wanted = [chosen, known, browser, only?.[0] ?? "en"].filter((each) => each !== null);
  const language = wanted.find((each) => only === null || only.includes(each)) ?? "en";
  const others = (
    only ? [...only] : [...new Set<PublicLanguage>([known ?? "en", browser ?? "en", "en"])]
  ).filter((each) => each !== language);
  return {
    language,
    messages: wordsOf(language, parts),
    kept: chosen ? `?lang=${chosen}` : "",
    others: others.map((each) => ({ language: each, name: ownNameOf(each) })),
  };
}

function browserLanguage(request: Request): PublicLanguage | null {
  const header = request.headers.get("accept-language");
  if (!header) return null;
  const wanted = new Negotiator({ headers: { "accept-language": header.slice(0, 500) } }).languages();
  return wanted.map(publicLanguage).find((each) => each !== null) ?? null;
}

/** What a use case said in English, in the visitor's language: each message of the pages has its place among theirs. */
export function errorsIn(
  tongue: Pick<Tongue, "language">,
  errors: Record<string, string>,
): Record<string, string> {
  return Object.fromEntries(
    Object.entries(errors).map(([field, words]) => [field, errorIn(tongue.language, words)]),
  );
}

const patterns = Object.entries(en.errors).map(([key, words]) => ({
  key,
  names: [...words.matchAll(/\{\{(\w+)\}\}/g)].map(([, name]) => name as string),
  pattern: new RegExp(
    `^${words.replace(/[.*+?^$()|[\]\\]/g, "\\$&").replace(/\{\{\w+\}\}/g, "(.{1,200})")}$`,
  ),
}));

function errorIn(language: PublicLanguage, words: string): string {
  for (const { key, names, pattern } of patterns) {
    const found = pattern.exec(words);
    if (found)
      return names.reduce(
        (said, name, nth) => said.replace(`{{${name}}}`, found[nth + 1] ?? ""),
        MESSAGES[language].errors?.[key] ?? words,
      );
  }
  return words;
}

/** The words of a page in one language, for whoever looks at it before it is seen. */
export const tongueIn = (language: PublicLanguage, parts: readonly string[]): Tongue => ({
  language,
  messages: wordsOf(language, parts),
  kept: "",
  others: [],
});

const wordsOf = (language: PublicLanguage, parts: readonly string[]): Messages =>
  Object.fromEntries(parts.map((part) => [part, { ...en[part as "times"], ...MESSAGES[language][part] }]));

/** One message in a language. */
export const messageIn = (language: PublicLanguage, part: string, key: string): string =>
  MESSAGES[language][part]?.[key] ?? "";

/** A sentence for a page that is not there. */
export const missingIn = (request: Request, what: keyof typeof en.missing): string => {
  const { language } = tongueFor(request, null, []);
  return MESSAGES[language].missing?.[what] ?? en.missing[what];
};
