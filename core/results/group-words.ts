/** Groups of people by name. */
import { countryName } from "../countries.ts";
import { SENIORITY_NAMES, type Seniority } from "../prospects/seniority.ts";
import type { Attribute, Group } from "./groups.ts";

export const ATTRIBUTE_WORDS: Record<Attribute, string> = {
  title: "Job",
  seniority: "Seniority",
  industry: "Industry",
  size: "Company’s size",
  country: "Country",
  list: "List",
  source: "Came from",
  profile: "Target profile",
  verdict: "Address",
  provider: "Mail host",
};

const SOURCES: Record<string, string> = {
  import: "a file",
  directory: "the directory",
  typed: "typing",
  form: "a form",
};

export function groupValue({ attribute, value }: Pick<Group, "attribute" | "value">): string {
  switch (attribute) {
    case "seniority":
      return SENIORITY_NAMES[value as Seniority] ?? value;
    case "country":
      return countryName(value);
    case "size":
      return `${value} people`;
    case "source":
      return SOURCES[value] ?? value;
    default:
      return value;
  }
}

/** As the beginning of a sentence. */
export function groupName(group: Pick<Group, "attribute" | "value">): string {
  const value = groupValue(group);
  switch (group.attribute) {
    case "title":
      return `People whose job is “${value}”`;
    case "country":
      return `People in ${value}`;
    case "profile":
      return `People of the profile “${value}”`;
    case "list":
      return `People of “${value}”`;
    case "size":
      return `Companies of ${value}`;
    case "verdict":
      return `Those whose address is ${value}`;
    case "provider":
      return `Those with mail at ${value}`;
    case "source":
      return `Those who came from ${value}`;
    default:
      return `${value}`;
  }
}
