/** What results propose to change in a path: a change that the rep sees in the composer and saves, or not. */
import { isEmail, isTouch, type Path, type PathNode } from "./path.ts";

export type Proposal =
  /** One wording for all that come. */
  | { keep: { stepId: string; variantId: string } }
  /** Nothing after so many touches, on whichever way. */
  | { endAfter: number };

/** The path as proposed; the same path where there is nothing to change. */
export function propose(path: Path, proposal: Proposal): Path {
  if ("endAfter" in proposal) return proposal.endAfter < 1 ? path : cut(path, proposal.endAfter).kept;
  const { stepId, variantId } = proposal.keep;
  const keepIn = (nodes: Path): Path =>
    nodes.map((node): PathNode => {
      if (node.kind === "fork") return { ...node, yes: keepIn(node.yes), no: keepIn(node.no) };
      if (node.id !== stepId || !isEmail(node)) return node;
      const kept = node.variants.filter(({ id }) => id === variantId);
      return kept.length === 0 ? node : { ...node, variants: kept };
    });
  return keepIn(path);
}

/** `used`: touches on the longest way through what is kept. */
function cut(nodes: Path, most: number): { kept: Path; used: number } {
  const kept: PathNode[] = [];
  let used = 0;
  for (const node of nodes) {
    if (used >= most) break;
    if (node.kind === "fork") {
      const [yes, no] = [cut(node.yes, most - used), cut(node.no, most - used)];
      kept.push({ ...node, yes: yes.kept, no: no.kept });
      used += Math.max(yes.used, no.used);
    } else {
      kept.push(node);
      if (isTouch(node)) used++;
    }
  }
  return { kept, used };
}
