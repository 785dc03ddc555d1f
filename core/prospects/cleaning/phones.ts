/** Phone numbers in the form of ITU-T E.164. */
import { type CountryCode, parsePhoneNumberFromString } from "libphonenumber-js/min";

/** "+351211234567", or null if it is no number that could exist. `country` completes national numbers. */
export function phoneNumber(text: string, country: string): string | null {
  // Several in one cell: the first counts.
  const typed = text.split(/[;/]| or /)[0] ?? "";
  const parsed = parsePhoneNumberFromString(typed, country === "" ? undefined : (country as CountryCode));
  return parsed?.isPossible() ? parsed.number : null;
}
