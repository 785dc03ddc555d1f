/** The first date that a text says, as a day: "4 March 2026", "March 4, 2026", "04.03.2026", "4 de março de 2026". */
import { fold } from "../fold.ts";

const LANGUAGES = ["en", "de", "fr", "pt", "es", "it", "nl", "sv", "nb", "da", "fi", "pl"];

let months: Map<string, number> | null = null;
function monthOf(word: string): number | undefined {
  if (!months) {
    months = new Map();
    for (const language of LANGUAGES)
      for (const month of ["long", "short"] as const) {
        const format = new Intl.DateTimeFormat(language, { day: "numeric", month, timeZone: "UTC" });
        for (let nth = 0; nth < 12; nth++) {
          // With a day, since some languages bend the name then.
          const part =
            format.formatToParts(Date.UTC(2026, nth, 9)).find(({ type }) => type === "month")?.value ?? "";
          const name = fold(part).replace(/\.$/, "");
          if (name.length >= 3 && !months.has(name)) months.set(name, nth + 1);
        }
      }
  }
  return months.get(fold(word).replace(/\.$/, ""));
}

const day = (
  year: string | undefined,
  month: number | undefined,
  date: string | undefined,
): string | null => {
  const [y, d] = [Number(year), Number(date)];
  if (month === undefined || month < 1 || month > 12 || !(d >= 1 && d <= 31) || !(y >= 1990 && y <= 2100))
    return null;
  return `${y}-${String(month).padStart(2, "0")}-${String(d).padStart(2, "0")}`;
};

const ISO = /\b(\d{4})-(\d{2})-(\d{2})\b/;
/** The day before the month, as everywhere but in one country: between these two there is no telling. */
const DIGITS = /\b(\d{1,2})[./](\d{1,2})[./](\d{4})\b/;
const DAY_FIRST =
  /\b(\d{1,2})(?:st|nd|rd|th|\.|er)?\s+(?:de\s+|of\s+)?(\p{L}{3,12})\.?,?\s+(?:de\s+)?(\d{4})\b/u;
const MONTH_FIRST = /(?<!\p{L})(\p{L}{3,12})\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})\b/u;
const JAPANESE = /(\d{4})年\s?(\d{1,2})月\s?(\d{1,2})日/;

/** "YYYY-MM-DD", or null where the text says none. */
export function dayIn(text: string): string | null {
  const said = text.slice(0, 2_000);
  const iso = ISO.exec(said);
  if (iso) return day(iso[1], Number(iso[2]), iso[3]);
  const first = DAY_FIRST.exec(said);
  const named = first && day(first[3], monthOf(first[2] ?? ""), first[1]);
  if (named) return named;
  const second = MONTH_FIRST.exec(said);
  const american = second && day(second[3], monthOf(second[1] ?? ""), second[2]);
  if (american) return american;
  const digits = DIGITS.exec(said);
  if (digits) return day(digits[3], Number(digits[2]), digits[1]);
  const japanese = JAPANESE.exec(said);
  return japanese ? day(japanese[1], Number(japanese[2]), japanese[3]) : null;
}
