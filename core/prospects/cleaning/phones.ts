/** Phone numbers in the form of ITU-T E.164. */
import { type CountryCode, parsePhoneNumberFromString } from "libphonenumber-js/min";

/** "2026-11-24", "12/06/2026", "12.06.26 10:30": a spreadsheet's day in the wrong column. */
const DATE =
  /^(?:(?:19|20)\d\d[-./]\d{1,2}[-./]\d{1,2}|\d{1,2}[-./]\d{1,2}[-./](?:(?:19|20)?\d\d))(?:[ T]\d{1,2}:\d{2}.*)?$/;

/** "+351211234567", or null if it is no number that could exist. `country` completes national numbers. */
export function phoneNumber(text: string, country: string): string | null {
  // Several in one cell: the first counts.
  if (DATE.test(text.trim())) return null;
  const typed = text.split(/[;/]| or /)[0] ?? "";
  const parsed = parsePhoneNumberFromString(typed, country === "" ? undefined : (country as CountryCode));
  return parsed?.isPossible() ? parsed.number : null;
}
