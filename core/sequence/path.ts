/**
 * A sequence's path: what a rep composes, saved as numbered versions. An ordered tree of steps, forks and ends; a
 * branch that does not end goes on with what follows its fork. A step keeps its id through every version, so that a
 * prospect who got it never gets it again.
 */
import { takesTime } from "./condition.ts";
import type { EmailStep, Fork, Path, PathNode, StepKind, TouchStep, Variant } from "./path-schema.ts";
import { isNoWait } from "./wait.ts";

export type {
  EmailStep,
  End,
  Fork,
  Path,
  PathNode,
  RepStep,
  StepKind,
  TouchStep,
  Variant,
} from "./path-schema.ts";

/** Every step, fork and end in the order of reading: a fork before its branches, yes before no. */
export function everyNode(path: Path): PathNode[] {
  return path.flatMap((node) =>
    node.kind === "fork" ? [node, ...everyNode(node.yes), ...everyNode(node.no)] : [node],
  );
}

export const isTouch = (node: PathNode): node is TouchStep => node.kind !== "fork" && node.kind !== "end";
export const isEmail = (node: PathNode): node is EmailStep =>
  node.kind === "email" || node.kind === "approved_email";

/** The files that travel inside an email of a step: those that are not linked to. */
export const attachedTo = ({
  linksFiles,
  attachments,
}: Pick<EmailStep, "linksFiles" | "attachments">): readonly number[] => (linksFiles ? [] : attachments);

/** Every step that is a touch, in the order of reading. */
export const everyStep = (path: Path): TouchStep[] => everyNode(path).filter(isTouch);

export type Channel = "email" | "social" | "call" | "errand";
export const CHANNEL_OF: Record<StepKind, Channel> = {
  email: "email",
  approved_email: "email",
  profile_view: "social",
  invitation: "social",
  social_message: "social",
  call: "call",
  errand: "errand",
};

/** A node with its way: what follows it, and the email before it. */
export interface Spot {
  node: PathNode;
  /** The first node after it on the way; null where the path is over. A fork's follower is what its branches rejoin. */
  next: PathNode | null;
  /** Emails that lie before it, the nearest last: none, or such that every way to it leads over one of them. */
  emailsBefore: EmailStep[];
  /** The forks it lies in, the outermost first. */
  within: { fork: Fork; branch: "yes" | "no" }[];
}

const kept = new WeakMap<Path, Map<string, Spot>>();

/** Every node by its id. Paths are never changed in place, so that each is looked through once. */
export function spotsOf(path: Path): Map<string, Spot> {
  const known = kept.get(path);
  if (known) return known;
  const spots = new Map<string, Spot>();
  /** Gives the emails before what follows; null where the way ends. */
  const walk = (
    nodes: Path,
    after: PathNode | null,
    before: EmailStep[],
    within: Spot["within"],
  ): EmailStep[] | null => {
    let emails = before;
    let isOver = false;
    nodes.forEach((node, index) => {
      const next = node.kind === "end" ? null : (nodes[index + 1] ?? after);
      spots.set(node.id, { node, next, emailsBefore: emails, within });
      if (node.kind === "end") isOver = true;
      else if (node.kind === "fork") {
        const had = emails.length;
        const ways = (["yes", "no"] as const)
          .map((branch) => walk(node[branch], next, emails, [...within, { fork: node, branch }]))
          .filter((way) => way !== null);
        if (ways.length === 0) isOver = true;
        // One way's emails are nobody's who comes by the other, unless that brings some as well.
        else if (ways.every((way) => way.length > had))
          emails = [...emails, ...ways.flatMap((way) => way.slice(had))];
      } else if (isEmail(node) && node.onlyIf === undefined) emails = [...emails, node];
    });
    return isOver ? null : emails;
  };
  walk(path, null, [], []);
  kept.set(path, spots);
  return spots;
}

/** Where somebody goes on who took a branch of a fork: its first node, or what follows the fork. */
export function branchStart(fork: Fork, branch: "yes" | "no", path: Path): PathNode | null {
  return fork[branch][0] ?? spotsOf(path).get(fork.id)?.next ?? null;
}

/** Whether an email goes in the thread of the one before it. */
export const isSameThread = ({ subject }: Pick<Variant, "subject">): boolean => subject.trim() === "";

/** The subject template of a step's variant: its own, or that of the nearest email before which began a thread. */
export function threadSubject(path: Path, stepId: string, variant: Pick<Variant, "subject">): string {
  if (!isSameThread(variant)) return variant.subject.trim();
  const before = spotsOf(path).get(stepId)?.emailsBefore ?? [];
  return (
    before
      .findLast(({ variants }) => variants.some((each) => !isSameThread(each)))
      ?.variants.find((each) => !isSameThread(each))
      ?.subject.trim() ?? ""
  );
}

/** Whether nothing is waited for anywhere, not even at a fork, so that everything would go out at once. */
export const waitsNowhere = (path: Path): boolean =>
  everyNode(path).every(
    (node) => node.kind === "end" || (node.kind === "fork" ? !takesTime(node) : isNoWait(node.wait)),
  );

/** All that a step says, wording by wording. */
export const textsOf = (step: TouchStep): string[] =>
  isEmail(step) ? step.variants.flatMap(({ subject, body }) => [subject, body]) : [step.text];
