import { expect, it } from "vitest";
import { countryCode } from "./cleaning/places.ts";
import { isIndustry } from "./industries.ts";

it.each([
  ["Museums", "Museum"],
  ["Breweries", "Brauerei"],
  ["Pharma", "Pharmaceutical industry"],
  ["Food & Beverages", "Beverage manufacturing"],
  ["Logistics", "Logistics and Supply Chain"],
])("%s are wanted, and %s is one", (wanted, has) => expect(isIndustry(wanted, has)).toBe(true));

it.each([
  ["Museums", "Music"],
  ["Hospitals", "Hospitality"],
  ["Printing", "Publishing"],
  ["Art galleries", "Art schools"],
])("%s are wanted, and %s is none", (wanted, has) => expect(isIndustry(wanted, has)).toBe(false));

it.each([
  ["Česko", "CZ"],
  ["日本", "JP"],
  ["Georgia, USA", "US"],
  ["Georgia", "GE"],
  ["Ontario", "CA"],
  ["Los Angeles, CA", "US"],
  ["Toronto, CA", "CA"],
  ["Leeds, England", "GB"],
  ["nowhere at all", null],
])("%s lies in %s", (text, code) => expect(countryCode(text)).toBe(code));
