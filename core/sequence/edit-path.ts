/** Changes to a path, each giving a new one; what cannot be done gives the same path back. */
import type { Condition } from "./condition.ts";
import { MAX_WAIT_DAYS } from "./limits.ts";
import { everyNode, type Fork, isEmail, isTouch, type Path, type PathNode, spotsOf } from "./path.ts";
import { NO_WAIT, usualDays, type Wait } from "./wait.ts";

/** A place between nodes: in the path itself or a branch of a fork, before the node at `index`. */
export interface Gap {
  within: { forkId: string; branch: "yes" | "no" } | null;
  index: number;
}

export const nodeOf = (path: Path, id: string): PathNode | undefined => spotsOf(path).get(id)?.node;

/** Where a node stands, as the gap before it. */
export function gapBefore(path: Path, id: string): Gap | null {
  const spot = spotsOf(path).get(id);
  if (!spot) return null;
  const inner = spot.within.at(-1);
  const list = inner ? inner.fork[inner.branch] : path;
  return {
    within: inner ? { forkId: inner.fork.id, branch: inner.branch } : null,
    index: list.indexOf(spot.node),
  };
}

export function gapAfter(path: Path, id: string): Gap | null {
  const before = gapBefore(path, id);
  return before && { ...before, index: before.index + 1 };
}

/** Applies a change to the list of nodes in which a gap lies; what does not hold it stays the same object. */
function changeList(path: Path, within: Gap["within"], change: (nodes: Path) => Path): Path {
  if (within === null) return change(path);
  const changed = path.map((node): PathNode => {
    if (node.kind !== "fork") return node;
    if (node.id === within.forkId) return { ...node, [within.branch]: change(node[within.branch]) };
    const [yes, no] = [changeList(node.yes, within, change), changeList(node.no, within, change)];
    return yes === node.yes && no === node.no ? node : { ...node, yes, no };
  });
  return changed.every((node, index) => node === path[index]) ? path : changed;
}

export function putIn(path: Path, gap: Gap, ...nodes: PathNode[]): Path {
  return changeList(path, gap.within, (list) => list.toSpliced(gap.index, 0, ...nodes));
}

export function replace(path: Path, id: string, change: (node: PathNode) => PathNode): Path {
  const gap = gapBefore(path, id);
  return gap
    ? changeList(path, gap.within, (list) => list.map((node) => (node.id === id ? change(node) : node)))
    : path;
}

export function remove(path: Path, id: string): Path {
  const gap = gapBefore(path, id);
  return gap ? changeList(path, gap.within, (list) => list.toSpliced(gap.index, 1)) : path;
}

/** Takes a fork out and keeps one of its ways. */
export function keepWay(path: Path, forkId: string, branch: "yes" | "no"): Path {
  const gap = gapBefore(path, forkId);
  const fork = nodeOf(path, forkId);
  if (!gap || fork?.kind !== "fork") return path;
  return changeList(path, gap.within, (list) => list.toSpliced(gap.index, 1, ...fork[branch]));
}

/** Moves a node with all that is in it; never into itself. */
export function move(path: Path, id: string, to: Gap): Path {
  const from = gapBefore(path, id);
  const node = nodeOf(path, id);
  if (!from || !node) return path;
  const target = to.within;
  if (target && (target.forkId === id || everyNode([node]).some((inner) => inner.id === target.forkId)))
    return path;
  const sameList = from.within?.forkId === target?.forkId && from.within?.branch === target?.branch;
  const index = sameList && to.index > from.index ? to.index - 1 : to.index;
  return sameList && index === from.index ? path : putIn(remove(path, id), { within: target, index }, node);
}

/** Copies with ids of their own; conditions on a copied step are about its copy. */
export function copies(nodes: readonly PathNode[], newId: () => string): Path {
  const ids = new Map(everyNode([...nodes]).map(({ id }) => [id, newId()]));
  const asked = <C extends Condition | undefined>(condition: C): C =>
    condition && "stepId" in condition
      ? { ...condition, stepId: ids.get(condition.stepId) ?? condition.stepId }
      : condition;
  const copy = (node: PathNode): PathNode => {
    const id = ids.get(node.id) as string;
    if (node.kind === "fork")
      return { ...node, id, ask: asked(node.ask), yes: node.yes.map(copy), no: node.no.map(copy) };
    return isTouch(node) && node.onlyIf ? { ...node, id, onlyIf: asked(node.onlyIf) } : { ...node, id };
  };
  return nodes.map(copy);
}

/** Puts a copy behind a node. */
export function duplicate(path: Path, id: string, newId: () => string): Path {
  const gap = gapAfter(path, id);
  const node = nodeOf(path, id);
  return gap && node ? putIn(path, gap, ...copies([node], newId)) : path;
}

/** The fewest working days a step may wait: two emails never go on one day. */
function leastDays(path: Path, id: string): number {
  const spot = spotsOf(path).get(id);
  return spot && isEmail(spot.node) && spot.emailsBefore.length > 0 ? 1 : 0;
}

const daysOf = (wait: Wait): number => ("days" in wait && wait.working ? wait.days : usualDays(wait));

/**
 * Moves a step by working days. What follows moves along, or with `alone` stays on its day: then the next steps wait as
 * much longer or shorter, and the step goes no further than they can give way.
 */
export function shift(path: Path, id: string, byDays: number, alone: boolean): Path {
  const node = nodeOf(path, id);
  if (!node || !isTouch(node)) return path;
  const own = daysOf(node.wait);
  const followers = alone ? nextSteps(path, spotsOf(path).get(id)?.next ?? null) : [];
  const room = Math.min(
    MAX_WAIT_DAYS,
    ...followers.map((each) => daysOf(each.wait) - leastDays(path, each.id)),
  );
  const days = Math.max(
    leastDays(path, id),
    Math.min(own + Math.min(byDays, alone ? room : byDays), MAX_WAIT_DAYS),
  );
  const moved = days - own;
  if (moved === 0) return path;
  const setDays = (each: Path, stepId: string, to: number): Path =>
    replace(each, stepId, (step) => (isTouch(step) ? { ...step, wait: { days: to, working: true } } : step));
  return followers.reduce(
    (each, follower) => setDays(each, follower.id, Math.min(MAX_WAIT_DAYS, daysOf(follower.wait) - moved)),
    setDays(path, id, days),
  );
}

/** The first steps that may come at or after a node: several if it is a fork. */
function nextSteps(path: Path, node: PathNode | null): Extract<PathNode, { wait: Wait }>[] {
  if (node === null || node.kind === "end") return [];
  if (isTouch(node)) return [node];
  const after = spotsOf(path).get(node.id)?.next ?? null;
  const found = [node.yes, node.no].flatMap((branch) => nextSteps(path, branch[0] ?? after));
  return found.filter((step, index) => found.indexOf(step) === index);
}

/** A step put in as the first is not waited for, and one put in behind others is. */
export function fittingWait(gap: Gap): Wait {
  const isFirst = gap.within === null && gap.index === 0;
  return isFirst ? NO_WAIT : { days: 3, working: true };
}

/** A fork with both ways empty. */
export const newFork = (id: string, ask: Condition): Fork => ({
  id,
  kind: "fork",
  name: "",
  ask,
  patience: { days: 3, working: true },
  yes: [],
  no: [],
});
