/** Tells what a column holds by its values, where its name does not say. */
import { isZone } from "../calendar.ts";
import { fold } from "../fold.ts";
import { phoneNumber } from "./cleaning/phones.ts";
import { isJobTitle } from "./cleaning/placeholders.ts";
import { isCity, wholeCountry } from "./cleaning/places.ts";
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
  ["country", (value) => wholeCountry(value) !== null],
];

export const guessContent: ContentGuess = (all, emails) => {
  const values = all.filter((value) => value !== "");
  if (values.length === 0) return null;
  const readable = values.filter((value) => value.length <= LONGEST);
  const isMost = (looks: (value: string) => boolean) => readable.filter(looks).length >= values.length * MOST;
  const found = LOOKS.find(([, looks]) => isMost(looks));
  if (found) return found[0];
  return guessName(all, emails) ?? (isMost(isJobTitle) ? "title" : null) ?? (isMost(isCity) ? "city" : null);
};

/** Fewer rows than this prove nothing about names. */
const FEWEST = 2;

/** A column whose values come again in the addresses beside them is a name, or the company. */
function guessName(values: readonly string[], emails: readonly string[]): FieldName | null {
  const rows = values.flatMap((value, at) => {
    const [local = "", domain = ""] = (emails[at] ?? "").toLowerCase().split("@");
    return value !== "" && value.length <= LONGEST && domain !== ""
      ? [
          {
            words: fold(value)
              .split(/[^\p{L}]+/u)
              .filter((word) => word.length > 2),
            local,
            domain,
          },
        ]
      : [];
  });
  if (rows.length < FEWEST) return null;
  const share = (holds: (row: (typeof rows)[number]) => boolean) => rows.filter(holds).length / rows.length;
  if (
    share(({ words, local }) => words.length > 1 && words.some((word) => local.includes(word))) >
    MOST / 2 + 0.15
  )
    return "full_name";
  // First names stand first, or in short ("iberg").
  const begins = share(({ words, local }) => words.some((word) => local.startsWith(word)));
  const ends = share(({ words, local }) => words.some((word) => local.endsWith(word)));
  if (Math.max(begins, ends) > MOST - 0.2) return begins >= ends ? "first_name" : "last_name";
  const inDomain = share(({ words, domain }) => words.some((word) => domain.includes(word)));
  return inDomain > MOST - 0.2 ? "company" : null;
}
