/** Names of countries. Stored are ISO 3166 codes; people read and write names. */
const names = new Intl.DisplayNames("en", { type: "region", fallback: "code" });

/** "PT" is Portugal; what is no code stays as it is. */
export const countryName = (code: string): string =>
  /^[A-Z]{2}$/.test(code) ? (names.of(code) ?? code) : code;
