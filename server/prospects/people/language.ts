/** In which language somebody is shown pages: as it is kept, else as they write, their company's site says, or their country speaks. */
import { detect } from "tinyld";
import {
  languageCode,
  languageOfCountry,
  type PublicLanguage,
  publicLanguage,
} from "../../../core/languages.ts";
import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";

export type LanguageFrom = "field" | "replies" | "site" | "country";

/** Fewer signs of a letter tell no language apart from its neighbour. */
const LEAST_LETTER = 60;

/** Null where nothing tells it; then the browser is asked. */
export function languageOf(
  { db }: Pick<App, "db">,
  prospectId: number,
): { language: PublicLanguage; from: LanguageFrom } | null {
  const known = sql(
    db,
    `SELECT p.language, p.country, coalesce(s.reading ->> '$.language', '') AS site,
       coalesce((SELECT text FROM replies r WHERE r.prospect_id = p.id AND r.kind = 'person' AND length(r.text) >= @least
         ORDER BY r.id DESC LIMIT 1), '') AS letter
     FROM prospects p LEFT JOIN companies c ON c.id = p.company_id LEFT JOIN sites s ON s.domain = c.domain WHERE p.id = @prospectId`,
  ).get<{ language: string; country: string; site: string; letter: string }>({
    prospectId,
    least: LEAST_LETTER,
  });
  if (!known) return null;
  const ways: [LanguageFrom, string | null][] = [
    ["field", languageCode(known.language)],
    ["replies", known.letter === "" ? null : publicLanguage(detect(known.letter.slice(0, 2_000)))],
    ["site", publicLanguage(known.site)],
    ["country", languageOfCountry(known.country)],
  ];
  for (const [from, code] of ways) {
    const language = code === null ? null : publicLanguage(code);
    if (language !== null) return { language, from };
  }
  return null;
}
