/**
 * Whether a field's value meets a condition on text. The filters of the Prospects page say the same in SQL
 * (server/prospects/filters/filter-sql.ts); a test keeps the two equal.
 */
import { fold } from "../fold.ts";
import { codesOfCountriesLike, countryCode } from "./cleaning/places.ts";
import type { TEXT_OPS } from "./filter-fields.ts";

export type TextOp = (typeof TEXT_OPS)[number];

/** Capitals and accents make no difference. A country is stored as its code and asked for by its name. */
export function matchesText(op: TextOp, value: string, wanted: string, isCountry = false): boolean {
  switch (op) {
    case "empty":
      return value === "";
    case "filled":
      return value !== "";
    case "is":
      return fold(value) === fold(wanted) || (isCountry && value !== "" && countryCode(wanted) === value);
    case "contains":
      return (
        fold(value).includes(fold(wanted)) || (isCountry && codesOfCountriesLike(wanted).includes(value))
      );
    case "is_not":
      return !matchesText("is", value, wanted, isCountry);
    case "contains_not":
      return !matchesText("contains", value, wanted, isCountry);
  }
}
