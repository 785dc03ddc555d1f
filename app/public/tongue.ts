/** A public page's words, days and times as its visitor reads them. The messages come with the page (tongue.server.ts). */
import i18next from "i18next";
import { useMemo } from "react";
import type { PublicLanguage } from "../../core/languages";
import { day as dayInEnglish, time as timeInEnglish } from "../components/words";

export interface Tongue {
  language: PublicLanguage;
  messages: Record<string, Record<string, string>>;
  /** What a link carries along for a visitor who chose the language: "?lang=de", or "". */
  kept: string;
  /** Other languages that the visitor may read better. */
  others: { language: PublicLanguage; name: string }[];
}

export function useTongue({ language, messages }: Tongue) {
  return useMemo(() => {
    const instance = i18next.createInstance();
    // What is put in is text, and React escapes it.
    void instance.init({
      lng: language,
      resources: { [language]: { translation: messages } },
      initAsync: false,
      interpolation: { escapeValue: false },
    });
    const format = (zone: string, options: Intl.DateTimeFormatOptions) =>
      new Intl.DateTimeFormat(language, { timeZone: zone, ...options });
    const day = (at: number, zone: string): string =>
      language === "en"
        ? dayInEnglish(at, zone)
        : format(zone, { weekday: "short", day: "numeric", month: "long" }).format(at);
    const time = (at: number, zone: string): string =>
      language === "en"
        ? timeInEnglish(at, zone)
        : format(zone, { hour: "2-digit", minute: "2-digit" }).format(at);
    return {
      t: (key: string, values: Record<string, string | number> = {}): string => instance.t(key, values),
      day,
      time,
      when: (at: number, zone: string) => `${day(at, zone)}, ${time(at, zone)}`,
    };
  }, [language, messages]);
}
