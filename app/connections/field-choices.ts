import { FIELD_WORDS, PERSON_FIELDS } from "../../core/prospects/fields";

/** Every field of a person by its name, with what people call it; `own`: the team's. */
export const namedFields = (own: readonly string[]): { name: string; words: string }[] => [
  ...PERSON_FIELDS.map((name) => ({ name, words: FIELD_WORDS[name] })),
  ...own.map((name) => ({ name: `custom:${name}`, words: name.replaceAll("_", " ") })),
];
