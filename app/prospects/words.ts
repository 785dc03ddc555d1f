/** Cleaning rules, verdicts, misfits and duplicates in the tool's words. */

import type { CleaningRule } from "../../core/prospects/cleaning/rules";
import type { DuplicateReason } from "../../core/prospects/duplicates";
import { FIELD_WORDS } from "../../core/prospects/fields";
import type { MisfitReason } from "../../core/prospects/profile";
import type { ChangeSource } from "../../core/prospects/sources";
import { ADDRESS_WORDS, type AddressState } from "../../core/prospects/verdict";
import type { Pill } from "../components/pill";
import { dayTime } from "../components/words";

type Tone = Parameters<typeof Pill>[0]["tone"];

export const FIELD_NAMES: Record<string, string> = {
  ...FIELD_WORDS,
  stage: "Stage",
  owner: "Owner",
  note: "Notes",
  industry: "Industry",
};
export const fieldName = (field: string) =>
  field.startsWith("custom:")
    ? field.slice("custom:".length).replaceAll("_", " ")
    : (FIELD_NAMES[field] ?? field);

/** What a rule does, after "412 times". */
export const RULE_NAMES: Record<CleaningRule, string> = {
  address: "Addresses mended (“x at y.example”)",
  encoding: "Letters repaired that a program had broken",
  blank: "Words for “nothing” emptied",
  no_name: "Posts, companies and addresses taken out of names",
  apostrophe: "Accents that stand for apostrophes",
  doubled: "Names that stood twice",
  initial: "Middle initials taken out",
  quotes: "Quotation marks taken off",
  trading_name: "Former names and owners taken off",
  look_alike: "Letters of another alphabet that look Latin",
  emoji: "Emoji and ornaments taken out",
  aside: "Nicknames, pronouns and brackets taken out",
  honorific: "Titles and degrees taken out",
  spaces: "Stray spaces taken out",
  split: "First and last name parted",
  two_people: "Two people in one cell: whom to greet was left empty",
  order: "First and last name put in their order",
  tagline: "Slogans behind a dash taken out",
  legal_form: "Legal forms taken off",
  article: "“The” taken off",
  employer: "The employer taken out of the job title",
  capitals: "Capitals set right",
  abbreviation: "Abbreviations written out",
  web_domain: "Links made web domains",
  language: "Languages made the same",
  phone: "Phone numbers in international form",
  country: "Countries made codes",
  time_zone: "Time zone read from the place",
  profile: "Profile links without their trackers",
};

export const VERDICT_TONES: Record<AddressState, Tone> = {
  good: "kelp",
  likely: "tile",
  doubtful: "ochre",
  bad: "clay",
  unchecked: "quiet",
  missing: "clay",
};
/** Colours of the theme for dots and bars. */
export const VERDICT_COLOURS: Record<AddressState, string> = {
  good: "kelp.main",
  likely: "tile.main",
  doubtful: "ochre.main",
  unchecked: "divider",
  missing: "text.secondary",
  bad: "clay.main",
};
/** The words for them, where they begin a line. */
export const VERDICT_NAMES = Object.fromEntries(
  Object.entries(ADDRESS_WORDS).map(([state, word]) => [
    state,
    `${word.charAt(0).toUpperCase()}${word.slice(1)}`,
  ]),
) as Record<AddressState, string>;

/** The evidence of a verdict, as one sentence. */
export function verdictSentence(reason: string | null, detail: string): string {
  switch (reason) {
    case "accepted":
      return `Its mail server (${detail}) takes mail for this address, and not for an invented one.`;
    case "answered_before":
      return "They have written to you from this address.";
    case "not_probed":
      return `The domain takes mail (${detail}); whether this mailbox exists was not asked.`;
    case "accepts_all":
      return `${detail} takes mail for any name, so nobody can tell whether this one exists.`;
    case "role":
      return "An address of a function, read by several people or by nobody.";
    case "disposable":
      return `${detail} hands out addresses that are thrown away.`;
    case "look_alike":
      return "It mixes letters of two alphabets that look alike. Make sure that it is real.";
    case "bounced":
      return "An email to it came back.";
    case "refused":
      return `Its mail server says nobody is there: ${detail}`;
    case "no_mail":
      return `${detail} takes no mail.`;
    case "no_domain":
      return `There is no domain ${detail}.`;
    case "syntax":
      return `It is written wrongly: ${detail}.`;
    case "dns_silent":
      return `DNS gave no answer${detail ? ` (${detail})` : ""}. It is asked again by itself.`;
    case "mail_server_silent":
      return `Its mail server gave no answer (${detail}). It is asked again by itself.`;
    case "later":
      return `Its mail server said “later” (${detail}). It is asked again by itself.`;
    default:
      return "Nobody has checked it yet.";
  }
}

export const verdictDate = (at: number | null, zone: string) =>
  at === null ? "" : `Checked ${dayTime(at, zone)}.`;

/** Why somebody does not fit. */
export function misfitSentence(reason: string | null, detail: string): string {
  switch (reason) {
    case "title":
      return detail === "" ? "No job title is known" : `Title is ${detail}`;
    case "title_excluded":
      return `Title ${detail} is excluded`;
    case "seniority":
      return `${detail} is of another seniority`;
    case "industry":
      return `Industry is ${detail}`;
    case "employees":
      return `Company has ${detail} employees`;
    case "place":
      return `Works in ${detail || "an unknown place"}`;
    case "keywords":
      return "None of the keywords";
    case "must_have":
      return `Has no ${{ email: "address", first_name: "first name", profile: "social profile" }[detail] ?? detail}`;
    default:
      return "Fits";
  }
}

export const MISFIT_NAMES: Record<MisfitReason, string> = {
  title: "another job",
  title_excluded: "an excluded title",
  seniority: "another seniority",
  industry: "another industry",
  employees: "company too small or large",
  place: "another place",
  keywords: "no keyword",
  must_have: "something is missing",
};

export const DUPLICATE_WORDS: Record<DuplicateReason, string> = {
  same_profile: "the same social profile",
  same_name: "the same name",
  near_name: "nearly the same name",
  initial: "one has only an initial",
  nickname: "one goes by a short form",
  swapped: "first and last name stand in each other's place",
  more_names: "one has more names than the other",
};

export const SOURCE_WORDS: Record<ChangeSource | "typed" | "cleaning", string> = {
  import: "from a file",
  directory: "from the directory",
  form: "from a web form",
  typed: "typed in",
  edit: "edited",
  bulk: "edited with others",
  pattern: "found by the company's pattern",
  merge: "from a merged entry",
  undo: "taken back",
  cleaning: "cleaned",
};
