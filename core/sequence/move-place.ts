/** What a new version of a path does to somebody who stands in the old one. */
import { type Path, type PathNode, spotsOf } from "./path.ts";

export type Moved =
  | { kind: "stays" | "moves"; nodeId: string }
  /** Everything they still had ahead is gone from the new version. */
  | { kind: "lost" };

/**
 * Where somebody who stood before `nodeId` stands in the new path: before the same node, or else before the nearest one they
 * still had ahead. Steps behind them never come again, so that what was put in before their place is not caught up with.
 */
export function movePlace(from: Path, to: Path, nodeId: string, begun: ReadonlySet<string>): Moved {
  const there = spotsOf(to);
  if (there.has(nodeId)) return { kind: "stays", nodeId };
  const ahead = nodesAhead(from, nodeId);
  const kept = ahead.find((node) => there.has(node.id) && !begun.has(node.id));
  if (kept) return { kind: "moves", nodeId: kept.id };
  // Nothing they knew is left ahead: what follows the last step behind them that is still there.
  const behind = nodesBehind(from, nodeId).filter((node) => there.has(node.id));
  const follower = behind.length > 0 ? there.get((behind.at(-1) as PathNode).id)?.next : to[0];
  return follower && follower.kind !== "end" && !begun.has(follower.id)
    ? { kind: "moves", nodeId: follower.id }
    : { kind: "lost" };
}

/** From a node on, in the order in which they may come: both branches of a fork, yes first, then what follows it. */
function nodesAhead(path: Path, nodeId: string): PathNode[] {
  const spots = spotsOf(path);
  const ahead: PathNode[] = [];
  const follow = (node: PathNode | null, until: PathNode | null): void => {
    let at = node;
    while (at !== null && at !== until) {
      const next: PathNode | null = spots.get(at.id)?.next ?? null;
      if (at.kind !== "end") ahead.push(at);
      if (at.kind === "fork") for (const branch of [at.yes, at.no]) follow(branch[0] ?? next, next);
      at = next;
    }
  };
  follow(spots.get(nodeId)?.node ?? null, null);
  return ahead;
}

/** The touches on the way to a node: those before it in its branch, and before each fork it lies in. */
function nodesBehind(path: Path, nodeId: string): PathNode[] {
  const walk = (nodes: Path): PathNode[] | null => {
    const behind: PathNode[] = [];
    for (const node of nodes) {
      if (node.id === nodeId) return behind;
      if (node.kind === "fork")
        for (const branch of [node.yes, node.no]) {
          const inner = walk(branch);
          if (inner) return [...behind, ...inner];
        }
      if (node.kind !== "fork" && node.kind !== "end") behind.push(node);
    }
    return null;
  };
  return walk(path) ?? [];
}
