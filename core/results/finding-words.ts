/** Each finding in words that a rep understands, with its evidence. */

import { count, longDay, weekday } from "../words.ts";
import { amount, percent } from "./figure-words.ts";
import type { Finding } from "./findings.ts";
import { groupName } from "./group-words.ts";
import type { Group } from "./groups.ts";
import type { Stretch } from "./hours.ts";
import type { Share } from "./share.ts";

const of = ({ part, whole }: Share) => `${amount(part)} of ${whole.toLocaleString("en-GB")}`;
/** "97 of 100": how often such a thing is true. */
const inHundred = (share: number) => `${Math.min(99, Math.floor(100 * share))} of 100`;
const letter = (index: number) => String.fromCharCode(65 + index);

interface Said {
  tone: "kelp" | "ochre" | "clay";
  says: string;
  rests: string;
  /** Null where there is nothing to press. */
  press: string | null;
}

/** `settled`: the day on which what is open will be settled at today's pace. */
export function findingWords(finding: Finding, settled: string | null): Said {
  const worth =
    finding.worth >= 0.5
      ? ` Worth about ${count(Math.round(finding.worth), "more a month", "more a month")}.`
      : "";
  switch (finding.kind) {
    case "wording_better": {
      const { step, best, isBest } = finding;
      return {
        tone: "kelp",
        says: `“${step.name}” does better as ${letter(best)}.`,
        rests: `${wordings(step.wordings)}. Better in ${inHundred(isBest)}.${worth}`,
        press: `Keep ${letter(best)} for all that come`,
      };
    }
    case "wordings_alike":
      return {
        tone: "ochre",
        says: `The wordings of “${finding.step.name}” bring the same.`,
        rests: `${wordings(finding.step.wordings)}. Whichever you keep, next to nothing is lost: try something bolder.`,
        press: "Write another",
      };
    case "wordings_open":
      return {
        tone: "ochre",
        says: `The wordings of “${finding.step.name}” cannot be told apart yet.`,
        rests: `${wordings(finding.step.wordings)}. ${
          finding.more === null
            ? "They are too near each other to be settled by any number of people."
            : finding.isLong
              ? "At this pace that takes more than a year: keep the one you like better, or try one that says something else."
              : `About ${finding.more.toLocaleString("en-GB")} more would settle it${settled ? `: ${longDay(settled)}` : ""}.`
        }`,
        press: null,
      };
    case "end_early":
      return {
        tone: "kelp",
        says: `After the ${ordinal(finding.after)} touch hardly anything comes: ${amount(finding.brought)} of ${finding.made.toLocaleString("en-GB")}.`,
        rests: `Before it, ${of(finding.before)} touches brought somebody. What is spared can go to new people.${worth}`,
        press: `End it after touch ${finding.after}`,
      };
    case "call_pays":
      return {
        tone: "kelp",
        says: `“${finding.name}” is worth its time: ${of(finding.call)}.`,
        rests: `The emails after the first brought ${of(finding.emails)}. Such a difference is chance in fewer than ${Math.max(1, Math.ceil(finding.chance * 100))} of 100.`,
        press: "See whom it found",
      };
    case "step_silent":
      return {
        tone: "clay",
        says: `Nobody has answered “${finding.name}”.`,
        rests: `${finding.share.whole.toLocaleString("en-GB")} got it; its true share is most likely under ${Math.max(1, Math.round(100 * finding.share.high))} %. Write it anew or take it out.`,
        press: "Open the step",
      };
    case "group_differs": {
      const { own, rest, falseShare } = finding.group;
      return {
        tone: isMore(finding.group) ? "kelp" : "clay",
        says: `${groupName(finding.group)} ${isMore(finding.group) ? "come to it more often" : "come to it less often"} than the rest: ${percent(own.part, own.whole)} against ${percent(rest.part, rest.whole)}.`,
        rests: `${of(own)} against ${of(rest)}. Of findings like this, fewer than ${Math.max(1, Math.ceil(100 * falseShare))} of 100 are chance.${worth}`,
        press: "Who answers",
      };
    }
    case "time_differs": {
      const { own, rest } = finding.stretch;
      return {
        tone: "kelp",
        says: `${timeName(finding.stretch)} brings more: ${percent(own.part, own.whole)} against ${percent(rest.part, rest.whole)}.`,
        rests: `${of(own)} against ${of(rest)}, where they are.${worth}`,
        press: "See the hours",
      };
    }
    case "many_bounce":
      return {
        tone: "clay",
        says: `${of(finding.share)} came back: more than a mailbox can bear.`,
        rests: "Check the addresses of its list before more go: servers remember who writes to nobody.",
        press: "See whose",
      };
    case "many_opt_out":
      return {
        tone: "clay",
        says: `${of(finding.share)} asked to be left alone.`,
        rests: "Look at whom it goes to, and at what the first email says.",
        press: "See who",
      };
  }
}

const isMore = ({ own, rest }: Group) => own.part / own.whole > rest.part / rest.whole;

const wordings = (all: readonly { part: number; whole: number }[]) =>
  all
    .map(({ part, whole }, nth) => `${letter(nth)} ${amount(part)} of ${whole.toLocaleString("en-GB")}`)
    .join(", ");

export const timeName = ({ by, from, hours }: Stretch): string =>
  by === "weekday"
    ? weekday(from)
    : `From ${String(from).padStart(2, "0")}:00 to ${String(from + hours).padStart(2, "0")}:00`;

const ORDINALS = [
  "first",
  "second",
  "third",
  "fourth",
  "fifth",
  "sixth",
  "seventh",
  "eighth",
  "ninth",
  "tenth",
];
const ordinal = (nth: number) => ORDINALS[nth - 1] ?? `${nth}th`;
