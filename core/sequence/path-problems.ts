/** What keeps a path from being started, and where it gets pushy. Texts are checked in `writing`. */
import { type Condition, isStanding, patienceOn, takesTime } from "./condition.ts";
import {
  CHANNEL_OF,
  type EmailStep,
  everyNode,
  everyStep,
  type Fork,
  isEmail,
  isSameThread,
  isTouch,
  type Path,
  type PathNode,
  spotsOf,
  textsOf,
  waitsNowhere,
} from "./path.ts";
import { isNoWait, usualDays } from "./wait.ts";

export type ProblemField =
  | "subject"
  | "body"
  | "wait"
  | "name"
  | "text"
  | "ask"
  | "patience"
  | "onlyIf"
  | "path";

export interface PathProblem {
  nodeId: string;
  field: ProblemField;
  /** The wording it is about, if it is about one of several. */
  variantId?: string;
  message: string;
}

export interface PathSettings {
  tracksOpens: boolean;
  tracksClicks: boolean;
  stopsOnReply: boolean;
}

/** One entry for each mistake, in the order of reading. */
export function pathProblems(path: Path, settings: PathSettings): PathProblem[] {
  if (everyStep(path).length === 0) return [{ nodeId: "", field: "path", message: "Add a first step." }];
  const problems: PathProblem[] = [];
  for (const node of everyNode(path)) {
    if (node.kind === "fork") problems.push(...forkProblems(path, node, settings));
    else if (isEmail(node)) problems.push(...emailProblems(path, node));
    else if (
      node.kind !== "end" &&
      node.kind !== "profile_view" &&
      node.kind !== "invitation" &&
      node.kind !== "call" &&
      node.text.trim() === ""
    )
      problems.push({
        nodeId: node.id,
        field: "text",
        message: `“${node.name}” has no text yet. Write it, or remove the step.`,
      });
    if (isTouch(node) && node.onlyIf) {
      const never = whyNever(path, node.id, node.onlyIf, settings);
      if (never) problems.push({ nodeId: node.id, field: "onlyIf", message: `“${node.name}”: ${never}` });
    }
  }
  problems.push(...unreachable(path));
  problems.push(...tooClose(path));
  if (stepsOnLongestWay(path) > MOST_AT_ONCE && waitsNowhere(path))
    problems.push({
      nodeId: path[0]?.id ?? "",
      field: "wait",
      message: "Nothing is waited for anywhere: everything would come at once. Give the later steps a wait.",
    });
  return problems;
}

/** A view, an invitation and an email on one day are a plan; more without any wait is a wait that was forgotten. */
const MOST_AT_ONCE = 3;

const stepsOnLongestWay = (nodes: Path): number =>
  nodes.reduce(
    (sum, node) =>
      sum +
      (node.kind === "fork"
        ? Math.max(stepsOnLongestWay(node.yes), stepsOnLongestWay(node.no))
        : isTouch(node)
          ? 1
          : 0),
    0,
  );

function emailProblems(path: Path, step: EmailStep): PathProblem[] {
  const problems: PathProblem[] = [];
  const before = spotsOf(path).get(step.id)?.emailsBefore ?? [];
  for (const variant of step.variants) {
    const about = step.variants.length > 1 ? { variantId: variant.id } : {};
    const which = step.variants.length > 1 ? ` (wording ${letterOf(step, variant.id)})` : "";
    if (before.length === 0 && isSameThread(variant))
      problems.push({
        nodeId: step.id,
        field: "subject",
        ...about,
        message: `The first email needs a subject${which}: there is no thread yet that it could go on with.`,
      });
    if (variant.body.trim() === "")
      problems.push({
        nodeId: step.id,
        field: "body",
        ...about,
        message: `“${step.name}”${which} has no text yet. Write it, or remove the step.`,
      });
  }
  if (step.variants.every(({ weight }) => weight === 0))
    problems.push({
      nodeId: step.id,
      field: "body",
      message: `All wordings of “${step.name}” have the weight 0: give one a weight.`,
    });
  return problems;
}

/** "A", "B" …: how a wording is called. */
export const letterOf = (step: EmailStep, variantId: string): string =>
  String.fromCharCode(
    65 +
      Math.max(
        0,
        step.variants.findIndex(({ id }) => id === variantId),
      ),
  );

/** Emails that may come right behind another one, with no time between them: not even a fork's patience. */
function tooClose(path: Path): PathProblem[] {
  const problems: PathProblem[] = [];
  /** `behindEmail`: whether some way leads here straight from an email. Gives the same for what follows; null: nobody gets there. */
  const walk = (nodes: Path, start: boolean): boolean | null => {
    let behindEmail = start;
    for (const node of nodes) {
      if (node.kind === "end") return null;
      if (node.kind === "fork") {
        const ways = (["yes", "no"] as const)
          .map((branch) => walk(node[branch], behindEmail && !takesTime(node)))
          .filter((way) => way !== null);
        if (ways.length === 0) return null;
        behindEmail = ways.includes(true);
        continue;
      }
      if (isEmail(node) && behindEmail && isNoWait(node.wait))
        problems.push({
          nodeId: node.id,
          field: "wait",
          message: "A follow-up waits at least one working day.",
        });
      behindEmail = isEmail(node);
    }
    return behindEmail;
  };
  walk(path, false);
  return problems;
}

function forkProblems(path: Path, fork: Fork, settings: PathSettings): PathProblem[] {
  const problems: PathProblem[] = [];
  const name = fork.name === "" ? "A fork" : `The fork “${fork.name}”`;
  if (shapeOf(fork.yes) === shapeOf(fork.no))
    problems.push({
      nodeId: fork.id,
      field: "ask",
      message: `${name} has two ways that are the same: write one of them differently, or take it out.`,
    });
  const never = whyNever(path, fork.id, fork.ask, settings);
  if (never) problems.push({ nodeId: fork.id, field: "ask", message: `${name}: ${never}` });
  if (!isStanding(fork.ask) && isNoWait(fork.patience))
    problems.push({
      nodeId: fork.id,
      field: "patience",
      message: `${name} asks for something that takes time: say how long it waits for it.`,
    });
  return problems;
}

/** What somebody gets on a way, without the ids that tell it from another. */
const shapeOf = (nodes: Path): string =>
  JSON.stringify(nodes, (key, value) => (key === "id" ? undefined : value));

/** Why a condition can never be met where it is asked; null if it can. */
function whyNever(path: Path, at: string, condition: Condition, settings: PathSettings): string | null {
  switch (condition.about) {
    case "accepted":
      return comesBefore(
        path,
        at,
        (node) => node.kind === "invitation" || (node.kind === "social_message" && node.asNote),
      )
        ? null
        : "no invitation goes out before it, so that none can be accepted.";
    case "opened":
    case "clicked": {
      const step = everyStep(path).find(({ id }) => id === condition.stepId);
      if (!step || !isEmail(step))
        return "the email it asks about is no longer in the sequence. Choose another.";
      if (!comesBefore(path, at, (node) => node.id === step.id))
        return `“${step.name}” does not come before it.`;
      if (step.format === "plain")
        return `“${step.name}” is plain text, in which nothing can be seen opened or clicked.`;
      const isSeen = condition.about === "opened" ? settings.tracksOpens : settings.tracksClicks;
      return isSeen
        ? null
        : `${condition.about === "opened" ? "opens" : "clicks"} are not seen in this sequence. Switch that on in its settings, or ask something else.`;
    }
    case "visited":
    case "watched":
      return comesBefore(path, at, linksToPage)
        ? null
        : "nothing before it leads to a page. Put “page link” or “page picture” into an email that comes before.";
    case "label":
      if (!comesBefore(path, at, (node) => isTouch(node) && node.kind !== "profile_view"))
        return "nothing comes before it that could be answered.";
      // At a fork it is waited for; a step only for a label is never reached by who was stopped for the reply.
      return settings.stopsOnReply && spotsOf(path).get(at)?.node.kind !== "fork"
        ? "a reply ends the sequence before it can be asked. Put a fork on the label before it, or let the sequence go on after a reply."
        : null;
    default:
      return null;
  }
}

/** Whether a text of a step has a link to the page that is somebody's. */
const linksToPage = (node: PathNode): boolean =>
  isTouch(node) && textsOf(node).some((text) => /\{\{[^}]*\bpage_(link|picture)\b/.test(text));

/** What can be asked at a place: of somebody who comes to it, what is known by then. */
export function askableAt(path: Path, at: string): { abouts: Condition["about"][]; emails: EmailStep[] } {
  const emails = everyStep(path)
    .filter(isEmail)
    .filter((email) => email.format !== "plain" && comesBefore(path, at, ({ id }) => id === email.id));
  const invites = (node: PathNode) =>
    node.kind === "invitation" || (node.kind === "social_message" && node.asNote);
  const canBeAnswered = (node: PathNode) => isTouch(node) && node.kind !== "profile_view";
  return {
    emails,
    abouts: [
      ...(emails.length > 0 ? (["opened", "clicked"] as const) : []),
      ...(comesBefore(path, at, linksToPage) ? (["watched", "visited"] as const) : []),
      ...(comesBefore(path, at, invites) ? (["accepted"] as const) : []),
      // An answer is waited for at a fork; whoever is stopped by it comes to no step behind it.
      ...(spotsOf(path).get(at)?.node.kind === "fork" && comesBefore(path, at, canBeAnswered)
        ? (["label"] as const)
        : []),
      ...(["field", "profile", "address"] as const),
    ],
  };
}

/** Whether such a node lies before another on some way. */
function comesBefore(path: Path, at: string, is: (node: PathNode) => boolean): boolean {
  let found = false;
  const walk = (nodes: Path): boolean => {
    for (const node of nodes) {
      if (node.id === at) return true;
      if (is(node)) found = true;
      if (node.kind === "fork") {
        const before = found;
        if (walk(node.yes)) return true;
        // What lies on the way of yes is not before what lies on the way of no.
        const onYes = found;
        found = before;
        if (walk(node.no)) return true;
        found ||= onYes;
      }
    }
    return false;
  };
  walk(path);
  return found;
}

/** Steps behind an end, or behind a fork both of whose ways end. */
function unreachable(path: Path): PathProblem[] {
  const problems: PathProblem[] = [];
  const walk = (nodes: Path): boolean => {
    let over = false;
    for (const node of nodes) {
      if (over) {
        const name = node.kind === "end" ? "An end" : `“${node.name || "A fork"}”`;
        problems.push({
          nodeId: node.id,
          field: "path",
          message: `${name} comes after an end, where nobody gets to. Move or remove it.`,
        });
        break;
      }
      if (node.kind === "end") over = true;
      else if (node.kind === "fork") {
        const [yes, no] = [walk(node.yes), walk(node.no)];
        over = yes && no;
      }
    }
    return over;
  };
  walk(path);
  return problems;
}

export interface PushyRemark {
  nodeId: string;
  message: string;
}

/** A follow-up sooner than this reads as impatience. */
const FEW_DAYS = 2;
/** Three emails within so many working days are one too many. */
const CLOSE_TOGETHER = 5;

/** Where a path gets pushy: matters of judgement, which keep nobody from starting. */
export function pushyRemarks(path: Path): PushyRemark[] {
  const remarks: PushyRemark[] = [];
  const walk = (
    nodes: Path,
    before: { emails: { day: number }[]; day: number; refused: boolean },
  ): typeof before => {
    let { emails, day, refused } = before;
    for (const node of nodes) {
      if (node.kind === "end") break;
      if (node.kind === "fork") {
        const isInvitation = node.ask.about === "accepted";
        const refusedOn = node.ask.not ? "yes" : "no";
        const ways = (["yes", "no"] as const).map((branch) =>
          walk(node[branch], {
            emails,
            day: day + patienceOn(node, branch),
            refused: refused || (isInvitation && branch === refusedOn),
          }),
        );
        const sooner = ways[0] && ways[1] && ways[1].day < ways[0].day ? ways[1] : ways[0];
        if (sooner) ({ emails, day } = sooner);
        continue;
      }
      day += usualDays(node.wait);
      if (CHANNEL_OF[node.kind] === "email") {
        const last = emails.at(-1);
        const third = emails.at(-2);
        if (last && day - last.day < FEW_DAYS)
          remarks.push({
            nodeId: node.id,
            message: `“${node.name}” follows the email before it within ${day - last.day <= 0 ? "a day" : "one working day"}. Two or more read as patience.`,
          });
        else if (third && day - third.day <= CLOSE_TOGETHER)
          remarks.push({
            nodeId: node.id,
            message: `“${node.name}” is the third email in a row within ${day - third.day} working days. Another channel in between looks less pushy.`,
          });
        emails = [...emails, { day }];
      } else emails = [];
      if (node.kind === "invitation" && refused)
        remarks.push({
          nodeId: node.id,
          message: `“${node.name}” invites somebody again who did not accept. Most take the silence for a no.`,
        });
    }
    return { emails, day, refused };
  };
  walk(path, { emails: [], day: 0, refused: false });
  return remarks;
}
