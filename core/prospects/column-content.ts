/** Tells what a column holds by its values, where its name does not say. */
import { isZone } from "../calendar.ts";
import { phoneNumber } from "./cleaning/phones.ts";
import { countryCode } from "./cleaning/places.ts";
import { profileAddress, webDomain } from "./cleaning/web.ts";
import type { ContentGuess, FieldName } from "./columns.ts";

/** A column is of a kind if most of its values are; exports hold blanks and slips. */
const MOST = 0.7;

/** What is longer is no address, link or number, and costs the patterns too much. */
const LONGEST = 320;

const LOOKS: [FieldName, (value: string) => boolean][] = [
  ["email", (value) => /^\S+@\S+\.\S+$/.test(value)],
  [
    "profile",
    (value) =>
      /\/(u|user|users|profile|profiles|people)\/[^/]+\/?$/i.test(value) && profileAddress(value) !== null,
  ],
  [
    "company_domain",
    (value) => /^(https?:\/\/|www\.)?[\w-]+(\.[\w-]+)+(\/.*)?$/i.test(value) && webDomain(value) !== null,
  ],
  [
    "phone",
    (value) =>
      /^[+(]?[\d\s().-]{7,}$/.test(value) &&
      (value.startsWith("+") ? phoneNumber(value, "") !== null : /[\s().-]/.test(value)),
  ],
  ["time_zone", (value) => value.includes("/") && isZone(value)],
  ["country", (value) => countryCode(value) !== null],
];

export const guessContent: ContentGuess = (values) => {
  if (values.length === 0) return null;
  const readable = values.filter((value) => value.length <= LONGEST);
  const found = LOOKS.find(([, looks]) => readable.filter(looks).length >= values.length * MOST);
  return found?.[0] ?? null;
};
