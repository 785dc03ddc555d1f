/** Countries to their ISO 3166 codes, and time zones from where somebody works. */
import cityTimezones from "city-timezones";
import isoCountries from "i18n-iso-countries";
import de from "i18n-iso-countries/langs/de.json" with { type: "json" };
import en from "i18n-iso-countries/langs/en.json" with { type: "json" };
import es from "i18n-iso-countries/langs/es.json" with { type: "json" };
import fr from "i18n-iso-countries/langs/fr.json" with { type: "json" };
import it from "i18n-iso-countries/langs/it.json" with { type: "json" };
import nl from "i18n-iso-countries/langs/nl.json" with { type: "json" };
import no from "i18n-iso-countries/langs/no.json" with { type: "json" };
import pl from "i18n-iso-countries/langs/pl.json" with { type: "json" };
import pt from "i18n-iso-countries/langs/pt.json" with { type: "json" };
import { isZone } from "../../calendar.ts";
import { countryName } from "../../countries.ts";

const plain = (text: string) =>
  text
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^\p{L}]+/gu, "");

/** What people write and no standard lists. */
const ALIASES: Record<string, string> = {
  uk: "GB",
  greatbritain: "GB",
  britain: "GB",
  england: "GB",
  scotland: "GB",
  wales: "GB",
  northernireland: "GB",
  usa: "US",
  unitedstatesofamerica: "US",
  estadosunidos: "US",
  america: "US",
  us: "US",
  holland: "NL",
  thenetherlands: "NL",
  czechia: "CZ",
  czechrepublic: "CZ",
  southkorea: "KR",
  korea: "KR",
  russia: "RU",
  uae: "AE",
  emirates: "AE",
  vietnam: "VN",
  taiwan: "TW",
  turkey: "TR",
  turkiye: "TR",
  brasil: "BR",
  macedonia: "MK",
};

const CODES = new Map<string, string>();
for (const { countries } of [en, de, es, fr, it, nl, no, pl, pt] as {
  countries: Record<string, string | string[]>;
}[])
  for (const [code, names] of Object.entries(countries))
    for (const name of [names].flat()) if (!CODES.has(plain(name))) CODES.set(plain(name), code);
for (const [name, code] of Object.entries(ALIASES)) CODES.set(name, code);

/** The ISO 3166 alpha-2 code of a country in one of nine languages, an alpha-3 code or an alias; or null. */
export function countryCode(text: string): string | null {
  const typed = text.trim();
  if (/^[A-Za-z]{2}$/.test(typed)) {
    const code = typed.toUpperCase();
    return code === "UK" ? "GB" : isoCountries.isValid(code) ? code : null;
  }
  if (/^[A-Z]{3}$/.test(typed)) return isoCountries.alpha3ToAlpha2(typed) ?? null;
  return CODES.get(plain(typed)) ?? null;
}

/** The codes of the countries whose English names contain the text, in capitals or not. */
export function codesOfCountriesLike(text: string): string[] {
  const wanted = plain(text);
  return Object.keys(isoCountries.getAlpha2Codes()).filter((code) =>
    plain(countryName(code)).includes(wanted),
  );
}

const ZONE_OF_CITY = new Map<string, string>();
const ZONES_OF_COUNTRY = new Map<string, Set<string>>();
// The larger city of a name comes last and wins.
for (const city of cityTimezones.cityMapping.toSorted((a, b) => a.pop - b.pop)) {
  const zones = ZONES_OF_COUNTRY.get(city.iso2) ?? new Set();
  ZONES_OF_COUNTRY.set(city.iso2, zones.add(city.timezone));
  for (const name of [city.city, city.city_ascii]) {
    ZONE_OF_CITY.set(`${plain(name)}|${city.iso2}`, city.timezone);
    ZONE_OF_CITY.set(`${plain(name)}|`, city.timezone);
  }
}

/** The IANA zone of a city, or of a country that has only one; null where that cannot be told. */
export function zoneOfPlace(city: string, country: string): string | null {
  const name = plain(city.split(",")[0] ?? "");
  const known = name === "" ? undefined : ZONE_OF_CITY.get(`${name}|${country}`);
  if (known && isZone(known)) return known;
  if (country === "") {
    const alone = name === "" ? undefined : ZONE_OF_CITY.get(`${name}|`);
    return alone && isZone(alone) ? alone : null;
  }
  const zones = [...(ZONES_OF_COUNTRY.get(country) ?? [])];
  return zones.length === 1 && zones[0] && isZone(zones[0]) ? zones[0] : null;
}

/** Whether a city of this name is known anywhere. */
export const isCity = (text: string) => ZONE_OF_CITY.has(`${plain(text.split(",")[0] ?? "")}|`);
