/** Recorded decisions as plain sentences, each with the place where its rule is set. */

import type { WaitReason } from "../../core/sending/reasons";
import type { RunLine } from "../../server/rules/rules";
import type { DecisionLine, WhyView } from "../../server/why/why";
import { stopWords, WAIT_WORDS, waitSentence, when } from "../components/words";
import { REPAIRS, type Repair } from "../sending/repairs";
import { conditionWords } from "../sequences/step-words";

export interface Sentence {
  words: string;
  /** Where the rule is set, or what keeps it is mended. */
  place: Repair | null;
}

const quoted = (name: string) => (name === "" ? "A step" : `“${name}”`);
const isWait = (outcome: string): outcome is WaitReason => outcome in WAIT_WORDS;

export function sentenceOf(line: DecisionLine, view: WhyView, now: number, zone: string): Sentence {
  const { inputs, outcome, nodeName } = line;
  const sequence: Repair = { to: `/sequences/${view.sequenceId}`, words: "the sequence" };
  const asked = inputs.ask ? conditionWords(inputs.ask, view.path) : "its condition held";
  const until = inputs.until === null ? "" : ` until ${when(inputs.until, now, zone)}`;
  switch (line.kind) {
    case "start":
      return { words: `Began the sequence ${quoted(view.sequenceName)}`, place: sequence };
    case "fork":
      return {
        words: `At the fork, “${asked}” was ${outcome === "yes" ? "true: the way of the yes" : "not true in time: the way of the no"}`,
        place: sequence,
      };
    case "skip":
      return { words: `${quoted(nodeName)} was left out, since “${asked}” did not hold`, place: sequence };
    case "lapse":
      return {
        words: `${quoted(nodeName)} was left undone for too long, so the sequence went on`,
        place: sequence,
      };
    case "move":
      return { words: `Was moved to ${quoted(nodeName)}`, place: sequence };
    case "wait":
      return isWait(outcome)
        ? { words: `Waited${until}: ${WAIT_WORDS[outcome]}`, place: placeOf(outcome, view) }
        : { words: "Waited", place: null };
    case "hold":
      return isWait(outcome)
        ? {
            words: `Was held${until}: ${outcome === "colleague_replied" && inputs.scope === "company" ? "somebody else of the company answered" : WAIT_WORDS[outcome]}`,
            place: placeOf(outcome, view),
          }
        : { words: `Was held${until}`, place: null };
    case "release":
      return {
        words: `Goes on: ${isWait(outcome) ? `“${WAIT_WORDS[outcome]}” is over` : "the hold is over"}`,
        place: null,
      };
    case "claim":
      return {
        words: `${quoted(nodeName)} left${inputs.mailbox ? ` from ${inputs.mailbox}` : ""}${
          inputs.sentToday !== null && inputs.limit !== null
            ? `, as ${inputs.sentToday} of ${inputs.limit} that day`
            : ""
        }${inputs.planned !== null && Math.abs(inputs.planned - line.at) > LATE ? `; it was planned for ${when(inputs.planned, now, zone)}` : ""}`,
        place: { to: "/sending", words: "Sending" },
      };
    case "stop":
      return {
        words: `Everything stopped: ${stopWords(view.stopReason)}. What was still planned was cancelled`,
        place: { to: `/sequences/${view.sequenceId}`, words: "what stops it" },
      };
    case "finish":
      return { words: "Got the last step", place: null };
  }
}
const LATE = 5 * 60_000;

/** Rules of a sequence lead to that sequence, and what a person lacks to that person. */
function placeOf(reason: WaitReason, view: WhyView): Repair | null {
  const repair = REPAIRS[reason];
  switch (repair?.to) {
    case "/sequences":
      return { to: `/sequences/${view.sequenceId}`, words: "the sequence's settings" };
    case "/prospects":
      return { ...repair, to: `/prospects/${view.prospectId}` };
    default:
      return repair;
  }
}

/** What comes next, or why nothing does. */
export function nextSentence(view: WhyView, now: number, zone: string): Sentence | null {
  const { next } = view;
  if (!next) return null;
  const reason = next.reason ?? "in_line";
  const what = next.stepName === "" ? "" : `Next is ${quoted(next.stepName)}. `;
  const from = next.at !== null && next.mailbox ? ` From ${next.mailbox}.` : "";
  return {
    words: `${what}${waitSentence(reason, next.detail, next.at, now, zone)}.${from}`,
    place: placeOf(reason, view),
  };
}

/** "The rule “Welcome” acted, since they filled in the form: started on “Hello”." */
export function ruleSentenceOf({
  ruleId,
  ruleName,
  because,
  acts,
}: Pick<RunLine, "because" | "acts"> & { ruleId: number; ruleName: string }): Sentence {
  const did = acts.flatMap(({ said }) => said || []).join("; ");
  return {
    words: `The rule “${ruleName}” acted, since ${because}${did === "" ? "" : `: ${did}`}`,
    place: { to: `/connections/rules/${ruleId}`, words: "the rule" },
  };
}
