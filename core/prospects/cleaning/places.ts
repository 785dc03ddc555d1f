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
    .replace(/^(?:the|la|le|les|el|los|die|der|den|o|a|il|lo)\s+(?=\p{L}{4})/u, "")
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
  unitedstates: "US",
  brd: "DE",
  deutschlandgermany: "DE",
  suisseschweiz: "CH",
  eire: "IE",
  cesko: "CZ",
  rossiya: "RU",
  ksa: "SA",
  prc: "CN",
  roc: "TW",
  drc: "CD",
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

/** Languages whose names of countries the runtime knows (Unicode CLDR), beside those above. */
const LANGUAGES =
  "af am ar az be bg bn bs ca cs cy da el et eu fa fi fil ga gl gu he hi hr hu hy id is ja ka kk km ko lo lt lv mk mn ms my ne ro ru si sk sl sq sr sv sw ta te th tr uk ur uz vi zh zh-Hant".split(
    " ",
  );
let own: Map<string, string> | null = null;

/** Countries by their names in all of these languages. Made at the first that is asked for: it takes a tenth of a second. */
function codeByOwnName(name: string): string | undefined {
  if (own === null) {
    own = new Map();
    for (const language of LANGUAGES) {
      const names = new Intl.DisplayNames([language], { type: "region", fallback: "none" });
      for (const code of Object.keys(isoCountries.getAlpha2Codes())) {
        const known = names.of(code);
        if (known && !own.has(plain(known))) own.set(plain(known), code);
      }
    }
  }
  return own.get(name);
}

/** States and provinces by their names, where only one country has one of that name; and the cities of the United States by state. */
const REGIONS = new Map<string, string | null>();
const US_STATES = new Set<string>();
for (const { province, iso2, state_ansi: state } of cityTimezones.cityMapping) {
  const name = plain(province ?? "");
  if (iso2 === "US" && state) US_STATES.add(state);
  if (name.length > 3) REGIONS.set(name, REGIONS.has(name) && REGIONS.get(name) !== iso2 ? null : iso2);
}
for (const [name, code] of [
  ["bavaria", "DE"],
  ["saxony", "DE"],
  ["catalonia", "ES"],
  ["andalusia", "ES"],
  ["tuscany", "IT"],
  ["lombardy", "IT"],
  ["flanders", "BE"],
  ["wallonia", "BE"],
  ["brittany", "FR"],
  ["normandy", "FR"],
  ["tyrol", "AT"],
  ["vienna", "AT"],
] as const)
  REGIONS.set(name, code);

/** A text longer than any name of a place is none. */
const LONGEST_PLACE = 120;

/** The same of a country's name alone, without regions: for who asks whether a text is one. */
export function wholeCountry(typed: string): string | null {
  if (typed.length > LONGEST_PLACE) return null;
  if (/^[A-Za-z]{2}$/.test(typed)) {
    const code = typed.toUpperCase();
    return code === "UK" ? "GB" : isoCountries.isValid(code) ? code : null;
  }
  if (/^[A-Z]{3}$/.test(typed)) return isoCountries.alpha3ToAlpha2(typed) ?? null;
  const name = plain(typed);
  return name === "" ? null : (CODES.get(name) ?? codeByOwnName(name) ?? null);
}

/**
 * The ISO 3166 alpha-2 code of a country by its name in some sixty languages, an alpha-3 code or an alias; also of a
 * region ("Ontario", "Austin, TX", "Georgia, USA": the last part counts); or null.
 */
export function countryCode(text: string): string | null {
  const typed = text.trim();
  if (typed === "" || typed.length > LONGEST_PLACE) return null;
  const whole = wholeCountry(typed);
  if (whole !== null) return whole;
  const parts = typed.split(/\s*[,;/|()]\s*|\s+[-–—]\s+/).filter((part) => part !== "");
  const last = parts.at(-1) ?? "";
  // "Austin, TX" and "Los Angeles, CA": a state behind a city, and no Canada.
  if (
    parts.length === 2 &&
    /^[A-Z]{2}$/.test(last) &&
    US_STATES.has(last) &&
    isCityOf(parts[0] as string, "US")
  )
    return "US";
  if (parts.length > 1)
    for (const part of parts.toReversed()) {
      const code = wholeCountry(part.replace(/\.$/, ""));
      if (code !== null && (part.length > 2 || part === last)) return code;
    }
  for (const part of parts) {
    const region = REGIONS.get(plain(part));
    if (region) return region;
  }
  return null;
}

const isCityOf = (name: string, country: string) => ZONE_OF_CITY.has(`${plain(name)}|${country}`);

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
