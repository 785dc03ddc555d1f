/** A filter in words: its fields, their conditions and values, and the whole as a sentence. */

import type { Filter } from "../../core/prospects/filter";
import { kindOfField, OUTCOMES } from "../../core/prospects/filter-fields";
import { STAGE_NAMES } from "../../core/prospects/stages";
import { FIELD_NAMES, fieldName, VERDICT_NAMES } from "./words";

export interface FilterChoices {
  lists: { id: number; name: string }[];
  users: { id: number; name: string }[];
  sequences: { id: number; name: string }[];
  customs: string[];
}

export const OPS: Record<"text" | "choice" | "days", [op: string, words: string][]> = {
  text: [
    ["contains", "contains"],
    ["contains_not", "does not contain"],
    ["is", "is"],
    ["is_not", "is not"],
    ["empty", "is empty"],
    ["filled", "is filled in"],
  ],
  choice: [
    ["is", "is"],
    ["is_not", "is not"],
  ],
  days: [
    ["within", "in the last days:"],
    ["longer_ago", "longer ago than days:"],
    ["never", "never"],
  ],
};
const OTHER_NAMES: Record<string, string> = {
  verdict: "Address is",
  owner: "Owner",
  origin: "Came from",
  blocked: "On the block list",
  list: "List",
  outcome: "Outcome of a sequence",
  added: "Added",
  written: "Last written to",
};
const OUTCOME_NAMES: Record<(typeof OUTCOMES)[number], string> = {
  started: "started",
  not_started: "not started",
  opened_silent: "opened, never replied",
  clicked_silent: "clicked, never replied",
  silent: "got every step, never replied",
  replied: "replied",
  booked: "booked a call",
  bounced: "bounced",
};
export const nameOf = (field: string) => OTHER_NAMES[field] ?? FIELD_NAMES[field] ?? fieldName(field);

/** The values that a field of choices has. */
export function choicesOf(
  field: string,
  { lists, users, sequences }: FilterChoices,
): [value: string, words: string][] {
  switch (field) {
    case "stage":
      return Object.entries(STAGE_NAMES);
    case "verdict":
      return Object.entries(VERDICT_NAMES);
    case "owner":
      return [...users.map(({ id, name }): [string, string] => [String(id), name]), ["0", "nobody"]];
    case "origin":
      return [
        ["import", "a file"],
        ["directory", "the directory"],
        ["form", "a web form"],
        ["typed", "typed in"],
      ];
    case "blocked":
      return [
        ["yes", "yes"],
        ["no", "no"],
      ];
    case "list":
      return lists.map(({ id, name }) => [String(id), name]);
    case "outcome":
      return [{ id: "any", name: "Any sequence" }, ...sequences].flatMap(({ id, name }) =>
        OUTCOMES.map((outcome): [string, string] => [
          `${id} ${outcome}`,
          `${name}: ${OUTCOME_NAMES[outcome]}`,
        ]),
      );
    default:
      return [];
  }
}

/** A filter as a sentence: "City is Faro and Address is Good". */
export function filterSentence(filter: Filter, choices: FilterChoices): string {
  const join = (match: "all" | "any", parts: string[]) => parts.join(match === "all" ? " and " : " or ");
  const groups = filter.groups
    .filter(({ conditions }) => conditions.length > 0)
    .map(({ match, conditions }) =>
      join(
        match,
        conditions.map(({ field, op, value }) => {
          const words = OPS[kindOfField(field) ?? "text"].find(([each]) => each === op)?.[1] ?? op;
          const shown = choicesOf(field, choices).find(([each]) => each === value)?.[1] ?? value;
          return `${nameOf(field)} ${words.replace(/:$/, "")} ${["empty", "filled", "never"].includes(op) ? "" : shown}`.trim();
        }),
      ),
    );
  return groups.length > 1
    ? join(
        filter.match,
        groups.map((group) => `(${group})`),
      )
    : (groups[0] ?? "");
}
