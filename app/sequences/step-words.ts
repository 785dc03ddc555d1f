/** A sequence's steps, waits and forks in the tool's words. */

import type { Condition } from "../../core/sequence/condition";
import { isStanding } from "../../core/sequence/condition";
import { everyNode, type Fork, isTouch, type Path, type PathNode } from "../../core/sequence/path";
import type { Wait } from "../../core/sequence/wait";
import { count, weekday } from "../components/words";

export const KIND_WORDS: Record<PathNode["kind"], string> = {
  email: "Email",
  approved_email: "Email you approve",
  profile_view: "Profile view",
  invitation: "Invitation",
  social_message: "Social message",
  call: "Call",
  errand: "Errand",
  fork: "Fork",
  end: "End",
};

export function waitWords(wait: Wait): string {
  if ("days" in wait) {
    if (wait.days === 0) return "at once";
    return wait.working ? count(wait.days, "working day") : count(wait.days, "day");
  }
  if ("hours" in wait) return wait.hours === 0 ? "at once" : count(wait.hours, "hour");
  return "weekday" in wait
    ? `until ${weekday(wait.weekday)} ${wait.time}`
    : `until ${wait.date} ${wait.time}`;
}

const SHARES = {
  25: "a quarter of the film",
  50: "half of the film",
  75: "three quarters of the film",
  100: "the film to its end",
};

/** What a condition asks, as a clause: "they opened “Opening”". */
export function conditionWords(condition: Condition, path: Path): string {
  const not = condition.not === true;
  switch (condition.about) {
    case "address":
      return not ? "no address is known" : "an address is known";
    case "profile":
      return not ? "no social profile is known" : "a social profile is known";
    case "accepted":
      return not ? "they have not accepted" : "they accepted";
    case "visited":
      return not ? "they have not looked at their page" : "they looked at their page";
    case "watched":
      return `they ${not ? "have not watched" : "watched"} ${SHARES[condition.share]}`;
    case "label":
      return `their reply ${not ? "is not" : "is"} “${condition.is.replaceAll("_", " ")}”`;
    case "field": {
      const field = condition.field.replaceAll("_", " ");
      const ops: Record<string, string> = {
        is: "is",
        is_not: "is not",
        contains: "contains",
        contains_not: "does not contain",
        empty: "is empty",
        filled: "is filled",
      };
      const value = condition.op === "empty" || condition.op === "filled" ? "" : ` “${condition.value}”`;
      return `${not ? "not: " : ""}${field} ${ops[condition.op]}${value}`;
    }
    default: {
      const step = everyNode(path).find(({ id }) => id === condition.stepId);
      const name = step && isTouch(step) ? `“${step.name}”` : "an email that is gone";
      const act = condition.about === "opened" ? "opened" : "clicked in";
      return not ? `they have not ${act} ${name}` : `they ${act} ${name}`;
    }
  }
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

/** What leads into a fork's way. */
export function wayWords(fork: Fork, branch: "yes" | "no", path: Path): string {
  const asks = { ...fork.ask };
  if (branch === "no") {
    if (asks.not) delete asks.not;
    else asks.not = true;
  }
  const isWaited = !isStanding(fork.ask);
  const after =
    isWaited && (branch === "no") !== (fork.ask.not === true) ? ` after ${waitWords(fork.patience)}` : "";
  return capital(conditionWords(asks, path)) + after;
}

export const nodeName = (node: PathNode, path: Path): string =>
  node.kind === "end"
    ? "End"
    : node.kind === "fork"
      ? node.name || `${capital(conditionWords(node.ask, path))}?`
      : node.name;
