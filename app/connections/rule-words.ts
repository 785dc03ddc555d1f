import { STAGE_NAMES } from "../../core/prospects/stages";
import type { Act, ActKind, Rule, RuleStep, When, WhenKind } from "../../core/rules/rule";

/** What sets a rule off, as it is chosen. */
export const WHEN_WORDS: Record<WhenKind, string> = {
  form: "somebody fills in a web form",
  listed: "somebody comes onto a list",
  stage: "somebody comes to a stage",
  field: "a field changes",
  owner: "somebody is given to another colleague",
  label: "an answer gets a label",
  answered: "somebody answers",
  opened: "somebody opens an email",
  clicked: "somebody follows a link",
  watched: "somebody watches the film on their page",
  booked: "a call is booked",
  missed: "somebody does not come to a call",
  deal: "a deal comes to a stage in the CRM",
  silent: "somebody is silent for days",
  date: "a date comes near",
  called: "another program calls it",
};

/** What follows, as it is chosen. */
export const ACT_WORDS: Record<ActKind, string> = {
  start: "start them on a sequence",
  stop: "stop what is planned for them",
  move: "move them to a step",
  set: "set a field",
  stage: "set their stage",
  owner: "give them to colleagues, by turns",
  list: "put them on a list, or take them off",
  remind: "put an errand or a call on Today",
  notify: "tell a colleague",
  mail: "email a colleague",
  deal: "make a deal in the CRM, or move it",
  webhook: "tell a webhook or a chat channel",
};

export interface Names {
  lists: readonly { id: number; name: string }[];
  sequences: readonly { id: number; name: string }[];
  users: readonly { id: number; name: string }[];
  labels: readonly { code: string; name: string }[];
}

const named = (all: readonly { id: number; name: string }[], id: number) => {
  const found = all.find((each) => each.id === id);
  return found ? `“${found.name}”` : "…";
};
const fieldName = (field: string) => field.replace(/^custom:/, "").replaceAll("_", " ");

export function whenSentence(when: When, names: Names): string {
  switch (when.kind) {
    case "form":
      return `When somebody fills in the form of ${named(names.lists, when.listId)}`;
    case "listed":
      return `When somebody comes onto ${named(names.lists, when.listId)}`;
    case "stage":
      return `When somebody comes to “${STAGE_NAMES[when.to]}”`;
    case "field":
      return `When ${fieldName(when.field)} ${when.to === "" ? "changes" : `becomes “${when.to}”`}`;
    case "label":
      return `When an answer is labelled “${names.labels.find(({ code }) => code === when.label)?.name ?? when.label}”`;
    case "opened":
      return when.times === 1
        ? "When somebody opens an email"
        : `When somebody opens one email ${when.times} times`;
    case "clicked":
      return when.contains === ""
        ? "When somebody follows a link"
        : `When somebody follows a link with “${when.contains}”`;
    case "watched":
      return when.share === 0
        ? "When somebody begins to watch the film"
        : `When somebody has watched ${when.share} % of the film`;
    case "deal":
      return when.to === ""
        ? "When a deal moves on in the CRM"
        : `When a deal comes to “${when.to}” in the CRM`;
    case "silent":
      return `When somebody is silent for ${when.days} ${when.days === 1 ? "day" : "days"}`;
    case "date":
      return when.days === 0
        ? `On the day of ${fieldName(when.field)}`
        : `${Math.abs(when.days)} days ${when.days > 0 ? "before" : "after"} ${fieldName(when.field)}`;
    default:
      return `When ${WHEN_WORDS[when.kind]}`;
  }
}

function actWords(act: Act, names: Names): string {
  switch (act.kind) {
    case "start":
      return `start them on ${named(names.sequences, act.sequenceId)}`;
    case "move":
      return `move them on within ${named(names.sequences, act.sequenceId)}`;
    case "set":
      return `set ${fieldName(act.field)} to “${act.value}”`;
    case "stage":
      return `set the stage “${STAGE_NAMES[act.to]}”`;
    case "owner":
      return `give them to ${act.userIds.map((id) => named(names.users, id)).join(", ") || "…"}${act.userIds.length > 1 ? " by turns" : ""}`;
    case "list":
      return `${act.isOn ? "put them on" : "take them off"} ${named(names.lists, act.listId)}`;
    case "deal":
      return act.stage === "" ? ACT_WORDS.deal : `make a deal at “${act.stage}” in the CRM, or move it there`;
    case "remind":
      return act.what === "call" ? "ask for a call" : "put an errand on Today";
    case "notify":
      return `tell ${act.userId === null ? "whoever they belong to" : named(names.users, act.userId)}`;
    case "mail":
      return `email ${act.userId === null ? "whoever they belong to" : named(names.users, act.userId)}`;
    default:
      return ACT_WORDS[act.kind];
  }
}

function afterWords({ after }: RuleStep): string {
  switch (after.kind) {
    case "now":
      return "";
    case "wait":
      return `after ${after.amount} ${after.amount === 1 ? after.unit.slice(0, -1) : after.unit} `;
    case "at":
      return `at ${after.time} where they are `;
  }
}

/** "When somebody comes to “Won”: stop what is planned for them." */
export const ruleSentence = ({ when, steps }: Rule, names: Names): string =>
  `${whenSentence(when, names)}: ${steps.map((step) => `${afterWords(step)}${actWords(step.act, names)}`).join(", then ")}.`;
